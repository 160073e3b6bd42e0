"""``manage.py load_demo``: the database made ready, people and cases of the depot loaded once."""

from __future__ import annotations

from typing import Any

from django.conf import settings
from django.core.management.base import BaseCommand, CommandError

from fairwitness.server.accounts.demo import make_accounts
from fairwitness.server.cases.models import StoredCase
from fairwitness.server.keeping.versions import bring_up_to_date


class Command(BaseCommand):
    """Load the demo data where there is none yet."""

    help = "Load the demo accounts and cases (demo mode only)."
    requires_system_checks = ()
    """Checking the system loads all of it, and the server does that next; a second start has four seconds in all."""

    def handle(self, *args: Any, **options: Any) -> None:
        """Run."""
        if not settings.DEMO:
            raise CommandError("Demo data is loaded in demo mode only. Set FAIRWITNESS_DEMO=1.")
        bring_up_to_date()
        people = make_accounts()
        if StoredCase.objects.exists():
            return
        from fairwitness.server.cases.demo import make_cases  # loads the simulator, which a second start needs not

        self.stdout.write(f"{make_cases(people)} demo cases loaded.")
