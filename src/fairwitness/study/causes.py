"""The study of causes: simulated vehicles with one fault each, examined with a set of tests, diagnosed as a case."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import numpy as np

from fairwitness.core.diagnose import diagnose
from fairwitness.core.model.engine import Ignition
from fairwitness.core.model.measurement import Measured
from fairwitness.core.reason.accusations import lines_of
from fairwitness.core.reason.knowledge.faults import FAULTS
from fairwitness.core.reason.knowledge.outcomes import OUTCOMES, chances
from fairwitness.core.reason.knowledge.signatures import SIGNATURES
from fairwitness.core.reason.planning.prediction import COARSE_COLUMNS
from fairwitness.core.reason.verdict import Status
from fairwitness.simulate.examine import examine
from fairwitness.simulate.garage import ENGINES, build, place_of
from fairwitness.simulate.health import DOES_NOT_START, WHOLE_ENGINE, Fault, reach
from fairwitness.study.cores import all_cores

PLACED = ("head_gasket_leak", "valve_timing_shifted")
"""Faults that never sit in one cylinder alone."""
READ_AS = {"--": "-", "<": "-", "++": "+", "+-": "~"}
TOLD_BY_HAND = 0.6
"""Difference of the chances of outcomes from which a test by hand is counted as telling two faults apart."""
ABSOLUTE = ("fuel_pressure", "compression_gauge", "leak_down")
"""Tests that tell a fault common to all cylinders; a comparison of cylinders cannot, so no kit without one is asked."""
LEVELS = ("clean", "workshop", "hostile")
HEALTHY = "no_fault"


@dataclass(frozen=True, slots=True, kw_only=True)
class Field:
    """What one study looks at.

    Parameters
    ----------
    faults : tuple of str
        Simulated in turn; ``no_fault`` among them.
    kits : mapping of str to tuple of str
        Sets of tests by name; each vehicle is examined with the kit whose turn it is.
    engines : tuple of str
        Of the garage.
    """

    faults: tuple[str, ...]
    kits: Mapping[str, tuple[str, ...]]
    engines: tuple[str, ...]
    only_told: tuple[str, ...] = ()
    """Kits that are told but not judged: they lack a test that some of the faults need."""


SCOPE = ("relative_compression", "crank_speed", "secondary_voltage", "coil_current", "coil_control")
BY_HAND = ("resistance", "voltage", "swap", "spark_check", "load_lamp", "visual")
INJECTORS = ("injector_current", "injector_voltage")
FUEL_BY_HAND = ("fuel_pressure", "fuel_trim", "delivery", "runner_check")
SEPARATING = ("secondary_voltage", "injector_current")
TURNING = ("relative_compression", "crank_speed")
PRESSURES = ("cylinder_pressure", "crankcase_pulse", "intake_pulse", "exhaust_pulse")
GAUGES_USED = ("compression_gauge", "leak_down", "vacuum", "cam_timing")
PETROL = tuple(name for name, e in ENGINES.items() if e.ignition is not Ignition.COMPRESSION_IGNITION)
FIELDS: Mapping[str, Field] = {
    "ignition": Field(
        faults=(
            *(f.id for f in FAULTS.values() if f.cause == "ignition" and f.id not in DOES_NOT_START),
            "injector_open_circuit",
            "injector_restricted",
            "unmetered_air_at_runner",
            "ring_or_piston_leak",
            HEALTHY,
            HEALTHY,
            HEALTHY,
            HEALTHY,
        ),
        kits={"scope": SCOPE, "scope and hand": (*SCOPE, *BY_HAND)},
        engines=PETROL,
    ),
}
FIELDS = {
    **FIELDS,
    "fuel": Field(
        faults=(
            *(f.id for f in FAULTS.values() if f.cause == "fuel" and f.id not in DOES_NOT_START),
            "coil_output_dead",
            "plug_gap_wide",
            "exhaust_valve_leak",
            HEALTHY,
            HEALTHY,
            HEALTHY,
        ),
        kits={
            "scope and rail": (*SCOPE, *INJECTORS, *FUEL_BY_HAND),
            "scope and hand": (*SCOPE, *INJECTORS, *BY_HAND, *FUEL_BY_HAND),
            "scope": (*SCOPE, *INJECTORS),
        },
        only_told=("scope",),  # a mild leak or restriction shows in delivery, not on a scope
        engines=PETROL,
    ),
}
FIELDS = {
    **FIELDS,
    "mechanical": Field(
        faults=(
            *(f.id for f in FAULTS.values() if f.cause == "mechanical" and f.id not in DOES_NOT_START),
            "coil_output_dead",
            "injector_open_circuit",
            HEALTHY,
            HEALTHY,
            HEALTHY,
        ),
        kits={
            "pressure and pulses": (*TURNING, *PRESSURES, *SEPARATING),
            "gauges": (*TURNING, *GAUGES_USED, *SEPARATING),
            "all": (*TURNING, *PRESSURES, *GAUGES_USED, *SEPARATING),
        },
        only_told=("gauges",),  # valves that do not move and what is common to all show in pressure, hardly on gauges
        engines=PETROL,
    ),
}
TARGETS = {"fault": 0.95, "cause": 0.99, "accused": 0.005}
SEVERITIES = (0.35, 1.0)
"""The mildest that is called a fault here, and complete."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Outcome:
    """How one vehicle went."""

    seed: int
    field: str
    fault: str
    cylinders: tuple[int, ...]
    engine: str
    level: str
    kit: str
    top: str
    status: str
    cause_right: bool
    fault_right: bool
    cylinders_right: bool
    accused: bool
    driver_called: bool
    """The control unit was named while something else was not excluded."""


