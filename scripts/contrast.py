"""Write docs/contrast.md: the text that stands out least on every view, in both bays, as the browser shows it."""

from __future__ import annotations

import json
import os
import subprocess
import sys
import tempfile
from pathlib import Path

ROOT = Path(__file__).resolve().parents[1]
HEAD = """# Contrast

Written by `make contrast`: every text of every view is measured by axe-core in headless Chromium, by
`tests/ui/test_access.py`. The figure is that of the text that stands out least; WCAG 2.2 asks for 4.5 (1.4.3, AA), and
for 3 where text is large. Plots are drawn, not text: their colours are checked in `web/tests/app/theme.spec.ts`.

| view | texts | day bay | night bay |
|---|---|---|---|
"""


def main() -> int:
    """Run the views and write the document; 1 where one of them failed."""
    with tempfile.TemporaryDirectory() as folder:
        run = subprocess.run(
            [sys.executable, "-m", "pytest", "-q", "tests/ui/test_access.py", "-k", "no_serious_fault"],
            cwd=ROOT,
            env={**os.environ, "FAIRWITNESS_CONTRAST": folder},
            check=False,
        )
        if run.returncode:
            return 1
        told = {path.stem: json.loads(path.read_text()) for path in sorted(Path(folder).glob("*.json"))}
    views = sorted({name.partition(".")[0] for name in told})
    rows = [(view, told[f"{view}.day"], told[f"{view}.night"]) for view in views]
    table = "".join(
        f"| {view} | {day['texts']} | {day['lowest']:.1f} | {night['lowest']:.1f} |\n" for view, day, night in rows
    )
    least = min(min(day["lowest"], night["lowest"]) for _, day, night in rows)
    (ROOT / "docs/contrast.md").write_text(f"{HEAD}{table}\nThe least of all: {least:.1f}.\n")
    return 0


if __name__ == "__main__":
    sys.exit(main())
