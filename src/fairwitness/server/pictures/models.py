"""Pictures and sounds of a case. Never edited; what is drawn on one stands beside it."""

from __future__ import annotations

from django.db import models

from fairwitness.server.cases.models import KeptEvidence, StoredCase, StoredObservation, StoredOutcome, StoredPart
from fairwitness.server.pictures.checking import PictureKind


class Picture(KeptEvidence):
    """A photo, a still or a short sound, and what it belongs to."""

    case = models.ForeignKey(StoredCase, on_delete=models.CASCADE, related_name="pictures")
    kind = models.CharField(max_length=8, choices=[(k.value, k.value) for k in PictureKind])
    mime = models.CharField(max_length=16)
    words = models.CharField(max_length=300, blank=True)
    observation = models.ForeignKey(
        StoredObservation, on_delete=models.CASCADE, related_name="pictures", null=True, blank=True
    )
    part = models.ForeignKey(StoredPart, on_delete=models.CASCADE, related_name="pictures", null=True, blank=True)
    outcome = models.ForeignKey(StoredOutcome, on_delete=models.CASCADE, related_name="pictures", null=True, blank=True)
    sha256 = models.CharField(max_length=64)
    """Of what is kept; what was sent may have held more."""
    size = models.PositiveIntegerField()
    width = models.PositiveIntegerField(default=0)
    height = models.PositiveIntegerField(default=0)
    seconds = models.FloatField(default=0.0)
    marks = models.JSONField(default=list)

    class Meta:
        ordering = ["id"]
        constraints = [models.UniqueConstraint(fields=["case", "sha256"], name="one_picture_once_per_case")]

    def __str__(self) -> str:
        return f"{self.kind} {self.pk} of {self.case_id}"


class PictureBytes(models.Model):
    """The file itself, apart from what lists read."""

    picture = models.OneToOneField(Picture, on_delete=models.CASCADE, related_name="file", primary_key=True)
    data = models.BinaryField()
    thumb = models.BinaryField(default=bytes)

    def __str__(self) -> str:
        return f"file of {self.picture_id}"
