"""A database written by a newer program is not touched by an older one, nor an older one by anything but the server."""

from __future__ import annotations

from django.apps import apps
from django.core.management import call_command
from django.db import connections
from django.db.migrations.loader import MigrationLoader

from fairwitness.core.errors import KeepingError


def refuse_newer(using: str = "default") -> None:
    """Look for steps of the database's layout that this program does not know.

    Parameters
    ----------
    using : str
        Alias of the database.

    Raises
    ------
    KeepingError
    """
    loader = MigrationLoader(connections[using], ignore_no_migrations=True)
    own = {config.label for config in apps.get_app_configs() if config.name.startswith("fairwitness.")}
    unknown = sorted(f"{app} {name}" for app, name in loader.applied_migrations
                     if app in own and (app, name) not in loader.disk_migrations)  # fmt: skip
    if unknown:
        raise KeepingError(
            f"This database was written by a newer version of the program ({unknown[-1]}).",
            where=str(connections[using].settings_dict["NAME"]),
            remedy="Install that version again, or restore a backup from before it.",
        )


def is_up_to_date(using: str = "default") -> bool:
    """Whether the database has taken every step of this program."""
    loader = MigrationLoader(connections[using], ignore_no_migrations=True)
    return not set(loader.disk_migrations) - set(loader.applied_migrations)


def bring_up_to_date() -> None:
    """Take the steps that are missing. Where none is, asking costs a tenth of what going through all of them does."""
    if not is_up_to_date():
        call_command("migrate", verbosity=0, skip_checks=True)


def refuse_older(using: str = "default") -> None:
    """Look for steps of this program that the database has not taken yet.

    Raises
    ------
    KeepingError
    """
    if not is_up_to_date(using):
        raise KeepingError(
            "This database is of an earlier version of the program.",
            where=str(connections[using].settings_dict["NAME"]),
            remedy="Start fairwitness serve once: it brings it up to date.",
        )
