"""The sparks of the cylinders beside each other: shares, states and words.

Used for one capture of all leads and for a sweep of single ones alike.
"""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from fairwitness.core import thresholds as limit
from fairwitness.core.messages.message import Message
from fairwitness.core.model.capture import CaptureTest
from fairwitness.core.model.engine import Engine, Ignition
from fairwitness.core.model.measurement import Evidence, Finding, Origin, State
from fairwitness.core.model.reason import Reason
from fairwitness.core.procedures.secondary_voltage.readable import Figures, unreadable
from fairwitness.core.procedures.secondary_voltage.words import (
    ALL_CYLINDERS_NEED,
    BREAKDOWN_LIKE_PEERS,
    CYLINDER_BREAKS_DOWN,
    CYLINDER_BREAKS_DOWN_KV,
    CYLINDER_PEERS,
    CYLINDER_SAME_COIL,
    CYLINDER_SHOWS_SPARK,
    CYLINDER_SPARKS_LIKE,
    FULL_STOP,
    HARDLY_ANY_OSCILLATION,
    LINE_LIKE_PEERS,
    LINE_RISES_STEEPLY,
    ONLY_ONE_LEAD,
    PICK_UP_GAIN,
    SPARK_LINE_FOLLOWS,
    SPARK_LINE_STANDS,
    SPARK_LINES_ABOVE,
    SPARKS_DO_BURN,
    SPARKS_LAST_MS,
    SPARKS_MISSING,
    STRIKES_ANEW_TIMES,
)
from fairwitness.core.procedures.sweep import LONE
from fairwitness.core.signal.peers import usual_of

FloatArray = NDArray[np.float64]

TEST = CaptureTest.SECONDARY_VOLTAGE.value
MORE_THAN_ALL = 2.0
"""[M] how much more than the middle of all a cylinder must fail or strike anew for it to be its own trouble."""
NEAR_SIGMAS = 2.6
"""[M] cylinders this near to the median are the peers whose mean is the usual value."""


@dataclass(frozen=True, slots=True)
class View:
    """One number of a spark that is compared over the cylinders.

    Parameters
    ----------
    name : str
        Of the figure.
    line : str
        Column of the signature table.
    sigma : Threshold
        Differences of sound cylinders.
    relative : bool
        Compared as a share of the peers, else as a difference added to one.
    """

    name: str
    line: str
    sigma: limit.Threshold
    low: float
    high: float
    unit: str
    relative: bool = True
    least: float = 0.0
    most: float = 2.6
    """[M] beyond these a share tells nothing more."""


VIEWS = (
    View("firing_kv", "FV", limit.FIRING_SIGMA, limit.FIRING_LOW_SHARE.value, limit.FIRING_HIGH_SHARE.value, "kV"),
    View("line_kv", "SV", limit.LINE_SIGMA, limit.LINE_LOW_SHARE.value, limit.LINE_HIGH_SHARE.value, "kV"),
    View("duration_ms", "SD", limit.DURATION_SIGMA, limit.DURATION_LOW_SHARE.value, limit.DURATION_HIGH_SHARE.value,
         "ms", most=1.6),
    View("rise", "SL", limit.RISE_SIGMA, 0.0, 1.0 + limit.LINE_RISE_MORE.value, "1",
         relative=False, least=0.5, most=1.6),
    View("ringing", "RG", limit.RINGING_SIGMA, limit.RINGING_GONE_SHARE.value, np.inf, "1", most=1.5),
)  # fmt: skip
QUANTITIES = {
    "firing_kv": "firing_voltage",
    "line_kv": "spark_line_voltage",
    "duration_ms": "spark_duration",
    "rise": "spark_line_rise",
    "ringing": "coil_ringing",
}


