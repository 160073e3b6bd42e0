"""What a shop may switch off, forget and add. What is learned itself is worked out of its cases and never kept."""

from __future__ import annotations

from django.conf import settings
from django.db import models


class LearnedSwitch(models.Model):
    """Whether one line of what was learned is used; one that nobody touched is, a figure by person is not."""

    key = models.CharField(max_length=120, unique=True)
    on = models.BooleanField()
    by = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.PROTECT, related_name="+")
    at = models.DateTimeField()

    def __str__(self) -> str:
        return f"{self.key}: {'on' if self.on else 'off'}"


class FreshStart(models.Model):
    """Outcomes and clocks from before this moment teach nothing any more; the last one holds."""

    by = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.PROTECT, related_name="+")
    at = models.DateTimeField()

    class Meta:
        ordering = ["at", "id"]

    def __str__(self) -> str:
        return f"from {self.at}"


class ShopCode(models.Model):
    """A code the maker gave a meaning, as this shop knows it, and what it makes likelier."""

    code = models.CharField(max_length=12, unique=True)
    words = models.CharField(max_length=200)
    fault = models.CharField(max_length=64, blank=True)
    factor = models.FloatField(default=1.0)
    by = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.PROTECT, related_name="+")
    at = models.DateTimeField()

    class Meta:
        ordering = ["code"]

    def __str__(self) -> str:
        return f"{self.code}: {self.words}"
