"""Record of contribution while running, from the speed of the crank."""

from __future__ import annotations

from fairwitness.core.messages.catalogue import scope
from fairwitness.core.model.acts import Act
from fairwitness.core.model.capture import CaptureTest, Role
from fairwitness.core.model.tools import Tool
from fairwitness.core.procedures import set_up_card as card
from fairwitness.core.procedures.spec import Offer, TestSpec, Trust

_say = scope("crank_speed")
SPEC = TestSpec(
    id="crank_speed",
    title=_say("title", "Crank speed"),
    owner=_say("owner", "how much work each cylinder does, from the speed of the crankshaft"),
    place=20,
    trust=Trust.SIGNAL,
    unit="1",
    columns=("CON",),
    kinds=("misfire_rate",),
    high_is_sound=True,
    shares_of=_say("shares_of", " in work"),
    offers=(
        Offer(
            id="crank_speed",
            title=_say("offer", "Crank speed at idle"),
            tools=_say("tools", "scope on the crank sensor"),
            splits=_say("splits", "shows which power stroke is missing"),
            needs=(Tool.SCOPE,),
            set_up=8,
            work=2,
            columns=("CON",),
            acts=frozenset({Act.NEEDS_IDLE}),
        ),
    ),
    card=card.SetUpCard(
        test=CaptureTest.CRANK_SPEED,
        title=_say("card", "Crank speed at idle"),
        cranking=False,
        seconds=6.0,
        rate_hz=50_000.0,
        clips=card.with_sync(Role.CRANK_SENSOR),
        checks=card.RUNNING_CHECKS,
    ),
)
