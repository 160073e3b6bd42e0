"""Compression by a gauge, dry and with a spoon of oil: how much each cylinder holds, in any unit."""

from __future__ import annotations

from collections.abc import Mapping

import numpy as np

from fairwitness import __version__
from fairwitness.core import thresholds as limit
from fairwitness.core.model.case import Observation
from fairwitness.core.model.engine import Engine, Fuel
from fairwitness.core.model.measurement import CategoricalEvidence, Evidence, Finding, Measured, Origin, State, refused
from fairwitness.core.model.reason import Reason
from fairwitness.core.procedures.by_hand import number_of
from fairwitness.core.signal.peers import healthy_level

TEST = "compression_gauge"
LINE = "CP"
TO_BAR = {"bar": 1.0, "kPa": 0.01, "psi": 0.06894757293168361, "Pa": 1e-5}  # [P: NIST SP 811] psi
LEVELS = {Fuel.DIESEL: limit.PRESSURE_LOW_DIESEL_BAR}


def measure(observation: Observation, index: int, engine: Engine) -> Measured:
    """Compare what the gauge showed.

    Parameters
    ----------
    observation : Observation
        ``unit`` (bar, kPa, psi), ``dry`` and ``wet`` by cylinder.
    index : int
    engine : Engine

    Returns
    -------
    Measured
        The absolute figure speaks too: an engine equally low everywhere is low.
    """
    origin = Origin(observation=index, code_version=__version__)
    unit = observation.data.get("unit", "kPa")
    if unit not in TO_BAR:
        text = f"A compression in {unit} is not known; write bar, kPa or psi."
        return refused(TEST, "bar", engine.firing_order, (Reason("unit_unknown", text, blocking=True),), origin)
    dry, wet = (_table(observation.data.get(key), engine, TO_BAR[unit]) for key in ("dry", "wet"))
    if not dry:
        text = "No reading names a cylinder of this engine."
        return refused(TEST, "bar", engine.firing_order, (Reason("no_readings", text, blocking=True),), origin)
    usual = healthy_level(np.array(list(dry.values())))
    if not usual > 0:
        text = "No cylinder shows any compression: was the gauge tight, the throttle open, the check valve sound?"
        return refused(TEST, "bar", engine.firing_order, (Reason("all_zero", text, blocking=True),), origin)
    least = least_bar(engine)
    source = f"observation:{index}"
    shares, sigmas = np.ones(engine.cylinders), np.full(engine.cylinders, limit.NOT_TRIED_SIGMA.value)
    findings, categorical = [], []
    for i, c in enumerate(engine.firing_order):
        if c not in dry:
            continue
        share = dry[c] / usual
        shares[i], sigmas[i] = float(np.clip(share, 0.0, 1.6)), limit.GAUGE_SIGMA.value
        state = _state(share)
        text = f"Cylinder {c} reads {dry[c]:.1f} bar dry, {100 * share:.0f} % of the highest group"
        if c in wet:
            rises = wet[c] > dry[c] + limit.WET_RISES_SHARE.value * max(usual - dry[c], 0.05 * usual)
            if state is not State.NORMAL or dry[c] < least:
                outcome = "rises" if rises else "stays"
                categorical.append(
                    CategoricalEvidence(kind="gauge_wet", outcome=outcome, cylinders=(c,), source=source)
                )
            text += f", {wet[c]:.1f} wet: " + (
                "oil seals it, rings" if rises else "oil does not help, valves or gasket"
            )
        if state is State.NORMAL and dry[c] < least:
            state = State.LOW
            text += "; low in itself, even where its peers are no better"
        findings.append(
            Finding(
                test=TEST, cylinder=c, quantity=TEST, value=round(dry[c], 2), unit="bar", spread=None, events=1,
                state=state, statement=text + ".", origin=origin,
            )
        )  # fmt: skip
    everyone = tuple(sorted(engine.firing_order))
    # Shares cannot tell an engine that is low everywhere; the best of its cylinders can.
    best = CategoricalEvidence(
        kind="pressure_best", outcome="low" if usual < least else "normal", cylinders=everyone, source=source
    )
    categorical.append(best)
    line = Evidence(line=LINE, source=source, alternatives=(shares,), sigmas=sigmas)
    return Measured(
        test=TEST,
        observation=index,
        findings=tuple(findings),
        lines=(line,) if len(dry) > 1 else (),
        categorical=tuple(categorical),
        facts={"source": "gauge", "assignment": "by hand", "cylinders": len(dry)},
    )


def least_bar(engine: Engine) -> float:
    """Pressure above the atmosphere that a sound cylinder reaches at least, bar."""
    return LEVELS.get(engine.fuel, limit.PRESSURE_LOW_BAR).value


def _table(rows: object, engine: Engine, factor: float) -> dict[int, float]:
    table = rows if isinstance(rows, Mapping) else {}
    read = {c: number_of(table, str(c), low=0.0, high=1e7) for c in engine.firing_order}
    return {c: factor * v for c, v in read.items() if v is not None}


def _state(share: float) -> State:
    if share < limit.PRESSURE_ABSENT_SHARE.value:
        return State.ABSENT
    return State.LOW if share < limit.GAUGE_LOW_SHARE.value else State.NORMAL
