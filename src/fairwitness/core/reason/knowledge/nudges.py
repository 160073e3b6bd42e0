"""What codes, earlier work and the complaint make more or less likely. Everything here nudges; nothing here decides."""

from __future__ import annotations

import re
from collections.abc import Iterable

from fairwitness.core.model.case import Case

CODE_MISFIRE = re.compile(r"^P03(0[1-9]|1[0-2])$")  # [P: SAE J2012] P0301-P0312
CODE_INJECTOR = re.compile(r"^P02(0[1-9]|1[0-2])$")  # [P: SAE J2012] P0201-P0212
CODE_COIL = re.compile(r"^P03(5[1-9]|6[0-2])$")  # [P: SAE J2012] P0351-P0362
MISFIRE_NUDGE = 4.0
CIRCUIT_NUDGE = 8.0
"""[M] a code that names a circuit says more than one that names a misfire."""
MOST_NUDGE = 8.0
INJECTOR_CIRCUIT = (
    "injector_open_circuit",
    "injector_high_resistance",
    "injector_shorted",
    "injector_control_open",
    "injector_driver_failed",
)
COIL_CIRCUIT = ("coil_primary_open", "coil_feed_lost", "coil_control_open", "coil_driver_failed")
COIL_PARTS = ("coil_output_dead", "coil_secondary_shorted", "coil_primary_open")
INJECTOR_PARTS = ("injector_open_circuit", "injector_shorted", "injector_stuck_closed", "injector_restricted")
Nudges = dict[tuple[str, int], float]
"""Factor per (fault, cylinder); an empty fault stands for any, cylinder 0 for any."""

RENEWED = re.compile(r"\b(new|replaced?|renewed|fitted|changed|exchanged)\b")
WORK: tuple[tuple[str, bool, tuple[str, ...], float], ...] = (
    (r"\bplugs?\b", True, ("plug_gap_wide", "plug_tracking"), 0.4),
    (r"\bplugs?\b", True, ("plug_shorted",), 0.7),
    (r"\bcoils?\b", True, COIL_PARTS, 0.5),
    (r"\b(leads?|boots?)\b", True, ("secondary_open", "secondary_leak", "secondary_high_resistance"), 0.5),
    (r"\binjectors?\b", True, INJECTOR_PARTS, 0.5),
    (r"\bfuel (pump|filter)\b", True, ("fuel_supply_low",), 0.5),
    (r"\b(timing|chain|belt|cam|camshaft)\b", False, ("valve_timing_shifted",), 3.0),
    (r"\b(manifold|intake)\b", False, ("unmetered_air_at_runner",), 2.0),
    (r"\bhead (off|skimmed|gasket)\b", False, ("head_gasket_leak",), 1.5),
)
"""[M] what was worked on, whether it counts only where renewed, the faults it moves, and by how much. A new part is
less often the fault, and never cleared: new parts can be bad or broken while fitting."""
COMPLAINTS: tuple[tuple[str, tuple[str, ...], float], ...] = (
    (r"\b(damp|rain\w*|wet|wash\w*|fog\w*)\b", ("secondary_leak", "plug_tracking"), 2.0),
    (r"\b(hot|warm)\b", ("injector_open_circuit", "coil_output_dead", "coil_secondary_shorted"), 1.4),
    (r"\b(oil (mist|smoke|consum\w*)|blue smoke|burns oil)\b", ("ring_or_piston_leak",), 2.0),
    (r"\b(coolant|overheat\w*|white smoke|loses water)\b", ("head_gasket_leak",), 2.5),
    (r"\b(smells? of (fuel|petrol)|black smoke|rich|flood\w*)\b", ("injector_leaking", "injector_driver_failed"), 2.0),
    (r"\b(uphill|hill|full load|no power)\b", ("fuel_supply_low", "plug_gap_wide"), 1.4),
    (r"\b(hiss\w*|whistl\w*)\b", ("unmetered_air_at_runner",), 2.0),
    (r"\b(tick\w*|tapp\w*|clatter\w*)\b", ("intake_valve_not_opening", "exhaust_valve_not_opening"), 2.0),
    (r"\b(timing|chain|belt)\b", ("valve_timing_shifted",), 2.5),
)
"""[M] words of a complaint and the faults that people of the trade think of first when they hear them."""


def nudges_of(case: Case) -> Nudges:
    """What codes, earlier work and the complaint make more or less likely.

    Parameters
    ----------
    case : Case

    Returns
    -------
    dict of (fault, cylinder) to factor
        Factors on one key are multiplied, at most by ``MOST_NUDGE`` either way.
    """
    found: Nudges = {}
    for fault, cylinder, factor in (*_by_codes(case), *_by_work(case), *_by_complaint(case)):
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


def _by_codes(case: Case) -> Iterable[Nudge]:
    for code in dict.fromkeys(stored.code.strip().upper() for stored in case.codes):
        if CODE_MISFIRE.match(code):
            yield "", int(code[3:]), MISFIRE_NUDGE
        if CODE_INJECTOR.match(code):
            yield from ((fault, int(code[3:]), CIRCUIT_NUDGE) for fault in INJECTOR_CIRCUIT)
        if CODE_COIL.match(code):
            yield from ((fault, int(code[3:]) - 50, CIRCUIT_NUDGE) for fault in COIL_CIRCUIT)


def _by_work(case: Case) -> Iterable[Nudge]:
    for line in (entry.lower() for entry in case.work_done):
        at = [int(number) for number in re.findall(r"\b(\d{1,2})\b", line)] or [0]
        for pattern, only_renewed, faults, factor in WORK:
            if re.search(pattern, line) and (RENEWED.search(line) or not only_renewed):
                yield from ((fault, c, factor) for fault in faults for c in at)


def _by_complaint(case: Case) -> Iterable[Nudge]:
    text = f"{case.title} {case.complaint}".lower()
    for pattern, faults, factor in COMPLAINTS:
        if re.search(pattern, text):
            yield from ((fault, 0, factor) for fault in faults)
