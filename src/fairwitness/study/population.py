"""Vehicles of a study: what is wrong with them as often as the priors say, in one world or in many."""

from __future__ import annotations

from enum import StrEnum

import numpy as np

from fairwitness.core.model.case import Case
from fairwitness.core.model.engine import Engine
from fairwitness.core.reason.inference.hypotheses import Hypothesis, Placed, hypotheses
from fairwitness.core.reason.knowledge.fault_spec import Cause, Mode
from fairwitness.core.reason.knowledge.faults import OTHER_MECHANICAL as UNLISTED
from fairwitness.core.reason.knowledge.faults import TWO_FAULTS
from fairwitness.simulate.garage import ENGINES, build
from fairwitness.simulate.health import DOES_NOT_START, WHOLE_ENGINE, Condition, Fault
from fairwitness.simulate.worlds.choices import HELD_OUT, KNOWN_WORLD, draw_world
from fairwitness.study.visit import Visit

SEVERITIES, WHOLE_RANGE = (0.3, 1.0), (0.08, 1.0)
"""From just visible, or from a trace of it, to complete."""
LEVELS = ("clean", "workshop", "workshop", "hostile")


class Population(StrEnum):
    """Which worlds the vehicles of a study are built in."""

    KNOWN = "known"
    """The one that the simulator grew up with."""
    LEFT_OUT = "left out"
    """Worlds that nothing was fitted on, one combination after the other."""


def combination_of(seed: int) -> str:
    """Which combination is left out for a vehicle: they take turns."""
    return list(HELD_OUT)[seed % len(HELD_OUT)]


def vehicle_of(seed: int, population: Population = Population.KNOWN) -> tuple[Visit, tuple[Fault, ...], str]:
    """A vehicle of the population, the same for the same seed.

    Parameters
    ----------
    seed : int
    population : Population

    Returns
    -------
    Visit, tuple of Fault, str
        The vehicle in the bay, what is wrong with it, and the engine's name.
    """
    rng = np.random.default_rng((20_26, 13, seed))
    name = str(rng.choice(list(ENGINES)))
    world = KNOWN_WORLD
    if population is Population.LEFT_OUT:
        world = draw_world(np.random.default_rng((20_26, 15, seed)), always=HELD_OUT[combination_of(seed)])
    severities = WHOLE_RANGE if world["severity"] == "whole" else SEVERITIES
    faults = drawn_faults(ENGINES[name], rng, severities)
    level = str(rng.choice(LEVELS))
    return Visit(build(ENGINES[name], faults, rng=rng, world=world), level, seed), faults, name


def drawn_faults(
    engine: Engine, rng: np.random.Generator, severities: tuple[float, float] = SEVERITIES
) -> tuple[Fault, ...]:
    """What is wrong with a vehicle, as often as the table of priors says: one fault, two, or none.

    Parameters
    ----------
    engine : Engine
    rng : numpy Generator
    severities : (float, float)
        The mildest and the worst.

    Returns
    -------
    tuple of Fault
        Mild to complete; one that comes and goes does so with heat, vibration or for no reason.
    """
    known = [h for h in hypotheses(Case(name="", engine=engine)) if _runs(h, engine)]
    weights = np.array([h.prior for h in known])
    drawn = [known[int(rng.choice(len(known), p=weights / weights.sum()))]]
    if rng.random() < TWO_FAULTS:
        drawn.append(known[int(rng.choice(len(known), p=weights / weights.sum()))])
    return tuple(
        Fault(
            p.fault, () if p.fault in WHOLE_ENGINE else p.cylinders, _severity(p, severities, rng), _condition(p, rng)
        )
        for h in drawn
        for p in h.placed
    )


def _runs(hypothesis: Hypothesis, engine: Engine) -> bool:
    """Whether an engine with it still runs, and whether the simulator knows it; an engine that does not start is
    another trade."""
    if hypothesis.cause is Cause.OTHER or hypothesis.fault == UNLISTED:
        return False
    if any(placed.fault in DOES_NOT_START for placed in hypothesis.placed):
        return False
    if hypothesis.mode is Mode.BENT:
        return False  # the simulator shifts valves, it does not bend them
    return not (hypothesis.fault == "injector_feed_lost" and len(hypothesis.cylinders) > engine.cylinders / 2)


def _severity(placed: Placed, severities: tuple[float, float], rng: np.random.Generator) -> float:
    if placed.mode in (Mode.HELD_ON, Mode.DEAD):
        return 1.0 if placed.mode is Mode.HELD_ON else 0.5
    return round(float(rng.uniform(*severities)), 2)


def _condition(placed: Placed, rng: np.random.Generator) -> Condition:
    if not placed.is_intermittent:
        return Condition.ALWAYS
    return Condition(str(rng.choice([Condition.HOT, Condition.VIBRATION, Condition.RANDOM])))
