"""The catalogue: every fault, its cause, where it can sit, how often it is met, and what codes say of it."""

from __future__ import annotations

import re
from collections.abc import Iterable
from dataclasses import dataclass
from enum import StrEnum

from fairwitness.core.case import Case
from fairwitness.core.engine import Engine, Fuel, Ignition, Injection


class Cause(StrEnum):
    """The great division."""

    IGNITION = "ignition"
    FUEL = "fuel"
    MECHANICAL = "mechanical"
    CONTROL = "control"
    NONE = "none"
    OTHER = "other"


class Seat(StrEnum):
    """Where a fault can sit."""

    CYLINDER = "cylinder"
    COIL = "coil"
    """A cylinder, or both of a pair that shares the coil."""
    COIL_OR_END = "coil_or_end"
    """As a coil, or one end of a shared one."""
    NEIGHBOURS = "neighbours"
    GROUP = "group"
    """A bank, a pair of companions, or the whole engine."""
    FEED = "feed"
    """A bank or the whole engine."""
    ENGINE = "engine"


@dataclass(frozen=True, slots=True)
class Fault:
    """One row of the catalogue. ``weight``: how often it is met relative to the others [T]."""

    id: str
    cause: Cause
    seat: Seat
    weight: float
    words: str


CATALOGUE: tuple[Fault, ...] = (
    Fault("plug_gap_wide", Cause.IGNITION, Seat.CYLINDER, 5.0, "plug gap worn wide"),
    Fault("plug_shorted", Cause.IGNITION, Seat.CYLINDER, 4.0, "plug fouled or shorted"),
    Fault("plug_tracking", Cause.IGNITION, Seat.CYLINDER, 3.0, "plug tracking outside"),
    Fault("secondary_high_resistance", Cause.IGNITION, Seat.CYLINDER, 2.5, "high resistance in lead or boot"),
    Fault("secondary_open", Cause.IGNITION, Seat.CYLINDER, 3.0, "open lead or boot"),
    Fault("secondary_leak", Cause.IGNITION, Seat.CYLINDER, 3.0, "high voltage leaking from lead or boot"),
    Fault("coil_secondary_shorted", Cause.IGNITION, Seat.COIL, 3.0, "coil with shorted turns"),
    Fault("coil_output_dead", Cause.IGNITION, Seat.COIL_OR_END, 5.0, "coil without output"),
    Fault("coil_primary_open", Cause.IGNITION, Seat.COIL, 2.0, "open coil primary"),
    Fault("coil_feed_lost", Cause.IGNITION, Seat.COIL, 1.5, "coil feed lost"),
    Fault("coil_control_open", Cause.IGNITION, Seat.COIL, 1.5, "open coil command wire"),
    Fault("coil_driver_failed", Cause.IGNITION, Seat.COIL, 0.8, "coil driver of the control unit"),
    Fault("injector_open_circuit", Cause.FUEL, Seat.CYLINDER, 3.5, "open injector"),
    Fault("injector_high_resistance", Cause.FUEL, Seat.CYLINDER, 2.0, "resistance in the injector circuit"),
    Fault("injector_shorted", Cause.FUEL, Seat.CYLINDER, 1.0, "shorted injector"),
    Fault("injector_stuck_closed", Cause.FUEL, Seat.CYLINDER, 2.5, "injector stuck closed"),
    Fault("injector_restricted", Cause.FUEL, Seat.CYLINDER, 4.5, "restricted injector"),
    Fault("injector_leaking", Cause.FUEL, Seat.CYLINDER, 2.0, "leaking injector"),
    Fault("injector_feed_lost", Cause.FUEL, Seat.FEED, 1.0, "injector feed lost"),
    Fault("injector_control_open", Cause.FUEL, Seat.CYLINDER, 1.8, "open injector command wire"),
    Fault("injector_driver_failed", Cause.FUEL, Seat.CYLINDER, 0.8, "injector driver of the control unit"),
    Fault("unmetered_air_at_runner", Cause.FUEL, Seat.CYLINDER, 2.5, "air leak at one intake runner"),
    Fault("fuel_supply_low", Cause.FUEL, Seat.ENGINE, 2.0, "low fuel supply"),
    Fault("ring_or_piston_leak", Cause.MECHANICAL, Seat.CYLINDER, 3.5, "leak past rings or piston"),
    Fault("intake_valve_leak", Cause.MECHANICAL, Seat.CYLINDER, 2.5, "leaking intake valve"),
    Fault("exhaust_valve_leak", Cause.MECHANICAL, Seat.CYLINDER, 4.0, "leaking exhaust valve"),
    Fault("head_gasket_leak", Cause.MECHANICAL, Seat.NEIGHBOURS, 2.5, "head gasket blown between neighbours"),
    Fault("intake_valve_not_opening", Cause.MECHANICAL, Seat.CYLINDER, 1.0, "intake valve not opening"),
    Fault("exhaust_valve_not_opening", Cause.MECHANICAL, Seat.CYLINDER, 0.8, "exhaust valve not opening"),
    Fault("valve_timing_shifted", Cause.MECHANICAL, Seat.GROUP, 2.0, "valve timing shifted"),
    Fault("low_compression_all", Cause.MECHANICAL, Seat.ENGINE, 1.0, "low compression in every cylinder"),
    Fault("cut_by_ecu", Cause.CONTROL, Seat.CYLINDER, 1.0, "cylinder cut by the control unit"),
)
FAULTS = {fault.id: fault for fault in CATALOGUE}

