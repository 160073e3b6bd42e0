"""The shapes the API speaks, for checking what comes in and for the generated client."""

from __future__ import annotations

from enum import StrEnum

from rest_framework import serializers

from fairwitness.core.model.measurement import State
from fairwitness.core.model.symptom import Symptom
from fairwitness.core.model.tools import Tool
from fairwitness.core.reason.knowledge.fault_spec import Cause
from fairwitness.core.reason.planning.approach import ByHand, Proof, Repair, ScanData, School
from fairwitness.core.reason.verdict import Status
from fairwitness.server.cases.life_schemas import LifeSerializer
from fairwitness.server.cases.models import FuelState
from fairwitness.server.cases.record_schemas import CustodySerializer, JournalSerializer
from fairwitness.server.cases.visit_schemas import CodeRowSerializer, VisitSerializer


def _choices(kind: type[StrEnum]) -> list[tuple[str, str]]:
    return [(value.value, value.value) for value in kind]


VERDICT_STATUSES, FINDING_STATES = _choices(Status), _choices(State)


class CaseLineSerializer(serializers.Serializer):
    id = serializers.IntegerField()
    title = serializers.CharField()
    vehicle = serializers.CharField()
    engine_label = serializers.CharField()
    complaint = serializers.CharField()
    status = serializers.CharField()
    headline = serializers.CharField()
    verdict_status = serializers.ChoiceField(choices=VERDICT_STATUSES)
    cause = serializers.ChoiceField(choices=_choices(Cause))
    cylinders = serializers.ListField(child=serializers.IntegerField())
    rivals = serializers.ListField(child=serializers.IntegerField(), help_text="One of these, not known which.")
    whole_engine = serializers.BooleanField(help_text="Every cylinder of an engine with several is meant.")
    waits_for = serializers.CharField()
    fuel_state = serializers.CharField()
    minutes = serializers.IntegerField()
    touched_at = serializers.DateTimeField()
    opened_by = serializers.CharField()


class AskedNextSerializer(serializers.Serializer):
    """Open cases that wait for one test."""

    test = serializers.CharField()
    words = serializers.CharField()
    cases = serializers.IntegerField()


class CaseListSerializer(serializers.Serializer):
    count = serializers.IntegerField()
    page = serializers.IntegerField()
    pages = serializers.IntegerField()
    cases = CaseLineSerializer(many=True)
    waiting = AskedNextSerializer(many=True)


class EngineSerializer(serializers.Serializer):
    label = serializers.CharField(required=False)  # type: ignore[assignment]
    cylinders = serializers.IntegerField()
    firing_order = serializers.ListField(child=serializers.IntegerField())
    firing_intervals_deg = serializers.ListField(child=serializers.FloatField(), required=False)
    fuel = serializers.CharField()
    ignition = serializers.CharField()
    injection = serializers.CharField()
    layout = serializers.CharField(required=False)
    injector_feeds = serializers.ListField(
        child=serializers.ListField(child=serializers.IntegerField()), required=False
    )
    injector_path = serializers.ListField(child=serializers.CharField(), required=False)


class CaseSerializer(serializers.Serializer):
    id = serializers.IntegerField()
    title = serializers.CharField()
    vehicle = serializers.CharField()
    engine = EngineSerializer()
    engine_words = serializers.CharField()
    complaint = serializers.CharField()
    complaint_verified = serializers.CharField()
    symptom = serializers.ChoiceField(choices=_choices(Symptom))
    complaint_when = serializers.ListField(child=serializers.CharField())
    happening = serializers.BooleanField(help_text="The complaint is there at this moment.")
    signs = serializers.ListField(child=serializers.CharField())
    work_done = serializers.ListField(child=serializers.CharField())
    codes = CodeRowSerializer(many=True)
    status = serializers.CharField()
    fuel_state = serializers.CharField()
    fuel_note = serializers.CharField()
    minutes = serializers.IntegerField()
    opened_by = serializers.CharField()
    opened_at = serializers.DateTimeField()
    may = serializers.ListField(child=serializers.CharField())
    custody = CustodySerializer(allow_null=True)
    journal = JournalSerializer(many=True)


class FuelSerializer(serializers.Serializer):
    state = serializers.ChoiceField(choices=FuelState.choices)
    how = serializers.CharField(max_length=200, allow_blank=True, default="")


class ApproachSerializer(serializers.Serializer):
    order = serializers.ChoiceField(choices=_choices(School), required=False)
    scan_data = serializers.ChoiceField(choices=_choices(ScanData), required=False)
    by_hand = serializers.ChoiceField(choices=_choices(ByHand), required=False)
    proof = serializers.ChoiceField(choices=_choices(Proof), required=False)
    repair = serializers.ChoiceField(choices=_choices(Repair), required=False)
    tools = serializers.ListField(
        child=serializers.ChoiceField(choices=_choices(Tool)), required=False, max_length=len(Tool)
    )


