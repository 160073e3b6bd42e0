"""Shapes of what the shop has learned, over HTTP."""

from __future__ import annotations

from rest_framework import serializers


class LearnedLineSerializer(serializers.Serializer):
    key = serializers.CharField()
    kind = serializers.ChoiceField(choices=("prior", "minutes", "agreement"))
    words = serializers.CharField()
    shipped = serializers.FloatField()
    here = serializers.FloatField()
    from_what = serializers.CharField()
    on = serializers.BooleanField()


class LearnedSerializer(serializers.Serializer):
    outcomes = serializers.IntegerField()
    weight = serializers.FloatField(help_text="What ships weighs as so many cases.")
    most = serializers.FloatField(help_text="No fault becomes more than so many times likelier or rarer.")
    since = serializers.DateTimeField(allow_null=True)
    may = serializers.BooleanField()
    lines = LearnedLineSerializer(many=True)


class LearnedSwitchSerializer(serializers.Serializer):
    key = serializers.CharField(max_length=120)
    on = serializers.BooleanField()


class FreshStartSerializer(serializers.Serializer):
    again = serializers.BooleanField(help_text="False: start afresh. True: count again what was before.")


class TallySerializer(serializers.Serializer):
    words = serializers.CharField(allow_blank=True)
    hits = serializers.IntegerField()
    count = serializers.IntegerField()
    low = serializers.FloatField()
    high = serializers.FloatField()


class LeadReadsSerializer(serializers.Serializer):
    words = serializers.CharField()
    share = serializers.FloatField()
    low = serializers.FloatField()
    high = serializers.FloatField()
    captures = serializers.IntegerField()
    is_off = serializers.BooleanField()


class OwnFiguresSerializer(serializers.Serializer):
    overall = TallySerializer()
    established = TallySerializer()
    tests = TallySerializer(many=True)
    engines = TallySerializer(many=True)
    people = TallySerializer(many=True, allow_null=True)
    leads = LeadReadsSerializer(many=True)


class ShopCodeSerializer(serializers.Serializer):
    id = serializers.IntegerField()
    code = serializers.CharField()
    words = serializers.CharField()
    fault = serializers.CharField(allow_blank=True)
    fault_words = serializers.CharField(allow_blank=True)
    factor = serializers.FloatField()
    by = serializers.CharField()
    at = serializers.DateTimeField()


class NewCodeSerializer(serializers.Serializer):
    code = serializers.CharField(max_length=12)
    words = serializers.CharField(max_length=200)
    fault = serializers.CharField(max_length=64, allow_blank=True, default="")
    factor = serializers.FloatField(default=1.0)


class CodeMeaningSerializer(serializers.Serializer):
    code = serializers.CharField()
    kind = serializers.CharField()
    words = serializers.CharField()
    cylinder = serializers.IntegerField()
    beware = serializers.CharField(allow_blank=True)
    published = serializers.BooleanField()
    likelier = serializers.ListField(child=serializers.CharField())


class FaultNameSerializer(serializers.Serializer):
    fault = serializers.CharField()
    words = serializers.CharField()


class CodeBookSerializer(serializers.Serializer):
    asked = CodeMeaningSerializer(allow_null=True)
    own = ShopCodeSerializer(many=True)
    faults = FaultNameSerializer(many=True)
    may = serializers.BooleanField()
