"""The shapes of files on their way over the API."""

from __future__ import annotations

from rest_framework import serializers

from fairwitness.core.model.capture import CaptureTest, EngineState, Role
from fairwitness.core.model.circumstances import LOADS, MINUTES_MOST
from fairwitness.core.model.lead import LeadKind, Reference
from fairwitness.core.model.units import UNIT_TO_SI
from fairwitness.server.imports.models import ImportState, Stage

CHANNEL_ROLES = [(r.value, r.value) for r in Role]


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
    role = serializers.ChoiceField(choices=CHANNEL_ROLES)
    unit = serializers.ChoiceField(choices=[(u, u) for u in UNIT_TO_SI], allow_blank=True)
    cylinder = serializers.IntegerField(min_value=1, max_value=16, allow_null=True, default=None)
    sync = serializers.BooleanField(default=False)
    lead = CameThroughSerializer(allow_null=True, default=None)


class KeepPlanSerializer(serializers.Serializer):
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


class BeginImportSerializer(serializers.Serializer):
    name = serializers.CharField(max_length=200)
    size = serializers.IntegerField(min_value=0, default=0, help_text="Bytes of the file that will be sent")
    modified = serializers.IntegerField(default=0, help_text="Same name, size and moment: it goes on")
    inbox = serializers.BooleanField(default=False, help_text="It lies in the inbox folder: nothing is sent")


class ImportProblemSerializer(serializers.Serializer):
    code = serializers.CharField()
    what = serializers.CharField()
    where = serializers.CharField(allow_blank=True)
    mend = serializers.CharField(allow_blank=True)
    sentence = serializers.CharField()


class FileImportSerializer(serializers.Serializer):
    id = serializers.IntegerField()
    file_name = serializers.CharField()
    by = serializers.CharField()
    own = serializers.BooleanField(help_text="Of who asks")
    may_cancel = serializers.BooleanField()
    size = serializers.IntegerField()
    received = serializers.IntegerField(help_text="Bytes that came; the next piece begins there")
    state = serializers.ChoiceField(choices=ImportState.choices)
    stage = serializers.ChoiceField(choices=Stage.choices, allow_blank=True)
    share = serializers.FloatField(help_text="Of the stage that is done")
    before = serializers.IntegerField(help_text="So many are kept before it")
    capture = serializers.IntegerField(allow_null=True)
    problem = ImportProblemSerializer(allow_null=True)
