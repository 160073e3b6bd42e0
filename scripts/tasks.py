"""Write docs/tasks.md: ten tasks of a day in the bay by keys alone and by one finger alone, driven in the browser."""

from __future__ import annotations

import os
import subprocess
import sys
import tempfile
from pathlib import Path

ROOT = Path(__file__).resolve().parents[1]
HEAD = """# Ten tasks

Written by `make tasks`: each is done in headless Chromium on the demo workshop, on one new case, by
`tests/ui/test_ten_tasks.py`. Keys and taps are counted, text typed apart from them.

*Estimated* is a practised person by the keystroke-level model (Card, Moran and Newell, Communications of the ACM 23(7),
1980): 0.28 s a key, 1.10 s to point; thinking and walking to the engine are left out. *The machine's part* is how long
the browser and the server took on the machine of the run. The dialog in which a file is chosen is the operating
system's and not counted. By keys the owner's yes is noted, not signed: a signature needs a hand.
"""


def main() -> int:
    """Run the tasks and write the document; 1 where one of them failed."""
    with tempfile.TemporaryDirectory() as folder:
        run = subprocess.run(
            [sys.executable, "-m", "pytest", "-q", "tests/ui/test_ten_tasks.py"],
            cwd=ROOT,
            env={**os.environ, "FAIRWITNESS_TASKS": folder},
            check=False,
        )
        if run.returncode:
            return 1
        tables = [Path(folder, f"{name}.txt").read_text() for name in ("keyboard", "touch")]
    titles = ("By keys alone, 1280 x 800", "By one finger alone, 390 x 844")
    body = "".join(f"\n## {title}\n\n{table}" for title, table in zip(titles, tables, strict=True))
    (ROOT / "docs/tasks.md").write_text(HEAD + body)
    return 0


if __name__ == "__main__":
    sys.exit(main())
