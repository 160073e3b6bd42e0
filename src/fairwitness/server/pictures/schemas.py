"""What pictures look like in requests and answers."""

from __future__ import annotations

from rest_framework import serializers

from fairwitness.server.pictures.checking import PictureKind
from fairwitness.server.pictures.marks import MarkKind


class PictureGivenSerializer(serializers.Serializer):
    """A picture or a sound, and what it belongs to."""

    file = serializers.FileField()
    words = serializers.CharField(max_length=300, allow_blank=True, default="")
    observation = serializers.IntegerField(allow_null=True, default=None)
    part = serializers.IntegerField(allow_null=True, default=None)
    outcome = serializers.IntegerField(allow_null=True, default=None)


class PictureMarkSerializer(serializers.Serializer):
    """One mark drawn on top; places are shares of width and height."""

    kind = serializers.ChoiceField(choices=[(k.value, k.value) for k in MarkKind])
    x = serializers.FloatField()
    y = serializers.FloatField()
    to_x = serializers.FloatField(required=False)
    to_y = serializers.FloatField(required=False)
    words = serializers.CharField(max_length=200, allow_blank=True, required=False)
    cylinder = serializers.IntegerField(allow_null=True, required=False)


class MarksSerializer(serializers.Serializer):
    """All marks of a picture."""

    marks = PictureMarkSerializer(many=True)


class PictureSerializer(serializers.Serializer):
    """A picture as a list shows it."""

    id = serializers.IntegerField()
    kind = serializers.ChoiceField(choices=[(k.value, k.value) for k in PictureKind])
    mime = serializers.CharField()
    words = serializers.CharField(allow_blank=True)
    about = serializers.CharField(allow_blank=True, help_text="What it belongs to, in words; empty for the case.")
    width = serializers.IntegerField()
    height = serializers.IntegerField()
    seconds = serializers.FloatField()
    marks = PictureMarkSerializer(many=True)
    sha256 = serializers.CharField()
    by = serializers.CharField()
    at = serializers.DateTimeField()
    withdrawn = serializers.BooleanField()
    withdrawn_reason = serializers.CharField(allow_blank=True)


class BelongsSerializer(serializers.Serializer):
    """Something a picture may belong to."""

    kind = serializers.ChoiceField(choices=[(k, k) for k in ("observation", "part", "outcome")])
    id = serializers.IntegerField()
    words = serializers.CharField()


class PicturesSerializer(serializers.Serializer):
    """All pictures of a case."""

    case = serializers.IntegerField()
    title = serializers.CharField()
    cylinders = serializers.ListField(child=serializers.IntegerField())
    may = serializers.BooleanField(help_text="Pictures may be added and marked.")
    belongs = BelongsSerializer(many=True, help_text="Readings, parts and outcomes a picture may be attached to.")
    pictures = PictureSerializer(many=True)
