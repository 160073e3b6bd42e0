"""Exhaust pulse: each firing pushes at the tailpipe; a cylinder that did not fire pulls.

The way from the valve to the tailpipe takes time, and how much is not known: the delay is fitted within what pipes of
road vehicles allow. Where the spread of that is wider than the gap between two firings, more than one assignment stays.
"""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from fairwitness import __version__
from fairwitness.core import thresholds as limit
from fairwitness.core.messages.catalogue import template
from fairwitness.core.messages.message import NOTHING, Message
from fairwitness.core.messages.words import CYLINDER, ONE_CYLINDER, ONE_OF_CYLINDERS, SYNCED
from fairwitness.core.model.capture import Capture, CaptureTest, EngineState, Role
from fairwitness.core.model.engine import CYCLE_DEG, Engine
from fairwitness.core.model.measurement import AveragedCycle, Evidence, Finding, Measured, Origin, State, refused
from fairwitness.core.model.reason import Reason
from fairwitness.core.signal.peers import healthy_level
from fairwitness.core.signal.pressure.pulses import POINTS, Pulses, folded_slow, marked_cycles, solve_pulses
from fairwitness.core.signal.resampling import evenly_sampled
from fairwitness.core.signal.robust import robust_centre
from fairwitness.core.signal.sync import Anchor, Cycles

PUSHES_TAILPIPE_LIKE = template(
    "exhaust_pulse.pushes_tailpipe_like", "{who} pushes at the tailpipe like its peers: {share:.0f} %."
)
PULSES_CYCLE_RUN = template(
    "exhaust_pulse.pulses_cycle_run",
    "{cylinders} pulses a cycle run into each other at the tailpipe; one cylinder cannot be read.",
)
TAILPIPE_SHOWS_PULSES = template(
    "exhaust_pulse.tailpipe_shows_pulses",
    "The tailpipe shows no pulses that follow the cylinders: is the hose tight, and the sync right?",
)
WAY_TAILPIPE_LONGER = template(
    "exhaust_pulse.way_tailpipe_longer",
    "The way to the tailpipe is longer than the gap between two firings is wide: which cylinder stays open.",
)
CYLINDERS_SEEM_PUSH = template(
    "exhaust_pulse.cylinders_seem_push",
    "{silent} of {cylinders} cylinders seem not to push: it would not run. See to hose and sync.",
)
DOES_PUSH_TAILPIPE = template(
    "exhaust_pulse.does_push_tailpipe", "{who} does not push at the tailpipe{pulls}: {share:.0f} % of its peers."
)
PUSHES_WEAKLY_TAILPIPE = template(
    "exhaust_pulse.pushes_weakly_tailpipe", "{who} pushes weakly at the tailpipe: {share:.0f} % of its peers."
)
PULLS_INSTEAD = template("exhaust_pulse.pulls_instead", " and pulls instead")
CYLINDER_PUSHES_TAILPIPE = template("exhaust_pulse.cylinder_pushes_tailpipe", "No cylinder pushes at the tailpipe.")
TAILPIPE = template("exhaust_pulse.source", "tailpipe")
DELAY_OPEN = template("exhaust_pulse.delay_open", "delay open")


FloatArray = NDArray[np.float64]

TEST = CaptureTest.EXHAUST_PULSE.value
LINE = "EX"
SPARK_ADVANCE_DEG = 12.0
VALVE_DEG, VALVE_SPREAD_DEG = 165.0, 18.0
"""[M] middle of the push out of the valve after TDC compression: it opens 120 to 145 degrees after it [T]."""
DELAY_SURE = 2.5
"""Standard deviations of the delay that must lie between two firings before a pulse is given to one of them."""
TRAVEL_S, TRAVEL_SPREAD_S = 0.0075, 0.003
"""[M] two to five metres of pipe at 400 to 600 m/s."""


def applies(capture: Capture) -> bool:
    """Whether a capture can be read for this test: pressure at the tailpipe."""
    return bool(capture.with_role(Role.EXHAUST_PRESSURE))


