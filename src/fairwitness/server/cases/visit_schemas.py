"""What a visit looks like in requests and answers: intake, codes, labour, history and parts."""

from __future__ import annotations

from rest_framework import serializers

from fairwitness.core.model.case import CodeOrigin
from fairwitness.core.model.fitted_part import PartCondition
from fairwitness.core.model.phase import PartState
from fairwitness.core.model.symptom import Symptom
from fairwitness.core.reason.knowledge.signs import SIGNS
from fairwitness.server.cases.circumstance_schemas import CircumstancesSerializer
from fairwitness.server.cases.life_schemas import PART_CHOICES, WorkDoneSerializer

ORIGINS = [(o.value, o.value) for o in CodeOrigin]
SYMPTOMS = [(s.value, s.value) for s in Symptom]
ODOMETER_MOST, CEILING_MOST = 9_999_999, 60_000


class CodeSerializer(serializers.Serializer):
    """A code as it is read."""

    code = serializers.CharField(max_length=16)
    status = serializers.CharField(max_length=32, default="stored")


class CodeRowSerializer(serializers.Serializer):
    """A code as it is kept."""

    code = serializers.CharField()
    status = serializers.CharField()
    origin = serializers.ChoiceField(choices=ORIGINS)
    origin_words = serializers.CharField()
    meaning = serializers.CharField(allow_blank=True)


class SaidSerializer(serializers.Serializer):
    """What may be mended of an intake; what is left out stays."""

    complaint = serializers.CharField(max_length=4000, allow_blank=True, required=False)
    symptom = serializers.ChoiceField(choices=SYMPTOMS, required=False)
    complaint_when = CircumstancesSerializer(required=False)
    signs = serializers.ListField(
        child=serializers.ChoiceField(choices=[(s, s) for s in SIGNS]), max_length=len(SIGNS), required=False
    )
    work_done = WorkDoneSerializer(many=True, required=False)
    believed = serializers.CharField(max_length=300, allow_blank=True, required=False)
    asked_for = serializers.CharField(max_length=300, allow_blank=True, required=False)
    odometer_km = serializers.IntegerField(min_value=0, max_value=ODOMETER_MOST, allow_null=True, required=False)
    ceiling_minutes = serializers.IntegerField(min_value=1, max_value=CEILING_MOST, allow_null=True, required=False)


class IntakeSerializer(serializers.Serializer):
    """A case as it is opened."""

    title = serializers.CharField(max_length=300)
    vehicle = serializers.CharField(max_length=200, allow_blank=True, default="")
    visit_of = serializers.IntegerField(allow_null=True, default=None)
    engine = serializers.JSONField()
    complaint = serializers.CharField(max_length=4000, allow_blank=True, default="")
    complaint_verified = serializers.CharField(max_length=200, allow_blank=True, default="")
    symptom = serializers.ChoiceField(choices=SYMPTOMS, default=Symptom.RUNS_BADLY.value)
    complaint_when = CircumstancesSerializer(default=dict)
    signs = serializers.ListField(
        child=serializers.ChoiceField(choices=[(s, s) for s in SIGNS]), default=list, max_length=len(SIGNS)
    )
    work_done = WorkDoneSerializer(many=True, default=list)
    codes = CodeSerializer(many=True, default=list)
    believed = serializers.CharField(max_length=300, allow_blank=True, default="")
    asked_for = serializers.CharField(max_length=300, allow_blank=True, default="")
    odometer_km = serializers.IntegerField(min_value=0, max_value=ODOMETER_MOST, allow_null=True, default=None)
    ceiling_minutes = serializers.IntegerField(min_value=1, max_value=CEILING_MOST, allow_null=True, default=None)


class TriedSerializer(serializers.Serializer):
    """Whether the complaint was seen by the shop."""

    provoked = serializers.BooleanField()
    under = serializers.CharField(max_length=200, allow_blank=True)


class CodesReadSerializer(serializers.Serializer):
    """What a scan showed; an empty list says that there was none."""

    codes = CodeSerializer(many=True)
    origin = serializers.ChoiceField(choices=ORIGINS, allow_null=True, default=None)


class CodesClearedSerializer(serializers.Serializer):
    """That codes were cleared."""

    words = serializers.CharField(max_length=200, allow_blank=True, default="")


