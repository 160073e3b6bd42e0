"""Record of relative compression from starter current or battery voltage."""

from __future__ import annotations

from fairwitness.core.messages.catalogue import scope
from fairwitness.core.messages.message import NOTHING
from fairwitness.core.model.acts import Act
from fairwitness.core.model.capture import CaptureTest, Role
from fairwitness.core.model.tools import Tool, Turning
from fairwitness.core.procedures import set_up_card as card
from fairwitness.core.procedures.spec import Offer, TestSpec, Trust

_say = scope("relative_compression")
SPEC = TestSpec(
    id="relative_compression",
    title=_say("title", "Relative compression"),
    owner=_say("owner", "how well each cylinder seals while the starter turns the engine"),
    place=10,
    trust=Trust.SIGNAL,
    unit="1",
    columns=("RC",),
    high_is_sound=True,
    shares_of=NOTHING,
    offers=(
        Offer(
            id="relative_compression",
            title=_say("offer", "Relative compression from starter current"),
            tools=_say("tools", "clamp on a battery cable, sync on a sound cylinder"),
            splits=_say(
                "splits", "tells a cylinder that does not seal from ignition and fuel, without taking anything apart"
            ),
            needs=(Tool.SCOPE, Tool.BIG_CLAMP),
            set_up=8,
            work=2,
            columns=("RC",),
            turning=Turning.CRANKING,
            mechanical=True,
            acts=frozenset({Act.ON_BATTERY, Act.COMPARES}),
        ),
    ),
    card=card.SetUpCard(
        test=CaptureTest.RELATIVE_COMPRESSION,
        title=_say("card", "Relative compression"),
        cranking=True,
        seconds=7.0,
        rate_hz=5_000.0,
        clips=card.with_sync(Role.STARTER_CURRENT, Role.BATTERY_VOLTAGE),
        checks=(*card.CRANKING_CHECKS, card.CLAMP_ZERO),
        cautions=(_say("sound_sync", "Sync on a sound cylinder: the suspect's signal may vanish."),),
    ),
)