NO_FAULT_WEIGHT = 14.0
OTHER, OTHER_MECHANICAL = "other", "other_mechanical"
"""Something that is not in the catalogue. Only a mechanical one keeps a cylinder from sealing: uneven compression that
no fault of the catalogue explains is still mechanical."""
OTHER_WEIGHT, OTHER_MECHANICAL_WEIGHT = 0.7, 0.5
TWO_CYLINDER_SHARE = 0.06
"""[M] how often a leak of this kind sits in two cylinders, as a share of how often it sits in one."""
TWO_CYLINDER_FAULTS = ("ring_or_piston_leak", "intake_valve_leak", "exhaust_valve_leak")
FEED_BRANCH_SHARE = 0.6
"""[M] how often a lost feed is one injector's own branch, beside 1 for the fuse or splice of all."""
TIMING_ALL_SHARE = 0.4
TIMING_COMPANIONS_SHARE = 0.15

CODE_MISFIRE = re.compile(r"^P03(0[1-9]|1[0-2])$")  # [P: SAE J2012] P0301-P0312
CODE_INJECTOR = re.compile(r"^P02(0[1-9]|1[0-2])$")  # [P: SAE J2012] P0201-P0212
CODE_COIL = re.compile(r"^P03(5[1-9]|6[0-2])$")  # [P: SAE J2012] P0351-P0362
MISFIRE_NUDGE = 2.0
CIRCUIT_NUDGE = 4.0
INJECTOR_CIRCUIT = (
    "injector_open_circuit",
    "injector_high_resistance",
    "injector_shorted",
    "injector_control_open",
    "injector_driver_failed",
)
COIL_CIRCUIT = ("coil_primary_open", "coil_feed_lost", "coil_control_open", "coil_driver_failed")


@dataclass(frozen=True, slots=True)
class Hypothesis:
    """One fault at one place (``no_fault`` and ``other`` at none)."""

    fault: str
    cause: Cause
    cylinders: tuple[int, ...]
    prior: float


