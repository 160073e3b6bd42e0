"""Injector delivery: each injector pulsed alike by a tester, and how far the fuel pressure drops for it."""

from __future__ import annotations

from collections.abc import Mapping

import numpy as np

from fairwitness import __version__
from fairwitness.core import thresholds as limit
from fairwitness.core.model.case import Observation
from fairwitness.core.model.engine import Engine
from fairwitness.core.model.measurement import Evidence, Finding, Measured, Origin, State, refused
from fairwitness.core.model.reason import Reason
from fairwitness.core.procedures.by_hand import number_of
from fairwitness.core.signal.peers import usual_of

TEST = "delivery"
LINE = "DL"
NEAR = 0.1


def measure(observation: Observation, index: int, engine: Engine) -> Measured:
    """Compare what the injectors deliver.

    Parameters
    ----------
    observation : Observation
        ``drops_kpa``: pressure drop by cylinder, as {"1": 24.0, ...}, each from the same starting pressure.
    index : int
    engine : Engine

    Returns
    -------
    Measured
        Unusable with fewer than two cylinders, or where nothing drops at all.
    """
    origin = Origin(observation=index, code_version=__version__)
    rows = observation.data.get("drops_kpa")
    table = rows if isinstance(rows, Mapping) else {}
    drops = {c: v for c in engine.firing_order if (v := number_of(table, str(c), low=-5.0, high=5e4)) is not None}
    if len(drops) < min(2, engine.cylinders):
        text = "Fewer than two injectors were tried; there is nothing to compare."
        return refused(TEST, "kPa", engine.firing_order, (Reason("too_few", text, blocking=True),), origin)
    usual = usual_of(np.array(list(drops.values())), within=NEAR)
    if usual < limit.DELIVERY_DROP_MIN_KPA.value:
        text = f"The pressure drops by {usual:.1f} kPa only: was the rail filled, and the injector pulsed?"
        return refused(TEST, "kPa", engine.firing_order, (Reason("no_drop", text, blocking=True),), origin)
    shares, sigmas = np.ones(engine.cylinders), np.full(engine.cylinders, limit.NOT_TRIED_SIGMA.value)
    findings = []
    for i, c in enumerate(engine.firing_order):
        if c not in drops:
            continue
        shares[i] = float(np.clip(drops[c] / usual, 0.0, 2.5))
        sigmas[i] = limit.DELIVERY_SIGMA.value
        state = _state(float(shares[i]))
        findings.append(
            Finding(
                test=TEST, cylinder=c, quantity=TEST, value=round(drops[c], 1), unit="kPa", spread=None, events=1,
                state=state, statement=_sentence(c, drops[c], usual, state), origin=origin,
            )
        )  # fmt: skip
    line = Evidence(line=LINE, source=f"observation:{index}", alternatives=(shares,), sigmas=sigmas)
    return Measured(
        test=TEST,
        observation=index,
        findings=tuple(findings),
        lines=(line,),
        facts={"source": "pressure drops", "assignment": "by hand", "cylinders": len(drops)},
    )


def _state(share: float) -> State:
    if share < limit.DELIVERY_NONE_SHARE.value:
        return State.ABSENT
    if share < 1 - limit.DELIVERY_APART.value:
        return State.LOW
    return State.HIGH if share > 1 + limit.DELIVERY_APART.value else State.NORMAL


def _sentence(cylinder: int, drop: float, usual: float, state: State) -> str:
    who = f"The injector of cylinder {cylinder}"
    if state is State.ABSENT:
        return f"{who} delivers nothing although it is pulsed by the tester: stuck, or its winding is open or shorted."
    if state is State.LOW:
        return f"{who} delivers {100 * (1 - drop / usual):.0f} % less than its peers: restricted."
    if state is State.HIGH:
        return f"{who} delivers {100 * (drop / usual - 1):.0f} % more than its peers: it leaks or wears."
    return f"{who} delivers like its peers: {drop:.0f} kPa."
