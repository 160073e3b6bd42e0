"""Readings of vehicles whose fault is known: every test taken once, in a world at random."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from typing import Any

import numpy as np

from fairwitness.core.diagnose import measure_case
from fairwitness.core.model.engine import Engine
from fairwitness.core.model.measurement import CategoricalEvidence, Evidence, Measured
from fairwitness.core.procedures.registry import swept
from fairwitness.core.reason.inference.hypotheses import Placed
from fairwitness.core.reason.knowledge.fault_spec import Mode
from fairwitness.simulate.examine import TESTS, examine
from fairwitness.simulate.garage import ENGINES, build, place_of, random_fault
from fairwitness.simulate.health import WHOLE_ENGINE, Condition, Fault, reach
from fairwitness.simulate.worlds.choices import World, draw_world, world_of
from fairwitness.study.population import LEVELS, SEVERITIES, WHOLE_RANGE

HEALTHY_SHARE = 0.2
HELD_ON_FROM = 0.75
"""Severity from which a failed driver holds its injector on; below it is dead."""
DECIMALS = 4


@dataclass(frozen=True, slots=True, kw_only=True)
class KnownVehicle:
    """One vehicle with its answer and all that was read of it.

    Parameters
    ----------
    seed : int
    world : World
    engine : str
        Of the garage.
    fault : Placed or None
        None: sound.
    everywhere : bool
        All cylinders are ill alike.
    lines : tuple of Evidence
        Those whose cylinders are known.
    outcomes : tuple of CategoricalEvidence
    """

    seed: int
    world: World
    engine: str
    fault: Placed | None
    everywhere: bool
    lines: tuple[Evidence, ...]
    outcomes: tuple[CategoricalEvidence, ...]


def known_vehicle(seed: int) -> KnownVehicle:
    """Build, examine and measure a vehicle, the same for the same seed.

    Parameters
    ----------
    seed : int

    Returns
    -------
    KnownVehicle
    """
    rng = np.random.default_rng((20_26, 17, seed))
    world = draw_world(rng)
    name = str(rng.choice(list(ENGINES)))
    engine = ENGINES[name]
    fault = None if rng.random() < HEALTHY_SHARE else _lasting(engine, world, rng)
    vehicle = build(engine, (fault,) if fault else (), rng=rng, world=world)
    ill = reach(fault, engine) if fault else ()
    suspects = tuple(ill) if ill and len(ill) < engine.cylinders else (int(rng.choice(engine.firing_order)),)
    case = examine(vehicle, TESTS, level=str(rng.choice(LEVELS)), seed=seed, suspects=suspects)
    measured = tuple(m for m in swept(tuple(measure_case(case)), case.engine) if m.usable)
    return KnownVehicle(
        seed=seed,
        world=world,
        engine=name,
        fault=_placed(fault, ill) if fault else None,
        everywhere=len(ill) == engine.cylinders,
        lines=tuple(_lines(measured)),
        outcomes=tuple(seen for m in measured for seen in m.categorical),
    )


def _lasting(engine: Engine, world: World, rng: np.random.Generator) -> Fault:
    """One fault that is always there, each as likely as any other."""
    drawn = random_fault(engine, rng)
    whole = world["severity"] == "whole"
    severity = round(float(rng.uniform(*(WHOLE_RANGE if whole else SEVERITIES))), 2)
    return Fault(drawn.fault, place_of(engine, drawn.fault, rng), severity, Condition.ALWAYS)


def _placed(fault: Fault, ill: tuple[int, ...]) -> Placed:
    mode = Mode.STAYS
    if fault.fault == "injector_driver_failed":
        mode = Mode.HELD_ON if fault.severity >= HELD_ON_FROM else Mode.DEAD
    return Placed(fault.fault, () if fault.fault in WHOLE_ENGINE else tuple(ill), mode)


def _lines(measured: tuple[Measured, ...]) -> Iterator[Evidence]:
    for m in measured:
        for line in m.lines:
            if len(line.alternatives) == 1:
                yield line


def as_json(known: KnownVehicle) -> dict[str, Any]:
    """A vehicle as plain data, for a file that a broken run goes on from."""
    fault = known.fault
    return {
        "seed": known.seed,
        "world": known.world.document(),
        "engine": known.engine,
        "fault": None if fault is None else [fault.fault, list(fault.cylinders), fault.mode.value],
        "everywhere": known.everywhere,
        "lines": [
            [e.line, e.source, np.round(e.alternatives[0], DECIMALS).tolist(), np.round(e.sigmas, DECIMALS).tolist()]
            for e in known.lines
        ],
        "outcomes": [[s.kind, s.outcome, list(s.cylinders), s.source] for s in known.outcomes],
    }


def from_json(data: Mapping[str, Any]) -> KnownVehicle:
    """Read what ``as_json`` wrote."""
    fault = data["fault"]
    return KnownVehicle(
        seed=data["seed"],
        world=world_of(data["world"]),
        engine=data["engine"],
        fault=None if fault is None else Placed(fault[0], tuple(fault[1]), Mode(fault[2])),
        everywhere=data["everywhere"],
        lines=tuple(
            Evidence(line=line, source=source, alternatives=(np.array(shares),), sigmas=np.array(sigmas))
            for line, source, shares, sigmas in data["lines"]
        ),
        outcomes=tuple(
            CategoricalEvidence(kind=kind, outcome=outcome, cylinders=tuple(cylinders), source=source)
            for kind, outcome, cylinders, source in data["outcomes"]
        ),
    )
