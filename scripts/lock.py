"""Write requirements.lock and requirements-dev.lock: every package pinned with the hashes of its files, no addresses.

What is pinned stays as it is where it still fits; ``--upgrade`` takes the newest of everything.
"""

from __future__ import annotations

import subprocess
import sys
import tempfile
import venv
from pathlib import Path

ROOT = Path(__file__).resolve().parents[1]
TARGETS = {"requirements.lock": [], "requirements-dev.lock": ["--extra", "dev"]}
HOW = ("--generate-hashes", "--no-annotate", "--no-header", "--no-emit-index-url", "--python-version", "3.11", "-q")


def main() -> None:
    """Resolve each set in an environment of its own."""
    with tempfile.TemporaryDirectory() as folder:
        venv.create(folder, with_pip=True)
        subprocess.run([f"{folder}/bin/python", "-m", "pip", "install", "-q", "uv"], check=True)
        for name, extra in TARGETS.items():
            words = [f"{folder}/bin/uv", "pip", "compile", "pyproject.toml", *extra, *HOW, *sys.argv[1:], "-o", name]
            subprocess.run(words, cwd=ROOT, check=True)
            pinned = sum("==" in line for line in (ROOT / name).read_text().splitlines())
            print(f"{name}: {pinned} packages", file=sys.stderr)


if __name__ == "__main__":
    main()
