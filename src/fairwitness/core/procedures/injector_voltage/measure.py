"""Injector voltage on the control side: what it rests at, whether it is pulled to earth, and the kick that follows."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import replace

import numpy as np
from numpy.typing import NDArray

from fairwitness import __version__
from fairwitness.core import thresholds as limit
from fairwitness.core.messages.catalogue import template
from fairwitness.core.messages.message import NOTHING, Message
from fairwitness.core.messages.words import BY_LEAD
from fairwitness.core.model.capture import Capture, CaptureTest, Channel, Role
from fairwitness.core.model.engine import Engine
from fairwitness.core.model.measurement import CategoricalEvidence, Evidence, Finding, Measured, Origin, State, refused
from fairwitness.core.model.reason import Reason
from fairwitness.core.procedures.short_capture import silence_tells
from fairwitness.core.procedures.sweep import LONE, judged_together
from fairwitness.core.signal.injector.voltage import Openings, bump_apart, find_openings
from fairwitness.core.signal.peers import usual_of
from fairwitness.core.signal.resampling import evenly_sampled
from fairwitness.core.signal.robust import robust_sigma

CONTROL_SIDE = template("injector_voltage.control_side", "at its control side")
CONTROL_UNIT_PIN = template("injector_voltage.control_unit_pin", "at the control unit's pin")
FEED_WINDING_WIRE = template(
    "injector_voltage.feed_winding_wire", "feed, winding, wire and driver all carry: electrically it works"
)
PULLED_EARTH_BUT = template(
    "injector_voltage.pulled_earth_but",
    "it is pulled to earth but gives no kick: no current was flowing, or the winding is shorted",
)
DRIVER_PULLS_BUT = template(
    "injector_voltage.driver_pulls_but",
    "the driver pulls, but only the control unit's own monitoring level is there: no feed arrives through the winding",
)
FEED_WINDING_WHOLE = template("injector_voltage.feed_winding_whole", "feed and winding are whole, and no command comes")
ONLY_CONTROL_UNIT = template(
    "injector_voltage.only_control_unit", "only the control unit's monitoring level: an open between feed and driver"
)
HELD_EARTH_WITHOUT = template(
    "injector_voltage.held_earth_without",
    "held at earth, or without any feed: if current flows it is always open and floods",
)
INJECTOR_CYLINDER = template("injector_voltage.injector_cylinder", "The injector of cylinder {cylinder} {PLACES}")
RESTS_V = template("injector_voltage.rests_v", "rests at {rest_v:.1f} V")
KICK = template("injector_voltage.kick", "kick, {place}")
KICK_UNPLUGGED = template("injector_voltage.kick_unplugged", "kick, {place}, unplugged")
KICK_CUT_OFF = template(
    "injector_voltage.kick_cut_off",
    "The kick is cut off by the range: whether it is there is told, how high it is not.",
)
PULLED_EARTH_KICK = template(
    "injector_voltage.pulled_earth_kick",
    "{who} {level} and is pulled to earth; the kick lies beyond the range, so the current is not proven.",
)
UNUSUAL_MIXTURE_LEVELS = template(
    "injector_voltage.unusual_mixture_levels", "an unusual mixture of levels: measure again with the earth checked"
)
KICK_V = template("injector_voltage.kick_v", ", kick {kick_v:.0f} V")
INJECTOR_CYLINDER_ENGINE = template(
    "injector_voltage.injector_cylinder_engine", "No injector of a cylinder of this engine was recorded."
)
LEADS_CARRY_NOTHING = template(
    "injector_voltage.leads_carry_nothing", "The leads carry nothing: check probe, attenuator and earth."
)
MS_PEERS_MS = template(
    "injector_voltage.ms_peers_ms", "{who} is on for {on_ms:.1f} ms, its peers for {on_ms_2:.1f} ms: flooding."
)
KICKS_V_PEERS = template(
    "injector_voltage.kicks_v_peers",
    "{who} kicks {kick_v:.0f} V, its peers {kick_v_2:.0f} V: less current was flowing.",
)
KICKS_LIKE_PEERS = template(
    "injector_voltage.kicks_like_peers",
    "{who} kicks like its peers, but the trace of a closing needle is missing: it may not move.",
)
TOO_SHORT = template(
    "injector_voltage.too_short",
    "{seconds:.2f} s show no command, and are shorter than two cycles at idle: record for longer.",
)
CUT_SHORT = template(
    "injector_voltage.cut_short", "Leads on which no command fell into the short capture were left out: record longer."
)
LEVELS_PROVE = template("injector_voltage.levels_prove", "{who} {level}{kick}: {proof}.")
NO_KICK = template("injector_voltage.kick_2", ", no kick")
ONLY_ONE_INJECTOR = template(
    "injector_voltage.only_one_injector", "Only one injector was captured: capture the others to compare it."
)
HELD_LOW = template("injector_voltage.held_low", "held low")


FloatArray = NDArray[np.float64]
Figures = Mapping[str, float]

TEST = CaptureTest.INJECTOR_VOLTAGE.value
LINE = "IV"
NEAR = 0.15
BESIDE_MIN = 3
PLACES = {False: CONTROL_SIDE(), True: CONTROL_UNIT_PIN()}
PROVES = {
    ("battery", "pulses", True): FEED_WINDING_WIRE(),
    ("battery", "pulses", False): PULLED_EARTH_BUT(),
    ("bias", "pulses", False): DRIVER_PULLS_BUT(),
    ("battery", "absent", False): FEED_WINDING_WHOLE(),
    ("bias", "absent", False): ONLY_CONTROL_UNIT(),
    ("zero", "stuck", False): HELD_EARTH_WITHOUT(),
}
"""What rest level, command and kick prove together."""


def applies(capture: Capture) -> bool:
    """Whether a capture was taken for this test: the control side of an injector, more than another test's sync."""
    return capture.taken_for(CaptureTest.INJECTOR_VOLTAGE, Role.INJECTOR_VOLTAGE)