class AccessSerializer(serializers.Serializer):
    test = serializers.CharField(max_length=64)
    minutes = serializers.FloatField(allow_null=True, help_text="Null goes back to the usual minutes.")


class OutcomeSerializer(serializers.Serializer):
    test = serializers.CharField(max_length=64)
    outcome = serializers.CharField(max_length=32)
    cylinders = serializers.ListField(child=serializers.IntegerField(), max_length=16, default=list)


class ImagineSerializer(serializers.Serializer):
    outcomes = serializers.ListField(child=OutcomeSerializer(), min_length=1, max_length=12)


class WithdrawSerializer(serializers.Serializer):
    reason = serializers.CharField(max_length=300, allow_blank=True)


class ObservationSerializer(serializers.Serializer):
    test = serializers.CharField(max_length=64)
    data = serializers.JSONField(help_text="One reading, or a list of readings of one row: all are kept or none.")  # type: ignore[assignment]


class KeptSerializer(serializers.Serializer):
    id = serializers.IntegerField()


class ColumnSerializer(serializers.Serializer):
    cylinder = serializers.IntegerField()
    tdc_deg = serializers.FloatField()
    start = serializers.FloatField()
    width = serializers.FloatField()


class CellSerializer(serializers.Serializer):
    cylinder = serializers.IntegerField()
    shown = serializers.CharField()
    unit = serializers.CharField()
    deviation = serializers.FloatField(allow_null=True)
    spread = serializers.FloatField(allow_null=True)
    state = serializers.ChoiceField(choices=FINDING_STATES, allow_blank=True)
    word = serializers.CharField()
    statement = serializers.CharField()


class StripSerializer(serializers.Serializer):
    unit = serializers.CharField()
    middle = serializers.ListField(child=serializers.FloatField())
    low = serializers.ListField(child=serializers.FloatField())
    high = serializers.ListField(child=serializers.FloatField())


class ReasonSerializer(serializers.Serializer):
    statement = serializers.CharField()
    blocking = serializers.BooleanField()


class RowSerializer(serializers.Serializer):
    id = serializers.CharField()
    phase = serializers.IntegerField(help_text="State of the vehicle it was taken in; 0 as it arrived.")
    test = serializers.CharField()
    title = serializers.CharField()
    about = serializers.ListField(child=serializers.CharField())
    capture = serializers.IntegerField(allow_null=True)
    observation = serializers.IntegerField(allow_null=True)
    usable = serializers.BooleanField()
    withdrawn = serializers.BooleanField()
    withdrawn_reason = serializers.CharField()
    doubted = serializers.CharField(allow_blank=True)
    kept_by = serializers.CharField()
    kept_at = serializers.DateTimeField()
    assigned = serializers.BooleanField()
    assignment = serializers.CharField()
    overall = serializers.CharField()
    reasons = ReasonSerializer(many=True)
    strip = StripSerializer(allow_null=True)
    cells = CellSerializer(many=True)


class WaitingSerializer(serializers.Serializer):
    test = serializers.CharField()
    title = serializers.CharField()
    minutes = serializers.FloatField()
    tools = serializers.CharField()


class SentenceSerializer(serializers.Serializer):
    text = serializers.CharField()
    findings = serializers.ListField(child=serializers.CharField())


class RepairSerializer(serializers.Serializer):
    words = serializers.CharField()
    why = serializers.CharField()


class ConditionSerializer(serializers.Serializer):
    words = serializers.CharField()
    met = serializers.BooleanField()


class VerdictSerializer(serializers.Serializer):
    status = serializers.ChoiceField(choices=VERDICT_STATUSES)
    cause = serializers.ChoiceField(choices=_choices(Cause))
    cylinders = serializers.ListField(child=serializers.IntegerField())
    rivals = serializers.ListField(child=serializers.IntegerField())
    faults = serializers.ListField(child=serializers.CharField())
    probability = serializers.FloatField()
    statement = serializers.CharField()
    headline = serializers.CharField()
    not_seen = serializers.ListField(child=serializers.CharField())
    seen = SentenceSerializer(many=True)
    follows = SentenceSerializer(many=True)
    rival = SentenceSerializer(many=True)
    repair = RepairSerializer(many=True)
    owner = serializers.ListField(child=serializers.CharField())
    conditions = ConditionSerializer(many=True)


class MeaningSerializer(serializers.Serializer):
    outcome = serializers.CharField()
    cylinders = serializers.ListField(child=serializers.IntegerField())
    words = serializers.CharField()
    chance = serializers.FloatField()
    then = serializers.CharField()


