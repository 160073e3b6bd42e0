"""Contribution of each cylinder while the engine runs, from the speed of the crank.

Teeth are timed, angles follow from the wheel, and the work of every single event is solved together with its neighbours
(see ``work_model``). A share of 1 is a cylinder that works like its sound peers, 0 one that does not work at all.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace

import numpy as np
from numpy.typing import NDArray

from fairwitness import __version__
from fairwitness.core import thresholds as limit
from fairwitness.core.messages.catalogue import template
from fairwitness.core.messages.message import Message
from fairwitness.core.messages.words import CYLINDER, ONE_CYLINDER, ONE_OF_CYLINDERS, SHARE
from fairwitness.core.model.capture import Capture, CaptureTest, EngineState, Role
from fairwitness.core.model.engine import CYCLE_DEG, Engine
from fairwitness.core.model.measurement import (
    AveragedCycle,
    CategoricalEvidence,
    Evidence,
    Finding,
    Measured,
    Origin,
    State,
    refused,
)
from fairwitness.core.model.reason import Reason
from fairwitness.core.signal.crank.contribution import Contribution, contributions, usual_work
from fairwitness.core.signal.crank.running_phase import RunningPhase, running_phase, sync_events
from fairwitness.core.signal.crank.tooth_times import tooth_times
from fairwitness.core.signal.crank.torque_fit import Work
from fairwitness.core.signal.crank.wheel import CrankAngle, crank_angle, smoothed_wheel
from fairwitness.core.signal.sync import Anchor

MISFIRES_WANDER_OVER = template(
    "crank_speed.misfires_wander_over",
    "Misfires wander over {many} cylinders: think of mixture, supply or a sensor before any one cylinder.",
)
ONLY_CYCLES = template("crank_speed.only_cycles", "{count} cycles are few; 10 s at idle give more.")
OVER_CYCLES = template("crank_speed.over_cycles", "over {events} cycles")
WORKS_LIKE_PEERS = template("crank_speed.works_like_peers", "{who} works like its peers: {percent} {over}.")
ONLY_SAMPLES_TOOTH = template(
    "crank_speed.only_samples_tooth",
    "Only {per_tooth:.1f} samples a tooth: sample faster, or the pattern is not what it seems.",
)
NO_SUCH_WHEEL = template(
    "crank_speed.no_such_wheel",
    "{teeth} marks a revolution are no wheel but noise: is the lead on the sensor, and the range right?",
)
HOW_MANY_TEETH = template(
    "crank_speed.how_many_teeth", "How many teeth the wheel has is not known: give the wheel, or a sync once per cycle."
)
FEWER_THAN_WHOLE = template(
    "crank_speed.fewer_than_whole", "Fewer than {running_cycles_min:.0f} whole cycles were recorded."
)
ENGINE_TURNED_RPM = template("crank_speed.engine_turned_rpm", "The engine turned at {rpm:.0f} rpm: it was not running.")
WHEEL_SHOWS_TEETH = template(
    "crank_speed.wheel_shows_teeth",
    "The wheel shows {teeth} teeth, not the {teeth_2} of the engine data; what was seen is used.",
)
SPEED_CHANGES_TOO = template(
    "crank_speed.speed_changes_too", "The speed changes too much to compare cylinders: hold it steady."
)
CYLINDERS_SEEM_DO = template(
    "crank_speed.cylinders_seem_do",
    "{idle} of {cylinders} cylinders seem to do no work: it would not run. Repeat with a clear sync.",
)
ALL_CYLINDERS_WORK = template(
    "crank_speed.all_cylinders_work", "All {found} cylinders work alike; the least gives {share:.0f} % of its peers."
)
DOES_WORK_PEERS = template("crank_speed.does_work_peers", "{who} does no work: {percent} of its peers {over}.")
HARDLY_WORKS = template("crank_speed.hardly_works", "{who} does hardly any work: {percent} of its peers {over}.")
MISFIRES_CYCLES = template(
    "crank_speed.misfires_cycles", "{who} misfires in {misfire_rate:.0f} % of its cycles, {over}."
)
WORKS_PEERS_EVERY = template(
    "crank_speed.works_peers_every", "{who} works at {percent} of its peers {over}, in every cycle."
)
WHICH_THEM_CRANK = template("crank_speed.which_them_crank", "{sentence} Which of them, the crank alone cannot say.")
WHICH_ONE_CAPTURE = template("crank_speed.which_one_capture", "{sentence} Which one it is, this capture cannot say.")
CRANK_SENSOR_SHOWS = template("crank_speed.crank_sensor_shows", "The crank sensor shows no teeth.")
REVOLUTIONS_TEETH_LOST = template(
    "crank_speed.revolutions_teeth_lost", "In {broken} revolutions teeth were lost or found; they were bridged."
)
CYCLES_AWAY_USUAL = template(
    "crank_speed.cycles_away_usual", "{dropped} cycles away from the usual speed were left out."
)
CRANK_SENSOR = template("crank_speed.crank_sensor", "crank sensor")
CYLINDER_MISFIRES_CYCLES = template(
    "crank_speed.cylinder_misfires_cycles", "Cylinder {c} misfires in {misfire_rate:.1f} % of its cycles."
)


FloatArray = NDArray[np.float64]

TEST = CaptureTest.CRANK_SPEED.value
LINE = "CON"
RATE = "misfire_rate"
STEADY_LEAST = 0.25
"""[M] share of cycles that must be steady: where fewer are, the others have pulled them along."""


def applies(capture: Capture) -> bool:
    """Whether a capture can be read for this test: a crank sensor on a running engine."""
    return bool(capture.with_role(Role.CRANK_SENSOR)) and capture.set_up.engine_state is not EngineState.CRANKING


def measure(capture: Capture, engine: Engine) -> Measured:
    """Compare the cylinders' work in one capture.

    Parameters
    ----------
    capture : Capture
    engine : Engine

    Returns
    -------
    Measured
        Unusable with its reasons where teeth, wheel or speed cannot be believed.
    """
    channel = capture.with_role(Role.CRANK_SENSOR)[0]
    teeth = tooth_times(channel.samples, capture.time)
    if teeth is None:
        return _unusable(capture, engine, Reason("no_teeth", CRANK_SENSOR_SHOWS(), blocking=True))
    per_tooth = capture.time.rate_hz * float(np.median(np.diff(teeth.times_s)))
    if per_tooth < limit.SAMPLES_PER_TOOTH_MIN.value:
        text = ONLY_SAMPLES_TOOTH(per_tooth=per_tooth)
        return _unusable(capture, engine, Reason("aliased", text, blocking=True))
    events = sync_events(capture, engine)
    compression = (
        events is not None and Anchor.COMPRESSION in events.anchors and Anchor.REVOLUTION not in events.anchors[:1]
    )
    starts = events.times_s if events is not None and (compression or events.anchors[0] is Anchor.CYCLE) else None
    crank = crank_angle(teeth.times_s, wheel=engine.crank_wheel, cycle_starts_s=starts)
    if crank is None:
        text = HOW_MANY_TEETH()
        return _unusable(capture, engine, Reason("wheel_unknown", text, blocking=True))
    if crank.teeth > limit.TEETH_MAX.value:
        text = NO_SUCH_WHEEL(teeth=crank.teeth)
        return _unusable(capture, engine, Reason("no_wheel", text, blocking=True))
    crank = smoothed_wheel(crank, max(6, engine.cylinders))
    reasons = _wheel_reasons(crank, engine)
    phase = running_phase(crank, engine, events)
    if phase is None or phase.work.rpm.size < limit.RUNNING_CYCLES_MIN.value:
        text = FEWER_THAN_WHOLE(running_cycles_min=limit.RUNNING_CYCLES_MIN.value)
        return _unusable(capture, engine, *reasons, Reason("too_short", text, blocking=True))
    reasons = [*reasons, *phase.reasons]
    rpm = float(np.median(phase.work.rpm))
    if rpm < limit.RUNNING_RPM_MIN.value:
        text = ENGINE_TURNED_RPM(rpm=rpm)
        return _unusable(capture, engine, *reasons, Reason("not_running", text, blocking=True))
    return _judged(capture, engine, phase, reasons)


def _wheel_reasons(crank: CrankAngle, engine: Engine) -> list[Reason]:
    reasons = []
    wheel = engine.crank_wheel
    if wheel is not None and crank.teeth != wheel.teeth:
        text = WHEEL_SHOWS_TEETH(teeth=crank.teeth, teeth_2=wheel.teeth)
        reasons.append(Reason("wheel_differs", text))
    if crank.broken:
        reasons.append(Reason("teeth_lost", REVOLUTIONS_TEETH_LOST(broken=crank.broken)))
    return reasons


def _judged(capture: Capture, engine: Engine, phase: RunningPhase, reasons: list[Reason]) -> Measured:
    work = phase.work
    steady = work.steady
    cycles = int(np.count_nonzero(steady))
    usual = float(np.median(work.rpm[steady]))
    if cycles < max(limit.RUNNING_CYCLES_MIN.value, STEADY_LEAST * steady.size):
        text = SPEED_CHANGES_TOO()
        return _unusable(capture, engine, *reasons, Reason("unsteady", text, blocking=True))
    dropped = steady.size - cycles
    if dropped:
        reasons = [*reasons, Reason("cycles_dropped", CYCLES_AWAY_USUAL(dropped=dropped))]
    shares, found = contributions(work.per_cycle[steady])
    idle = sum(c.state is State.ABSENT for c in found)
    if idle > engine.cylinders / 2:
        text = CYLINDERS_SEEM_DO(idle=idle, cylinders=engine.cylinders)
        return _unusable(capture, engine, *reasons, Reason("phase_wrong", text, blocking=True))
    origin = Origin(
        resource=capture.name,
        capture_sha256=capture.sha256,
        code_version=__version__,
        parameters=(("residual", round(work.residual, 3)), ("burn_start_deg", work.burn_start_deg)),
    )
    few = cycles < limit.RUNNING_CYCLES_FEW.value
    if few:
        reasons = [*reasons, Reason("few_cycles", ONLY_CYCLES(count=cycles))]
    spreads = np.array([c.spread for c in found])
    errors = (np.maximum(spreads, np.median(spreads)) if few else spreads) / np.sqrt(cycles)
    known = 0.5 * work.sigma / max(usual_work(work.level), 1e-12)
    sigmas = np.sqrt(
        limit.CONTRIBUTION_SIGMA.value**2 + errors**2 + np.minimum(known, 1.0) ** 2 + (0.2 * work.residual) ** 2
    )
    values = np.array([c.share for c in found])
    evidence = None
    if engine.cylinders > 1:
        evidence = Evidence(
            line=LINE,
            source=f"capture:{capture.name}",
            alternatives=tuple(np.roll(values, -turn) for turn in phase.order_offsets),
            sigmas=sigmas if len(phase.order_offsets) == 1 else np.full(values.size, float(np.max(sigmas))),
        )
    return Measured(
        test=TEST,
        resource=capture.name,
        reasons=tuple(reasons),
        findings=tuple(_findings(engine, found, phase, origin)),
        lines=(evidence,) if evidence is not None else (),
        categorical=_rates(engine, found, capture.name) if len(phase.order_offsets) == 1 and not few else (),
        averaged_cycle=_averaged_cycle(work) if len(phase.order_offsets) == 1 else None,
        facts={
            "cycles": cycles,
            "speed_rpm": round(usual, 1),
            "source": CRANK_SENSOR(),
            "assignment": phase.assignment,
            "misfires": round(100 * float(np.mean(shares < limit.MISFIRE_EVENT_SHARE.value)), 1),
        },
        cycle_starts_s=tuple(map(float, work.cycle_times_s)),
    )


def _rates(engine: Engine, found: list[Contribution], name: str) -> tuple[CategoricalEvidence, ...]:
    """Whether a cylinder misses none, some or most of its cycles: what comes and goes is not a weak cylinder."""

    def outcome(own: Contribution) -> str:
        if own.misfire_rate < limit.MISFIRE_RATE_MIN.value:
            return "none"
        return "some" if own.misfire_rate < limit.MISFIRE_DEAD_RATE.value else "most"

    return tuple(
        CategoricalEvidence(kind="misfire_rate", outcome=outcome(own), cylinders=(c,), source=f"capture:{name}")
        for c, own in zip(engine.firing_order, found, strict=True)
        if engine.cylinders > 1
    )


def _findings(engine: Engine, found: list[Contribution], phase: RunningPhase, origin: Origin) -> list[Finding]:
    def finding(cylinder: int | None, own: Contribution, statement: Message) -> Finding:
        return Finding(
            test=TEST,
            cylinder=cylinder,
            quantity=TEST,
            value=round(own.share, 4),
            unit="1",
            spread=round(own.spread, 4),
            events=own.events,
            state=own.state,
            statement=statement,
            origin=origin,
        )

    order = engine.firing_order
    if len(phase.order_offsets) == 1:
        findings = [finding(c, own, _sentence(CYLINDER(cylinder=c), own)) for c, own in zip(order, found, strict=True)]
        rates = [
            replace(finding(c, own, CYLINDER_MISFIRES_CYCLES(c=c, misfire_rate=100 * own.misfire_rate)),
                    quantity=RATE, is_remark=True, value=round(own.misfire_rate, 4), spread=None)
            for c, own in zip(order, found, strict=True)
            if limit.MISFIRE_RATE_MIN.value <= own.misfire_rate < limit.MISFIRE_DEAD_RATE.value
        ]  # fmt: skip
        return [*findings, *rates, *_random(found, finding)]
    worst = min(found, key=lambda own: own.share)
    ill = sum(own.state is not State.NORMAL for own in found)
    if not ill:
        text = ALL_CYLINDERS_WORK(found=len(found), share=100 * worst.share)
    elif len(phase.order_offsets) < len(found):
        at = found.index(worst)
        rivals = tuple(sorted(order[(at + turn) % len(order)] for turn in phase.order_offsets))
        text = WHICH_THEM_CRANK(sentence=_sentence(ONE_OF_CYLINDERS(cylinders=rivals), worst))
    else:
        text = WHICH_ONE_CAPTURE(sentence=_sentence(ONE_CYLINDER, worst))
    return [finding(None, worst, text)]


def _random(
    found: list[Contribution], finding: Callable[[int | None, Contribution, Message], Finding]
) -> list[Finding]:
    """Misfires spread over most cylinders: mixture, supply or a sensor rather than one cylinder."""
    rates = np.array([own.misfire_rate for own in found])
    many = np.count_nonzero(rates >= limit.MISFIRE_RATE_MIN.value)
    if many < max(3, len(found) // 2 + 1) or rates.max() > limit.MISFIRE_RANDOM_MAX.value:
        return []
    text = MISFIRES_WANDER_OVER(many=many)
    whole = Contribution(
        share=float(1 - rates.mean()), spread=0.0, misfire_rate=float(rates.mean()), events=found[0].events,
        state=State.ABNORMAL,
    )  # fmt: skip
    return [replace(finding(None, whole, text), quantity="random_misfire", is_remark=True)]


def _sentence(who: Message, own: Contribution) -> Message:
    over = OVER_CYCLES(events=own.events)
    percent = SHARE(percent=100 * own.share)
    if own.state is State.ABSENT:
        none = own.share < limit.CONTRIBUTION_NONE_SHARE.value
        return (DOES_WORK_PEERS if none else HARDLY_WORKS)(who=who, percent=percent, over=over)
    if own.state is State.LOW and own.misfire_rate >= limit.MISFIRE_RATE_MIN.value:
        return MISFIRES_CYCLES(who=who, misfire_rate=100 * own.misfire_rate, over=over)
    if own.state is State.LOW:
        return WORKS_PEERS_EVERY(who=who, percent=percent, over=over)
    return WORKS_LIKE_PEERS(who=who, percent=percent, over=over)


def _averaged_cycle(work: Work) -> AveragedCycle:
    """Speed over the cycle, each cylinder's TDC where its column's middle is drawn."""
    steps = work.folded.shape[1]
    cylinders = work.per_cycle.shape[1]
    folded = np.roll(work.folded, steps // (2 * cylinders), axis=1)
    low, middle, high = np.percentile(folded, (25, 50, 75), axis=0)
    return AveragedCycle(angle_deg=np.arange(steps) * CYCLE_DEG / steps, middle=middle, low=low, high=high, unit="rpm")


def _unusable(capture: Capture, engine: Engine, *reasons: Reason) -> Measured:
    origin = Origin(resource=capture.name, capture_sha256=capture.sha256, code_version=__version__)
    return refused(TEST, "1", engine.firing_order, tuple(reasons), origin)
