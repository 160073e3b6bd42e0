"""Injector delivery: each injector pulsed alike by a tester, and how far the fuel pressure drops for it."""

from __future__ import annotations

from collections.abc import Mapping

import numpy as np

from fairwitness import __version__
from fairwitness.core import thresholds as limit
from fairwitness.core.messages.catalogue import scope, template
from fairwitness.core.messages.message import Message
from fairwitness.core.model.acts import Act
from fairwitness.core.model.case import Observation
from fairwitness.core.model.engine import Engine
from fairwitness.core.model.measurement import Evidence, Finding, Measured, Origin, State, refused
from fairwitness.core.model.reason import Reason
from fairwitness.core.model.tools import Tool, Turning
from fairwitness.core.procedures import engines
from fairwitness.core.procedures.form import Data, Filled, Form, Row, Stage
from fairwitness.core.procedures.reading_by_hand import number_of
from fairwitness.core.procedures.spec import Offer, TestSpec, Trust, all_alike
from fairwitness.core.signal.peers import usual_of

INJECTOR_CYLINDER = template("delivery.injector_cylinder", "The injector of cylinder {cylinder}")
DELIVERS_LIKE_PEERS = template("delivery.delivers_like_peers", "{who} delivers like its peers: {drop:fuel_pressure}.")
FEWER_THAN_TWO = template(
    "delivery.fewer_than_two", "Fewer than two injectors were tried; there is nothing to compare."
)
HARDLY_DROPS = template(
    "delivery.hardly_drops",
    "The pressure drops by {usual:fuel_pressure} only: was the rail filled, and the injector pulsed?",
)
DELIVERS_NOTHING_ALTHOUGH = template(
    "delivery.delivers_nothing_although",
    "{who} delivers nothing although it is pulsed by the tester: stuck, or its winding is open or shorted.",
)
DELIVERS_LESS_THAN = template(
    "delivery.delivers_less_than", "{who} delivers {drop:.0f} % less than its peers: restricted."
)
DELIVERS_MORE_THAN = template(
    "delivery.delivers_more_than", "{who} delivers {drop:.0f} % more than its peers: it leaks or wears."
)
PRESSURE_DROPS = template("delivery.pressure_drops", "pressure drops")
HAND = template("delivery.hand", "by hand")


TEST = "delivery"
_say = scope(TEST)
LINE = "DL"
NEAR = 0.1


def _readings(filled: Filled) -> list[Data]:
    return [{"drops_kpa": filled.by_cylinder("drop")}]


SPEC = TestSpec(
    id=TEST,
    title=_say("title", "Delivery"),
    owner=_say("owner", "how much fuel each injector delivers"),
    place=340,
    trust=Trust.METERED,
    unit="kPa",
    columns=("DL",),
    plural=_say("plural", "The deliveries"),
    offers=(
        Offer(
            id=TEST,
            title=_say("offer", "Injector delivery, by pressure drop"),
            tools=_say("tools", "pressure gauge, injector pulser"),
            splits=_say("splits", "shows a restricted, stuck or leaking injector that is sound electrically"),
            needs=(Tool.FUEL_GAUGE, Tool.PULSER),
            set_up=15,
            work=10,
            columns=("DL",),
            sigmas=all_alike(limit.DELIVERY_SIGMA.value),
            turning=Turning.KEY_ON,
            disturbs=True,
            acts=frozenset({Act.ADDS_FUEL, Act.OPENS_FUEL_LINE}),
            fits=engines.pulsed_by_a_tester,
        ),
    ),
    form=Form(
        stage=Stage.FUEL,
        title=_say("form", "Injector delivery, by pressure drop"),
        hint=_say(
            "hint",
            "Rail filled to the same pressure each time, each injector pulsed alike by a tester at its own plug. Write "
            "down how far the pressure drops.",
        ),
        kept=_say("kept", "Deliveries"),
        rows=(Row(key="drop", words=_say("row", "kPa dropped")),),
        least=2,
        readings=_readings,
    ),
)


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
        text = FEWER_THAN_TWO()
        return refused(TEST, "kPa", engine.firing_order, (Reason("too_few", text, blocking=True),), origin)
    usual = usual_of(np.array(list(drops.values())), within=NEAR)
    if usual < limit.DELIVERY_DROP_MIN_KPA.value:
        text = HARDLY_DROPS(usual=1e3 * usual)
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
        facts={"source": PRESSURE_DROPS(), "assignment": HAND(), "cylinders": len(drops)},
    )


def _state(share: float) -> State:
    if share < limit.DELIVERY_NONE_SHARE.value:
        return State.ABSENT
    if share < 1 - limit.DELIVERY_APART.value:
        return State.LOW
    return State.HIGH if share > 1 + limit.DELIVERY_APART.value else State.NORMAL


def _sentence(cylinder: int, drop: float, usual: float, state: State) -> Message:
    who = INJECTOR_CYLINDER(cylinder=cylinder)
    if state is State.ABSENT:
        return DELIVERS_NOTHING_ALTHOUGH(who=who)
    if state is State.LOW:
        return DELIVERS_LESS_THAN(who=who, drop=100 * (1 - drop / usual))
    if state is State.HIGH:
        return DELIVERS_MORE_THAN(who=who, drop=100 * (drop / usual - 1))
    return DELIVERS_LIKE_PEERS(who=who, drop=1e3 * drop)
