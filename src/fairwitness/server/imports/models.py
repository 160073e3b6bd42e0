"""One file on its way: who sends it, for which case, how far it is, and what came of it."""

from __future__ import annotations

from django.conf import settings
from django.db import models

from fairwitness.server.captures.models import StoredCapture
from fairwitness.server.cases.models import StoredCase


class ImportState(models.TextChoices):
    """Where a file stands."""

    ARRIVING = "arriving"
    ARRIVED = "arrived"
    WAITING = "waiting"
    """To be kept; others are before it."""
    WORKING = "working"
    KEPT = "kept"
    REFUSED = "refused"
    """It is still there: what was said of it may be mended and tried again."""
    CANCELLED = "cancelled"


IN_HAND = (ImportState.ARRIVING, ImportState.ARRIVED, ImportState.WAITING, ImportState.WORKING, ImportState.REFUSED)
CAN_BE_KEPT = (ImportState.ARRIVED, ImportState.REFUSED)


class Stage(models.TextChoices):
    """What is being done with it."""

    NONE = ""
    READING = "reading"
    MEASURING = "measuring"


class FileImport(models.Model):
    """A file on its way to become a capture. Its bytes lie in the staging folder under its number."""

    case = models.ForeignKey(StoredCase, on_delete=models.CASCADE, related_name="imports")
    by = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.PROTECT, related_name="+")
    file_name = models.CharField(max_length=200)
    size = models.BigIntegerField()
    modified = models.BigIntegerField(default=0)
    """As the sender's machine tells it: the same file sent again goes on where it broke off."""
    state = models.CharField(max_length=10, choices=ImportState, default=ImportState.ARRIVING)
    stage = models.CharField(max_length=10, choices=Stage, default=Stage.NONE, blank=True)
    share = models.FloatField(default=0.0)
    """Of the stage that is done."""
    plan = models.JSONField(null=True)
    tries = models.PositiveSmallIntegerField(default=0)
    problem = models.JSONField(null=True)
    capture = models.ForeignKey(StoredCapture, on_delete=models.SET_NULL, null=True, related_name="+")
    began_at = models.DateTimeField()
    asked_at = models.DateTimeField(null=True)
    """When it was to be kept: the order of those that wait."""
    touched_at = models.DateTimeField()

    class Meta:
        ordering = ["id"]
        indexes = [models.Index(fields=["state", "asked_at"], name="imports_by_state")]

    def __str__(self) -> str:
        return f"{self.file_name}: {self.state}"
