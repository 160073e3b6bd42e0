"""The running study: crank speed of simulated engines with known work per event, measured from the sensor's trace."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from fairwitness.core.messages.rendering import render
from fairwitness.core.model.capture import CaptureTest
from fairwitness.core.model.engine import Engine, even_engine
from fairwitness.core.model.measurement import Measured, State
from fairwitness.core.procedures.crank_speed import measure as crank_speed
from fairwitness.core.procedures.specs import CARDS
from fairwitness.core.reason.accusations import compared
from fairwitness.simulate.examine import Recorder, sample
from fairwitness.simulate.garage import build, fault_named
from fairwitness.simulate.running import run_engine
from fairwitness.simulate.trajectory import Trajectory
from fairwitness.study.cores import all_cores

ORDERS = (
    (1, 3, 2), (1, 2, 3), (1, 3, 4, 2), (1, 2, 4, 3), (1, 2, 4, 5, 3), (1, 5, 3, 6, 2, 4), (1, 4, 2, 5, 3, 6),
    (1, 8, 4, 3, 6, 5, 7, 2), (1, 5, 4, 8, 6, 3, 7, 2), (1, 6, 5, 10, 2, 7, 3, 8, 4, 9),
    (1, 12, 5, 8, 3, 10, 6, 7, 2, 11, 4, 9),
)  # fmt: skip
LEVELS = ("clean", "workshop", "hostile")
KINDS = ("healthy", "dead", "weak", "intermittent")
SECONDS = 12.0
TARGETS = {
    "dead": ("dead cylinder named, no other", 0.995),
    "weak": ("half torque named", 0.97),
    "intermittent": ("misfire rate within 2 points", 0.97),
    "healthy": ("healthy left alone", 0.995),
}
RATE_OFF_MAX = 0.02
WEAK_TRUTH = (0.40, 0.60)
"""Share of the peers' heat that is called half torque."""
TRIES = 12


@dataclass(frozen=True, slots=True, kw_only=True)
class Outcome:
    """How one engine went."""

    seed: int
    kind: str
    level: str
    cylinders: int
    right: bool
    accused: bool
    rate_off: float
    """Measured less true misfire rate of the ill cylinder."""
    note: str = ""


def run(*, cases: int, seed: int, workers: int | None = None) -> tuple[Outcome, ...]:
    """Simulate and measure a population on all cores."""
    with all_cores(workers) as pool:
        return tuple(pool.map(assess, range(seed, seed + cases), chunksize=4))