def run(field: str, *, cases: int, seed: int, workers: int | None = None) -> tuple[Outcome, ...]:
    """Simulate, examine and diagnose a population on all cores."""
    with all_cores(workers) as pool:
        return tuple(pool.map(assess, [field] * cases, range(seed, seed + cases), chunksize=4))


def assess(field: str, seed: int) -> Outcome:
    """One vehicle of a study."""
    about = FIELDS[field]
    rng = np.random.default_rng((20_26, 6, seed))
    fault = about.faults[seed % len(about.faults)]
    turn = seed // len(about.faults)
    level = LEVELS[turn % len(LEVELS)]
    kit = list(about.kits)[(turn // len(LEVELS)) % len(about.kits)]
    if fault in WHOLE_ENGINE and not set(about.kits[kit]) & set(ABSOLUTE):
        kit = next(name for name, tests in about.kits.items() if set(tests) & set(ABSOLUTE))
    engine_name = str(rng.choice(about.engines))
    engine = ENGINES[engine_name]
    at = int(rng.choice(engine.firing_order))
    severity = float(rng.uniform(*SEVERITIES))
    places = place_of(engine, fault, rng) if fault in PLACED and engine.block_neighbours else (at,)
    faults = () if fault == HEALTHY else (Fault(fault, places, severity),)
    cylinders = reach(faults[0], engine) if faults else ()
    vehicle = build(engine, faults, rng=rng)
    case = examine(vehicle, about.kits[kit], level=level, seed=seed, suspects=places or (at,))
    reported = diagnose(case)
    top = reported.posterior.hypotheses[0]
    cause = "none" if fault == HEALTHY else FAULTS[fault].cause.value
    blamed = reported.verdict.status in (Status.SUSPECTED, Status.SUPPORTED, Status.ESTABLISHED)
    healthy = fault == HEALTHY
    return Outcome(
        seed=seed,
        field=field,
        fault=fault,
        cylinders=cylinders,
        engine=engine_name,
        level=level,
        kit=kit,
        top=top.fault,
        status=reported.verdict.status.value,
        cause_right=not blamed if healthy else reported.verdict.cause.value == cause,
        fault_right=not blamed if healthy else top.fault == fault or alike(fault, top.fault, reported.measured),
        cylinders_right=healthy or set(reported.verdict.cylinders) == set(cylinders),
        accused=blamed and bool(set(reported.verdict.cylinders) - (set() if healthy else set(cylinders))),
        driver_called=any(FAULTS[f].driver_of for f in reported.verdict.faults)
        and reported.verdict.status is not Status.ESTABLISHED,
    )


def unseen(fault: str, measured: Sequence[Measured], *, everywhere: bool, seldom: bool) -> bool:
    """Whether the tests taken may all come out as on a sound engine where it has a fault.

    Parameters
    ----------
    fault : str
        Id of the catalogue.
    measured : sequence of Measured
        What was taken of the vehicle.
    everywhere : bool
        It sits in all cylinders alike, which a comparison of cylinders does not show.
    seldom : bool
        It comes and goes: what counts events waits for it.

    Returns
    -------
    bool
    """
    done = {s.kind for m in measured if m.usable for s in m.categorical if s.kind in OUTCOMES}
    if any(_told_by_hand(fault, HEALTHY, kind) or (seldom and _told_by_hand("seldom", HEALTHY, kind)) for kind in done):
        return False
    cells = [SIGNATURES[fault][column] for column in lines_of(measured)]
    return everywhere or seldom or all(not forms or "=" in forms for forms in cells)


def alike(one: str, other: str, measured: Sequence[Measured]) -> bool:
    """Whether the tests taken cannot tell two faults apart: every column read may look the same under both.

    Parameters
    ----------
    one, other : str
        Fault ids.
    measured : sequence of Measured
        What was taken of the vehicle.

    Returns
    -------
    bool
    """
    if HEALTHY in (one, other) or one not in SIGNATURES or other not in SIGNATURES:
        return one == other
    columns = lines_of(measured)
    done = {s.kind for m in measured if m.usable for s in m.categorical if s.kind in OUTCOMES}
    if any(_told_by_hand(one, other, kind) for kind in done):
        return False

    def meets(first: tuple[str, ...], second: tuple[str, ...], coarse: bool) -> bool:
        a, b = ({READ_AS.get(form, form) for form in forms} for forms in (first, second))
        if coarse:
            a, b = ({"-" if form in ("0", "~") else form for form in forms} for forms in (a, b))
        if not a or not b or a & b:
            return True
        return bool("~" in a and b - {"=", "0"}) or bool("~" in b and a - {"=", "0"})

    return all(meets(SIGNATURES[one][c], SIGNATURES[other][c], c in COARSE_COLUMNS) for c in columns)


def _told_by_hand(one: str, other: str, kind: str) -> bool:
    """Whether a test without a scale mostly comes out differently."""
    a, b = chances(kind, one), chances(kind, other)
    return sum(abs(a.get(o, 0.0) - b.get(o, 0.0)) for o in {*a, *b}) / 2 > TOLD_BY_HAND


def figures(outcomes: Sequence[Outcome]) -> dict[str, tuple[int, int]]:
    """Hits and cases of each target; ``accused`` counts healthy vehicles with somebody blamed."""
    ill = [o for o in outcomes if o.fault != HEALTHY]
    sound = [o for o in outcomes if o.fault == HEALTHY]
    return {
        "fault": (sum(o.fault_right for o in ill), len(ill)),
        "cause": (sum(o.cause_right for o in ill), len(ill)),
        "cylinders": (sum(o.cylinders_right for o in ill), len(ill)),
        "accused": (sum(not o.cause_right for o in sound), len(sound)),
        "driver": (sum(o.driver_called for o in outcomes), len(outcomes)),
    }


def targets_met(outcomes: Sequence[Outcome]) -> bool:
    """Fault and cause at workshop level, healthy ones left alone, the control unit not called early."""
    told_only = FIELDS[outcomes[0].field].only_told
    at_work = figures([o for o in outcomes if o.level == "workshop" and o.kit not in told_only])
    overall = figures(outcomes)
    return (
        all(at_work[name][0] >= TARGETS[name] * at_work[name][1] for name in ("fault", "cause"))
        and overall["accused"][0] <= TARGETS["accused"] * overall["accused"][1]
        and overall["driver"][0] == 0
    )


def report(outcomes: Sequence[Outcome]) -> str:
    """The figures as lines of text."""
    field = outcomes[0].field
    lines = [f"{len(outcomes)} simulated vehicles, {field}: one fault each, its neighbours, and none"]
    for level in ("", *LEVELS):
        for kit in FIELDS[field].kits:
            own = [o for o in outcomes if level in ("", o.level) and o.kit == kit]
            if not own:
                continue
            reported = figures(own)
            shares = "  ".join(
                f"{name} {hits} of {count}" + (f" ({100 * hits / count:.1f} %)" if count else "")
                for name, (hits, count) in reported.items()
            )
            beside = "  (not judged)" if kit in FIELDS[field].only_told else ""
            lines.append(f"{level or 'all levels':12}{kit:16}{shares}{beside}")
    for fault in dict.fromkeys(FIELDS[field].faults):
        own = [o for o in outcomes if o.fault == fault]
        wrong = [o for o in own if not (o.fault_right and o.cause_right)]
        if wrong:
            lines.append(f"  {fault}: {len(wrong)} of {len(own)} wrong")
            lines += [
                f"    seed {o.seed}, {o.engine}, {o.level}, {o.kit}: {o.top}, {o.status}"
                + ("" if o.cause_right else ", cause wrong")
                for o in wrong[:8]
            ]
    lines.append("targets met" if targets_met(outcomes) else "targets missed")
    return "\n".join(lines)