def measure(capture: Capture, engine: Engine) -> Measured:
    """Read the control side of each injector recorded.

    Parameters
    ----------
    capture : Capture
        One lead per injector; ``measured_at`` and ``unplugged`` of a lead say where along the wire it sat.
    engine : Engine

    Returns
    -------
    Measured
        Unusable where no lead names a cylinder, or nothing moves and no level is known.
    """
    origin = Origin(resource=capture.name, capture_sha256=capture.sha256, code_version=__version__)
    capture = evenly_sampled(capture)
    leads = [c for c in capture.with_role(Role.INJECTOR_VOLTAGE) if c.cylinder in engine.firing_order]
    if not leads:
        reason = Reason("no_lead", INJECTOR_CYLINDER_ENGINE(), blocking=True)
        return refused(TEST, "V", engine.firing_order, (reason,), origin)
    read = _read(leads, capture.time.rate_hz)
    if all(not np.isfinite(f["rest_v"]) for _, f in read):
        reason = Reason("silent", LEADS_CARRY_NOTHING(), blocking=True)
        return refused(TEST, "V", engine.firing_order, (reason,), origin)
    read = [(c, f) for c, f in read if np.isfinite(f["rest_v"])]
    due = silence_tells(capture.time.duration_s, (f["openings"] for _, f in read))
    told = [(c, f) for c, f in read if due or f["openings"] or _command(f) == "stuck"]
    if not told:
        reason = Reason("too_short", TOO_SHORT(seconds=capture.time.duration_s), blocking=True)
        return refused(TEST, "V", engine.firing_order, (reason,), origin)
    left_out, read = len(read) - len(told), told
    figures: dict[int, Figures] = {}
    for lead, own in sorted(read, key=lambda one: -one[1]["at_unit"]):  # of two leads the one at the injector counts
        assert lead.cylinder is not None
        figures[lead.cylinder] = own
    source = f"capture:{capture.name}"
    findings, lines, reasons = _compared(figures, engine, origin=origin, source=source)
    others = tuple(
        replace(_finding(c.cylinder, f, _usual(figures), origin), is_remark=True, quantity=f"{TEST}_at_control_unit")
        for c, f in read
        if c.cylinder is not None and figures[c.cylinder] is not f
    )
    return Measured(
        test=TEST,
        resource=capture.name,
        reasons=(*reasons, *((Reason("cut_short", CUT_SHORT()),) if left_out else ())),
        findings=findings + others,
        lines=() if any(c.unplugged for c, _ in read) else lines,
        categorical=tuple(s for c, f in read for s in _categorical(c, f, _usual(figures), source)),
        facts={
            "assignment": BY_LEAD,
            "cylinders": len(figures),
            **_group(leads[0]),
            **_turning(figures),
        },
        figures=figures,
    )


def _turning(figures: Mapping[int, Figures]) -> dict[str, float | str | Message]:
    """Cycles and speed, from the injector that opened most often."""
    busiest = max(figures.values(), key=lambda f: f["openings"])
    if "cycle_s" not in busiest:
        return {}
    return {"cycles": int(busiest["openings"]), "speed_rpm": round(120.0 / busiest["cycle_s"], 1)}


def together(parts: Sequence[Measured], engine: Engine) -> tuple[Measured, ...]:
    """Judge captures of single injectors, taken one after the other, beside each other."""
    return judged_together(parts, engine, _compared)


def _volts(channel: Channel) -> NDArray[np.float32] | NDArray[np.float64]:
    factor = channel.si_factor
    return channel.samples if factor == 1.0 else channel.samples * np.float32(factor)


