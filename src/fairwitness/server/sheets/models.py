"""Marked stretches of traces, what a sheet shows, and the links it is handed over by."""

from __future__ import annotations

from django.conf import settings
from django.db import models

from fairwitness.server.captures.models import StoredCapture
from fairwitness.server.cases.models import KeptEvidence, StoredCase


class TraceFigure(KeptEvidence):
    """A stretch of a capture with words: a figure of the report. Never edited."""

    case = models.ForeignKey(StoredCase, on_delete=models.CASCADE, related_name="figures")
    capture = models.ForeignKey(StoredCapture, on_delete=models.CASCADE, related_name="figures")
    from_s = models.FloatField()
    to_s = models.FloatField()
    words = models.CharField(max_length=300)

    class Meta:
        ordering = ["id"]

    def __str__(self) -> str:
        return self.words


class SheetChoice(models.Model):
    """Which pictures and figures stand on the sheet of a case, where somebody chose."""

    case = models.OneToOneField(StoredCase, on_delete=models.CASCADE, related_name="sheet_choice", primary_key=True)
    shown = models.JSONField(default=list)
    """References such as ``picture:3`` and ``figure:5``, at most two."""

    def __str__(self) -> str:
        return f"sheet of {self.case_id}"


class SheetLink(models.Model):
    """A link that shows a sheet without an account, until it expires or is revoked; only its hash is kept."""

    case = models.ForeignKey(StoredCase, on_delete=models.CASCADE, related_name="sheet_links")
    digest = models.CharField(max_length=64, unique=True)
    whole = models.BooleanField(default=False)
    """With the annex."""
    words = models.CharField(max_length=120)
    """For whom it is."""
    expires_at = models.DateTimeField()
    made_by = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.PROTECT, related_name="+")
    made_at = models.DateTimeField()
    revoked_by = models.ForeignKey(
        settings.AUTH_USER_MODEL, on_delete=models.PROTECT, related_name="+", null=True, blank=True
    )
    revoked_at = models.DateTimeField(null=True, blank=True)

    class Meta:
        ordering = ["-id"]

    def __str__(self) -> str:
        return f"link for {self.words} to {self.case_id}"


class SheetOpening(models.Model):
    """One opening of a link."""

    link = models.ForeignKey(SheetLink, on_delete=models.CASCADE, related_name="openings")
    at = models.DateTimeField()
    address = models.CharField(max_length=64)
    what = models.CharField(max_length=8)
    """``page`` or ``pdf``."""

    class Meta:
        ordering = ["-id"]

    def __str__(self) -> str:
        return f"{self.what} at {self.at}"
