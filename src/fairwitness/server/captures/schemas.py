"""The shapes of captures over the API."""

from __future__ import annotations

from rest_framework import serializers


class FileSerializer(serializers.Serializer):
    file = serializers.FileField()


class ComparableSerializer(serializers.Serializer):
    id = serializers.IntegerField()
    words = serializers.CharField()
    known_good = serializers.BooleanField()
    same_label = serializers.BooleanField()


class KnownGoodSerializer(serializers.Serializer):
    why = serializers.CharField(max_length=300)


class BesideFigureSerializer(serializers.Serializer):
    test = serializers.CharField()
    words = serializers.CharField()
    unit = serializers.CharField()
    low_here = serializers.FloatField()
    high_here = serializers.FloatField()
    usual = serializers.FloatField()
    spread = serializers.FloatField()
    captures = serializers.IntegerField()
    level = serializers.ChoiceField(choices=("high", "low"), allow_blank=True, help_text="Of all cylinders alike.")
    high = serializers.ListField(child=serializers.IntegerField())
    low = serializers.ListField(child=serializers.IntegerField())


class HeldSerializer(serializers.Serializer):
    id = serializers.IntegerField()
    case = serializers.IntegerField()
    words = serializers.CharField()
    why = serializers.CharField()
    came_from = serializers.ChoiceField(choices=("own", "colleague", "practice"))
    condition = serializers.CharField(allow_blank=True)
    lead = serializers.CharField(allow_blank=True)
    engine = serializers.CharField(allow_blank=True)
    test = serializers.CharField(allow_blank=True)
    warnings = serializers.ListField(child=serializers.CharField())
    used = serializers.BooleanField(help_text="It was held up to this capture.")


class BesideSerializer(serializers.Serializer):
    """What known good captures say of this one."""

    held = HeldSerializer(many=True)
    figures = BesideFigureSerializer(many=True)
    typical = serializers.ListField(child=serializers.CharField())
    words = serializers.CharField()


class PracticeSerializer(serializers.Serializer):
    engine = serializers.CharField(max_length=200, help_text="Name of an engine the shop knows.")
    tests = serializers.ListField(child=serializers.CharField(max_length=64), min_length=1, max_length=8)


class ChannelSerializer(serializers.Serializer):
    position = serializers.IntegerField()
    name = serializers.CharField()
    role = serializers.CharField()
    unit = serializers.CharField()
    cylinder = serializers.IntegerField(allow_null=True)
    sync = serializers.BooleanField()
    lead = serializers.CharField(allow_blank=True, help_text="What it came through, in words")


class CycleWindowSerializer(serializers.Serializer):
    cylinder = serializers.IntegerField()
    from_deg = serializers.FloatField()
    to_deg = serializers.FloatField()


class CyclesSerializer(serializers.Serializer):
    available = serializers.BooleanField()
    why_not = serializers.CharField(allow_blank=True)
    sync = serializers.CharField(allow_blank=True)
    certain = serializers.BooleanField()
    from_deg = serializers.FloatField()
    starts_s = serializers.ListField(child=serializers.FloatField())
    ends_s = serializers.ListField(child=serializers.FloatField())
    windows = CycleWindowSerializer(many=True)
    odd_first = serializers.ListField(child=serializers.IntegerField())
    oddness = serializers.ListField(child=serializers.FloatField())


class MarkSerializer(serializers.Serializer):
    name = serializers.CharField()
    usual_at = serializers.FloatField(allow_null=True, help_text="On the folded axis.")
    measured_at = serializers.FloatField(allow_null=True)
    usual_deg = serializers.FloatField(allow_null=True, help_text="After top dead centre of compression.")
    measured_deg = serializers.FloatField(allow_null=True)


class PressureReferenceSerializer(serializers.Serializer):
    position = serializers.IntegerField()
    cylinder = serializers.IntegerField()
    values = serializers.ListField(child=serializers.FloatField())
    peak_bar = serializers.FloatField()
    measured_peak_bar = serializers.FloatField()
    marks = MarkSerializer(many=True)


class ReadingSerializer(serializers.Serializer):
    from_s = serializers.FloatField()
    to_s = serializers.FloatField()
    first = serializers.FloatField()
    last = serializers.FloatField()
    low = serializers.FloatField()
    high = serializers.FloatField()
    mean = serializers.FloatField()
    area = serializers.FloatField()
    slope = serializers.FloatField()
    hertz = serializers.FloatField()


class SnapSerializer(serializers.Serializer):
    at_s = serializers.FloatField()


class CaptureSerializer(serializers.Serializer):
    id = serializers.IntegerField()
    case = serializers.IntegerField()
    case_title = serializers.CharField()
    name = serializers.CharField()
    file_name = serializers.CharField()
    sha256 = serializers.CharField()
    samples = serializers.IntegerField()
    rate_hz = serializers.FloatField()
    start_s = serializers.FloatField()
    duration_s = serializers.FloatField()
    set_up = serializers.JSONField()
    kept_by = serializers.CharField()
    kept_at = serializers.DateTimeField()
    withdrawn = serializers.BooleanField()
    withdrawn_reason = serializers.CharField()
    channels = ChannelSerializer(many=True)
    known_good = serializers.CharField(allow_blank=True, help_text="Why it is held as known good, or nothing")
    may_mark = serializers.BooleanField()
    cycle_starts_s = serializers.ListField(child=serializers.FloatField())
    reasons = serializers.ListField(child=serializers.CharField())
    may_withdraw = serializers.BooleanField()
