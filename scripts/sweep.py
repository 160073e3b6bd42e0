#!/usr/bin/env python3
"""Sweeps cranks over length, cylinders, sample rate and bits, and counts who was accused.

    .venv/bin/python scripts/sweep.py > docs/accuracy/sweep.txt

Every crank is made by the independent starter of the tests; a healthy one that is accused, or a sick one of at least
six seconds that is not found, is named below the table.
"""

from __future__ import annotations

import sys
from collections import Counter
from collections.abc import Iterator
from dataclasses import dataclass
from itertools import product
from pathlib import Path

sys.path.insert(0, str(Path(__file__).parent.parent))

from tests.independent.recordings import ORDERS
from tests.independent.starter import Crank, Instrument, recorded

from fairwitness.core.model.engine import even_engine
from fairwitness.core.model.measurement import State
from fairwitness.core.procedures.relative_compression.measure import measure

LENGTHS_S = (1.0, 1.5, 2.0, 2.5, 3.0, 4.0, 5.0, 6.0, 8.0, 10.0)
RATES_HZ, FAST_HZ = (100.0, 250.0, 1000.0, 10_000.0), (100_000.0, 1_000_000.0)
BITS = (8, 12, 16)
FAST_CYLINDERS, FAST_LENGTHS_S = (1, 4, 8, 12), (1.0, 3.0, 10.0)
FOUND_FROM_S = 6.0
"""Length from which a sick cylinder has to be found where the rate allows it."""
LEAK = 0.5
ODD = (State.LOW, State.ABSENT, State.HIGH)
COLUMNS = ("healthy", "judged", "accused", "sick", "found", "missed")


@dataclass(frozen=True)
class Setting:
    """One point of the sweep."""

    cylinders: int
    seconds: float
    rate_hz: float
    bits: int
    sync: str
    sick: int

    def __str__(self) -> str:
        return (
            f"{self.cylinders} cylinders, {self.seconds:g} s, {self.rate_hz:g} Hz, {self.bits} bit, sync {self.sync}, "
            + (f"cylinder {self.sick} leaks" if self.sick else "healthy")
        )


def settings() -> Iterator[Setting]:
    """All points, slow and ordinary rates first."""
    points = [*product(ORDERS, LENGTHS_S, RATES_HZ, BITS), *product(FAST_CYLINDERS, FAST_LENGTHS_S, FAST_HZ, (8, 16))]
    for cylinders, seconds, rate_hz, bits in points:
        for sync in ("clean", "none") if rate_hz <= RATES_HZ[-1] else ("clean",):
            yield Setting(cylinders, seconds, rate_hz, bits, sync, 0)
            if cylinders > 2 and seconds >= FOUND_FROM_S:
                yield Setting(cylinders, seconds, rate_hz, bits, sync, ORDERS[cylinders][1])


def accused(at: Setting) -> set[int | None] | None:
    """Who is accused; None where nothing was judged."""
    how = Crank(
        order=ORDERS[at.cylinders],
        seconds=at.seconds,
        start_deg=60.0 + 70.0 * at.seconds,
        seed=round(10 * at.seconds),
        leak=((at.sick, LEAK),) if at.sick else (),
    )
    by = Instrument(rate_hz=at.rate_hz, bits=at.bits, sync=at.sync)
    read = measure(recorded(how, by), even_engine(how.order))
    return {f.cylinder for f in read.findings if f.state in ODD} if read.usable else None


def main() -> None:
    """Print a line for each rate and each length, then every point that went wrong."""
    counts: dict[str, Counter[str]] = {}
    wrong = []
    for at in settings():
        odd = accused(at)
        found = odd in ({at.sick}, {None})
        if at.sick:
            kinds = ["sick", "found" if found else "missed"]
        else:
            kinds = ["healthy", *(["judged"] if odd is not None else []), *(["accused"] if odd else [])]
        if "accused" in kinds or "missed" in kinds:
            wrong.append(f"{at}: {'not judged' if odd is None else sorted(map(str, odd)) or 'nobody'}")
        for key in (f"{at.rate_hz:>9g} Hz", f"{at.seconds:>9g} s", f"{at.cylinders:>9d} cylinders", "all"):
            counts.setdefault(key, Counter()).update(kinds)
    print(f"{'':20s}" + "".join(f"{c:>9s}" for c in COLUMNS))
    for key in sorted(counts, key=lambda k: (k == "all", k.split()[-1], float(k.split()[0]) if k != "all" else 0.0)):
        print(f"{key:20s}" + "".join(f"{counts[key][c]:9d}" for c in COLUMNS))
    print("\n".join(["", f"{len(wrong)} went wrong" + (":" if wrong else ""), *wrong]))


if __name__ == "__main__":
    main()
