"""What codes, earlier work and visits and the driver's signs make likelier. All of it nudges; nothing decides."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from types import MappingProxyType

from fairwitness.core.model.case import Case, CodeOrigin
from fairwitness.core.reason.knowledge.codes import meaning_of
from fairwitness.core.reason.knowledge.signs import SIGNS

RETURNS_NUDGE = 1.5
"""[M] what was found at the last visit comes back more often than chance: a comeback is looked at first."""
MOST_NUDGE = 8.0
COIL_PARTS = ("coil_output_dead", "coil_secondary_shorted", "coil_primary_open")
INJECTOR_PARTS = ("injector_open_circuit", "injector_shorted", "injector_stuck_closed", "injector_restricted")
Nudges = dict[tuple[str, int], float]
"""Factor per (fault, cylinder); an empty fault stands for any, cylinder 0 for any."""
OwnCodes = Mapping[str, Mapping[str, float]]
"""The shop's own additions: code to factors by fault, wherever the fault sits."""
NO_OWN_CODES: OwnCodes = MappingProxyType({})

WORK: tuple[tuple[str, bool, tuple[str, ...], float], ...] = (
    ("plug", True, ("plug_gap_wide", "plug_tracking"), 0.4),
    ("plug", True, ("plug_shorted",), 0.7),
    ("coil", True, COIL_PARTS, 0.5),
    ("lead", True, ("secondary_open", "secondary_leak", "secondary_high_resistance"), 0.5),
    ("injector", True, INJECTOR_PARTS, 0.5),
    ("fuel_pump", True, ("fuel_supply_low",), 0.5),
    ("fuel_filter", True, ("fuel_supply_low",), 0.5),
    ("timing_drive", False, ("valve_timing_shifted",), 3.0),
    ("intake_gasket", False, ("unmetered_air_at_runner",), 2.0),
    ("head_gasket", False, ("head_gasket_leak",), 1.5),
)
"""[M] what was worked on, whether it counts only where renewed, the faults it moves, and by how much. A new part is
less often the fault, and never cleared: new parts can be bad or broken while fitting."""


def nudges_of(case: Case, own_codes: OwnCodes = NO_OWN_CODES) -> Nudges:
    """What codes, earlier work, the last visit and the driver's signs make more or less likely.

    Parameters
    ----------
    case : Case
    own_codes : mapping of code to factors by fault
        Beside what is published of them.

    Returns
    -------
    dict of (fault, cylinder) to factor
        Factors on one key are multiplied, at most by ``MOST_NUDGE`` either way.
    """
    found: Nudges = {}
    for fault, cylinder, factor in (*_by_codes(case, own_codes), *_by_work(case), *_by_visits(case), *_by_signs(case)):
        known = found.get((fault, cylinder), 1.0) * factor
        found[(fault, cylinder)] = min(max(known, 1 / MOST_NUDGE), MOST_NUDGE)
    return found


def nudge(nudges: Nudges, fault: str, cylinders: Iterable[int]) -> float:
    """The factor on a fault at some cylinders: of a code that names one of them, and of what was said of the fault."""
    if not nudges:
        return 1.0
    named = max((nudges.get((fault, c), nudges.get(("", c), 1.0)) for c in cylinders), default=1.0)
    return named * nudges.get((fault, 0), 1.0)


Nudge = tuple[str, int, float]


def _by_codes(case: Case, own: OwnCodes) -> Iterable[Nudge]:
    theirs = (stored for stored in case.codes if stored.origin is not CodeOrigin.OWN_TESTING)
    for code in dict.fromkeys(stored.code.strip().upper() for stored in theirs):
        meaning = meaning_of(code)
        if meaning is not None:
            yield from ((fault, meaning.cylinder, factor) for fault, factor in meaning.nudges.items())
        yield from ((fault, 0, factor) for fault, factor in own.get(code, {}).items())


def _by_work(case: Case) -> Iterable[Nudge]:
    for work in case.work_done:
        for part, only_renewed, faults, factor in WORK:
            if work.part == part and (work.renewed or not only_renewed):
                yield from ((fault, c, factor) for fault in faults for c in work.cylinders or (0,))


def _by_visits(case: Case) -> Iterable[Nudge]:
    """Of the visits only the last one that found something."""
    last = next((visit for visit in case.visits if visit.fault), None)
    if last is not None:
        yield from ((last.fault, c, RETURNS_NUDGE) for c in last.cylinders or (0,))


def _by_signs(case: Case) -> Iterable[Nudge]:
    for sign in (SIGNS[id] for id in dict.fromkeys(case.signs) if id in SIGNS):
        yield from ((fault, 0, sign.factor) for fault in sign.faults)
