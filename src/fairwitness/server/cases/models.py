"""Cases, hand-entered observations and the journal."""

from __future__ import annotations

from django.conf import settings
from django.db import models

from fairwitness.core.model.phase import PartState, PhaseKind
from fairwitness.core.model.symptom import Symptom


class FuelState(models.TextChoices):
    """Whether the engine can start by itself."""

    ENABLED = "enabled", "Enabled"
    DISABLED = "disabled", "Disabled"


class CaseStatus(models.TextChoices):
    """Where the job stands."""

    OPEN = "open", "Open"
    CLOSED = "closed", "Closed"


SYMPTOMS = [(symptom.value, symptom.value.replace("_", " ")) for symptom in Symptom]


class StoredCase(models.Model):
    """One job. The diagnosis kept here is derived: it can be made again from the evidence at any time."""

    name = models.CharField(max_length=200)
    title = models.CharField(max_length=300, blank=True)
    vehicle = models.CharField(max_length=200, blank=True)
    engine = models.JSONField()
    complaint = models.TextField(blank=True)
    complaint_verified = models.CharField(max_length=200, blank=True)
    symptom = models.CharField(max_length=16, choices=SYMPTOMS, default=Symptom.RUNS_BADLY.value)
    complaint_when = models.JSONField(default=dict)
    """Under which conditions the complaint comes; empty where it is always there."""
    happening = models.BooleanField(default=False)
    """The complaint is there at this moment."""
    signs = models.JSONField(default=list)
    """What the driver sees, hears and smells, by id."""
    work_done = models.JSONField(default=list)
    """Rows; sentences of earlier versions as they were."""
    codes = models.JSONField(default=list)
    extra = models.JSONField(default=dict)
    approach = models.JSONField(default=dict)
    """Where people of the trade differ, and the tools of the bay; what is left out is as usual."""
    status = models.CharField(max_length=16, choices=CaseStatus.choices, default=CaseStatus.OPEN)
    fuel_state = models.CharField(max_length=16, choices=FuelState.choices, default=FuelState.ENABLED)
    fuel_note = models.CharField(max_length=200, blank=True)
    opened_by = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.PROTECT, related_name="+")
    opened_at = models.DateTimeField()
    touched_at = models.DateTimeField()
    diagnosis = models.JSONField(default=dict)
    headline = models.CharField(max_length=300, blank=True)
    """In plain English, for searching."""
    headline_said = models.JSONField(default=dict)
    """The same as a message, for showing."""
    verdict_status = models.CharField(max_length=32, blank=True)
    cause = models.CharField(max_length=32, blank=True)
    cylinders = models.JSONField(default=list)
    waits_for = models.CharField(max_length=200, blank=True)
    """Id of the test on offer."""
    phase = models.PositiveIntegerField(default=0)
    """Number of the state the vehicle is in: new evidence belongs to it. 0 as it arrived."""
    closed_as = models.CharField(max_length=16, blank=True)
    """How far it was when it was closed."""

    class Meta:
        ordering = ["-touched_at", "-id"]
        indexes = [models.Index(fields=["-touched_at", "-id"]), models.Index(fields=["status"])]

    def __str__(self) -> str:
        return self.title or self.name


class KeptEvidence(models.Model):
    """Who kept it and when; a wrong one is withdrawn with a reason and stays."""

    kept_by = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.PROTECT, related_name="+")
    kept_at = models.DateTimeField()
    withdrawn_by = models.ForeignKey(
        settings.AUTH_USER_MODEL, on_delete=models.PROTECT, related_name="+", null=True, blank=True
    )
    withdrawn_at = models.DateTimeField(null=True, blank=True)
    withdrawn_reason = models.CharField(max_length=300, blank=True)

    class Meta:
        abstract = True


class StoredObservation(KeptEvidence):
    """Something entered by hand. Never edited."""

    case = models.ForeignKey(StoredCase, on_delete=models.CASCADE, related_name="observations")
    test = models.CharField(max_length=64)
    data = models.JSONField()

    class Meta:
        ordering = ["id"]

    def __str__(self) -> str:
        return f"{self.test} in {self.case_id}"


