"""Exhaust port temperatures shortly after a cold start: a cylinder that does not burn leaves its port cold.

By infrared thermometer or thermocouple, one reading a cylinder, while the ports still differ: once the engine is warm
the head has evened them out. A share is the port's rise above the air over the usual rise of the ports that fire.
"""

from __future__ import annotations

from collections.abc import Mapping

import numpy as np

from fairwitness import __version__
from fairwitness.core import thresholds as limit
from fairwitness.core.messages.catalogue import scope, template
from fairwitness.core.messages.message import Message
from fairwitness.core.model.case import Observation
from fairwitness.core.model.engine import Engine
from fairwitness.core.model.measurement import Evidence, Finding, Measured, Origin, State, refused
from fairwitness.core.model.reason import Reason
from fairwitness.core.model.tools import Tool, Turning
from fairwitness.core.procedures import cautions, engines
from fairwitness.core.procedures.form import Choice, Data, Entry, Filled, Form, Row, Stage, options
from fairwitness.core.procedures.reading_by_hand import number_of
from fairwitness.core.procedures.spec import Offer, TestSpec, Trust, all_alike
from fairwitness.core.signal.peers import usual_of

TEST = "exhaust_temperature"
LINE = "XT"
_say = scope(TEST)
UNITS = options("exhaust_temperature.unit", C="°C", F="°F")
ZERO_C_IN_K = 273.15
COLD_SHARE = limit.Threshold(0.4, "1", "[M] of the usual rise; what is left comes from the neighbours and the head")
COOL_SHARE = limit.Threshold(0.75, "1", "[M] beyond what emissivity and the length of the ports spread")
HOT_SHARE = limit.Threshold(1.25, "1", "[M] as above, to the other side")
SIGMA = limit.Threshold(0.11, "1", "[M] emissivity, the spot that is aimed at, and the length of the port")
SECONDS = (20.0, 180.0)
"""[M] sooner nothing has warmed, later the head has evened the ports out."""
RISE_MIN_K = limit.Threshold(25.0, "K", "[M] less is an engine that did not run, or ran warm before")
COLDEST_C, HOTTEST_C = -35.0, 650.0
"""[M] what a port can have; instruments show -40, 850 or 999.9 for no reading at all."""
KELVIN_PER_F = 5.0 / 9.0

COLD = template(
    "exhaust_temperature.cold", "The port of cylinder {cylinder} stays cold, {value:temperature}: it does not burn."
)
COOL = template(
    "exhaust_temperature.cool",
    "The port of cylinder {cylinder} rises {off:.0f} % less than its peers, to {value:temperature}: it burns less.",
)
HOT = template(
    "exhaust_temperature.hot",
    "The port of cylinder {cylinder} rises {off:.0f} % more than its peers, to {value:temperature}: it burns late, or "
    "lean.",
)
LIKE_PEERS = template(
    "exhaust_temperature.like_peers", "The port of cylinder {cylinder} is as warm as its peers, {value:temperature}."
)
TOO_FEW = _say("too_few", "Fewer than two ports were measured; there is nothing to compare.")
IMPOSSIBLE = template(
    "exhaust_temperature.impossible", "{value:.0f} at cylinder {cylinder} is no temperature of a port: measure again."
)
WRONG_TIME = template(
    "exhaust_temperature.wrong_time",
    "{seconds:.0f} s after the start says little: let it cool, start again, and measure after {low:.0f} to {high:.0f} "
    "s.",
)
NOT_WARMED = template(
    "exhaust_temperature.not_warmed", "The ports rose by {rise:.0f} K only: did the engine run, and from cold?"
)
SOURCE, HAND = _say("source", "ports after a cold start"), _say("hand", "by hand")
NO_AIR = _say("no_air", "The temperature of the air is missing: what counts is how far a port rose above it.")


def _readings(filled: Filled) -> list[Data]:
    return [
        {
            "unit": filled.choices["unit"],
            "ports": filled.by_cylinder("port"),
            "air": filled.entries["air"],
            "seconds": filled.entries["seconds"],
        }
    ]


SPEC = TestSpec(
    id=TEST,
    title=_say("title", "Exhaust port temperatures"),
    owner=_say("owner", "how hot each cylinder's exhaust gets"),
    place=235,
    trust=Trust.METERED,
    unit="K",
    columns=(LINE,),
    plural=_say("plural", "The port temperatures"),
    offers=(
        Offer(
            id=TEST,
            title=_say("offer", "Exhaust port temperatures after a cold start"),
            tools=_say("tools", "infrared thermometer, or a thermocouple on the meter"),
            splits=_say("splits", "shows which cylinder does not burn, without a lead on anything"),
            needs=(Tool.METER,),
            set_up=3, work=5, 
            columns=(LINE,),
            sigmas=all_alike(SIGMA.value),
            misread=0.25,
            turning=Turning.RUNNING,
            
            cautions=(cautions.HOT_AND_ROTATING,),
            fits=engines.has_a_neighbour,
        ),
    ),
    form=Form(
        stage=Stage.RUNNING,
        title=_say("form", "Exhaust port temperatures after a cold start"),
        hint=_say(
            "hint",
            "Engine cold through, start it, and after about a minute aim at each port at the same distance from the "
            "head. The port beside a dead one is warmed by it; a dead one stays near the air.",
        ),
        kept=_say("kept", "Port temperatures"),
        choices=(
            Choice(key="unit", words=_say("choice.unit", "In"), options=UNITS),
        ),
        rows=(Row(key="port", words=_say("row", "at the port")),),
        entries=(
            Entry(key="air", words=_say("entry.air", "air temperature"), signed=True),
            Entry(key="seconds", words=_say("entry.seconds", "seconds since the start")),
        ),
        least=2,
        readings=_readings,
    ),
)  # fmt: skip


