"""Pressure in the cylinder, cranking or running: how high, how tight, and when the valves move."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

import numpy as np
from numpy.typing import NDArray

from fairwitness import __version__
from fairwitness.core import thresholds as limit
from fairwitness.core.messages.catalogue import phrase
from fairwitness.core.messages.message import Message
from fairwitness.core.messages.words import outcome_word
from fairwitness.core.model.capture import Capture, CaptureTest, Channel, EngineState, Role
from fairwitness.core.model.engine import VALVE_EVENTS, Engine, Fuel
from fairwitness.core.model.measurement import (
    CategoricalEvidence,
    Evidence,
    Finding,
    Measured,
    Origin,
    State,
    refused,
)
from fairwitness.core.model.reason import Reason
from fairwitness.core.procedures.cylinder_pressure.averaged import averaged_cycle
from fairwitness.core.procedures.cylinder_pressure.valves import (
    BAR,
    CylinderRead,
    ValveTiming,
    is_borderline,
    timing_of,
    valves_of,
)
from fairwitness.core.procedures.cylinder_pressure.words import (
    ABOVE_ATMOSPHERE,
    AFTER_DEGREES,
    CAMS,
    COMPRESSES_AGAIN_WHEN,
    COMPRESSION_STANDS_OUT,
    CRANK_SENSOR_RECORDED,
    CRANKING,
    CYLINDER_DEGREES_TOP,
    CYLINDER_INTAKE_CLOSES,
    CYLINDER_REACHES,
    CYLINDER_SHOWS_COMPRESSION,
    EXHAUST_OPENS,
    INTAKE_CLOSES,
    INTAKE_OPENS,
    ONE_CAM,
    PEERS,
    PRESSURE_WRITTEN_ABOVE,
    RISES_FALLS_EVENLY,
    RUNNING_PLUG_OUT,
    TOWER_LEANS_FALLS,
    TRANSDUCER,
    TRANSDUCER_NAMES_CYLINDER,
    VALVES_MOVE,
)
from fairwitness.core.procedures.pressure_units import (
    beyond_engines,
    held_by_a_valve,
    no_leak_but_low,
    not_a_pressure,
    too_little_to_see,
)
from fairwitness.core.signal.peers import healthy_level, usual_of
from fairwitness.core.signal.pressure.events import cycle_events
from fairwitness.core.signal.pressure.reference import known_ratio
from fairwitness.core.signal.pressure.trace import (
    ATMOSPHERE_PA,
    AngleFrom,
    read_pressure,
    wheel_of,
)
from fairwitness.core.signal.resampling import evenly_sampled

BEFORE, AFTER = phrase("cylinder_pressure.before", "before"), phrase("cylinder_pressure.after", "after")


FloatArray = NDArray[np.float64]

TEST = CaptureTest.CYLINDER_PRESSURE.value
LINE = "CP"
NEAR = 0.12
LEVELS = {Fuel.DIESEL: limit.PRESSURE_LOW_DIESEL_BAR}
NAMES = {"intake_closes": INTAKE_CLOSES(), "exhaust_opens": EXHAUST_OPENS(), "intake_opens": INTAKE_OPENS()}
MOVED = ("late", "early", "very_late", "very_early")


def applies(capture: Capture) -> bool:
    """Whether a capture holds pressure of named cylinders."""
    return capture.taken_for(CaptureTest.CYLINDER_PRESSURE, Role.CYLINDER_PRESSURE)


def measure(capture: Capture, engine: Engine) -> Measured:
    """Read the cylinders recorded and compare them with each other and with what engines do.

    Parameters
    ----------
    capture : Capture
        One transducer per cylinder; the crank sensor beside them gives degrees that a starter does not bend.
    engine : Engine
        ``extra["compression_ratio"]`` is used where given.

    Returns
    -------
    Measured
        A cylinder without any tower is absent, not unusable, where the transducer shows that it lives.
    """
    origin = Origin(resource=capture.name, capture_sha256=capture.sha256, code_version=__version__)
    capture = evenly_sampled(capture)
    channels = {c.cylinder: c for c in capture.with_role(Role.CYLINDER_PRESSURE) if c.cylinder in engine.firing_order}
    if not channels:
        reason = Reason("no_cylinder", TRANSDUCER_NAMES_CYLINDER(), blocking=True)
        return refused(TEST, "bar", engine.firing_order, (reason,), origin)
    doubtful = next((why for c in channels.values() if (why := _doubtful(c, capture)) is not None), None)
    if doubtful is not None:
        return refused(TEST, "bar", tuple(sorted(c for c in channels if c is not None)), (doubtful,), origin)
    crank = wheel_of(capture, engine)
    known = known_ratio(engine)
    read: dict[int, CylinderRead | None] = {}
    for cylinder, channel in channels.items():
        cycles = read_pressure(channel, capture, crank)
        assert cylinder is not None
        events = cycle_events(cycles, engine.fuel, ratio=known) if cycles is not None else None
        read[cylinder] = (
            CylinderRead(cycles=cycles, events=events) if cycles is not None and events is not None else None
        )
    found = {c: r for c, r in read.items() if r is not None}
    dead = [c for c, r in read.items() if r is None]
    if not found and not _alive(capture):
        reason = Reason("silent", COMPRESSION_STANDS_OUT(), blocking=True)
        return refused(TEST, "bar", tuple(sorted(channels)), (reason,), origin)
    running = capture.set_up.engine_state is EngineState.RUNNING or any(
        r.cycles.speed_rpm > limit.ENGINE_STARTED_RPM.value for r in found.values()
    )
    unit = next(iter(channels.values())).unit
    low = _low_without_a_leak(found, unit) if not (running or dead) else None
    if low is not None:
        return refused(TEST, "bar", tuple(sorted(found)), (low,), origin)
    findings, categorical = _reported(found, dead, engine, origin, running=running)
    return Measured(
        test=TEST,
        resource=capture.name,
        reasons=tuple(_reasons(found, engine, running=running)),
        findings=findings,
        lines=_lines(found, dead, engine, f"capture:{capture.name}"),
        categorical=categorical,
        facts={
            "assignment": TRANSDUCER(),
            "cylinders": len(channels),
            "running": float(running),
            "source": ABOVE_ATMOSPHERE(how=RUNNING_PLUG_OUT if running else CRANKING),
            **_turning(found),
        },
        figures={c: _figures(r) for c, r in found.items()},
        averaged_cycle=averaged_cycle({c: (r.cycles.middle, r.events.tower.tdc_deg) for c, r in found.items()}, engine),
    )


def _doubtful(channel: Channel, capture: Capture) -> Reason | None:
    """Why a transducer cannot be believed: in another unit, or behind a hose that holds the pressure."""
    if (unknown := not_a_pressure(channel.unit)) is not None:
        return unknown
    pressure = np.asarray(channel.samples, dtype=np.float64) * channel.si_factor
    if capture.set_up.engine_state is EngineState.RUNNING:
        return held_by_a_valve(pressure)
    known = pressure[np.isfinite(pressure)]
    reach = float(np.percentile(known, 99.8) - np.median(known)) if known.size else 0.0
    return beyond_engines(reach, channel.unit) or too_little_to_see(reach, channel.unit) or held_by_a_valve(pressure)


def _low_without_a_leak(found: Mapping[int, CylinderRead], unit: str) -> Reason | None:
    """Why towers that are far too low, and even all the same, are asked for their unit instead of judged."""
    if any(_leans(r) for r in found.values()):
        return None
    deepest = [r.events.deepest_pa - ATMOSPHERE_PA for r in found.values()]
    return no_leak_but_low([BAR * r.peak_bar for r in found.values()], deepest, unit)


def _leans(read: CylinderRead) -> bool:
    return read.events.tower.leak > limit.TOWER_LOSS_MAX.value or read.events.asymmetry < limit.TOWER_LEAN_MIN.value


def _alive(capture: Capture) -> bool:
    """Whether a transducer moves at all."""
    return any(
        float(np.nanstd(c.samples)) * c.si_factor > limit.TRANSDUCER_ALIVE_PA.value
        for c in capture.with_role(Role.CYLINDER_PRESSURE)
    )


def _turning(found: Mapping[int, CylinderRead]) -> dict[str, float | str | Message]:
    if not found:
        return {}
    one = max(found.values(), key=lambda r: r.cycles.count)
    return {"cycles": one.cycles.count, "speed_rpm": round(one.cycles.speed_rpm, 1)}


def _reasons(found: Mapping[int, CylinderRead], engine: Engine, *, running: bool) -> list[Reason]:
    reasons = []
    if any(not r.cycles.absolute for r in found.values()):
        text = PRESSURE_WRITTEN_ABOVE()
        reasons.append(Reason("gauge_pressure", text))
    if not running and any(r.cycles.angle_from is AngleFrom.TOWERS for r in found.values()) and engine.cylinders <= 5:
        text = CRANK_SENSOR_RECORDED()
        reasons.append(Reason("degrees_rough", text))
    return reasons


def _figures(read: CylinderRead) -> dict[str, float]:
    events = read.events
    figures = {
        "peak_bar": round(read.peak_bar, 3),
        "lag_deg": round(events.tower.tdc_deg, 2),
        "lag_sigma_deg": round(events.tower.tdc_sigma_deg, 2),
        "lean": round(events.asymmetry, 3),
        "lost": round(events.tower.leak, 3),
        "compression_exponent": round(events.tower.exponent, 3),
        "expansion_exponent": round(events.expansion_exponent, 3),
        "intake_bar": round((events.intake_pa - ATMOSPHERE_PA) / BAR, 3),
        "deepest_bar": round((events.deepest_pa - ATMOSPHERE_PA) / BAR, 3),
    }
    for name in NAMES:
        event = getattr(events, name)
        if event is not None:
            figures[f"{name}_deg"] = round(event.deg, 1)
    return figures


def _lines(found: Mapping[int, CylinderRead], dead: list[int], engine: Engine, source: str) -> tuple[Evidence, ...]:
    if len(found) + len(dead) < 2 or not found:
        return ()
    shares, sigmas = np.ones(engine.cylinders), np.full(engine.cylinders, limit.NOT_TRIED_SIGMA.value)
    usual = _usual([r.peak_bar for r in found.values()])
    if usual < limit.TOWER_MIN_PA.value / BAR:
        return ()
    for i, c in enumerate(engine.firing_order):
        if c in found or c in dead:
            shares[i] = float(np.clip(found[c].peak_bar / usual, 0.0, 2.0)) if c in found else 0.0
            sigmas[i] = limit.PRESSURE_SIGMA.value
    return (Evidence(line=LINE, source=source, alternatives=(shares,), sigmas=sigmas),)


FEW = 3


def _usual(peaks: Sequence[float]) -> float:
    """Peak of sound cylinders. Of three the strongest says it: two may leak alike, none compresses too much."""
    own = np.array(peaks)
    return healthy_level(own) if own.size == FEW else usual_of(own, within=NEAR)


def _reported(
    found: Mapping[int, CylinderRead], dead: list[int], engine: Engine, origin: Origin, *, running: bool
) -> tuple[tuple[Finding, ...], tuple[CategoricalEvidence, ...]]:
    source = f"capture:{origin.resource}"
    findings: list[Finding] = []
    categorical: list[CategoricalEvidence] = []
    peaks = {c: r.peak_bar for c, r in found.items()}
    for c in engine.firing_order:
        if c in dead:
            text = CYLINDER_SHOWS_COMPRESSION(c=c)
            findings.append(_finding(c, 0.0, 0, State.ABSENT, text, origin))
            categorical.append(CategoricalEvidence(kind="pressure_level", outcome="low", cylinders=(c,), source=source))
        if c not in found:
            continue
        read = found[c]
        others = [p for d, p in peaks.items() if d != c]
        usual = _usual([*peaks.values()] if len(peaks) == FEW else others) if others else None
        least = LEVELS.get(engine.fuel, limit.PRESSURE_LOW_BAR).value
        low = not running and read.peak_bar < least
        timing = valves_of(c, found, engine, running=running)
        valves = timing.outcome
        leans = _leans(read)
        below = usual is not None and read.peak_bar < limit.PRESSURE_LOW_SHARE.value * usual
        state = State.LOW if low or below else State.ABNORMAL if leans or valves != "usual" else State.NORMAL
        if read.peak_bar < limit.PRESSURE_ABSENT_SHARE.value * (usual or least):
            state = State.ABSENT
        findings.append(
            _finding(c, read.peak_bar, read.cycles.count, state, _sentence(c, read, usual, valves, leans=leans), origin)
        )
        findings += _remarks(c, read, timing, origin)
        if not running and len(found) + len(dead) == 1:
            categorical.append(
                CategoricalEvidence(
                    kind="pressure_level", outcome="low" if low else "normal", cylinders=(c,), source=source
                )
            )
        categorical += [
            CategoricalEvidence(
                kind="pressure_tower", outcome="leans" if leans else "even", cylinders=(c,), source=source
            ),
            *(
                ()
                if valves == "usual" and is_borderline(read, engine, running=running)
                else (CategoricalEvidence(kind="valve_events", outcome=valves, cylinders=(c,), source=source),)
            ),
        ]
    if not running and len(found) > 1:
        # Shares cannot tell an engine that is low everywhere; the best of its cylinders can.
        best = "low" if max(peaks.values()) < LEVELS.get(engine.fuel, limit.PRESSURE_LOW_BAR).value else "normal"
        everyone = tuple(sorted(engine.firing_order))
        categorical.append(CategoricalEvidence(kind="pressure_best", outcome=best, cylinders=everyone, source=source))
    return tuple(findings), tuple(categorical)


def _finding(cylinder: int, bar: float, events: int, state: State, text: Message, origin: Origin) -> Finding:
    return Finding(
        test=TEST, cylinder=cylinder, quantity=TEST, value=round(bar, 2), unit="bar", spread=None, events=events,
        state=state, statement=text, origin=origin,
    )  # fmt: skip


def valve_events_of(measured: Measured) -> dict[str, list[float]]:
    """Key of the engine data and the events a sound engine would be known by, from one measurement; or nothing.

    Parameters
    ----------
    measured : Measured
        Of this test.

    Returns
    -------
    dict of str to [float, float], degrees after top dead centre of compression
        Means over its cylinders.
    """
    names = ("intake_closes_deg", "exhaust_opens_deg")
    rows = [[f[name] for name in names] for f in measured.figures.values() if all(name in f for name in names)]
    if not rows or not measured.usable:
        return {}
    running = bool(measured.facts.get("running"))
    return {VALVE_EVENTS[running]: [round(float(v), 1) for v in np.mean(rows, axis=0)]}


def _sentence(cylinder: int, read: CylinderRead, usual: float | None, valves: str, *, leans: bool) -> Message:
    text = CYLINDER_REACHES(cylinder=cylinder, peak=1e5 * read.peak_bar)
    if usual is not None and usual > limit.PRESSURE_LOW_SHARE.value * read.peak_bar:  # the ill are nobody's peers
        text += PEERS(usual=1e5 * usual)
    if valves == "exhaust_shut":
        return COMPRESSES_AGAIN_WHEN(text=text)
    if valves in MOVED:
        return VALVES_MOVE(text=text, valves=outcome_word(valves))
    if leans:
        lost = 100 * read.events.tower.leak
        return TOWER_LEANS_FALLS(text=text, lost=lost)
    return RISES_FALLS_EVENLY(text=text)


def _remarks(cylinder: int, read: CylinderRead, timing: ValveTiming, origin: Origin) -> list[Finding]:
    """Valve events in degrees, each with what it is known to."""
    found = []
    for name, words in NAMES.items():
        event = getattr(read.events, name)
        if event is None:
            continue
        side = BEFORE if event.deg < 0 else AFTER
        rough = limit.DEGREES_ROUGH.value if read.cycles.angle_from is AngleFrom.TOWERS else 0.0
        sigma = max(1.0, float(np.hypot(event.sigma_deg, rough / 2)))
        text = CYLINDER_DEGREES_TOP(cylinder=cylinder, words=words, deg=abs(event.deg), side=side, sigma=sigma)
        found.append(
            Finding(
                test=TEST, cylinder=cylinder, quantity=name, value=round(event.deg, 1), unit="deg",
                spread=round(sigma, 1), events=read.cycles.count, state=State.NORMAL, statement=text, origin=origin,
                is_remark=True,
            )
        )  # fmt: skip
    if timing.outcome in MOVED:
        word = outcome_word(timing.outcome.removeprefix("very_"))
        closes, opens = timing_of(read) or (0.0, 0.0)
        text = CYLINDER_INTAKE_CLOSES(cylinder=cylinder, closes=-closes)
        text += AFTER_DEGREES(opens=opens, shift=abs(timing.shift_deg), valves=word, beside=timing.beside)
        if timing.one_cam:
            text += ONE_CAM(cam=CAMS[timing.one_cam], other=abs(timing.other_deg))
        found.append(
            Finding(
                test=TEST, cylinder=cylinder, quantity="valve_shift", value=round(timing.shift_deg, 1), unit="deg",
                spread=None, events=read.cycles.count, state=State.NORMAL, statement=text, origin=origin,
                is_remark=True,
            )
        )  # fmt: skip
    return found
