"""Captures as evidence: samples in compressed chunks, a min/max pyramid for looking, measurements made of them."""

from __future__ import annotations

from django.conf import settings
from django.db import models

from fairwitness.server.cases.models import KeptEvidence, StoredCase


class StoredCapture(KeptEvidence):
    """One capture of a case. Never edited."""

    case = models.ForeignKey(StoredCase, on_delete=models.CASCADE, related_name="captures")
    name = models.CharField(max_length=200)
    file_name = models.CharField(max_length=200, blank=True)
    sha256 = models.CharField(max_length=64, blank=True)
    set_up = models.JSONField(default=dict)
    samples = models.BigIntegerField(default=0)
    rate_hz = models.FloatField(default=0.0)
    start_s = models.FloatField(default=0.0)
    stamps = models.BinaryField(null=True)
    unreadable = models.CharField(max_length=500, blank=True)
    changed = models.CharField(max_length=500, blank=True, default="")
    """Why its samples are not what was kept; empty while they are."""

    class Meta:
        ordering = ["id"]

    def __str__(self) -> str:
        return self.name


class StoredChannel(models.Model):
    """One channel of a capture."""

    capture = models.ForeignKey(StoredCapture, on_delete=models.CASCADE, related_name="channels", null=True)
    """None while its samples are written ahead of a capture that is not kept yet."""
    ahead_since = models.DateTimeField(null=True)
    ahead_under = models.CharField(max_length=40, blank=True, default="")
    position = models.PositiveSmallIntegerField()
    name = models.CharField(max_length=200)
    role = models.CharField(max_length=32)
    unit = models.CharField(max_length=8)
    cylinder = models.PositiveSmallIntegerField(null=True)
    feeds = models.JSONField(default=list)
    sync = models.BooleanField(default=False)
    measured_at = models.CharField(max_length=32, blank=True)
    unplugged = models.BooleanField(null=True)
    lead = models.JSONField(null=True)
    """What the signal came through, as in files; null where nobody said."""

    class Meta:
        ordering = ["position"]
        constraints = [models.UniqueConstraint(fields=["capture", "position"], name="one_channel_per_position")]

    def __str__(self) -> str:
        return self.name


class RememberedColumn(models.Model):
    """What somebody said a column of such files is, for the next file of the same columns."""

    shape = models.CharField(max_length=2_000)
    """The names of all columns of the file."""
    column = models.CharField(max_length=200)
    role = models.CharField(max_length=32)
    unit = models.CharField(max_length=8, blank=True)
    lead = models.JSONField(null=True)
    said_by = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.PROTECT, related_name="+")
    said_at = models.DateTimeField()

    class Meta:
        constraints = [
            models.UniqueConstraint(fields=["shape", "column", "role"], name="one_memory_per_column_and_role"),
        ]

    def __str__(self) -> str:
        return f"{self.column}: {self.role}"


class SampleChunk(models.Model):
    """A run of samples (level 0) or of lows and highs over 64, 512, ... samples each (level 1, 2, ...), packed."""

    channel = models.ForeignKey(StoredChannel, on_delete=models.CASCADE, related_name="chunks")
    level = models.PositiveSmallIntegerField()
    index = models.PositiveIntegerField()
    count = models.PositiveIntegerField()
    data = models.BinaryField()

    class Meta:
        ordering = ["level", "index"]
        constraints = [
            models.UniqueConstraint(fields=["channel", "level", "index"], name="one_chunk_per_place"),
        ]

    def __str__(self) -> str:
        return f"{self.channel_id} {self.level}/{self.index}"


class StoredMeasurement(models.Model):
    """What one test measured from a capture, with the version that measured it."""

    capture = models.ForeignKey(StoredCapture, on_delete=models.CASCADE, related_name="measurements")
    test = models.CharField(max_length=64)
    code_version = models.CharField(max_length=32)
    document = models.JSONField()
    made_at = models.DateTimeField()

    class Meta:
        ordering = ["id"]

    def __str__(self) -> str:
        return f"{self.test} of {self.capture_id}"


class EvidenceCheck(models.Model):
    """The last time that all of a case's evidence was compared with what the journal says of it."""

    case = models.OneToOneField(StoredCase, on_delete=models.CASCADE, related_name="evidence_check")
    at = models.DateTimeField()
    captures = models.PositiveIntegerField()
    readings = models.PositiveIntegerField()
    lines = models.PositiveIntegerField()
    """Of the journal."""
    changed = models.JSONField(default=list)
    """What is no evidence any more, a sentence each."""

    def __str__(self) -> str:
        return f"{self.case_id} at {self.at}"


class CameFrom(models.TextChoices):
    """Whose engine a known good capture was taken on."""

    OWN = "own", "Own case"
    COLLEAGUE = "colleague", "Colleague"
    PRACTICE = "practice", "Simulated, for practice"


class KnownGood(models.Model):
    """A capture the shop takes as how this engine ought to look: said by somebody, with why, and never silently."""

    capture = models.OneToOneField(StoredCapture, on_delete=models.CASCADE, related_name="known_good")
    why = models.CharField(max_length=300)
    came_from = models.CharField(max_length=16, choices=CameFrom.choices, default=CameFrom.OWN)
    said_by = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.PROTECT, related_name="+")
    said_at = models.DateTimeField()

    def __str__(self) -> str:
        return self.why
