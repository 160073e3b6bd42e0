"""What the shop charges, each figure with who wrote it down."""

from __future__ import annotations

from django.conf import settings
from django.db import models

HOUR = "labour_hour"
"""Name of the line that is an hour of labour and no part."""


class Price(models.Model):
    """What one piece of a part, or an hour of labour, costs the owner."""

    item = models.CharField(max_length=32, unique=True)
    amount = models.DecimalField(max_digits=12, decimal_places=2)
    set_by = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.PROTECT, related_name="+")
    set_at = models.DateTimeField()

    class Meta:
        ordering = ["item"]

    def __str__(self) -> str:
        return f"{self.item}: {self.amount}"
