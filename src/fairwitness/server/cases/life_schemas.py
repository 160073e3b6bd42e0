"""What the life of a case looks like in requests and answers."""

from __future__ import annotations

from rest_framework import serializers

from fairwitness.core.model.phase import PARTS, PartState, PhaseKind
from fairwitness.core.reason.phases.change_over import Went
from fairwitness.core.reason.phases.changes import Change
from fairwitness.core.reason.phases.repair_proof import ProofStatus
from fairwitness.server.cases.standing import CaseStage

WORKS = [(k.value, k.value) for k in PhaseKind]
PHASES = [("as_arrived", "as_arrived"), *WORKS]


PART_CHOICES = [(p, p) for p in PARTS]


class WorkSerializer(serializers.Serializer):
    """Something done to the vehicle: parts changed over, put back, or a repair."""

    kind = serializers.ChoiceField(choices=WORKS)
    part = serializers.ChoiceField(choices=PART_CHOICES, allow_blank=True, default="")
    cylinders = serializers.ListField(child=serializers.IntegerField(), max_length=16, default=list)
    fitted = serializers.ChoiceField(choices=[(f.value, f.value) for f in PartState], allow_null=True, default=None)
    words = serializers.CharField(max_length=300, allow_blank=True, default="")


class WorkDoneSerializer(serializers.Serializer):
    """One thing that was done before the vehicle came."""

    part = serializers.ChoiceField(choices=PART_CHOICES, allow_blank=True, default="")
    cylinders = serializers.ListField(child=serializers.IntegerField(), max_length=16, default=list)
    fitted = serializers.ChoiceField(choices=[(f.value, f.value) for f in PartState], allow_null=True, default=None)
    by = serializers.CharField(max_length=300, allow_blank=True, default="")
    when = serializers.CharField(max_length=300, allow_blank=True, default="")
    helped = serializers.BooleanField(allow_null=True, default=None)
    words = serializers.CharField(max_length=300, allow_blank=True, default="")


class FoundSerializer(serializers.Serializer):
    """What was really found."""

    found = serializers.CharField(max_length=300)
    seen_by = serializers.CharField(max_length=200)
    fault = serializers.CharField(max_length=64, allow_blank=True, default="")
    cylinders = serializers.ListField(child=serializers.IntegerField(), max_length=16, default=list)
    lesson = serializers.CharField(max_length=500, allow_blank=True, default="")


class FollowUpSerializer(serializers.Serializer):
    """Something to do later."""

    words = serializers.CharField(max_length=200)
    due = serializers.DateField()


class ClosingSerializer(serializers.Serializer):
    """The end of a case."""

    codes_cleared = serializers.CharField(max_length=200, allow_blank=True, default="")


class ReopenSerializer(serializers.Serializer):
    """Why a closed case is taken up again."""

    reason = serializers.CharField(max_length=300, allow_blank=True)


class PhaseSerializer(serializers.Serializer):
    """One state of the vehicle."""

    number = serializers.IntegerField()
    kind = serializers.ChoiceField(choices=PHASES)
    words = serializers.CharField()
    note = serializers.CharField()
    by = serializers.CharField()
    at = serializers.DateTimeField()


class LookedSerializer(serializers.Serializer):
    """What looking again with parts changed over showed."""

    phase = serializers.IntegerField()
    went = serializers.ChoiceField(choices=[(w.value, w.value) for w in Went])
    words = serializers.CharField()


class ChangeSerializer(serializers.Serializer):
    """What became of one cylinder."""

    cylinder = serializers.IntegerField()
    change = serializers.ChoiceField(choices=[(c.value, c.value) for c in Change])
    words = serializers.CharField()


class ComparedSerializer(serializers.Serializer):
    """One test before and after."""

    test = serializers.CharField()
    title = serializers.CharField()
    why_not = serializers.CharField(allow_blank=True)
    changes = ChangeSerializer(many=True)


class ProofSerializer(serializers.Serializer):
    """What the tests after a repair say of it."""

    phase = serializers.IntegerField()
    status = serializers.ChoiceField(choices=[(s.value, s.value) for s in ProofStatus])
    words = serializers.CharField()
    missing = serializers.ListField(child=serializers.CharField())
    compared = ComparedSerializer(many=True)


