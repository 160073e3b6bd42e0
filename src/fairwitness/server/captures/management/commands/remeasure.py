"""``manage.py remeasure``: kept captures measured again with the present code, and their cases concluded anew."""

from __future__ import annotations

import time
from argparse import ArgumentParser
from typing import Any

from django.core.management.base import BaseCommand
from django.db.models import QuerySet
from django.utils import timezone

from fairwitness import __version__
from fairwitness.core.errors import FairWitnessError
from fairwitness.server.captures.models import StoredCapture
from fairwitness.server.captures.services import measure_again

EVERY_S = 2.0
"""Between two lines of progress."""


class Command(BaseCommand):
    """Measure again what an earlier version measured; samples, set-ups and hand readings stay as they are."""

    help = "Measure kept captures again with the present code. One capture at a time; may be broken off and run again."

    def add_arguments(self, parser: ArgumentParser) -> None:
        """Say which."""
        parser.add_argument("--case", type=int, help="only this case")
        parser.add_argument("--all", action="store_true", help="also what this version measured itself")

    def handle(self, *args: Any, **options: Any) -> None:
        """Run."""
        wanted = _wanted(options["case"], everything=options["all"])
        count, done, reported = wanted.count(), 0, time.monotonic()
        failed: list[str] = []
        for stored in wanted.iterator():
            try:
                measure_again(stored, at=timezone.now())
            except FairWitnessError as error:
                failed.append(f"{stored.name} of case {stored.case_id}: {error.what}")
            done += 1
            if time.monotonic() - reported > EVERY_S:
                reported = time.monotonic()
                self.stdout.write(f"{done} of {count} captures, {100 * done // count} %")
        self.stdout.write(f"{done - len(failed)} of {count} captures measured again with {__version__}.")
        for line in failed:
            self.stderr.write(f"Not measured: {line}")


def _wanted(case: int | None, *, everything: bool) -> QuerySet[StoredCapture]:
    captures = StoredCapture.objects.select_related("case").order_by("id")
    if case is not None:
        captures = captures.filter(case_id=case)
    return captures if everything else captures.exclude(measurements__code_version=__version__)
