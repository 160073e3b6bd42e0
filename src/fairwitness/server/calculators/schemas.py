"""Shapes of calculators over HTTP."""

from __future__ import annotations

from rest_framework import serializers


class QuantitySerializer(serializers.Serializer):
    key = serializers.CharField()
    words = serializers.CharField()
    unit = serializers.CharField(allow_blank=True)
    example = serializers.FloatField(allow_null=True)
    from_case = serializers.FloatField(allow_null=True)


class CalculatorSerializer(serializers.Serializer):
    id = serializers.CharField()
    title = serializers.CharField()
    needed = serializers.CharField()
    formula = serializers.CharField()
    came_from = serializers.CharField(help_text="Published source, common practice, or from memory.")
    beware = serializers.CharField(allow_blank=True)
    given = QuantitySerializer(many=True)
    found = QuantitySerializer(many=True)


class NumberSerializer(serializers.Serializer):
    key = serializers.CharField(max_length=32)
    value = serializers.FloatField()


class NumbersSerializer(serializers.Serializer):
    given = NumberSerializer(many=True)


class ResultSerializer(serializers.Serializer):
    found = NumberSerializer(many=True)
