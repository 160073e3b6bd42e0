"""Print which share of the non-blank lines are tests; 1 where it is outside what the project keeps to.

Counted are Python, TypeScript, Vue components and styles under version control. What a command generated (the API's
schema, database migrations) is nobody's line and left out.
"""

from __future__ import annotations

import subprocess
import sys
from collections import Counter
from collections.abc import Iterable
from pathlib import Path, PurePosixPath

ROOT = Path(__file__).resolve().parents[1]
COUNTED = {".py", ".ts", ".vue", ".css"}
GENERATED = ("web/src/api/schema.d.ts", "/migrations/")
LEAST, MOST = 0.25, 0.33


def kind_of(path: str) -> str | None:
    """Tests or product; None for what is not counted."""
    if PurePosixPath(path).suffix not in COUNTED or any(part in path for part in GENERATED):
        return None
    return "tests" if path.startswith(("tests/", "web/tests/")) else "product"


def counted(files: Iterable[tuple[str, str]]) -> Counter[str]:
    """Non-blank lines by kind, of files given as path and text."""
    lines: Counter[str] = Counter()
    for path, text in files:
        if kind := kind_of(path):
            lines[kind] += sum(1 for line in text.splitlines() if line.strip())
    return lines


def main() -> int:
    """Count what is under version control."""
    listed = subprocess.run(["git", "ls-files"], cwd=ROOT, check=True, capture_output=True, text=True).stdout.split()
    lines = counted((path, (ROOT / path).read_text()) for path in listed if kind_of(path) and (ROOT / path).exists())
    share = lines["tests"] / lines.total()
    print(f"Tests are {share:.1%} of {lines.total():,} non-blank lines (kept between {LEAST:.0%} and {MOST:.0%}).")
    return 0 if LEAST <= share <= MOST else 1


if __name__ == "__main__":
    sys.exit(main())
