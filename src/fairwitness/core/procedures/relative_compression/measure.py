"""Relative compression from starter current or battery voltage while cranking.

Heights of all compressions are solved together: a dead hole neither shifts the others nor accuses its neighbours.
"""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import replace

import numpy as np
from numpy.typing import NDArray

from fairwitness import __version__
from fairwitness.core import thresholds as limit
from fairwitness.core.messages.catalogue import phrase
from fairwitness.core.messages.message import Message
from fairwitness.core.messages.words import CYLINDER, NOT_ASSIGNED, ONCE_PER_REVOLUTION, SHARE, SYNCED
from fairwitness.core.model.capture import Capture, CaptureTest, EngineState, Role
from fairwitness.core.model.engine import CYCLE_DEG, Engine
from fairwitness.core.model.measurement import AveragedCycle, Evidence, Finding, Measured, Origin, State, refused
from fairwitness.core.model.reason import Reason
from fairwitness.core.procedures.relative_compression.shares import judge, scatter_of, shares_of_peers
from fairwitness.core.procedures.relative_compression.words import (
    ALL_COMPRESSIONS_EVEN,
    BATTERY_VOLTAGE,
    CHANNEL_CAPTURE_COULD,
    COMPRESSES_PEERS,
    COMPRESSIONS_LOW_LOWEST,
    CYLINDER_REACHES_PEERS,
    EVEN_PEERS,
    ON_CYLINDER,
    ON_ONE_CYLINDER,
    ONE_CYLINDER_HAS,
    OVER_CYCLES,
    REACHES_PEERS_SUSPICIOUS,
    SCATTERS,
    SHOWS_HARDLY_ANY,
    STANDS_ABOVE_PEERS,
    STARTER_CURRENT,
    STARTER_CURRENT_BATTERY,
)
from fairwitness.core.signal.cranking.compression_pulse import DEG_PER_POINT, GRID
from fairwitness.core.signal.cranking.reading import NO_COMPRESSIONS, Reading, read_trace
from fairwitness.core.signal.cranking.reading_reasons import cycle_reasons, repeats
from fairwitness.core.signal.cranking.trace import shape_of, slow_trace
from fairwitness.core.signal.quality import set_up_reasons
from fairwitness.core.signal.resampling import evenly_sampled
from fairwitness.core.signal.sync import Anchor

IS, ARE = phrase("relative_compression.is", "is"), phrase("relative_compression.are", "are")


FloatArray = NDArray[np.float64]

TEST = CaptureTest.RELATIVE_COMPRESSION.value
LINE = "RC"
SOURCES = (Role.STARTER_CURRENT, Role.BATTERY_VOLTAGE)
SOURCE_WORDS = {Role.STARTER_CURRENT: STARTER_CURRENT(), Role.BATTERY_VOLTAGE: BATTERY_VOLTAGE()}


def applies(capture: Capture) -> bool:
    """Whether a capture can be read for this test: cranking, with starter current or battery voltage.

    Starter current beside another test's sensor compares the compressions all the same; a battery voltage there only
    tells whether the battery held.
    """
    if not capture.with_role(*SOURCES):
        return False
    if capture.set_up.test is CaptureTest.RELATIVE_COMPRESSION:
        return True
    if capture.set_up.engine_state is EngineState.RUNNING:
        return False
    return capture.set_up.test is None or bool(capture.with_role(Role.STARTER_CURRENT))


def measure(capture: Capture, engine: Engine) -> Measured:
    """Compare the cylinders' compression in one capture.

    Parameters
    ----------
    capture : Capture
    engine : Engine

    Returns
    -------
    Measured
        Unusable with its reasons where the capture cannot be believed; never an accusation then.
    """
    reasons = list(set_up_reasons(capture.set_up))
    even = evenly_sampled(capture)
    readings, traces = [], []
    for channel in even.with_role(*SOURCES):
        trace = slow_trace(channel, even.time.rate_hz, even.time.start_s)
        shape = None if trace.usable else shape_of(trace)
        if trace.usable or shape is not None:
            reading, why = read_trace(even, channel, shape or trace, engine)
            if shape is not None and (reading is None or not repeats(reading)):
                reading, why = None, ()
            reasons += why
            if reading is not None:
                trace = reading.trace
                readings.append(reading)
        traces.append((channel, trace))
    whole = [r for _, t in traces for r in t.reasons if r.blocking and r.code == "battery_weak"]
    if not readings or whole:
        reasons += [r for _, t in traces for r in t.reasons]
        return _unusable(capture, engine, reasons)
    best = min(readings, key=lambda r: r.fit.residual)
    for channel, trace in traces:
        own = channel is best.channel
        reasons += [r if own else Reason(r.code, r.statement) for r in trace.reasons]
    reasons += best.cycles.reasons
    reasons += cycle_reasons(best, even, engine)
    if any(r.blocking for r in reasons):
        return _unusable(capture, engine, reasons, best)
    return _judged(capture, engine, best, readings, reasons)


