#!/usr/bin/env python3
"""Puts the recordings of the independent signal makers to the program and prints a line an entry.

    .venv/bin/python scripts/recordings.py > docs/accuracy/recordings.txt

With another version's ``src`` in PYTHONPATH the same recordings are put to that version; what it printed then stands
beside today's with ``--before FILE``.
"""

from __future__ import annotations

import argparse
import sys
from collections import defaultdict
from pathlib import Path

sys.path.insert(0, str(Path(__file__).parent.parent))

import numpy as np
from tests.independent.everything import Put, everything
from tests.independent.running import random_engines
from tests.independent.work import ORDERS, shares_of

from fairwitness.core.diagnose import diagnose
from fairwitness.core.model.case import Case
from fairwitness.core.model.measurement import State

ENGINES_EACH, WANTED = 60, 0.08
COLUMNS = ("recordings", "healthy", "accused", "sick", "missed", "refused")
SOUND = (State.NORMAL, State.UNUSABLE)
BAD = ("accused", "missed", "refused")
WIDE, ALL = 44, "all"


def outcome(recording: Put) -> list[str]:
    """The columns a recording counts in."""
    captures = recording.make()
    found = diagnose(Case(name="recording", engine=recording.engine, captures=captures))
    odd = {
        f.cylinder for m in found.measured if m.usable for f in m.findings if not f.is_remark and f.state not in SOUND
    }
    usable = all(c.usable for c in found.captures)
    refused = ["refused"] if recording.judged and not usable else []
    if not recording.sick:
        return ["recordings", "healthy", *(["accused"] if odd else []), *refused]
    right = odd in ({recording.sick}, {None})
    return ["recordings", "sick", *([] if right else ["missed"]), *refused]


def main() -> None:
    """Print the table; the worst columns are accused, missed, and refused without cause."""
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("--before", type=Path, help="what an earlier version printed of the same recordings")
    earlier = _printed(parser.parse_args().before)
    counts: dict[str, dict[str, int]] = defaultdict(lambda: dict.fromkeys(COLUMNS, 0))
    for recording in everything():
        for column in outcome(recording):
            counts[recording.entry][column] += 1
            counts[ALL][column] += 1
    before = [f"{c} before" for c in BAD] if earlier else []
    print(f"{'entry':{WIDE}s}" + "".join(f"{c:>11s}" for c in COLUMNS) + "".join(f"{c:>17s}" for c in before))
    for entry in [e for e in counts if e != ALL] + [ALL]:
        then = "".join(f"{n:17d}" for n in earlier.get(entry, ()))
        print(f"{entry:{WIDE}s}" + "".join(f"{counts[entry][c]:11d}" for c in COLUMNS) + then)
    print()
    work_shares()


def _printed(path: Path | None) -> dict[str, list[int]]:
    """Accused, missed and refused of each entry in what another version printed."""
    rows = {}
    for line in path.read_text().splitlines() if path is not None else ():
        cells = line[WIDE:].split()
        if len(cells) >= len(COLUMNS) and all(cell.isdigit() for cell in cells):
            counted = dict(zip(COLUMNS, map(int, cells), strict=False))
            rows[line[:WIDE].strip()] = [counted[c] for c in BAD]
    return rows


def work_shares() -> None:
    """Print how far work shares are off, over engines drawn at random at 25 to 100 kPa in the manifold."""
    print("Work of one cylinder while running, of engines written on their own, manifold at 25 to 100 kPa")
    heads = (("cylinders", 10), ("engines", 10), ("error, rms", 12), (f"within {WANTED:g}", 13), ("largest", 10))
    print("".join(f"{head:>{wide}s}" for head, wide in heads) + f"{'sound one off by at most':>26s}")
    for cylinders, order in ORDERS.items():
        made = random_engines(order, count=ENGINES_EACH, seed=900 + cylinders)
        read = [(shares_of(run), true) for run, true in made]
        errors = np.array([shares[1] - true for shares, true in read])
        sound = max(float(np.abs(np.delete(shares, 1) - 1.0).max()) for shares, _ in read)
        rms, largest = float(np.sqrt(np.mean(errors**2))), float(np.abs(errors).max())
        within = 100 * float(np.mean(np.abs(errors) <= WANTED))
        print(f"{cylinders:10d}{ENGINES_EACH:10d}{rms:12.3f}{within:11.0f} %{largest:10.3f}{sound:26.3f}")


if __name__ == "__main__":
    main()
