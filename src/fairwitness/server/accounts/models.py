"""Who works here."""

from __future__ import annotations

from typing import Any, ClassVar

from django.contrib.auth.models import AbstractUser, UserManager
from django.contrib.auth.password_validation import validate_password
from django.db import models


class Role(models.TextChoices):
    """What a person may do."""

    TECHNICIAN = "technician", "Technician"
    LEAD = "lead", "Lead"
    READER = "reader", "Reader"


class People(UserManager["User"]):
    """Makes people."""

    def create_superuser(
        self, username: str, email: str | None = None, password: str | None = None, **extra: Any
    ) -> User:
        """A lead, whose password is held to the same rules as everybody's.

        Raises
        ------
        ValidationError
        """
        validate_password(password or "", self.model(username=username))
        return super().create_superuser(username, email, password, **{"role": Role.LEAD, **extra})


class User(AbstractUser):
    """A person with one role."""

    objects: ClassVar[People] = People()

    role = models.CharField(max_length=16, choices=Role.choices, default=Role.READER)
    units = models.JSONField(default=dict, blank=True)
    """Unit by quantity, as ``core.messages.rendering.QUANTITIES`` has them; the usual one where none is chosen."""

    bay_code = models.CharField(max_length=256, default="", blank=True)
    """Hash of the short code for a shared tablet; empty where there is none."""
    wrong_codes = models.PositiveSmallIntegerField(default=0)
    """Wrong guesses at the short code since it was last right."""

    @property
    def shown_name(self) -> str:
        """Name as shown beside what the person did."""
        return self.get_full_name() or self.username


class OneTimeSecret(models.Model):
    """A secret that lets somebody choose a password once, or makes the first lead; only its hash is kept."""

    person = models.ForeignKey(User, null=True, on_delete=models.CASCADE, related_name="+")
    """Whose password; nobody's for the code of the first lead."""
    hash = models.CharField(max_length=64, unique=True)
    expires_at = models.DateTimeField()
    used_at = models.DateTimeField(null=True)
    made_by = models.ForeignKey(User, null=True, on_delete=models.SET_NULL, related_name="+")


class Workshop(models.Model):
    """The one workshop this installation serves."""

    name = models.CharField(max_length=120)
    address = models.CharField(max_length=300, blank=True)
    """Lines of the letterhead, as they are typed."""
    logo = models.BinaryField(null=True)
    """A small PNG."""
    currency = models.CharField(max_length=8, blank=True)
    """Sign behind a price."""
    language = models.CharField(max_length=16, blank=True)
    """Of sheets; empty for English."""
    links_on = models.BooleanField(default=False)
    """Sheets may be handed over by a link."""