def assess(seed: int) -> Outcome:
    """Simulate one engine, read its crank sensor, compare with what each event really did."""
    rng = np.random.default_rng((20_26, 5, seed))
    order = ORDERS[int(rng.integers(len(ORDERS)))]
    kind = KINDS[seed % len(KINDS)]
    level = LEVELS[(seed // len(KINDS)) % len(LEVELS)]
    engine = even_engine(order)
    cylinder = int(rng.choice(order))
    trajectory, ill = _course(engine, kind, cylinder, rng)
    engine = trajectory.vehicle.engine
    card = CARDS[CaptureTest.CRANK_SPEED]
    capture = sample(
        trajectory,
        card.clips(engine, (cylinder,), trajectory.vehicle.injector_feeds),
        Recorder(rate_hz=card.rate_hz, level=level, name="running", set_up=card.recorded(hot=True)),
        rng=rng,
    )
    measured = crank_speed.measure(capture, engine)
    own = {f.cylinder: f for f in measured.findings if f.cylinder is not None and compared(f)}
    named = {c for c, f in own.items() if f.state in (State.LOW, State.ABSENT)}
    rate_off, right = 0.0, measured.usable
    if kind == "healthy":
        right = measured.usable and not named
    elif measured.usable:
        right = named == {cylinder} if ill is None else cylinder in named
        if kind == "intermittent" and ill is not None:
            _, true_rate = truth(trajectory, cylinder, (measured.cycle_starts_s[0], measured.cycle_starts_s[-1]))
            rate_off = _rate(measured, cylinder) - true_rate
            right = abs(rate_off) <= RATE_OFF_MAX
    return Outcome(
        seed=seed,
        kind=kind,
        level=level,
        cylinders=engine.cylinders,
        right=right,
        accused=measured.usable and bool(named - ({cylinder} if kind != "healthy" else set())),
        rate_off=rate_off,
        note="; ".join(render(r.statement) for r in measured.reasons if r.blocking),
    )


def _course(engine: Engine, kind: str, cylinder: int, rng: np.random.Generator) -> tuple[Trajectory, float | None]:
    """A run with the wanted truth in it; the true misfire rate where it is intermittent."""
    faults = {
        "healthy": [],
        "dead": [f"injector_open_circuit@{cylinder}"],
        "intermittent": [f"coil_output_dead@{cylinder}!random"],
    }
    trajectory = None
    for attempt in range(TRIES):
        severity = 0.35 + 0.55 * attempt / TRIES
        wanted = faults.get(kind, [f"injector_restricted@{cylinder}:{severity:.2f}"])
        vehicle = build(engine, [fault_named(name) for name in wanted], rng=rng)
        trajectory = run_engine(vehicle, seconds=SECONDS, load="idle", rng=rng)
        share, rate = truth(trajectory, cylinder)
        if kind == "weak" and not WEAK_TRUTH[0] <= share <= WEAK_TRUTH[1]:
            continue
        if kind == "intermittent" and not 0.08 <= rate <= 0.7:
            continue
        return trajectory, rate if kind == "intermittent" else None
    assert trajectory is not None
    return trajectory, None


def truth(trajectory: Trajectory, cylinder: int, span_s: tuple[float, float] | None = None) -> tuple[float, float]:
    """Share of the peers' heat, and share of events without any, over the course or a span of it."""
    ends = trajectory.angle_at(np.array(span_s)) if span_s is not None else trajectory.run.angle_deg[[0, -1]]
    heats = {
        c: held.heat[(held.tdc_deg >= ends[0]) & (held.tdc_deg <= ends[1])] for c, held in trajectory.cylinders.items()
    }
    peers = float(np.median([np.mean(h) for c, h in heats.items() if c != cylinder]))
    own = heats[cylinder]
    return float(np.mean(own)) / peers, float(np.mean(own <= 0.0))


def _rate(measured: Measured, cylinder: int) -> float:
    found = (f for f in measured.findings if f.cylinder == cylinder and f.quantity == crank_speed.RATE)
    return next((f.value or 0.0 for f in found), 0.0)


def targets_met(outcomes: tuple[Outcome, ...]) -> bool:
    """Whether all four targets hold."""
    return all(
        sum(o.right for o in own) >= target * len(own)
        for kind, (_, target) in TARGETS.items()
        if (own := [o for o in outcomes if o.kind == kind])
    )


def report(outcomes: tuple[Outcome, ...]) -> str:
    """The figures as lines of text."""
    lines = [f"{len(outcomes)} simulated engines at idle, 3 to 12 cylinders, three noise levels"]
    for kind, (words, target) in TARGETS.items():
        for level in ("", *LEVELS):
            own = [o for o in outcomes if o.kind == kind and level in ("", o.level)]
            if own:
                hits = sum(o.right for o in own)
                goal = "" if level else f"  target {100 * target:.1f} % or more"
                name = f"  {level}" if level else words
                lines.append(f"{name:34}{hits} of {len(own)}  {100 * hits / len(own):.1f} %{goal}")
    lines += [
        f"  wrong: seed {o.seed}, {o.kind}, {o.cylinders} cylinders, {o.level}, rate off {o.rate_off:+.3f} {o.note}"
        for o in outcomes
        if not o.right
    ]
    lines.append("targets met" if targets_met(outcomes) else "targets missed")
    return "\n".join(lines)