class ClockSerializer(serializers.Serializer):
    """The own clock of a case: on or off."""

    running = serializers.BooleanField()


class PartGivenSerializer(serializers.Serializer):
    """A part that was to be fitted."""

    part = serializers.ChoiceField(choices=PART_CHOICES)
    cylinder = serializers.IntegerField(allow_null=True, default=None)
    fitted = serializers.ChoiceField(choices=[(f.value, f.value) for f in PartState])
    value = serializers.FloatField(allow_null=True, default=None)
    peers = serializers.ListField(child=serializers.FloatField(), max_length=16, default=list)
    unit = serializers.CharField(max_length=16, allow_blank=True, default="ohm")
    quantity = serializers.CharField(max_length=100, allow_blank=True, default="")
    broken = serializers.BooleanField(default=False)
    supplier = serializers.CharField(max_length=200, allow_blank=True, default="")
    words = serializers.CharField(max_length=300, allow_blank=True, default="")


class PartToldSerializer(serializers.Serializer):
    """A part and what became of it."""

    id = serializers.IntegerField()
    part = serializers.CharField()
    cylinder = serializers.IntegerField(allow_null=True)
    fitted = serializers.CharField()
    condition = serializers.ChoiceField(choices=[(c.value, c.value) for c in PartCondition])
    condition_words = serializers.CharField()
    reading = serializers.CharField(allow_blank=True)
    peers = serializers.ListField(child=serializers.FloatField())
    supplier = serializers.CharField(allow_blank=True)
    words = serializers.CharField(allow_blank=True)
    claim = serializers.BooleanField(help_text="There is something to claim from the supplier.")
    by = serializers.CharField()
    at = serializers.DateTimeField()


class PastVisitSerializer(serializers.Serializer):
    """One earlier visit in a line."""

    case = serializers.IntegerField(allow_null=True)
    on = serializers.CharField()
    odometer_km = serializers.IntegerField(allow_null=True)
    words = serializers.CharField()


class CodeReadSerializer(serializers.Serializer):
    """One time that codes were read or cleared."""

    kind = serializers.ChoiceField(choices=[("read", "read"), ("cleared", "cleared")])
    codes = serializers.ListField(child=serializers.CharField())
    origin_words = serializers.CharField()
    by = serializers.CharField()
    at = serializers.DateTimeField()


class SaidToldSerializer(serializers.Serializer):
    """The intake as it is kept, for mending it."""

    complaint = serializers.CharField()
    symptom = serializers.ChoiceField(choices=SYMPTOMS)
    complaint_when = CircumstancesSerializer()
    signs = serializers.ListField(child=serializers.ChoiceField(choices=[(s, s) for s in SIGNS]))
    work_done = WorkDoneSerializer(many=True)
    believed = serializers.CharField()
    asked_for = serializers.CharField()
    odometer_km = serializers.IntegerField(allow_null=True)
    ceiling_minutes = serializers.IntegerField(allow_null=True)


class VisitSerializer(serializers.Serializer):
    """This visit of the vehicle and those before it."""

    vehicle = serializers.IntegerField(allow_null=True)
    notes = serializers.CharField(allow_blank=True)
    said = SaidToldSerializer()
    provoked = serializers.BooleanField(allow_null=True)
    tried = serializers.CharField(allow_blank=True, help_text="Who tried to see the complaint, and how it went.")
    labour_minutes = serializers.IntegerField()
    working = serializers.ListField(child=serializers.CharField(), help_text="Whose clocks run.")
    own_clock = serializers.BooleanField()
    ceiling_words = serializers.CharField(allow_blank=True)
    code_reads = CodeReadSerializer(many=True)
    next_origin = serializers.ChoiceField(choices=ORIGINS)
    history = PastVisitSerializer(many=True)
    parts = PartToldSerializer(many=True)


class VehicleSerializer(serializers.Serializer):
    """A vehicle the shop knows."""

    id = serializers.IntegerField()
    name = serializers.CharField()
    engine = serializers.JSONField()
    visits = serializers.IntegerField()
    last = serializers.CharField(allow_blank=True)


class VehicleNotesSerializer(serializers.Serializer):
    """Notes on a vehicle."""

    notes = serializers.CharField(max_length=4000, allow_blank=True)
