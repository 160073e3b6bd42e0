"""Relative compression from a scan tool's table of cranking speed per cylinder: faster is weaker."""

from __future__ import annotations

import math

import numpy as np
from numpy.typing import NDArray

from fairwitness import __version__
from fairwitness.core import thresholds as limit
from fairwitness.core.model.case import Observation
from fairwitness.core.model.engine import Engine
from fairwitness.core.model.measurement import Evidence, Finding, Measured, Origin, State, refused
from fairwitness.core.model.reason import Reason

FloatArray = NDArray[np.float64]

TEST = "cranking_speed"
LINE = "RC"
TABLE_SIGMA = 0.16
"""[M] how well a speed table predicts a share of compression; it is averaged and rounded by the control unit."""


def measure(observation: Observation, index: int, engine: Engine) -> Measured:
    """Compare the cylinders' cranking speeds.

    Parameters
    ----------
    observation : Observation
        ``cylinder_rpm`` maps cylinder numbers to rpm; ``seconds`` is how long was cranked.
    index : int
        Place of the observation in the case.
    engine : Engine

    Returns
    -------
    Measured
        Unusable where values are placeholders or cylinders are missing.
    """
    reasons: list[Reason] = []
    speeds = _speeds(observation.data.get("cylinder_rpm"), engine, reasons)
    seconds = observation.data.get("seconds")
    if isinstance(seconds, int | float) and seconds < limit.SPEED_TABLE_SECONDS_MIN.value:
        reasons.append(
            Reason(
                "table_unsettled", f"Cranked for {seconds:g} s only; the table settles after 8 to 10 s.", blocking=True
            )
        )
    origin = Origin(observation=index, code_version=__version__)
    if speeds is None or any(r.blocking for r in reasons):
        return refused(TEST, "rpm", engine.firing_order, tuple(reasons), origin)
    excess = speeds / _sound_speed(speeds) - 1.0
    findings = tuple(
        Finding(
            test=TEST,
            cylinder=c,
            quantity=TEST,
            value=float(speeds[i]),
            unit="rpm",
            spread=None,
            events=1,
            state=_state(float(excess[i])),
            statement=_sentence(c, float(speeds[i]), float(excess[i])),
            origin=origin,
        )
        for i, c in enumerate(engine.firing_order)
    )
    shares = np.clip(1.0 - excess / limit.SPEED_TABLE_DEAD_RPM_SHARE.value, 0.0, 1.2)
    evidence = Evidence(
        line=LINE,
        source=f"observation:{index}",
        alternatives=(shares,),
        sigmas=np.full(shares.size, TABLE_SIGMA),
    )
    return Measured(
        test=TEST,
        observation=index,
        reasons=tuple(reasons),
        findings=findings,
        lines=(evidence,) if engine.cylinders > 1 else (),
        facts={"source": "scan tool table", "assignment": "by the control unit"},
    )


def _speeds(table: object, engine: Engine, reasons: list[Reason]) -> FloatArray | None:
    """(cylinders,) float rpm in firing order, or None with the reason."""
    if not isinstance(table, dict):
        reasons.append(Reason("table_missing", "The observation holds no speeds per cylinder.", blocking=True))
        return None
    speeds = []
    for cylinder in engine.firing_order:
        value = table.get(str(cylinder), table.get(cylinder))
        if isinstance(value, bool) or not isinstance(value, int | float) or not math.isfinite(value):
            reasons.append(Reason("table_gap", f"Cylinder {cylinder} has no speed in the table.", blocking=True))
            return None
        if not limit.SPEED_TABLE_RPM_MIN.value <= value <= limit.SPEED_TABLE_RPM_MAX.value:
            reasons.append(
                Reason(
                    "placeholder",
                    f"{value:g} rpm for cylinder {cylinder} is a placeholder, not a cranking speed. "
                    "Keep the values shown while cranking.",
                    blocking=True,
                )
            )
            return None
        speeds.append(float(value))
    return np.array(speeds)


def _sound_speed(speeds: FloatArray) -> float:
    """Speed of the sound cylinders: the slower ones, the starter works hardest there."""
    ranked = np.sort(speeds)
    mark = ranked[1] if ranked.size >= 4 else ranked[0]
    peers = speeds[speeds <= mark * (1 + limit.SPEED_TABLE_WEAK_RPM_SHARE.value)]
    return float(np.median(peers))


def _state(excess: float) -> State:
    if excess >= limit.SPEED_TABLE_DEAD_RPM_SHARE.value:
        return State.ABSENT
    return State.LOW if excess >= limit.SPEED_TABLE_WEAK_RPM_SHARE.value else State.NORMAL


def _sentence(cylinder: int, rpm: float, excess: float) -> str:
    state = _state(excess)
    if state is State.NORMAL:
        return f"Cylinder {cylinder} holds the starter back like its peers: {rpm:.0f} rpm."
    return f"Cylinder {cylinder} lets the starter run {100 * excess:.0f} % faster: {rpm:.0f} rpm. Faster is weaker."