def _read(leads: Sequence[Channel], rate_hz: float) -> list[tuple[Channel, Figures]]:
    """Figures of every lead; where the needle falls shut is judged beside the other leads of the capture."""
    openings = [find_openings(_volts(c), rate_hz) for c in leads]
    figures = [_figures(o, c) for c, o in zip(leads, openings, strict=True)]
    kicking = [i for i, f in enumerate(figures) if f["kick_v"] > limit.KICK_MIN_V.value and openings[i].decay_v.size]
    if len(kicking) >= BESIDE_MIN:
        decays = [openings[i].decay_v for i in kicking]
        for place, i in enumerate(kicking):
            apart, usual = bump_apart(decays, place)
            figures[i] |= {"bump_apart_v": round(apart, 3), "bump_usual_v": round(usual, 3)}
    if kicking:  # where others kick the range is wide enough: a missing kick is no cut-off one
        figures = [f | {"unseen": 0.0} for f in figures]
    return list(zip(leads, figures, strict=True))


def _figures(openings: Openings, lead: Channel) -> dict[str, float]:
    found = {
        "openings": float(openings.count),
        "rest_v": round(openings.rest_v, 3),
        "at_unit": float(lead.measured_at == "control_unit"),
        "kick_v": 0.0,
        "unseen": 0.0,
    }
    if not openings.count:
        return found
    middle = float(np.median(openings.kick_v))
    return found | {
        "unseen": float(openings.capped),
        "low_v": round(openings.low_v, 3),
        **({"cycle_s": round(float(np.median(np.diff(openings.off_s))), 5)} if openings.count > 1 else {}),
        "on_ms": round(float(np.median(openings.on_ms)), 4),
        "kick_v": round(max(0.0, middle), 3),
        "kick_spread_v": round(robust_sigma(openings.kick_v), 3),
    }


def _usual(figures: Mapping[int, Figures]) -> Figures:
    """Kick and on-time of the injectors that kick."""
    kicking = [f for f in figures.values() if f["kick_v"] > limit.KICK_MIN_V.value]
    if not kicking:
        return {}
    return {
        "kick_v": usual_of(np.array([f["kick_v"] for f in kicking]), within=NEAR),
        "on_ms": float(np.median([f["on_ms"] for f in kicking])),
    }


def _shares(figures: Mapping[int, Figures], usual: Figures, engine: Engine) -> tuple[FloatArray, FloatArray]:
    shares, sigmas = np.ones(engine.cylinders), np.full(engine.cylinders, limit.NOT_TRIED_SIGMA.value)
    for i, c in enumerate(engine.firing_order):
        if c in figures and usual:
            shares[i] = float(np.clip(figures[c]["kick_v"] / usual["kick_v"], 0.0, 2.0))
            if figures[c]["unseen"]:
                continue
            sigmas[i] = limit.KICK_SIGMA.value
    return shares, sigmas


def _compared(
    figures: Mapping[int, Figures],
    engine: Engine,
    *,
    origin: Origin,
    source: str,
    only: Mapping[int, Figures] | None = None,
) -> tuple[tuple[Finding, ...], tuple[Evidence, ...], tuple[Reason, ...]]:
    """Findings of some cylinders beside all that were read, and the kicks as a line of evidence."""
    own = figures if only is None else only
    usual = _usual(figures)
    findings = tuple(_finding(c, own[c], usual, origin) for c in engine.firing_order if c in own)
    reasons = []
    if len(figures) == 1 and engine.cylinders > 1:
        reasons.append(Reason(LONE, ONLY_ONE_INJECTOR()))
    if _clipped(figures):
        text = KICK_CUT_OFF()
        reasons.append(Reason("clipped", text))
    shares, sigmas = _shares(own, usual, engine)
    line = Evidence(line=LINE, source=source, alternatives=(shares,), sigmas=sigmas)
    return findings, (line,) if len(figures) > 1 and usual else (), tuple(reasons)


def _finding(cylinder: int, own: Figures, usual: Figures, origin: Origin) -> Finding:
    held = _command(own) == "stuck"
    return Finding(
        test=TEST, cylinder=cylinder, quantity=TEST, value=None if held else own["kick_v"], unit="V",
        spread=own.get("kick_spread_v"), events=int(own["openings"]), state=_state(own, usual),
        statement=_sentence(cylinder, own, usual), word=HELD_LOW() if held else NOTHING, origin=origin,
    )  # fmt: skip