class PartPlaceSerializer(serializers.Serializer):
    """Whose part sits at a cylinder."""

    cylinder = serializers.IntegerField()
    of = serializers.IntegerField()


class MisplacedSerializer(serializers.Serializer):
    """Parts that do not sit where they belong."""

    part = serializers.CharField()
    places = PartPlaceSerializer(many=True)


class CaseOutcomeSerializer(serializers.Serializer):
    """What was found, beside what was said."""

    found = serializers.CharField()
    cylinders = serializers.ListField(child=serializers.IntegerField())
    seen_by = serializers.CharField()
    agreed = serializers.BooleanField()
    lesson = serializers.CharField()
    said = serializers.CharField()
    version = serializers.CharField()
    by = serializers.CharField()
    at = serializers.DateTimeField()


class FollowUpToldSerializer(serializers.Serializer):
    """Something to do later, and whether it is due."""

    id = serializers.IntegerField()
    words = serializers.CharField()
    due = serializers.DateField()
    overdue = serializers.BooleanField()
    done = serializers.BooleanField()


class LifeSerializer(serializers.Serializer):
    """The life of a case."""

    stage = serializers.ChoiceField(choices=[(s.value, s.value) for s in CaseStage])
    stage_words = serializers.CharField()
    decided = serializers.CharField(allow_blank=True, help_text="What the owner decided last.")
    phase = serializers.IntegerField()
    phases = PhaseSerializer(many=True)
    changed_over = LookedSerializer(many=True)
    repairs = ProofSerializer(many=True)
    misplaced = MisplacedSerializer(many=True)
    left_to_do = serializers.ListField(child=serializers.CharField())
    outcomes = CaseOutcomeSerializer(many=True)
    follow_ups = FollowUpToldSerializer(many=True)


class DueSerializer(serializers.Serializer):
    """A follow-up of any case that is due."""

    id = serializers.IntegerField()
    case = serializers.IntegerField()
    title = serializers.CharField()
    words = serializers.CharField()
    due = serializers.DateField()


class WrongSerializer(serializers.Serializer):
    """A statement that what was found did not bear out."""

    case = serializers.IntegerField()
    title = serializers.CharField()
    said = serializers.CharField()
    probability = serializers.FloatField()
    found = serializers.CharField()
    seen_by = serializers.CharField()
    lesson = serializers.CharField(allow_blank=True)
    at = serializers.DateTimeField()


class OwnRecordSerializer(serializers.Serializer):
    """What was found in this shop beside what was said."""

    count = serializers.IntegerField()
    agreed = serializers.IntegerField()
    wrong = WrongSerializer(many=True)


class StepSerializer(serializers.Serializer):
    """One thing that happened to the evidence of a case."""

    at = serializers.DateTimeField()
    by = serializers.CharField()
    kind = serializers.ChoiceField(choices=[(k, k) for k in ("opened", "capture", "reading", "work", "withdrawn")])
    words = serializers.CharField()


class ReplaySerializer(serializers.Serializer):
    """A case as a film."""

    title = serializers.CharField()
    steps = StepSerializer(many=True)


class SaidVerdictSerializer(serializers.Serializer):
    """What is said at one step."""

    status = serializers.CharField()
    headline = serializers.CharField()
    cylinders = serializers.ListField(child=serializers.IntegerField())


class AskedSerializer(serializers.Serializer):
    """The test that is asked for next."""

    title = serializers.CharField()
    reason = serializers.CharField()
    minutes = serializers.FloatField()


class SaidProofSerializer(serializers.Serializer):
    """What is said of a repair, or of parts changed over."""

    phase = serializers.IntegerField()
    words = serializers.CharField()


class ReplayedSerializer(serializers.Serializer):
    """One picture of the film."""

    verdict = SaidVerdictSerializer()
    causes = serializers.DictField(child=serializers.FloatField())
    next_tests = AskedSerializer(many=True)
    repairs = SaidProofSerializer(many=True)
    changed_over = SaidProofSerializer(many=True)
