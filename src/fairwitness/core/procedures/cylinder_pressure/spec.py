"""Record of pressure in the cylinder."""

from __future__ import annotations

from fairwitness.core.messages.catalogue import scope
from fairwitness.core.model.acts import Act
from fairwitness.core.model.capture import CaptureTest, Role
from fairwitness.core.model.engine import Engine
from fairwitness.core.model.tools import Tool, Turning
from fairwitness.core.procedures import set_up_card as card
from fairwitness.core.procedures.spec import Offer, TestSpec, Trust

_say = scope("cylinder_pressure")


def _clips(engine: Engine, suspects: tuple[int, ...], _feeds: card.Feeds) -> tuple[card.Clip, ...]:
    order = sorted(engine.firing_order)
    peer = next((c for c in order if c not in suspects), order[0])
    wanted = tuple(dict.fromkeys((*suspects[:2], peer)))
    transducers = tuple(card.Clip(role=Role.CYLINDER_PRESSURE, cylinder=c) for c in wanted)
    # The tower marks the cycle, the teeth give the degrees.
    return (*transducers, card.Clip(role=Role.CRANK_SENSOR))


SPEC = TestSpec(
    id="cylinder_pressure",
    title=_say("title", "Cylinder pressure"),
    owner=_say("owner", "the pressure inside the cylinder"),
    place=90,
    trust=Trust.SIGNAL,
    unit="bar",
    columns=("CP",),
    kinds=("pressure_level", "pressure_best", "pressure_tower", "valve_events"),
    plural=_say("plural", "The pressures"),
    quiet_remarks=("intake_closes", "exhaust_opens", "intake_opens"),
    offers=(
        Offer(
            id="cylinder_pressure",
            title=_say("offer", "Cranking pressure in the cylinder"),
            tools=_say("tools", "pressure transducer in the plug hole"),
            splits=_say("splits", "gives the absolute figure and the valve events"),
            needs=(Tool.SCOPE, Tool.TRANSDUCER),
            set_up=12,
            work=4,
            each=8,
            columns=("CP",),
            kinds=("valve_events", "pressure_best"),
            turning=Turning.CRANKING,
            per_cylinder=True,
            mechanical=True,
            disturbs=True,
            acts=frozenset({Act.OPENS_PLUG_HOLES}),
        ),
    ),
    card=card.SetUpCard(
        test=CaptureTest.CYLINDER_PRESSURE,
        title=_say("card", "Cylinder pressure while cranking"),
        cranking=True,
        seconds=5.0,
        rate_hz=10_000.0,
        clips=_clips,
        checks=(*card.CRANKING_CHECKS, card.SPARK_OFF, card.NO_LOCK),
        ignition_disabled=True,
    ),
)
