"""A pool of known vehicles on all cores, and the fits that are made of it."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from functools import lru_cache
from pathlib import Path

from fairwitness.core.errors import SimulationError
from fairwitness.core.reason.knowledge.densities import Densities, read
from fairwitness.simulate.worlds.choices import HELD_OUT
from fairwitness.study.fitting.readings import KnownVehicle, as_json, from_json, known_vehicle
from fairwitness.study.fitting.writing import fitted
from fairwitness.study.ledger import Ledger
from fairwitness.study.spread import spread

TELL_EVERY = 25


def gathered(
    path: Path, seeds: Sequence[int], *, workers: int | None = None, tell: Callable[[str], None] = print
) -> tuple[KnownVehicle, ...]:
    """A pool of known vehicles; those that a file holds already are not made again.

    Parameters
    ----------
    path : Path
    seeds : sequence of int
    workers : int, optional
    tell : callable
        Called with a line of progress.

    Returns
    -------
    tuple of KnownVehicle
        In the order of their seeds.
    """
    ledger = Ledger(path, as_json, from_json)
    waiting = [seed for seed in seeds if seed not in ledger.known]
    for done, known in enumerate(spread(known_vehicle, waiting, workers=workers), start=1):
        ledger.keep(known)
        if done % TELL_EVERY == 0 or done == len(waiting):
            tell(f"{done} of {len(waiting)} vehicles read")
    return tuple(ledger.known[seed] for seed in seeds)


def write_left_out(pool: Sequence[KnownVehicle], folder: Path, *, command: str) -> None:
    """Write one fit for each combination that a study leaves out.

    Parameters
    ----------
    pool : sequence of KnownVehicle
    folder : Path
        Made if need be.
    command : str
        What makes the same again.
    """
    folder.mkdir(parents=True, exist_ok=True)
    for name, alternatives in HELD_OUT.items():
        _file(folder, name).write_text(fitted(pool, without=alternatives, command=command), encoding="utf-8")


@lru_cache(maxsize=32)
def densities_without(folder: Path, combination: str) -> Densities:
    """The fit that never met a combination.

    Raises
    ------
    SimulationError
        Nobody made it.
    """
    path = _file(folder, combination)
    if not path.exists():
        raise SimulationError(
            "Worlds that are left out need densities that never met them.",
            where=str(path),
            remedy="Write them with fairwitness fit --left-out.",
        )
    return read(path.read_text(encoding="utf-8"))


def _file(folder: Path, combination: str) -> Path:
    return folder / f"without-{combination}.txt"