def measure(capture: Capture, engine: Engine) -> Measured:
    """Compare the cylinders' pulses at the tailpipe.

    Parameters
    ----------
    capture : Capture
    engine : Engine

    Returns
    -------
    Measured
        Unusable without cycles or where no pulses stand out.
    """
    even = evenly_sampled(capture)
    cycles = marked_cycles(even, engine)
    if isinstance(cycles, Reason):
        return _unusable(capture, engine, cycles)
    if CYCLE_DEG / engine.cylinders < limit.PULSE_APART_MIN_DEG.value:
        text = PULSES_CYCLE_RUN(cylinders=engine.cylinders)
        return _unusable(capture, engine, Reason("pulses_merge", text, blocking=True))
    channel = even.with_role(Role.EXHAUST_PRESSURE)[0]
    speed = float(np.median(cycles.speed_rpm))
    expected = VALVE_DEG + 6.0 * speed * TRAVEL_S
    spread = float(np.hypot(VALVE_SPREAD_DEG, 6.0 * speed * TRAVEL_SPREAD_S))
    first = engine.firing_order.index(cycles.cylinder) if cycles.cylinder in engine.firing_order else 0
    lead = SPARK_ADVANCE_DEG if even.set_up.engine_state is not EngineState.CRANKING else 0.0
    events = (engine.event_angles_deg - engine.event_angles_deg[first] + lead) % CYCLE_DEG
    folded = folded_slow(channel, even.time, cycles)
    pulses = solve_pulses(folded, events, delay_deg=expected, spread_deg=spread)
    if pulses.residual > limit.PULSE_RESIDUAL_MAX.value:
        text = TAILPIPE_SHOWS_PULSES()
        return _unusable(capture, engine, Reason("no_pulses", text, blocking=True))
    return _judged(capture, engine, cycles, pulses, _order_offsets(engine, cycles, spread), speed)


