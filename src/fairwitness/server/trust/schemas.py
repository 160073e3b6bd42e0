"""The shape of a study's figures."""

from __future__ import annotations

from rest_framework import serializers


class ShareSerializer(serializers.Serializer):
    hits = serializers.IntegerField()
    count = serializers.IntegerField()
    share = serializers.FloatField(allow_null=True)
    low = serializers.FloatField()
    high = serializers.FloatField()


class FiguresSerializer(serializers.Serializer):
    cylinder = ShareSerializer()
    cause = ShareSerializer()
    cylinder_visible = ShareSerializer()
    cause_visible = ShareSerializer()
    fault = ShareSerializer()
    established = ShareSerializer()
    wrong_established = ShareSerializer()
    healthy_accused = ShareSerializer()
    sound_accused = ShareSerializer()


class BinSerializer(serializers.Serializer):
    low = serializers.FloatField()
    high = serializers.FloatField()
    claimed = serializers.FloatField()
    right = serializers.FloatField()
    count = serializers.IntegerField()


class CalibrationSerializer(serializers.Serializer):
    bins = BinSerializer(many=True)
    error = serializers.FloatField()


class PolicySerializer(serializers.Serializer):
    policy = serializers.CharField()
    vehicles = serializers.IntegerField()
    right = ShareSerializer()
    minutes = serializers.FloatField(allow_null=True)
    interval = serializers.ListField(child=serializers.FloatField())
    per_right = serializers.FloatField(allow_null=True)
    tests = serializers.FloatField(allow_null=True)


class SavedSerializer(serializers.Serializer):
    beside = serializers.CharField()
    share = serializers.FloatField()
    interval = serializers.ListField(child=serializers.FloatField())


class GroupSerializer(serializers.Serializer):
    name = serializers.CharField()
    words = serializers.CharField()
    vehicles = serializers.IntegerField()
    cylinder = serializers.IntegerField()
    cause = serializers.IntegerField()
    fault = serializers.IntegerField()
    minutes = serializers.FloatField()


class ElsewhereFiguresSerializer(serializers.Serializer):
    cylinder = ShareSerializer()
    cause = ShareSerializer()
    fault = ShareSerializer()
    wrong_established = ShareSerializer()
    healthy_accused = ShareSerializer()
    sound_accused = ShareSerializer()


class ElsewhereSerializer(serializers.Serializer):
    version = serializers.CharField()
    cases = serializers.IntegerField()
    figures = ElsewhereFiguresSerializer()


class KnownSerializer(serializers.Serializer):
    version = serializers.CharField()
    vehicles = serializers.IntegerField()
    figures = FiguresSerializer()
    calibration = CalibrationSerializer()


class TrustSerializer(serializers.Serializer):
    version = serializers.CharField()
    worlds = serializers.ChoiceField(choices=("known", "left out"))
    combinations = GroupSerializer(many=True)
    trusted_from = serializers.FloatField(allow_null=True)
    known = KnownSerializer()
    made_at = serializers.DateTimeField()
    own = serializers.BooleanField()
    vehicles = serializers.IntegerField()
    elsewhere = ElsewhereSerializer()
    figures = FiguresSerializer()
    targets = serializers.DictField(child=serializers.FloatField())
    calibration = CalibrationSerializer()
    policies = PolicySerializer(many=True)
    saved = SavedSerializer(allow_null=True)
    faults = GroupSerializer(many=True)
    levels = GroupSerializer(many=True)
    engines = GroupSerializer(many=True)