def _categorical(lead: Channel, own: Figures, usual: Figures, source: str) -> list[CategoricalEvidence]:
    assert lead.cylinder is not None
    at = (lead.cylinder,)
    where = f"{lead.measured_at or 'part'}{'_unplugged' if lead.unplugged else ''}"
    seen = [
        CategoricalEvidence(kind=f"voltage:injector_control:{where}", outcome=_rest(own), cylinders=at, source=source),
        CategoricalEvidence(kind=f"injector_command:{where}", outcome=_command(own), cylinders=at, source=source),
    ]
    if "on_ms" in own and usual:
        outcome = "long" if own["on_ms"] > limit.INJECTOR_LONG_SHARE.value * usual["on_ms"] else "usual"
        seen.append(CategoricalEvidence(kind="injector_on_time", outcome=outcome, cylinders=at, source=source))
    if "bump_apart_v" in own and usual:
        outcome = "missing" if _needle_stays(own, usual) else "alike"
        seen.append(CategoricalEvidence(kind="injector_bump", outcome=outcome, cylinders=at, source=source))
    return seen


def _needle_stays(own: Figures, usual: Figures) -> bool:
    """Whether the decay after switch-off lacks what the peers show where their needles fall shut."""
    alike = abs(own["kick_v"] / usual["kick_v"] - 1) < NEAR / 2
    least = max(limit.BUMP_APART_V.value, limit.BUMP_APART_TIMES.value * own.get("bump_usual_v", np.inf))
    return alike and own.get("bump_apart_v", 0.0) > least


def _rest(own: Figures) -> str:
    if own["rest_v"] >= limit.CONTROL_AT_BATTERY_V.value:
        return "battery"
    return "bias" if own["rest_v"] >= limit.CONTROL_BIAS_MIN_V.value else "zero"


def _command(own: Figures) -> str:
    if own["openings"]:
        return "pulses"
    return "stuck" if _rest(own) == "zero" else "absent"


def _state(own: Figures, usual: Figures) -> State:
    if _command(own) == "stuck":
        return State.ABNORMAL
    if _command(own) == "absent":
        return State.ABSENT
    if own["kick_v"] < limit.KICK_MIN_V.value:
        return State.NORMAL if own["unseen"] else State.ABSENT
    if not usual:
        return State.NORMAL
    if own["kick_v"] < limit.KICK_LOW_SHARE.value * usual["kick_v"]:
        return State.LOW
    long = own["on_ms"] > limit.INJECTOR_LONG_SHARE.value * usual["on_ms"]
    return State.ABNORMAL if long or _needle_stays(own, usual) else State.NORMAL


def _sentence(cylinder: int, own: Figures, usual: Figures) -> Message:
    rest, command = _rest(own), _command(own)
    kicks = own["kick_v"] >= limit.KICK_MIN_V.value
    who = INJECTOR_CYLINDER(cylinder=cylinder, PLACES=PLACES[bool(own["at_unit"])])
    level = RESTS_V(rest_v=own["rest_v"])
    if command == "pulses" and kicks and usual:
        if own["on_ms"] > limit.INJECTOR_LONG_SHARE.value * usual["on_ms"]:
            return MS_PEERS_MS(who=who, on_ms=own["on_ms"], on_ms_2=usual["on_ms"])
        if own["kick_v"] < limit.KICK_LOW_SHARE.value * usual["kick_v"]:
            return KICKS_V_PEERS(who=who, kick_v=own["kick_v"], kick_v_2=usual["kick_v"])
        if _needle_stays(own, usual):
            return KICKS_LIKE_PEERS(who=who)
    if own["unseen"] and not kicks:
        return PULLED_EARTH_KICK(who=who, level=level)
    proof = PROVES.get((rest, command, kicks), UNUSUAL_MIXTURE_LEVELS())
    kick = KICK_V(kick_v=own["kick_v"]) if kicks else NO_KICK() if command == "pulses" else NOTHING
    return LEVELS_PROVE(who=who, level=level, kick=kick, proof=proof)


def _clipped(figures: Mapping[int, Figures]) -> bool:
    """Whether kicks end at the same ceiling, far below what coils of wire give."""
    if any(f["unseen"] for f in figures.values()):
        return True
    tops = [f["kick_v"] + f["rest_v"] for f in figures.values() if f["kick_v"] > limit.KICK_MIN_V.value]
    return len(tops) > 1 and float(np.ptp(tops)) < 0.2 and max(tops) < limit.KICK_USUAL_V.value


def _group(lead: Channel) -> dict[str, str | Message]:
    """What is compared with each other: leads at the same end of their wires, plugged or not."""
    end = "control unit's pin" if lead.measured_at == "control_unit" else "control side"
    words = KICK_UNPLUGGED if lead.unplugged else KICK
    return {
        "group": f"kick, {end}{', unplugged' if lead.unplugged else ''}",
        "group_words": words(place=PLACES[lead.measured_at == "control_unit"]),
    }
