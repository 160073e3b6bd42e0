"""Run the whole test suite on all cores, with coverage; pytest's closing line comes last. Arguments go to pytest."""

from __future__ import annotations

import os
import subprocess
import sys
from pathlib import Path

ROOT = Path(__file__).resolve().parents[1]


def main() -> int:
    """Run pytest, files kept together on one worker."""
    workers = str(os.cpu_count() or 1)
    covered = [] if sys.argv[1:] else ["--cov=src/fairwitness", "--cov-report=term:skip-covered"]
    command = [sys.executable, "-m", "pytest", "-n", workers, "--dist", "loadfile", *covered, *sys.argv[1:]]
    return subprocess.run(command, cwd=ROOT, check=False).returncode


if __name__ == "__main__":
    sys.exit(main())