def _order_offsets(engine: Engine, cycles: Cycles, spread_deg: float) -> tuple[int, ...]:
    """Places of the firing order by which the assignment may be off."""
    n = engine.cylinders
    if cycles.anchor is Anchor.CYCLE:
        return tuple(range(n))
    near = (0, 1, n - 1) if CYCLE_DEG / n < DELAY_SURE * spread_deg and n > 2 else (0,)
    if cycles.anchor is Anchor.REVOLUTION:
        return tuple(dict.fromkeys((place + half) % n for half in (0, n // 2) for place in near))
    return near


def _judged(
    capture: Capture, engine: Engine, cycles: Cycles, pulses: Pulses, order_offsets: tuple[int, ...], speed: float
) -> Measured:
    centre, sigma = robust_centre(pulses.per_cycle)
    level = healthy_level(pulses.amplitudes)
    if not level > 0:
        return _unusable(capture, engine, Reason("no_pulses", CYLINDER_PUSHES_TAILPIPE(), blocking=True))
    shares = np.clip(pulses.amplitudes / level, 0.0, 2.0)
    few = cycles.count < limit.RUNNING_CYCLES_FEW.value
    scatter = np.maximum(sigma, np.median(sigma)) if few else sigma
    errors = 1.2533 * scatter / level / np.sqrt(cycles.count)
    sigmas = np.sqrt(limit.PULSE_SIGMA.value**2 + errors**2 + (0.3 * pulses.residual) ** 2)
    origin = _origin(capture, pulses)
    certain = len(order_offsets) == 1
    reasons = [*cycles.reasons, *(() if certain else (Reason("delay_open", WAY_TAILPIPE_LONGER()),))]
    states = [_state(float(s)) for s in shares]
    silent = states.count(State.ABSENT)
    if silent > engine.cylinders / 2:
        text = CYLINDERS_SEEM_PUSH(silent=silent, cylinders=engine.cylinders)
        return _unusable(capture, engine, Reason("phase_wrong", text, blocking=True))

    def finding(cylinder: int | None, place: int, text: Message) -> Finding:
        return Finding(
            test=TEST, cylinder=cylinder, quantity=TEST, value=round(float(shares[place]), 4), unit="1",
            spread=round(float(sigma[place] / level), 4), events=cycles.count, state=states[place], statement=text,
            origin=origin,
        )  # fmt: skip

    if certain:
        findings = [
            finding(c, i, _sentence(CYLINDER(cylinder=c), float(shares[i]), states[i], float(centre[i])))
            for i, c in enumerate(engine.firing_order)
        ]
    else:
        worst = int(np.argmin(shares))
        rivals = sorted({engine.firing_order[(worst + turn) % engine.cylinders] for turn in order_offsets})
        who = ONE_OF_CYLINDERS(cylinders=tuple(rivals)) if len(rivals) < engine.cylinders else ONE_CYLINDER
        findings = [finding(None, worst, _sentence(who, float(shares[worst]), states[worst], float(centre[worst])))]
    return Measured(
        test=TEST,
        resource=capture.name,
        reasons=tuple(reasons),
        findings=tuple(findings),
        lines=(
            Evidence(
                line=LINE,
                source=f"capture:{capture.name}",
                alternatives=tuple(np.roll(shares, -turn) for turn in order_offsets),
                sigmas=sigmas if certain else np.full(shares.size, float(sigmas.max())),
            ),
        )
        if engine.cylinders > 1
        else (),
        averaged_cycle=_averaged_cycle(engine, cycles, pulses, capture),
        facts={
            "cycles": cycles.count,
            "speed_rpm": round(speed, 1),
            "source": TAILPIPE(),
            "assignment": SYNCED if certain else DELAY_OPEN(),
            "delay_deg": round(pulses.delay_deg, 1),
        },
        cycle_starts_s=(*map(float, cycles.starts_s), float(cycles.ends_s[-1])),
    )


def _origin(capture: Capture, pulses: Pulses) -> Origin:
    return Origin(
        resource=capture.name,
        capture_sha256=capture.sha256,
        code_version=__version__,
        parameters=(("delay_deg", round(pulses.delay_deg, 1)), ("residual", round(pulses.residual, 3))),
    )


def _state(share: float) -> State:
    if share < limit.PULSE_ABSENT_SHARE.value:
        return State.ABSENT
    return State.LOW if share < limit.PULSE_LOW_SHARE.value else State.NORMAL


def _sentence(who: Message, share: float, state: State, pressure_pa: float) -> Message:
    if state is State.ABSENT:
        pulls = PULLS_INSTEAD() if pressure_pa < 0 else NOTHING
        return DOES_PUSH_TAILPIPE(who=who, pulls=pulls, share=100 * max(share, 0.0))
    if state is State.LOW:
        return PUSHES_WEAKLY_TAILPIPE(who=who, share=100 * share)
    return PUSHES_TAILPIPE_LIKE(who=who, share=100 * share)


def _averaged_cycle(engine: Engine, cycles: Cycles, pulses: Pulses, capture: Capture) -> AveragedCycle:
    """The averaged cycle shifted by the delay, so that each pulse stands in the column of its cylinder."""
    first = engine.firing_order.index(cycles.cylinder) if cycles.cylinder in engine.firing_order else 0
    lead = CYCLE_DEG / engine.cylinders / 2 + engine.event_angles_deg[first] - pulses.delay_deg
    folded = np.roll(pulses.folded, round(lead * POINTS / CYCLE_DEG), axis=1)
    low, middle, high = np.percentile(folded, (25, 50, 75), axis=0)
    unit = capture.with_role(Role.EXHAUST_PRESSURE)[0].si_unit
    return AveragedCycle(angle_deg=np.arange(POINTS) * CYCLE_DEG / POINTS, middle=middle, low=low, high=high, unit=unit)


def _unusable(capture: Capture, engine: Engine, *reasons: Reason) -> Measured:
    origin = Origin(resource=capture.name, capture_sha256=capture.sha256, code_version=__version__)
    return refused(TEST, "1", engine.firing_order, tuple(reasons), origin)
