"""Record of the exhaust pulse at the tailpipe."""

from __future__ import annotations

from fairwitness.core.messages.catalogue import scope
from fairwitness.core.model.acts import Act
from fairwitness.core.model.capture import CaptureTest, Role
from fairwitness.core.model.tools import Tool
from fairwitness.core.procedures import set_up_card as card
from fairwitness.core.procedures.spec import Offer, TestSpec, Trust

_say = scope("exhaust_pulse")
SPEC = TestSpec(
    id="exhaust_pulse",
    title=_say("title", "Exhaust pulse"),
    owner=_say("owner", "what each cylinder blows out at the tailpipe"),
    place=30,
    trust=Trust.SIGNAL,
    unit="1",
    columns=("EX",),
    high_is_sound=True,
    shares_of=_say("shares_of", " at the tailpipe"),
    offers=(
        Offer(
            id="exhaust_pulse",
            title=_say("offer", "Exhaust pulse at the tailpipe"),
            tools=_say("tools", "hose sensor"),
            splits=_say("splits", "shows a missing firing from the tailpipe"),
            needs=(Tool.SCOPE, Tool.HOSE_SENSOR),
            set_up=5,
            work=2,
            columns=("EX",),
            acts=frozenset({Act.NEEDS_IDLE}),
        ),
    ),
    card=card.SetUpCard(
        test=CaptureTest.EXHAUST_PULSE,
        title=_say("card", "Exhaust pulse"),
        cranking=False,
        seconds=6.0,
        rate_hz=5_000.0,
        clips=card.with_sync(Role.EXHAUST_PRESSURE),
        checks=card.RUNNING_CHECKS,
        cautions=(_say("hot_gas", "Hot gas at the tailpipe."),),
    ),
)
