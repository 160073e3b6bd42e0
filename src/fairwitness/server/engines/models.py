"""What the shop wrote down of an engine, by its name."""

from __future__ import annotations

from django.conf import settings
from django.db import models


class EngineRecord(models.Model):
    """An engine, or a variant of one: what it does not say itself it has from the engine it is a variant of."""

    label = models.CharField(max_length=200, unique=True)
    variant_of = models.ForeignKey("self", on_delete=models.PROTECT, related_name="variants", null=True, blank=True)
    years = models.CharField(max_length=60, blank=True)
    code = models.CharField(max_length=60, blank=True)
    block = models.JSONField(default=dict)
    """Keys of the engine block of a case package, only those that this record states."""
    usual = models.JSONField(default=list)
    """Rows of what is usual on it: words and value."""
    notes = models.TextField(blank=True)
    by = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.PROTECT, related_name="+")
    at = models.DateTimeField()

    class Meta:
        ordering = ["label"]

    def __str__(self) -> str:
        return self.label


class EngineChange(models.Model):
    """What a record said before somebody changed it. Only ever added to."""

    record = models.ForeignKey(EngineRecord, on_delete=models.CASCADE, related_name="changes")
    before = models.JSONField()
    by = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.PROTECT, related_name="+")
    at = models.DateTimeField()

    class Meta:
        ordering = ["id"]

    def __str__(self) -> str:
        return f"{self.record_id} at {self.at}"
