"""Who works here."""

from __future__ import annotations

from django.contrib.auth.models import AbstractUser
from django.db import models


class Role(models.TextChoices):
    """What a person may do."""

    TECHNICIAN = "technician", "Technician"
    LEAD = "lead", "Lead"
    READER = "reader", "Reader"


class User(AbstractUser):
    """A person with one role."""

    role = models.CharField(max_length=16, choices=Role.choices, default=Role.READER)
    units = models.JSONField(default=dict, blank=True)
    """Unit by quantity, as ``core.messages.rendering.QUANTITIES`` has them; the usual one where none is chosen."""

    @property
    def shown_name(self) -> str:
        """Name as shown beside what the person did."""
        return self.get_full_name() or self.username
