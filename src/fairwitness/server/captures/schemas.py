"""The shapes of captures over the API."""

from __future__ import annotations

from rest_framework import serializers

from fairwitness.core.model.capture import CaptureTest, EngineState, Role
from fairwitness.core.model.circumstances import LOADS, MINUTES_MOST
from fairwitness.core.model.lead import LeadKind, Reference
from fairwitness.core.model.units import UNIT_TO_SI


class CameThroughSerializer(serializers.Serializer):
    kind = serializers.ChoiceField(choices=[(k.value, k.value) for k in LeadKind])
    unit = serializers.ChoiceField(choices=[(u, u) for u in UNIT_TO_SI])
    per_volt = serializers.FloatField(allow_null=True, default=None, help_text="So many of the unit make one volt")
    zero_v = serializers.FloatField(default=0.0)
    reference = serializers.ChoiceField(choices=[(r.value, r.value) for r in Reference], allow_null=True, default=None)


class LeadOfferSerializer(serializers.Serializer):
    role = serializers.CharField(help_text="The role it is put on")
    lead = CameThroughSerializer()
    words = serializers.CharField()
    fits = serializers.BooleanField(help_text="The trace would stand at a usual level")


class RoleChanceSerializer(serializers.Serializer):
    role = serializers.CharField()
    chance = serializers.FloatField()


class ColumnGuessSerializer(serializers.Serializer):
    name = serializers.CharField()
    chances = RoleChanceSerializer(many=True)
    leads = LeadOfferSerializer(many=True)
    lead = CameThroughSerializer(allow_null=True, help_text="Proposed")
    height = serializers.FloatField(help_text="How far it reaches from its rest, as written")
    events_hz = serializers.FloatField(allow_null=True, help_text="How often it leaves its rest")
    remembered = serializers.CharField(allow_blank=True, help_text="Who said so of the same column, and when")
    unit = serializers.CharField(allow_null=True)
    role = serializers.CharField()
    cylinder = serializers.IntegerField(allow_null=True)
    sync = serializers.BooleanField()
    preview = serializers.ListField(child=serializers.FloatField())


class TableGuessSerializer(serializers.Serializer):
    columns = ColumnGuessSerializer(many=True)
    needs_rate = serializers.BooleanField()
    rate_hz = serializers.FloatField(allow_null=True, help_text="As told beside the samples")
    segments = serializers.ListField(child=serializers.IntegerField(), help_text="Samples of each recording in it")
    attempts = serializers.ListField(
        child=serializers.ListField(child=serializers.FloatField(), min_length=2, max_length=2),
        help_text="Where it cranks, as shares of the whole",
    )
    engine_state = serializers.CharField(allow_blank=True)
    test = serializers.CharField(allow_blank=True, help_text="The test such channels are usually taken for")
    written = serializers.CharField()


class ColumnUseSerializer(serializers.Serializer):
    column = serializers.CharField(max_length=300)
    role = serializers.ChoiceField(choices=[(r.value, r.value) for r in Role])
    unit = serializers.ChoiceField(choices=[(u, u) for u in UNIT_TO_SI], allow_blank=True)
    cylinder = serializers.IntegerField(min_value=1, max_value=16, allow_null=True, default=None)
    sync = serializers.BooleanField(default=False)
    lead = CameThroughSerializer(allow_null=True, default=None)


class ImportSerializer(serializers.Serializer):
    name = serializers.CharField(max_length=180, default="capture")
    test = serializers.ChoiceField(choices=[(t.value, t.value) for t in CaptureTest])
    engine_state = serializers.ChoiceField(choices=[(s.value, s.value) for s in EngineState])
    load = serializers.ChoiceField(choices=[(s, s) for s in ("", *LOADS)], default="")
    columns = ColumnUseSerializer(many=True)
    sample_rate_hz = serializers.FloatField(allow_null=True, default=None)
    segment = serializers.IntegerField(min_value=0, allow_null=True, default=None)
    part = serializers.ListField(
        child=serializers.FloatField(min_value=0, max_value=1),
        min_length=2,
        max_length=2,
        allow_null=True,
        default=None,
        help_text="What is kept, as shares of the whole",
    )
    fuel_disabled = serializers.BooleanField(allow_null=True, default=None)
    temperature = serializers.ChoiceField(choices=[("cold", "cold"), ("hot", "hot"), ("", "")], default="")
    minutes_running = serializers.FloatField(min_value=0, max_value=MINUTES_MOST, allow_null=True, default=None)
    wet = serializers.BooleanField(allow_null=True, default=None)
    after_standing = serializers.BooleanField(allow_null=True, default=None)
    happened = serializers.BooleanField(allow_null=True, default=None, help_text="The complaint was there meanwhile.")


class UploadSerializer(serializers.Serializer):
    file = serializers.FileField(required=False)
    inbox = serializers.CharField(required=False, help_text="Name of a file in the inbox folder, in place of one sent")
    plan = serializers.CharField(required=False, help_text="ImportSerializer as JSON")


class FileSerializer(serializers.Serializer):
    file = serializers.FileField(required=False)
    inbox = serializers.CharField(required=False, help_text="Name of a file in the inbox folder, in place of one sent")


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