def _judged(
    capture: Capture, engine: Engine, best: Reading, readings: list[Reading], reasons: list[Reason]
) -> Measured:
    shares, spreads = shares_of_peers(best.per_cycle)
    count = best.cycles.count
    widened = 1.0 + 3.0 * max(0.0, best.fit.residual - limit.COMPRESSION_RESIDUAL_CAUTION.value)
    errors = 1.2533 * widened * scatter_of(spreads, count) / math.sqrt(count)  # error of a median of normal values
    if not shares.any() or float(np.median(errors)) > limit.SHARES_ERROR_MAX.value:
        why = Reason("scatters", SCATTERS(), blocking=True) if shares.any() else NO_COMPRESSIONS
        return _unusable(capture, engine, [*reasons, why], best)
    states = judge(shares, errors)
    origin = Origin(
        resource=capture.name,
        capture_sha256=capture.sha256,
        code_version=__version__,
        parameters=(
            ("lag_deg", best.fit.lag_deg),
            ("smoothing_deg", best.fit.smoothing_deg),
            ("speed_swing", best.fit.speed_swing),
            ("residual", round(best.fit.residual, 3)),
            ("source", best.channel.role.value),
        ),
    )
    findings = _findings(engine, shares, spreads, states, best, origin)
    agreement = _sources_compared(engine, readings, best, shares, origin)
    apart = max((f.value or 0.0 for f in agreement), default=0.0)  # two sources of one crank: the truth lies between
    sigmas = np.sqrt(errors**2 + limit.SENSOR_SHARE_SIGMA.value**2 + (0.12 * best.fit.residual) ** 2 + apart**2 / 4)
    evidence = None
    if engine.cylinders > 1:
        evidence = Evidence(
            line=LINE,
            source=f"capture:{capture.name}",
            alternatives=tuple(np.roll(shares, -turn) for turn in best.order_offsets),
            sigmas=np.full(shares.size, float(np.max(sigmas))) if len(best.order_offsets) > 1 else sigmas,
        )
    return Measured(
        test=TEST,
        resource=capture.name,
        reasons=_once(reasons),
        findings=tuple(findings + agreement),
        lines=(evidence,) if evidence is not None else (),
        averaged_cycle=_averaged_cycle(best),
        facts=_facts(best),
        cycle_starts_s=(*map(float, best.cycles.starts_s), float(best.cycles.ends_s[-1])),
    )


def _findings(
    engine: Engine, shares: FloatArray, spreads: FloatArray, states: list[State], best: Reading, origin: Origin
) -> list[Finding]:
    count = best.cycles.count
    order = engine.firing_order

    def finding(cylinder: int | None, place: int, state: State, statement: Message) -> Finding:
        return Finding(
            test=TEST,
            cylinder=cylinder,
            quantity=TEST,
            value=round(float(shares[place]), 4),
            unit="1",
            spread=round(float(spreads[place]), 4),
            events=count,
            state=state,
            statement=statement,
            origin=origin,
        )

    if engine.cylinders == 1:
        return [finding(order[0], 0, State.NORMAL, ONE_CYLINDER_HAS())]
    if len(best.order_offsets) == 1:
        return [
            finding(c, i, states[i], _sentence(CYLINDER(cylinder=c), float(shares[i]), states[i], count))
            for i, c in enumerate(order)
        ]
    if all(s is State.NORMAL for s in states) and len(best.order_offsets) < engine.cylinders:
        return [
            finding(c, i, State.NORMAL, _sentence(CYLINDER(cylinder=c), float(shares[i]), State.NORMAL, count))
            for i, c in enumerate(order)
        ]
    if len(best.order_offsets) < engine.cylinders:
        return _paired_findings(engine, shares, states, best, finding)
    at = int(np.argmin(shares))
    low = sum(s in (State.LOW, State.ABSENT) for s in states)
    if low == 0:
        text = ALL_COMPRESSIONS_EVEN(cylinders=engine.cylinders, shares=100 * shares[at])
    else:
        text = COMPRESSIONS_LOW_LOWEST(
            low=low, cylinders=engine.cylinders, how=IS if low == 1 else ARE, shares=100 * shares[at]
        )
    return [finding(None, at, states[at], text)]


def _paired_findings(
    engine: Engine,
    shares: FloatArray,
    states: list[State],
    best: Reading,
    finding: Callable[[int | None, int, State, Message], Finding],
) -> list[Finding]:
    """Findings where a cylinder and its companion stay undecided."""
    order = engine.firing_order
    found = []
    for i, cylinder in enumerate(order):
        places = [(i + turn) % engine.cylinders for turn in best.order_offsets]
        worst = min(places, key=lambda p: shares[p])
        own = {states[p] for p in places}
        if own == {State.NORMAL}:
            found.append(
                finding(
                    cylinder,
                    i,
                    State.NORMAL,
                    _sentence(CYLINDER(cylinder=cylinder), float(shares[i]), State.NORMAL, best.cycles.count),
                )
            )
            continue
        rivals = tuple(sorted(order[p] for p in places))
        if len(own) == 1:
            state = states[worst]
            text = _sentence(CYLINDER(cylinder=cylinder), float(shares[worst]), state, best.cycles.count)
        else:
            state = State.ABNORMAL
            text = CYLINDER_REACHES_PEERS(rivals=rivals, shares=100 * shares[worst])
        found.append(finding(cylinder, worst, state, text))
    return found