class PlanSerializer(serializers.Serializer):
    stop = serializers.CharField()
    done = serializers.BooleanField()
    held_back = serializers.ListField(child=serializers.CharField())
    leave_alone = serializers.ListField(
        child=serializers.CharField(), help_text="What must not be touched until the complaint was caught."
    )


class ToolSerializer(serializers.Serializer):
    id = serializers.CharField()
    words = serializers.CharField()


class OwnMinutesSerializer(serializers.Serializer):
    test = serializers.CharField()
    title = serializers.CharField()
    usual = serializers.FloatField()
    own = serializers.FloatField(allow_null=True)


class ApproachToldSerializer(serializers.Serializer):
    order = serializers.ChoiceField(choices=_choices(School))
    scan_data = serializers.ChoiceField(choices=_choices(ScanData))
    by_hand = serializers.ChoiceField(choices=_choices(ByHand))
    proof = serializers.ChoiceField(choices=_choices(Proof))
    repair = serializers.ChoiceField(choices=_choices(Repair))
    tools = serializers.ListField(child=serializers.ChoiceField(choices=_choices(Tool)))


class NextTestSerializer(serializers.Serializer):
    test = serializers.CharField()
    id = serializers.CharField()
    kind = serializers.CharField()
    title = serializers.CharField()
    cylinders = serializers.ListField(child=serializers.IntegerField())
    minutes = serializers.FloatField()
    information_bits = serializers.FloatField()
    at_bench = serializers.BooleanField()
    has_form = serializers.BooleanField()
    tools = serializers.CharField()
    reason = serializers.CharField()
    cautions = serializers.ListField(child=serializers.CharField())
    probe = serializers.CharField(allow_blank=True, help_text="Connector, pin and colour to measure at.")
    proves = serializers.ListField(child=serializers.CharField())
    meanings = MeaningSerializer(many=True)


class FindingSerializer(serializers.Serializer):
    id = serializers.CharField()
    test = serializers.CharField()
    resource = serializers.CharField(allow_null=True)
    observation = serializers.IntegerField(allow_null=True)
    cylinder = serializers.IntegerField(allow_null=True)
    quantity = serializers.CharField()
    value = serializers.FloatField(allow_null=True)
    unit = serializers.CharField()
    spread = serializers.FloatField(allow_null=True)
    events = serializers.IntegerField()
    state = serializers.ChoiceField(choices=FINDING_STATES)
    statement = serializers.CharField()


class CausesSerializer(serializers.Serializer):
    ignition = serializers.FloatField()
    fuel = serializers.FloatField()
    mechanical = serializers.FloatField()
    control = serializers.FloatField()
    none = serializers.FloatField()


class QuestionSerializer(serializers.Serializer):
    id = serializers.CharField()
    words = serializers.CharField()
    why = serializers.CharField()
    answer = serializers.CharField(allow_blank=True)


class BoardSerializer(serializers.Serializer):
    case = CaseSerializer()
    columns = ColumnSerializer(many=True)
    rows = RowSerializer(many=True)
    waiting = WaitingSerializer(many=True)
    life = LifeSerializer()
    visit = VisitSerializer()
    verdict = VerdictSerializer()
    causes = CausesSerializer()
    findings = FindingSerializer(many=True)
    learned_from = serializers.IntegerField(help_text="Outcomes of this shop that the chances count.")
    next_tests = NextTestSerializer(many=True)
    plan = PlanSerializer()
    approach = ApproachToldSerializer()
    tools = ToolSerializer(many=True)
    access = OwnMinutesSerializer(many=True)
    questions = QuestionSerializer(many=True)


class ImaginedSerializer(serializers.Serializer):
    verdict = VerdictSerializer()
    causes = CausesSerializer()
    next_title = serializers.CharField(allow_blank=True)
    plan = PlanSerializer()


class PlaceSerializer(serializers.Serializer):
    cylinder = serializers.IntegerField()
    cycle_deg = serializers.FloatField()
    crank_deg = serializers.FloatField()
    second_turn = serializers.BooleanField()
    wrong = serializers.CharField(allow_blank=True)


class EngineTypedSerializer(serializers.Serializer):
    engine = serializers.JSONField()


class UsualOrderSerializer(serializers.Serializer):
    words = serializers.CharField()
    firing_order = serializers.ListField(child=serializers.IntegerField())


class EngineCheckSerializer(serializers.Serializer):
    valid = serializers.BooleanField()
    problem = serializers.CharField(allow_blank=True)
    engine = EngineSerializer(allow_null=True)
    places = PlaceSerializer(many=True)
    pairs = serializers.ListField(child=serializers.ListField(child=serializers.IntegerField()))
    orders = UsualOrderSerializer(many=True)


class EngineSuggestionSerializer(serializers.Serializer):
    label = serializers.CharField()  # type: ignore[assignment]
    engine = EngineSerializer()
    own = serializers.BooleanField()
