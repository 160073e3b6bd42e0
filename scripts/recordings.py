#!/usr/bin/env python3
"""Puts the recordings of the independent signal makers to the program and prints a line an entry.

    .venv/bin/python scripts/recordings.py > docs/accuracy/recordings.txt

With another version's ``src`` in PYTHONPATH the same recordings are put to that version.
"""

from __future__ import annotations

import sys
from collections import defaultdict
from pathlib import Path

sys.path.insert(0, str(Path(__file__).parent.parent))

import numpy as np
from tests.independent.recordings import Recording, recordings
from tests.independent.running import random_engines
from tests.independent.work import ORDERS, shares_of

from fairwitness.core.model.engine import even_engine
from fairwitness.core.model.measurement import State
from fairwitness.core.procedures.relative_compression.measure import measure

ODD = (State.LOW, State.ABSENT, State.HIGH)
ENGINES_EACH = 60
COLUMNS = ("recordings", "healthy", "accused", "sick", "missed", "refused without cause")


def outcome(recording: Recording) -> list[str]:
    """The columns a recording counts in."""
    measured = measure(recording.make(), even_engine(recording.order))
    odd = [f.cylinder for f in measured.findings if f.state in ODD] if measured.usable else []
    refused = ["refused without cause"] if recording.judged and not measured.usable else []
    if not recording.sick:
        return ["recordings", "healthy", *(["accused"] if odd else []), *refused]
    found = odd in ([recording.sick], [None])
    return ["recordings", "sick", *([] if found else ["missed"]), *refused]


def main() -> None:
    """Print the table; an entry's worst columns are accused, missed and refused without cause."""
    counts: dict[str, dict[str, int]] = defaultdict(lambda: dict.fromkeys(COLUMNS, 0))
    for recording in recordings():
        for column in outcome(recording):
            counts[recording.entry][column] += 1
            counts["all"][column] += 1
    print(f"{'entry':24s}" + "".join(f"{c:>23s}" for c in COLUMNS))
    for entry in [e for e in counts if e != "all"] + ["all"]:
        print(f"{entry:24s}" + "".join(f"{counts[entry][c]:23d}" for c in COLUMNS))
    print()
    work_shares()


def work_shares() -> None:
    """Print how far work shares are off, over engines drawn at random at 25 to 100 kPa in the manifold."""
    print("Work of one cylinder while running, of engines written on their own, manifold at 25 to 100 kPa")
    print(f"{'cylinders':>10s}{'engines':>10s}{'error, rms':>12s}{'largest':>10s}{'sound one off by at most':>26s}")
    for cylinders, order in ORDERS.items():
        made = random_engines(order, count=ENGINES_EACH, seed=900 + cylinders)
        read = [(shares_of(run), true) for run, true in made]
        errors = np.array([shares[1] - true for shares, true in read])
        sound = max(float(np.abs(np.delete(shares, 1) - 1.0).max()) for shares, _ in read)
        rms, largest = float(np.sqrt(np.mean(errors**2))), float(np.abs(errors).max())
        print(f"{cylinders:10d}{ENGINES_EACH:10d}{rms:12.3f}{largest:10.3f}{sound:26.3f}")


if __name__ == "__main__":
    main()