def _sentence(who: Message, share: float, state: State, count: int) -> Message:
    over = OVER_CYCLES(count=count)
    percent = SHARE(percent=100 * share)
    if state is State.ABSENT:
        return SHOWS_HARDLY_ANY(who=who, percent=percent, over=over)
    if state is State.LOW:
        return COMPRESSES_PEERS(who=who, percent=percent, over=over)
    if state is State.HIGH:
        return STANDS_ABOVE_PEERS(who=who, percent=percent, over=over)
    if share < limit.COMPRESSION_SUSPICIOUS_SHARE.value:
        return REACHES_PEERS_SUSPICIOUS(who=who, percent=percent, over=over)
    return EVEN_PEERS(who=who, percent=percent, over=over)


def _sources_compared(
    engine: Engine, readings: list[Reading], best: Reading, shares: FloatArray, origin: Origin
) -> list[Finding]:
    """One finding that current and voltage of the same crank disagree, where they do."""
    found = []
    for other in readings:
        if other is best or other.per_cycle.shape[1] != shares.size or other.order_offsets != best.order_offsets:
            continue
        theirs, _ = shares_of_peers(other.per_cycle)
        apart = np.abs(theirs - shares)
        if len(best.order_offsets) > 1:
            apart = np.abs(np.sort(theirs) - np.sort(shares))
        worst = int(np.argmax(apart))
        if apart[worst] > limit.SOURCES_AGREE_SHARE.value:
            who = (
                ON_CYLINDER(cylinder=engine.firing_order[worst]) if len(best.order_offsets) == 1 else ON_ONE_CYLINDER()
            )
            found.append(
                Finding(
                    test=TEST,
                    cylinder=engine.firing_order[worst] if len(best.order_offsets) == 1 else None,
                    quantity="source_disagreement",
                    is_remark=True,
                    value=round(float(apart[worst]), 4),
                    unit="1",
                    spread=None,
                    events=min(best.cycles.count, other.cycles.count),
                    state=State.ABNORMAL,
                    statement=(
                        STARTER_CURRENT_BATTERY(
                            apart=100 * apart[worst], who=who, SOURCE_WORDS=SOURCE_WORDS[best.channel.role]
                        )
                    ),
                    origin=origin,
                )
            )
    return found


def _unusable(capture: Capture, engine: Engine, reasons: list[Reason], best: Reading | None = None) -> Measured:
    reported = _once(reasons)
    if not any(r.blocking for r in reported):
        reported = (*reported, Reason("no_reading", CHANNEL_CAPTURE_COULD(), blocking=True))
    refused = _refused(capture.name, capture.sha256, engine, reported)
    strip = _averaged_cycle(best) if best is not None and len(best.order_offsets) == 1 else None
    return replace(refused, averaged_cycle=strip, facts=_facts(best) if best is not None else {})


def _refused(name: str, sha256: str | None, engine: Engine, reasons: tuple[Reason, ...]) -> Measured:
    origin = Origin(resource=name, capture_sha256=sha256, code_version=__version__)
    return refused(TEST, "1", engine.firing_order, reasons, origin)


def _averaged_cycle(best: Reading) -> AveragedCycle:
    """The averaged cycle with each cylinder's crest in the middle of its column."""
    lead = CYCLE_DEG / best.per_cycle.shape[1] / 2
    turn = round((lead - best.fit.lag_deg) / DEG_PER_POINT)
    folded = np.roll(best.folded, turn, axis=1)
    low, middle, high = np.percentile(folded, (25, 50, 75), axis=0)
    return AveragedCycle(
        angle_deg=np.arange(GRID, dtype=np.float64) * DEG_PER_POINT,
        middle=middle,
        low=low,
        high=high,
        unit=best.channel.si_unit,
    )


def _facts(best: Reading) -> dict[str, float | str | Message]:
    words = {
        Anchor.COMPRESSION: SYNCED,
        Anchor.REVOLUTION: ONCE_PER_REVOLUTION,
        Anchor.CYCLE: NOT_ASSIGNED,
        Anchor.NONE: NOT_ASSIGNED,
    }
    assignment = SYNCED if len(best.order_offsets) == 1 else words[best.cycles.anchor]
    return {
        "cycles": best.cycles.count,
        "speed_rpm": round(float(np.median(best.cycles.speed_rpm)), 1),
        "source": SOURCE_WORDS[best.channel.role],
        "assignment": assignment,
    }


def _once(reasons: list[Reason]) -> tuple[Reason, ...]:
    """Each statement once, blocking ones first."""
    unique: dict[str | Message, Reason] = {}
    for reason in sorted(reasons, key=lambda r: not r.blocking):
        unique.setdefault(reason.code if not reason.blocking else reason.statement, reason)
    return tuple(unique.values())