class StoredPhase(models.Model):
    """A state of the vehicle after the one it arrived in: a change-over, everything put back, or a repair."""

    case = models.ForeignKey(StoredCase, on_delete=models.CASCADE, related_name="phases")
    number = models.PositiveIntegerField()
    kind = models.CharField(max_length=16, choices=[(k.value, k.value) for k in PhaseKind])
    part = models.CharField(max_length=32, blank=True)
    cylinders = models.JSONField(default=list)
    fitted = models.CharField(max_length=16, blank=True, choices=[(f.value, f.value) for f in PartState])
    words = models.CharField(max_length=300, blank=True)
    begun_by = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.PROTECT, related_name="+")
    begun_at = models.DateTimeField()

    class Meta:
        ordering = ["number"]
        constraints = [models.UniqueConstraint(fields=["case", "number"], name="one_phase_per_number")]

    def __str__(self) -> str:
        return f"{self.kind} {self.part} in {self.case_id}"


class StoredOutcome(models.Model):
    """What was really found. Never edited; what the program said at that moment is kept beside it."""

    case = models.ForeignKey(StoredCase, on_delete=models.CASCADE, related_name="outcomes")
    fault = models.CharField(max_length=64, blank=True)
    """Of the catalogue; empty where none of it was found."""
    found = models.CharField(max_length=300)
    cylinders = models.JSONField(default=list)
    seen_by = models.CharField(max_length=200)
    """By which sight or measurement."""
    said = models.JSONField(default=dict)
    """Headline, status, cylinders, cause, faults and chances of then, and the version that said it."""
    agreed = models.BooleanField()
    lesson = models.CharField(max_length=500, blank=True)
    by = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.PROTECT, related_name="+")
    at = models.DateTimeField()

    class Meta:
        ordering = ["id"]

    def __str__(self) -> str:
        return f"{self.found} in {self.case_id}"


class FollowUp(models.Model):
    """Something to do later, with a date; it comes back as due until somebody says it is done."""

    case = models.ForeignKey(StoredCase, on_delete=models.CASCADE, related_name="follow_ups")
    words = models.CharField(max_length=200)
    due = models.DateField()
    by = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.PROTECT, related_name="+")
    at = models.DateTimeField()
    done_by = models.ForeignKey(
        settings.AUTH_USER_MODEL, on_delete=models.PROTECT, related_name="+", null=True, blank=True
    )
    done_at = models.DateTimeField(null=True, blank=True)

    class Meta:
        ordering = ["due", "id"]
        indexes = [models.Index(fields=["done_at", "due"], name="follow_ups_due")]

    def __str__(self) -> str:
        return f"{self.words}, {self.due}"


class EngineAccess(models.Model):
    """Minutes a test takes on one kind of engine, where access differs from the usual."""

    engine_label = models.CharField(max_length=200)
    test = models.CharField(max_length=64)
    minutes = models.FloatField()
    set_by = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.PROTECT, related_name="+")
    set_at = models.DateTimeField()

    class Meta:
        constraints = [models.UniqueConstraint(fields=["engine_label", "test"], name="one_access_per_engine_and_test")]

    def __str__(self) -> str:
        return f"{self.engine_label}, {self.test}: {self.minutes:g} min"


class JournalEntry(models.Model):
    """Who did what, when. Only ever added to."""

    case = models.ForeignKey(StoredCase, on_delete=models.CASCADE, related_name="journal")
    verb = models.CharField(max_length=64)
    detail = models.CharField(max_length=500, blank=True)
    about = models.CharField(max_length=64, blank=True)
    """Hash of the evidence the line speaks of."""
    by = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.PROTECT, related_name="+")
    at = models.DateTimeField()
    seal = models.CharField(max_length=64, blank=True)
    """As ``journal.seal_of`` makes it."""

    class Meta:
        ordering = ["id"]

    def __str__(self) -> str:
        return f"{self.verb} {self.detail}"