def hypotheses(case: Case) -> tuple[Hypothesis, ...]:
    """Every fault of the catalogue at every place it can sit in this engine, with its prior.

    Parameters
    ----------
    case : Case
        Codes nudge the priors; they never decide.

    Returns
    -------
    tuple of Hypothesis
        Priors sum to 1.
    """
    engine = case.engine
    nudges = _nudges(case)
    found: list[Hypothesis] = []
    for fault in CATALOGUE:
        if not _possible(fault, engine):
            continue
        places = list(_places(fault, engine))
        total = sum(weight for _, weight in places)
        for cylinders, weight in places:
            nudge = max((nudges.get((fault.id, c), nudges.get(("", c), 1.0)) for c in cylinders), default=1.0)
            found.append(Hypothesis(fault.id, fault.cause, cylinders, fault.weight * weight / total * nudge))
    found.append(Hypothesis("no_fault", Cause.NONE, (), NO_FAULT_WEIGHT))
    found.append(Hypothesis(OTHER, Cause.OTHER, (), OTHER_WEIGHT))
    found.append(Hypothesis(OTHER_MECHANICAL, Cause.MECHANICAL, (), OTHER_MECHANICAL_WEIGHT))
    total = sum(h.prior for h in found)
    return tuple(Hypothesis(h.fault, h.cause, h.cylinders, h.prior / total) for h in found)


def _possible(fault: Fault, engine: Engine) -> bool:
    if fault.cause is Cause.IGNITION and (
        engine.ignition is Ignition.COMPRESSION_IGNITION or engine.fuel is Fuel.DIESEL
    ):
        return False
    single_feed = (Injection.CARBURETTOR, Injection.THROTTLE_BODY)
    return not (fault.id.startswith("injector_") and engine.injection in single_feed)


def _places(fault: Fault, engine: Engine) -> Iterable[tuple[tuple[int, ...], float]]:
    everyone = tuple(sorted(engine.firing_order))
    if fault.seat in (Seat.CYLINDER, Seat.COIL, Seat.COIL_OR_END):
        coils = engine.coil_pairs or (engine.companion_pairs if engine.ignition is Ignition.WASTE_SPARK else ())
        paired = {c for pair in coils for c in pair} if fault.seat is Seat.COIL else set()
        if fault.seat is not Seat.CYLINDER:
            yield from ((tuple(sorted(pair)), 2.0) for pair in coils)
        yield from (((c,), 1.0) for c in everyone if c not in paired)
        if fault.id in TWO_CYLINDER_FAULTS and engine.cylinders > 2:
            pairs = [(a, b) for a in everyone for b in everyone if a < b]
            each = TWO_CYLINDER_SHARE * engine.cylinders / len(pairs)
            yield from ((pair, each) for pair in pairs)
    elif fault.seat is Seat.NEIGHBOURS:
        yield from ((tuple(sorted(pair)), 1.0) for pair in engine.block_neighbours)
    elif fault.seat is Seat.GROUP:
        yield everyone, TIMING_ALL_SHARE
        yield from ((tuple(sorted(bank)), 1.0) for bank in engine.banks if len(bank) < engine.cylinders)
        yield from ((pair, TIMING_COMPANIONS_SHARE) for pair in engine.companion_pairs if engine.cylinders > 2)
    elif fault.seat is Seat.FEED:
        yield everyone, 1.0
        groups = engine.injector_feeds or engine.banks
        yield from ((tuple(sorted(group)), 0.5) for group in groups if 1 < len(group) < engine.cylinders)
        if engine.cylinders > 1:  # its own branch, behind the splice
            yield from (((c,), FEED_BRANCH_SHARE / engine.cylinders) for c in everyone)
    else:
        yield everyone, 1.0


def _nudges(case: Case) -> dict[tuple[str, int], float]:
    """Factor per (fault, cylinder); an empty fault stands for any."""
    nudges: dict[tuple[str, int], float] = {}
    for stored in case.codes:
        code = stored.code.strip().upper()
        if not re.fullmatch(r"P0[0-9]{3}", code):
            continue
        if CODE_MISFIRE.match(code):
            nudges[("", int(code[3:]))] = MISFIRE_NUDGE
        if CODE_INJECTOR.match(code):
            nudges.update({(fault, int(code[3:])): CIRCUIT_NUDGE for fault in INJECTOR_CIRCUIT})
        if CODE_COIL.match(code):
            nudges.update({(fault, int(code[3:]) - 50): CIRCUIT_NUDGE for fault in COIL_CIRCUIT})
    return nudges
