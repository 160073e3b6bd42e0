"""The study of cylinder pressure: how closely top dead centre and the valve events are recovered."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field

import numpy as np

from fairwitness.core.model.angles import signed
from fairwitness.core.model.capture import CaptureTest, Role
from fairwitness.core.procedures.set_up_card import Clip
from fairwitness.core.procedures.specs import CARDS
from fairwitness.core.signal.pressure.events import cycle_events
from fairwitness.core.signal.pressure.trace import read_pressure, wheel_of
from fairwitness.core.signal.resampling import evenly_sampled
from fairwitness.simulate.examine import Recorder, sample
from fairwitness.simulate.garage import ENGINES, build
from fairwitness.simulate.health import EFFECTS, Fault
from fairwitness.simulate.running import Withheld, run_engine
from fairwitness.simulate.trajectory import crank_over
from fairwitness.study.cores import all_cores

TARGETS_DEG = {"cranking": {"tdc": 1.5, "events": 5.0}, "running": {"tdc": 2.5, "events": 8.0}}
WITHIN = 0.95
"""Share of the recovered angles that must lie within their target."""
LEAKS = ("ring_or_piston_leak", "exhaust_valve_leak", "intake_valve_leak")
WORST_LEAK = 0.6
OPENS_LATEST_DEG = 175.0
"""The simulated exhaust valve opens no later, however late the cam."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Outcome:
    """Errors of one cylinder in degrees; an event that nothing marks is left out."""

    motion: str
    kind: str
    errors: dict[str, float] = field(default_factory=dict)


def run(*, cases: int, seed: int, workers: int | None = None) -> tuple[Outcome, ...]:
    """Read a population, cranking and running, on all cores."""
    orders = [(motion, s) for s in range(seed, seed + cases) for motion in TARGETS_DEG]
    with all_cores(workers) as pool:
        return tuple(pool.map(assess, *zip(*orders, strict=True), chunksize=4))


def assess(motion: str, seed: int) -> Outcome:
    """One cylinder: sound, with late valves, or leaking."""
    rng = np.random.default_rng((20_26, 8, seed))
    engine = ENGINES[str(rng.choice(list(ENGINES)))]
    at, severity = int(rng.choice(engine.firing_order)), float(rng.uniform(0.2, 0.9))
    kind = ("sound", "late", "leaking")[seed % 3]
    late = float(EFFECTS["valve_timing_shifted"](severity)["valves_late_deg"]) if kind == "late" else 0.0  # type: ignore[arg-type]
    faults = {
        "sound": (),
        "late": (Fault("valve_timing_shifted", (), severity),),
        "leaking": (Fault(str(rng.choice(LEAKS)), (at,), min(severity, WORST_LEAK)),),
    }[kind]
    vehicle = build(engine, faults, rng=rng)
    card = CARDS[CaptureTest.CYLINDER_PRESSURE]
    cranking = motion == "cranking"
    trajectory = (
        crank_over(vehicle, seconds=card.seconds, rng=rng)
        if cranking
        else run_engine(vehicle, seconds=2.5, rng=rng, cut=Withheld((at,)))
    )
    clips = (Clip(role=Role.CYLINDER_PRESSURE, cylinder=at), Clip(role=Role.CRANK_SENSOR))
    capture = evenly_sampled(
        sample(
            trajectory,
            clips,
            Recorder(
                rate_hz=card.rate_hz if cranking else 2 * card.rate_hz,
                level="workshop",
                name="pressure",
                set_up=card.recorded(hot=True),
            ),
            rng=rng,
        )
    )
    cycles = read_pressure(capture.with_role(Role.CYLINDER_PRESSURE)[0], capture, wheel_of(capture, vehicle.engine))
    reported = cycle_events(cycles, engine.fuel) if cycles is not None else None
    if cycles is None or reported is None:
        return Outcome(motion=motion, kind=kind)
    summit = signed(trajectory.angle_at(cycles.peak_s) - trajectory.cylinders[at].tdc_deg[0])
    turning = vehicle.turning
    truth = {
        "intake_closes": turning.intake_closing_deg + late,
        "exhaust_opens": min(turning.exhaust_opening_deg + late, OPENS_LATEST_DEG),
        "intake_opens": 360.0 + late,
    }
    errors = {"tdc": reported.tower.tdc_deg + float(np.median(summit))}
    for name, angle in truth.items():
        event = getattr(reported, name)
        if event is not None:
            errors[name] = event.deg - angle
    return Outcome(motion=motion, kind=kind, errors=errors)


def _within(outcomes: Sequence[Outcome], motion: str, name: str) -> tuple[int, int, list[float]]:
    found = [abs(o.errors[name]) for o in outcomes if o.motion == motion and name in o.errors]
    target = TARGETS_DEG[motion]["tdc" if name == "tdc" else "events"]
    return sum(e <= target for e in found), len(found), found


NAMES = ("tdc", "intake_closes", "exhaust_opens", "intake_opens")


def targets_met(outcomes: Sequence[Outcome]) -> bool:
    """Whether enough angles lie within their target, cranking and running."""
    pairs = [_within(outcomes, motion, name)[:2] for motion in TARGETS_DEG for name in NAMES]
    return all(hits >= WITHIN * count for hits, count in pairs)


def report(outcomes: Sequence[Outcome]) -> str:
    """The figures as lines of text."""
    lines = [f"{len(outcomes)} pressure captures at workshop noise: sound, late valves, leaking"]
    for motion, target in TARGETS_DEG.items():
        whole = sum(o.motion == motion for o in outcomes)
        for name in NAMES:
            hits, count, found = _within(outcomes, motion, name)
            allowed = target["tdc" if name == "tdc" else "events"]
            usual = f"median {np.median(found):.2f}, 95 % {np.percentile(found, 95):.2f} degrees" if found else ""
            words = name.replace("_", " ")
            lines.append(
                f"{motion:10}{words:15}{hits} of {count} within {allowed:g} degrees  {usual}  told {count}/{whole}"
            )
    lines.append("targets met" if targets_met(outcomes) else "targets missed")
    return "\n".join(lines)