def compare(
    figures: Mapping[int, Figures],
    engine: Engine,
    *,
    origin: Origin,
    source: str,
    only: Mapping[int, Figures] | None = None,
) -> tuple[tuple[Finding, ...], tuple[Evidence, ...], tuple[Reason, ...]]:
    """Judge each cylinder's figures beside the others'.

    Parameters
    ----------
    figures : mapping of cylinder to figures
        Everybody that was captured.
    engine : Engine
    origin : Origin
        Of the findings.
    source : str
        Of the evidence.
    only : mapping, optional
        Speak of these cylinders alone; the others are peers.

    Returns
    -------
    (findings, lines, reasons)
    """
    spoken = [c for c in engine.firing_order if c in (figures if only is None else only)]
    sparking = {c: f for c, f in figures.items() if f["sparks"] > 0}
    reasons = _level_reasons(sparking, len(figures))
    shares: dict[str, dict[int, float]] = {}
    sigmas: dict[str, dict[int, float]] = {}
    usual: dict[str, float] = {}
    peers = _likelier_half(sparking)
    unseen, why = unreadable(figures)
    reasons += why
    for view in VIEWS:
        usual[view.name], shares[view.name], sigmas[view.name] = _beside_peers(view, sparking, peers)
        if view.name in unseen:
            shares[view.name], sigmas[view.name] = {}, {}
    for name in ("odd", "restrikes"):
        usual[name] = float(np.median([f.get(name, 0.0) for f in sparking.values()])) if sparking else 0.0
    findings: list[Finding] = []
    beside = _Beside(shares, usual, frozenset(sparking), unseen)
    for c in spoken:
        findings += _findings(c, figures[c], beside, engine, origin)
    lines = tuple(
        Evidence(
            line=view.line,
            source=source,
            alternatives=(_in_order(view, shares[view.name], figures, spoken, engine),),
            sigmas=_sigmas_in_order(view, sigmas[view.name], figures, spoken, engine),
        )
        for view in VIEWS
        if len(figures) > 1 and view.name not in unseen
    )
    return tuple(findings), lines, tuple(reasons)


