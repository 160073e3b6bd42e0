"""Write requirements.lock and requirements-dev.lock: every package pinned, no addresses."""

from __future__ import annotations

import subprocess
import sys
import tempfile
import venv
from pathlib import Path

ROOT = Path(__file__).resolve().parents[1]
TARGETS = {"requirements.lock": ["."], "requirements-dev.lock": [".[dev]"]}
LEFT_OUT = ("fairwitness", "pip", "setuptools", "-e ")


def main() -> None:
    """Install each set into an empty environment and note what came in."""
    for name, what in TARGETS.items():
        with tempfile.TemporaryDirectory() as folder:
            venv.create(folder, with_pip=True)
            python = f"{folder}/bin/python"
            subprocess.run([python, "-m", "pip", "install", "-q", *what], cwd=ROOT, check=True)
            frozen = subprocess.run([python, "-m", "pip", "freeze"], capture_output=True, text=True, check=True).stdout
        lines = [line for line in frozen.splitlines() if line and not line.startswith(LEFT_OUT) and "://" not in line]
        (ROOT / name).write_text("\n".join(lines) + "\n")
        print(f"{name}: {len(lines)} packages", file=sys.stderr)


if __name__ == "__main__":
    main()
