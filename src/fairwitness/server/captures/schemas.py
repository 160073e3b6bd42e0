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