def _likelier_half(sparking: Mapping[int, Figures]) -> frozenset[int]:
    """Where half of the cylinders break down far from the other half: the half nearer to what plugs usually need.

    Shares alone cannot tell two worn plugs of four from two shorted ones. Empty where there are no such halves.
    """
    ranked = sorted(sparking, key=lambda c: sparking[c]["firing_kv"])
    if len(ranked) < 4 or len(ranked) % 2:
        return frozenset()
    low, high = ranked[: len(ranked) // 2], ranked[len(ranked) // 2 :]
    below, above = (np.array([sparking[c]["firing_kv"] for c in half]) for half in (low, high))
    if not below.min() > 0 or above.min() < limit.HALVES_APART.value * below.max():
        return frozenset()
    if max(np.ptp(below) / below.mean(), np.ptp(above) / above.mean()) > limit.HALF_SPREAD.value:
        return frozenset()
    typical = np.log(limit.FIRING_TYPICAL_KV.value)
    away = [abs(float(np.log(np.median(half))) - typical) for half in (below, above)]
    return frozenset(low if away[0] < away[1] else high)


def _beside_peers(
    view: View, sparking: Mapping[int, Figures], peers: frozenset[int]
) -> tuple[float, dict[int, float], dict[int, float]]:
    """Usual value, and each cylinder's share with its sigma."""
    values = {c: f[view.name] for c, f in sparking.items() if view.name in f}
    if not values:
        return float("nan"), {}, {}
    lit = [v for c, v in values.items() if c in peers and sparking[c]["line_kv"] > 0]
    lit = lit or [v for c, v in values.items() if sparking[c]["line_kv"] > 0] or list(values.values())
    usual = usual_of(np.array(lit), within=NEAR_SIGMAS * view.sigma.value if view.relative else np.inf)
    scale = usual if view.relative else 1.0
    if not scale > 0:
        return usual, {}, {}
    spread = float(np.median([sparking[c].get(f"{view.name}_spread", 0.0) for c in values]))
    shares = {c: v / scale if view.relative else 1.0 + v - usual for c, v in values.items()}
    sigmas = {
        c: math.hypot(
            view.sigma.value,
            1.2533 * spread / scale / math.sqrt(sparking[c]["sparks"]),
            ROUNDING * _grid(view, sparking[c], scale),
        )
        for c in values
    }
    return usual, shares, sigmas


TINY_KV = 1e-6
ONE_LEVEL = 1.05
"""A value of the peers rounded up and one rounded down are a level apart."""
ROUNDING = 0.41
"""Of the distance of a converter's levels: two values rounded to it differ by so much, one sigma (1/sqrt 12 each)."""


def _grid(view: View, own: Figures, scale: float) -> float:
    """Distance of a converter's levels as a share of the usual value."""
    return own.get("grid_kv", 0.0) / scale if view.unit == "kV" else 0.0


def _in_order(
    view: View, shares: Mapping[int, float], figures: Mapping[int, Figures], spoken: Sequence[int], engine: Engine
) -> FloatArray:
    def share(c: int) -> float:
        if c in spoken and figures[c]["sparks"] == 0:
            return 0.0
        return float(np.clip(shares.get(c, 1.0), view.least, view.most)) if c in spoken else 1.0

    return np.array([share(c) for c in engine.firing_order])


def _sigmas_in_order(
    view: View, sigmas: Mapping[int, float], figures: Mapping[int, Figures], spoken: Sequence[int], engine: Engine
) -> FloatArray:
    unknown = limit.NOT_TRIED_SIGMA.value

    def sigma(c: int) -> float:
        if c not in spoken:
            return unknown
        dark = figures[c]["sparks"] == 0
        if view.name in ("rise", "ringing") and (dark or figures[c].get("line_kv", 0.0) <= 0):
            return unknown  # without a spark line there is neither slope nor ringing to judge
        return view.sigma.value if dark else sigmas.get(c, unknown)

    return np.array([sigma(c) for c in engine.firing_order])


@dataclass(frozen=True, slots=True)
class _Beside:
    """Every view of every cylinder beside its peers.

    ``shares`` and ``usual`` go by the name of the view; ``sparking`` are the cylinders that spark at all, ``unseen``
    the views that this capture cannot show of anybody.
    """

    shares: Mapping[str, Mapping[int, float]]
    usual: Mapping[str, float]
    sparking: frozenset[int]
    unseen: frozenset[str] = frozenset()


def _findings(cylinder: int, own: Figures, beside: _Beside, engine: Engine, origin: Origin) -> list[Finding]:
    usual, sparking = beside.usual, beside.sparking

    def finding(name: str, state: State, text: Message, *, is_remark: bool) -> Finding:
        view = next(v for v in VIEWS if v.name == name)
        value = own.get(name)
        return Finding(
            test=TEST, cylinder=cylinder, quantity=QUANTITIES[name],
            value=None if value is None else round(value, 3), unit=view.unit,
            spread=round(own[f"{name}_spread"], 3) if f"{name}_spread" in own else None,
            events=int(own["sparks"]), state=state, statement=text, origin=origin, is_remark=is_remark,
        )  # fmt: skip

    if own["sparks"] == 0:
        text = CYLINDER_SHOWS_SPARK(cylinder=cylinder, firing_kv=usual["firing_kv"])
        partner = engine.companion(cylinder)
        if engine.ignition is Ignition.WASTE_SPARK and partner is not None and partner in sparking:
            text += CYLINDER_SAME_COIL(partner=partner)
        return [finding("firing_kv", State.ABSENT, text, is_remark=False)]
    states = {
        v.name: _state(v, beside.shares[v.name].get(cylinder), _grid(v, own, max(usual[v.name], TINY_KV)))
        for v in VIEWS
    }
    if own["line_kv"] <= 0 and "line_kv" not in beside.unseen:
        states["line_kv"] = states["duration_ms"] = State.ABSENT
        states["rise"] = states["ringing"] = State.NORMAL
    main = _overall(states, own, usual)
    found = [finding("firing_kv", main, _sentence(cylinder, own, beside, states, main), is_remark=False)]
    for view in VIEWS[1:]:
        if view.name in own and view.name not in beside.unseen:
            found.append(finding(view.name, states[view.name], _aside(view, cylinder, own, usual), is_remark=True))
    return found


def _state(view: View, share: float | None, grid: float) -> State:
    """How a share stands; one level of the converter up or down is none."""
    if share is None or abs(share - 1) <= ONE_LEVEL * grid:
        return State.NORMAL
    return State.LOW if share < view.low else State.HIGH if share > view.high else State.NORMAL


def _overall(states: Mapping[str, State], own: Figures, usual: Mapping[str, float]) -> State:
    if states["firing_kv"] is not State.NORMAL:
        return states["firing_kv"]
    if own["missed"] >= limit.SPARKS_MISSED_SHARE.value or _loses(own, usual):
        return State.ABNORMAL
    if _restrikes(own, usual):
        return State.ABNORMAL
    others = [s for name, s in states.items() if name != "firing_kv"]
    return State.ABNORMAL if any(s is not State.NORMAL for s in others) else State.NORMAL


def _restrikes(own: Figures, usual: Mapping[str, float]) -> bool:
    """Whether a cylinder's arc is blown out and struck anew, and not that of all: some engines strike several times."""
    anew = own.get("restrikes", 0.0)
    return anew >= limit.RESTRIKES_MANY.value and anew >= MORE_THAN_ALL * usual.get("restrikes", 0.0)


def _loses(own: Figures, usual: Mapping[str, float]) -> bool:
    """Whether sparks of a cylinder fail now and then, and not those of all: lines are rough at a lean idle."""
    odd = own.get("odd", 0.0)
    if odd < MORE_THAN_ALL * usual.get("odd", 0.0):
        return False
    enough = own["sparks"] >= limit.SPARKS_FOR_GAPS_MIN.value and odd * own["sparks"] >= 2
    return enough and odd >= limit.SPARKS_LOST_SHARE.value


def _sentence(cylinder: int, own: Figures, beside: _Beside, states: Mapping[str, State], main: State) -> Message:
    usual = beside.usual
    if len(beside.sparking) < 2:
        return CYLINDER_BREAKS_DOWN_KV(cylinder=cylinder, firing_kv=own["firing_kv"])
    if main is State.NORMAL and beside.unseen:
        if "firing_kv" in beside.unseen:
            return LINE_LIKE_PEERS(cylinder=cylinder, line_kv=own["line_kv"])
        return BREAKDOWN_LIKE_PEERS(cylinder=cylinder, firing_kv=own["firing_kv"])
    if main is State.NORMAL:
        return CYLINDER_SPARKS_LIKE(cylinder=cylinder, firing_kv=own["firing_kv"], duration_ms=own["duration_ms"])
    text = CYLINDER_BREAKS_DOWN(cylinder=cylinder, firing_kv=own["firing_kv"], firing_kv_2=usual["firing_kv"])
    if "line_kv" in beside.unseen:
        return text + FULL_STOP
    if own["line_kv"] <= 0:
        return SPARK_LINE_FOLLOWS(text=text)
    text += SPARK_LINE_STANDS(
        line_kv=own["line_kv"],
        line_kv_2=usual["line_kv"],
        duration_ms=own["duration_ms"],
        duration_ms_2=usual["duration_ms"],
    )
    if states["rise"] is State.HIGH:
        text += LINE_RISES_STEEPLY()
    if states["ringing"] is State.LOW:
        text += HARDLY_ANY_OSCILLATION()
    if _restrikes(own, usual):
        text += STRIKES_ANEW_TIMES(restrikes=own["restrikes"])
    if _loses(own, usual):
        text += SPARKS_DO_BURN(odd=100 * own["odd"])
    if own["missed"] >= limit.SPARKS_MISSED_SHARE.value:
        text += SPARKS_MISSING(missed=100 * own["missed"])
    return text


def _aside(view: View, cylinder: int, own: Figures, usual: Mapping[str, float]) -> Message:
    words = QUANTITIES[view.name].replace("_", " ")
    unit = "" if view.unit == "1" else f" {view.unit}"
    return CYLINDER_PEERS(cylinder=cylinder, words=words, own=own[view.name], unit=unit, usual=usual[view.name])


def _level_reasons(sparking: Mapping[int, Figures], captured: int) -> list[Reason]:
    reasons = []
    if captured < 2:
        reasons.append(Reason(LONE, ONLY_ONE_LEAD()))
    if not sparking:
        return reasons
    firing = float(np.median([f["firing_kv"] for f in sparking.values()]))
    if not limit.KV_PLAUSIBLE_MIN.value <= firing <= limit.KV_PLAUSIBLE_MAX.value:
        text = PICK_UP_GAIN()
        reasons.append(Reason("gain_unknown", text))
        return reasons
    if firing > limit.FIRING_HIGH_KV.value:
        text = ALL_CYLINDERS_NEED(firing=firing)
        reasons.append(Reason("firing_high_all", text))
    resisting = sorted(c for c, f in sparking.items() if f["line_kv"] > limit.LINE_HIGH_KV.value)
    if resisting:
        who = ", ".join(map(str, resisting))
        text = SPARK_LINES_ABOVE(line_high_kv=limit.LINE_HIGH_KV.value, who=who)
        reasons.append(Reason("line_high", text))
    lengths = [f["duration_ms"] for f in sparking.values() if f["line_kv"] > 0]
    if lengths and float(np.median(lengths)) < limit.DURATION_SHORT_MS.value:
        text = SPARKS_LAST_MS(median=np.median(lengths))
        reasons.append(Reason("duration_short_all", text))
    return reasons