def measure(observation: Observation, index: int, engine: Engine) -> Measured:
    """Compare how far the ports rose above the air.

    Parameters
    ----------
    observation : Observation
        ``ports``: reading by cylinder, as {"1": 118, ...}; ``air``; ``unit`` of both, C (usual) or F; ``seconds``
        since the cold start.
    index : int
    engine : Engine

    Returns
    -------
    Measured
        Unusable with fewer than two ports, readings that cannot be, or taken at another time.
    """
    data = observation.data
    in_f = data.get("unit") == "F"
    table = data.get("ports")
    given = {c: v for c in engine.firing_order if (v := _reading(table, str(c))) is not None}
    impossible = next((c for c, v in given.items() if not COLDEST_C < _celsius(v, in_f) < HOTTEST_C), None)
    if impossible is not None:
        return _refused(index, engine, IMPOSSIBLE(value=given[impossible], cylinder=impossible))
    air, seconds = _reading(data, "air"), number_of(data, "seconds", low=0.0, high=1e6)
    if air is None or not COLDEST_C < _celsius(air, in_f) < HOTTEST_C:
        return _refused(index, engine, NO_AIR)
    if seconds is None or not SECONDS[0] <= seconds <= SECONDS[1]:
        return _refused(index, engine, WRONG_TIME(seconds=seconds or 0.0, low=SECONDS[0], high=SECONDS[1]))
    if len(given) < 2:
        return _refused(index, engine, TOO_FEW)
    return _judged({c: (v - air) * (KELVIN_PER_F if in_f else 1.0) for c, v in given.items()},
                   _celsius(air, in_f) + ZERO_C_IN_K, index, engine)  # fmt: skip


def _judged(rises: Mapping[int, float], air_k: float, index: int, engine: Engine) -> Measured:
    """Findings of ports whose rise above the air is known, K."""
    # The warmer half fires: a whole dead bank must not become the measure of the other.
    usual = usual_of(np.array(list(rises.values())), within=2 * SIGMA.value)
    if usual < RISE_MIN_K.value:
        return _refused(index, engine, NOT_WARMED(rise=max(usual, 0.0)))
    origin = Origin(observation=index, code_version=__version__)
    shares, sigmas = np.ones(engine.cylinders), np.full(engine.cylinders, limit.NOT_TRIED_SIGMA.value)
    findings = []
    for i, c in enumerate(engine.firing_order):
        if c not in rises:
            continue
        shares[i] = float(np.clip(rises[c] / usual, 0.0, 2.5))
        sigmas[i] = SIGMA.value
        state, statement = _state(float(shares[i])), _sentence(c, float(shares[i]), air_k + rises[c])
        findings.append(
            Finding(
                test=TEST, cylinder=c, quantity=TEST, value=round(rises[c], 1), unit="K", spread=None, events=1,
                state=state, statement=statement, origin=origin,
            )
        )  # fmt: skip
    line = Evidence(line=LINE, source=f"observation:{index}", alternatives=(shares,), sigmas=sigmas)
    facts: dict[str, float | str | Message] = {"source": SOURCE, "assignment": HAND}
    return Measured(test=TEST, observation=index, findings=tuple(findings), lines=(line,), facts=facts)


def _reading(table: object, key: str) -> float | None:
    return number_of(table, key, low=-1e4, high=1e5) if isinstance(table, Mapping) else None


def _celsius(value: float, in_f: bool) -> float:
    return (value - 32.0) * KELVIN_PER_F if in_f else value


def _refused(index: int, engine: Engine, why: Message) -> Measured:
    origin = Origin(observation=index, code_version=__version__)
    return refused(TEST, "K", engine.firing_order, (Reason("not_understood", why, blocking=True),), origin)


def _state(share: float) -> State:
    if share < COLD_SHARE.value:
        return State.ABSENT
    if share < COOL_SHARE.value:
        return State.LOW
    return State.HIGH if share > HOT_SHARE.value else State.NORMAL


def _sentence(cylinder: int, share: float, port_k: float) -> Message:
    state = _state(share)
    if state is State.ABSENT:
        return COLD(cylinder=cylinder, value=port_k)
    if state is State.LOW:
        return COOL(cylinder=cylinder, off=100 * (1 - share), value=port_k)
    if state is State.HIGH:
        return HOT(cylinder=cylinder, off=100 * (share - 1), value=port_k)
    return LIKE_PEERS(cylinder=cylinder, value=port_k)
