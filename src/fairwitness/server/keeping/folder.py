"""The folder of a workshop: made, closed to others, and given its secret when somebody begins to serve from it."""

from __future__ import annotations

import os
import secrets
from pathlib import Path

SECRET = "secret"
PRIVATE_FOLDER, PRIVATE_FILE = 0o700, 0o600


def prepare(folder: Path) -> None:
    """Make what is missing.

    Raises
    ------
    OSError
        It cannot be written.
    """
    folder.mkdir(parents=True, exist_ok=True, mode=PRIVATE_FOLDER)
    try:
        # Whoever comes first writes it; two that start at once agree on his.
        handle = os.open(folder / SECRET, os.O_WRONLY | os.O_CREAT | os.O_EXCL, PRIVATE_FILE)
    except FileExistsError:
        return
    with os.fdopen(handle, "w") as out:
        out.write(secrets.token_urlsafe(48))


def secret_of(folder: Path) -> str:
    """The secret that signs sessions; one that nobody keeps where the folder was not prepared."""
    try:
        return (folder / SECRET).read_text() or secrets.token_urlsafe(48)
    except OSError:
        return secrets.token_urlsafe(48)
