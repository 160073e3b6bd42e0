"""What a meter reads from one place of a circuit to the next."""

from __future__ import annotations

from itertools import pairwise

from numpy.random import Generator

from fairwitness.core.model.case import Observation
from fairwitness.core.model.wiring import CircuitOf, Place
from fairwitness.simulate.under_test import VehicleUnderTest, seen_by

WIRE_OHM = 0.4


def pin_to_pin(tested: VehicleUnderTest, rng: Generator) -> list[Observation]:
    """Every stretch of the suspects' injector circuits that does not hold the injector itself.

    A lost feed is open at its first stretch, an open command wire at its last.
    """
    seen = []
    for cylinder in tested.suspects:
        health = tested.parts[cylinder]
        circuit = tested.vehicle.engine.circuit(CircuitOf.INJECTOR, cylinder)
        for first, last in pairwise(circuit):
            whole = health.injector_feed if _fed(circuit, last) else health.injector_command_at_part
            is_open = not whole and (first is circuit[0] or last is circuit[-1])
            value = {"open": True} if is_open else {"ohms": round(WIRE_OHM + 0.1 * float(rng.random()), 2)}
            seen.append(seen_by("pin_to_pin", cylinder=cylinder, place=first.name, place_to=last.name, **value))
    return seen


def _fed(circuit: tuple[Place, ...], last: Place) -> bool:
    """Whether a stretch lies before the injector; where nobody wrote down its plug, the first half does."""
    at = next((i for i, place in enumerate(circuit) if place.is_part), len(circuit) // 2)
    return circuit.index(last) <= at
