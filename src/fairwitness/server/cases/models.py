"""Vehicles, their visits (cases), hand-entered observations and the journal."""

from __future__ import annotations

from django.conf import settings
from django.db import models

from fairwitness.core.model.fitted_part import PartCondition
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


class Vehicle(models.Model):
    """A vehicle the shop knows; each case of it is a visit."""

    name = models.CharField(max_length=200)
    engine = models.JSONField()
    """As it was at the last visit."""
    notes = models.TextField(blank=True)

    class Meta:
        ordering = ["name", "id"]
        indexes = [models.Index(fields=["name"])]

    def __str__(self) -> str:
        return self.name


class StoredCase(models.Model):
    """One job, a visit of its vehicle. The diagnosis kept here is derived: the evidence gives it again at any time."""

    name = models.CharField(max_length=200)
    title = models.CharField(max_length=300, blank=True)
    vehicle = models.CharField(max_length=200, blank=True)
    """Its name."""
    visit_of = models.ForeignKey(Vehicle, on_delete=models.PROTECT, related_name="visits", null=True, blank=True)
    odometer_km = models.PositiveIntegerField(null=True, blank=True)
    engine = models.JSONField()
    complaint = models.TextField(blank=True)
    complaint_verified = models.CharField(max_length=200, blank=True)
    """Under which conditions somebody of the shop saw it, or tried to."""
    provoked = models.BooleanField(null=True, blank=True)
    """It was seen, or could not be provoked; None where nobody tried."""
    verified_by = models.ForeignKey(
        settings.AUTH_USER_MODEL, on_delete=models.PROTECT, related_name="+", null=True, blank=True
    )
    verified_at = models.DateTimeField(null=True, blank=True)
    believed = models.CharField(max_length=300, blank=True)
    """What the customer thinks it is."""
    asked_for = models.CharField(max_length=300, blank=True)
    """Who asked for what."""
    ceiling_minutes = models.PositiveIntegerField(null=True, blank=True)
    """Labour agreed with the owner."""
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
    """Rows of code, status, origin, and when it was read."""
    code_reads = models.JSONField(default=list)
    """Each time codes were read, none found, or cleared: what, when, by whom."""
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
    shelf = models.BooleanField(default=False)
    """No job: it only holds captures the shop keeps as known good, from elsewhere."""

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


class StoredPart(models.Model):
    """A part that was to be fitted, measured beside its peers first, and what became of it. Never edited."""

    case = models.ForeignKey(StoredCase, on_delete=models.CASCADE, related_name="parts")
    part = models.CharField(max_length=32)
    cylinder = models.PositiveIntegerField(null=True, blank=True)
    fitted = models.CharField(max_length=16, choices=[(f.value, f.value) for f in PartState])
    condition = models.CharField(max_length=16, choices=[(c.value, c.value) for c in PartCondition])
    quantity = models.CharField(max_length=100, blank=True)
    unit = models.CharField(max_length=16, blank=True)
    value = models.FloatField(null=True, blank=True)
    peers = models.JSONField(default=list)
    supplier = models.CharField(max_length=200, blank=True)
    words = models.CharField(max_length=300, blank=True)
    by = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.PROTECT, related_name="+")
    at = models.DateTimeField()

    class Meta:
        ordering = ["id"]

    def __str__(self) -> str:
        return f"{self.part} for {self.case_id}: {self.condition}"


class LabourSpan(models.Model):
    """Work on a case by one person, from start to stop; none while it still runs."""

    case = models.ForeignKey(StoredCase, on_delete=models.CASCADE, related_name="labour")
    by = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.PROTECT, related_name="+")
    begun_at = models.DateTimeField()
    ended_at = models.DateTimeField(null=True, blank=True)

    class Meta:
        ordering = ["begun_at", "id"]
        constraints = [
            models.UniqueConstraint(
                fields=["case", "by"], condition=models.Q(ended_at=None), name="one_running_clock_per_person"
            )
        ]

    def __str__(self) -> str:
        return f"{self.by_id} on {self.case_id} from {self.begun_at}"


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


class KeptOnce(models.Model):
    """The key a browser gave to something it sent, so that it is not kept twice where the answer got lost."""

    key = models.UUIDField(primary_key=True)
    case = models.ForeignKey(StoredCase, on_delete=models.CASCADE, related_name="+")
    by = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.PROTECT, related_name="+")
    at = models.DateTimeField(db_index=True)

    def __str__(self) -> str:
        return str(self.key)
