"""Simulated vehicles as case packages with their answers: one, or a population on all cores."""

from __future__ import annotations

import json
from collections.abc import Callable, Iterable, Sequence
from dataclasses import dataclass, replace
from pathlib import Path
from typing import Any

import numpy as np

from fairwitness.core.errors import SimulationError
from fairwitness.formats.case_package_writing import write_package
from fairwitness.simulate.examine import TESTS, examine
from fairwitness.simulate.garage import ENGINES, build, engine_named, random_faults
from fairwitness.simulate.health import Fault
from fairwitness.study.cores import all_cores

ANSWERS = "labels.json"


@dataclass(frozen=True, slots=True, kw_only=True)
class Order:
    """One vehicle to make and what to do with it."""

    engine: str
    faults: tuple[Fault, ...]
    tests: tuple[str, ...]
    level: str
    seed: int
    hot: bool = True
    name: str = "simulated"


def make(order: Order) -> bytes:
    """Simulate one vehicle, examine it and pack the case.

    Parameters
    ----------
    order : Order

    Returns
    -------
    bytes
        A case package; nothing in it tells the fault.
    """
    vehicle = build(engine_named(order.engine), order.faults, rng=np.random.default_rng((20_26, 7, order.seed)))
    case = examine(vehicle, order.tests, level=order.level, hot=order.hot, seed=order.seed)
    case = replace(case, name=order.name, title=order.name)
    return write_package(case)


def random_order(seed: int, *, tests: Sequence[str] = TESTS) -> Order:
    """A vehicle of the population, the same for the same seed.

    Parameters
    ----------
    seed : int
    tests : sequence of str

    Returns
    -------
    Order
    """
    rng = np.random.default_rng((20_26, 5, seed))
    engine = str(rng.choice(list(ENGINES)))
    return Order(
        engine=engine,
        faults=random_faults(ENGINES[engine], rng),
        tests=tuple(tests),
        level=str(rng.choice(["clean", "workshop", "workshop", "hostile"])),
        seed=seed,
        name=f"vehicle-{seed}",
    )


def answer(order: Order) -> dict[str, Any]:
    """What is wrong with the vehicle of an order, beside the name of its file."""
    return {
        "file": f"{order.name}.zip",
        "engine": order.engine,
        "level": order.level,
        "faults": [
            {
                "fault": f.fault,
                "cylinders": list(f.cylinders),
                "severity": f.severity,
                "condition": f.condition.value,
            }
            for f in order.faults
        ],
    }


def make_all(
    orders: Sequence[Order], folder: Path, *, workers: int | None = None, tell: Callable[[str], None] = print
) -> None:
    """Write a population of packages and its answers, on all cores.

    Parameters
    ----------
    orders : sequence of Order
    folder : Path
        Made if need be. Packages already there are kept, so that a broken run goes on where it stopped.
    workers : int, optional
        Processes; all cores if left out.
    tell : callable
        Called with a line of progress.

    Raises
    ------
    SimulationError
        The folder cannot be written.
    """
    try:
        folder.mkdir(parents=True, exist_ok=True)
    except OSError as error:
        raise SimulationError("The folder cannot be made.", where=str(folder), remedy="Name another.") from error
    (folder / ANSWERS).write_text(json.dumps([answer(order) for order in orders], indent=1))
    waiting = [order for order in orders if not (folder / f"{order.name}.zip").exists()]
    done = len(orders) - len(waiting)
    with all_cores(workers) as pool:
        for order, package in _in_order(pool.map(make, waiting), waiting):
            part = folder / f"{order.name}.part"
            part.write_bytes(package)
            part.rename(folder / f"{order.name}.zip")
            done += 1
            if done % max(1, len(orders) // 20) == 0 or done == len(orders):
                tell(f"{done} of {len(orders)} vehicles")


def _in_order(packages: Iterable[bytes], orders: Sequence[Order]) -> Iterable[tuple[Order, bytes]]:
    return zip(orders, packages, strict=True)
