"""Shapes of engine records over HTTP."""

from __future__ import annotations

from rest_framework import serializers

from fairwitness.core.model.wiring import CircuitOf

CIRCUIT_PARTS = [(part.value, part.value) for part in CircuitOf]


class EngineDifferenceSerializer(serializers.Serializer):
    key = serializers.CharField()
    here = serializers.CharField()
    there = serializers.CharField()


class UsualValueSerializer(serializers.Serializer):
    words = serializers.CharField(max_length=120, allow_blank=True)
    value = serializers.CharField(max_length=120, allow_blank=True)


class WirePlaceSerializer(serializers.Serializer):
    name = serializers.CharField(max_length=60)
    connector = serializers.CharField(max_length=60, allow_blank=True, required=False)
    pin = serializers.CharField(max_length=60, allow_blank=True, required=False)
    colour = serializers.CharField(max_length=60, allow_blank=True, required=False)
    fuse = serializers.CharField(max_length=60, allow_blank=True, required=False)
    unplugs = serializers.BooleanField(required=False)
    minutes = serializers.FloatField(required=False)
    is_part = serializers.BooleanField(required=False)


class CircuitSerializer(serializers.Serializer):
    part = serializers.ChoiceField(choices=CIRCUIT_PARTS)
    cylinder = serializers.IntegerField(required=False, allow_null=True)
    places = WirePlaceSerializer(many=True)


class RecordLineSerializer(serializers.Serializer):
    id = serializers.IntegerField()
    label = serializers.CharField()  # type: ignore[assignment]
    variant_of = serializers.CharField(allow_blank=True)
    years = serializers.CharField(allow_blank=True)
    code = serializers.CharField(allow_blank=True)
    words = serializers.CharField()
    circuits = serializers.IntegerField()
    cases = serializers.IntegerField()


class AccessLineSerializer(serializers.Serializer):
    test = serializers.CharField()
    title = serializers.CharField()
    usual = serializers.FloatField()
    minutes = serializers.FloatField(allow_null=True)


class RecordSerializer(serializers.Serializer):
    id = serializers.IntegerField()
    label = serializers.CharField()  # type: ignore[assignment]
    variant_of = serializers.CharField(allow_blank=True)
    years = serializers.CharField(allow_blank=True)
    code = serializers.CharField(allow_blank=True)
    notes = serializers.CharField(allow_blank=True)
    engine = serializers.DictField(help_text="What it states itself.")
    whole = serializers.DictField(help_text="With what it has from the engine it is a variant of.")
    wiring = CircuitSerializer(many=True)
    usual = UsualValueSerializer(many=True)
    differences = EngineDifferenceSerializer(many=True)
    variants = serializers.ListField(child=serializers.CharField())
    minutes = AccessLineSerializer(many=True)
    changed_by = serializers.CharField()
    changed_at = serializers.DateTimeField()
    changes = serializers.IntegerField()
    may = serializers.BooleanField()


class RecordWriteSerializer(serializers.Serializer):
    label = serializers.CharField(max_length=200)  # type: ignore[assignment]
    variant_of = serializers.CharField(max_length=200, allow_blank=True, default="")
    years = serializers.CharField(max_length=60, allow_blank=True, default="")
    code = serializers.CharField(max_length=60, allow_blank=True, default="")
    notes = serializers.CharField(max_length=4000, allow_blank=True, default="")
    engine = serializers.DictField()
    usual = UsualValueSerializer(many=True, default=list)


class MinutesWriteSerializer(serializers.Serializer):
    test = serializers.CharField(max_length=64)
    minutes = serializers.FloatField(allow_null=True)


class EnginePackageSerializer(serializers.Serializer):
    descriptor = serializers.DictField(help_text="A Data Package with the resource engines.")
