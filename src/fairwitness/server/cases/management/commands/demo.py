"""``manage.py demo``: the demo data loaded where there is none, and served, by one process."""

from __future__ import annotations

from typing import Any

import uvicorn
from django.core.management import call_command
from django.core.management.base import BaseCommand, CommandParser


class Command(BaseCommand):
    """Serve the demo. A process of its own for the loading would load Django twice, and somebody waits."""

    help = "Load the demo data where there is none, and serve it (demo mode only)."
    requires_system_checks = ()

    def add_arguments(self, parser: CommandParser) -> None:
        """Where it is served."""
        parser.add_argument("--port", type=int, default=8000)

    def handle(self, *args: Any, **options: Any) -> None:
        """Run until it is stopped."""
        call_command("load_demo")
        port = options["port"]
        self.stdout.write(f"Fair Witness demo: http://127.0.0.1:{port}")
        self.stdout.flush()
        uvicorn.run("fairwitness.server.asgi:application", port=port, log_level="warning")
