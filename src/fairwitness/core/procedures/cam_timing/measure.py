"""Cam against crank: where the cam sensor's edges stand on the crank, beside a known good of the same engine."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from fairwitness import __version__
from fairwitness.core import thresholds as limit
from fairwitness.core.messages.catalogue import template
from fairwitness.core.messages.message import Message
from fairwitness.core.model.angles import from_nearest, signed
from fairwitness.core.model.capture import Capture, Role
from fairwitness.core.model.engine import CAM_EDGES, REVOLUTION_DEG, Engine
from fairwitness.core.model.measurement import CategoricalEvidence, Finding, Measured, Origin, State, refused
from fairwitness.core.model.reason import Reason
from fairwitness.core.signal.conditioning import crossings
from fairwitness.core.signal.crank.tooth_times import a_few_of, tooth_times
from fairwitness.core.signal.crank.wheel import crank_angle

CAM_EDGES_STAND = template(
    "cam_timing.cam_edges_stand", "The cam's edges stand {words} beside a known good of this engine."
)
CAM_EDGES_STAND_DEGREES = template(
    "cam_timing.cam_edges_stand_degrees",
    "The cam's edges stand {reported} degrees after the gap; there is no known good of this engine beside them.",
)
DEGREES = template("cam_timing.degrees", "{off:.0f} degrees {outcome}")
WHERE_THEY_BELONG = template("cam_timing.where_they_belong", "where they belong, within {off:.1f} degrees")
CRANK_WHEEL_SHOWS = template("cam_timing.crank_wheel_shows", "The crank wheel shows no gap to measure the cam from.")
CAM_SENSOR_DOES = template("cam_timing.cam_sensor_does", "The cam sensor does not switch.")
TOO_FEW_EDGES = template("cam_timing.too_few_edges", "Too few edges of the cam were recorded.")


FloatArray = NDArray[np.float64]

TEST = "cam_timing"
EDGES = "edges_deg"
CLUSTER_DEG = 8.0
"""[M] edges closer than this are one edge of the cam wheel, seen in many cycles."""


def applies(capture: Capture) -> bool:
    """Whether a capture can be read for this test: crank and cam sensor together."""
    return bool(capture.with_role(Role.CRANK_SENSOR) and capture.with_role(Role.CAM_SENSOR))


def measure(capture: Capture, engine: Engine) -> Measured:
    """Place the cam's rising edges on the crank.

    Parameters
    ----------
    capture : Capture
    engine : Engine
        Its data may hold the edges of a known good under ``cam_edges_deg_after_gap``.

    Returns
    -------
    Measured
        Without a known good the edges are told and nothing is judged.

    References
    ----------
    Tooth by tooth comparison of crank and cam with a known good: common practice [T].
    """
    origin = Origin(resource=capture.name, capture_sha256=capture.sha256, code_version=__version__)
    edges = cam_edges_deg(capture, engine)
    if isinstance(edges, Reason):
        return refused(TEST, "deg", (), (edges,), origin)
    reported = ", ".join(f"{edge:.0f}" for edge in edges)
    facts: dict[str, float | str | Message] = {EDGES: " ".join(f"{edge:.2f}" for edge in edges)}
    known = _known(engine)
    if not known.size:
        text = CAM_EDGES_STAND_DEGREES(reported=reported)
        finding = _finding(None, State.NORMAL, text, origin)
        return Measured(test=TEST, resource=capture.name, findings=(finding,), facts=facts)
    off = offset_deg(edges, known)
    late = abs(off) > limit.CAM_OFF_DEG.value
    outcome = ("late" if off > 0 else "early") if late else "usual"
    words = DEGREES(off=abs(off), outcome=outcome) if late else WHERE_THEY_BELONG(off=abs(off))
    text = CAM_EDGES_STAND(words=words)
    everyone = tuple(sorted(engine.firing_order))
    return Measured(
        test=TEST,
        resource=capture.name,
        findings=(_finding(round(off, 2), State.ABNORMAL if late else State.NORMAL, text, origin),),
        categorical=(
            CategoricalEvidence(kind=TEST, outcome=outcome, cylinders=everyone, source=f"cam:{capture.name}"),
        ),
        facts=facts,
    )


def cam_edges_deg(capture: Capture, engine: Engine) -> FloatArray | Reason:
    """Crank degrees after the gap of every rising edge of the cam sensor.

    Parameters
    ----------
    capture : Capture
    engine : Engine

    Returns
    -------
    (edges,) float, 0 to 360, or Reason
        A reason where crank or cam cannot be read.
    """
    crank = capture.with_role(Role.CRANK_SENSOR)[0]
    teeth = tooth_times(crank.samples, capture.time)
    wheel = crank_angle(teeth.times_s, wheel=engine.crank_wheel) if teeth is not None else None
    if wheel is None or not wheel.gapped:
        return Reason("no_gap", CRANK_WHEEL_SHOWS(), blocking=True)
    cam = capture.with_role(Role.CAM_SENSOR)[0].samples
    low, high = (float(v) for v in np.nanpercentile(a_few_of(cam), (2, 98)))
    if high - low < limit.CAM_SWING_MIN_V.value:
        return Reason("no_cam", CAM_SENSOR_DOES(), blocking=True)
    middle, swing = 0.5 * (low + high), high - low
    rising, _ = crossings(cam, arm=middle - 0.2 * swing, fire=middle + 0.2 * swing)
    times = capture.time.start_s + rising / capture.time.rate_hz
    inside = (times >= wheel.times_s[0]) & (times <= wheel.times_s[-1])
    angles = np.interp(times[inside], wheel.times_s, wheel.angle_deg) % REVOLUTION_DEG
    if angles.size < limit.CAM_EDGES_MIN.value:
        return Reason("too_short", TOO_FEW_EDGES(), blocking=True)
    return _clusters(angles)


def edges_of(measured: Measured) -> list[float]:
    """The edges a measurement was made of, degrees after the gap: what a known good is known by; empty for none."""
    return [float(edge) for edge in str(measured.facts.get(EDGES, "")).split()]


def offset_deg(edges: FloatArray, known: FloatArray) -> float:
    """How far edges stand behind a known good, crank degrees; the turn that fits all of them best.

    Parameters
    ----------
    edges, known : (n,) and (m,) float, degrees

    Returns
    -------
    float
        Above zero: late.
    """
    candidates = signed(edges[:, None] - known[None, :], REVOLUTION_DEG).ravel()
    cost = [
        float(np.abs(from_nearest(edges - c, known, REVOLUTION_DEG)).sum()) + 1e-3 * abs(float(c)) for c in candidates
    ]
    best = float(candidates[int(np.argmin(cost))])
    return best + float(np.median(from_nearest(edges - best, known, REVOLUTION_DEG)))


def _clusters(angles: FloatArray) -> FloatArray:
    """Circular means of the groups the angles fall into; a group seen once is a stray."""
    ranked = np.sort(angles)
    breaks = np.flatnonzero(np.diff(ranked) > CLUSTER_DEG) + 1
    groups = np.split(ranked, breaks)
    if len(groups) > 1 and ranked[0] + REVOLUTION_DEG - ranked[-1] <= CLUSTER_DEG:
        groups = [np.concatenate([groups[-1] - REVOLUTION_DEG, groups[0]]), *groups[1:-1]]
    often = max(len(g) for g in groups)
    return np.sort([float(np.median(g)) % REVOLUTION_DEG for g in groups if len(g) >= max(2, 0.3 * often)])


def _known(engine: Engine) -> FloatArray:
    values = engine.extra.get(CAM_EDGES)
    usable = isinstance(values, list) and all(
        isinstance(v, int | float) and not isinstance(v, bool) and np.isfinite(v) for v in values
    )
    return np.array(values if usable else [], dtype=np.float64) % REVOLUTION_DEG


def _finding(value: float | None, state: State, text: Message, origin: Origin) -> Finding:
    return Finding(
        test=TEST, cylinder=None, quantity=TEST, value=value, unit="deg", spread=None, events=1, state=state,
        statement=text, origin=origin, is_remark=state is State.NORMAL,
    )  # fmt: skip
