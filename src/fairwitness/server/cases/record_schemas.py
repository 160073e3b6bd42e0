"""What is kept of the keeping itself: lines of the journal, and the last check of a case's evidence."""

from __future__ import annotations

from rest_framework import serializers


class JournalSerializer(serializers.Serializer):
    """Who did what, when."""

    verb = serializers.CharField()
    detail = serializers.CharField()
    by = serializers.CharField()
    at = serializers.DateTimeField()


class CustodySerializer(serializers.Serializer):
    """What the last check of all evidence of a case found."""

    at = serializers.DateTimeField()
    captures = serializers.IntegerField()
    readings = serializers.IntegerField()
    changed = serializers.ListField(child=serializers.CharField())
