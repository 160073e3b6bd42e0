"""Record of the crankcase pulse while cranking."""

from __future__ import annotations

from fairwitness.core.messages.catalogue import scope
from fairwitness.core.model.capture import CaptureTest, Role
from fairwitness.core.model.tools import Tool, Turning
from fairwitness.core.procedures import set_up_card as card
from fairwitness.core.procedures.engines import marks_its_cranking
from fairwitness.core.procedures.spec import Offer, TestSpec, Trust

_say = scope("crankcase_pulse")
SPEC = TestSpec(
    id="crankcase_pulse",
    title=_say("title", "Crankcase pulse"),
    owner=_say("owner", "what blows past the pistons"),
    place=100,
    trust=Trust.SIGNAL,
    unit="1",
    columns=("CK",),
    plural=_say("plural", "The crankcase pulses"),
    offers=(
        Offer(
            id="crankcase_pulse",
            title=_say("offer", "Crankcase pulse while cranking"),
            tools=_say("tools", "hose sensor on the dipstick tube"),
            splits=_say(
                "splits", "tells rings and piston from valves: a pulse in the dead cylinder's compression is the block"
            ),
            needs=(Tool.SCOPE, Tool.HOSE_SENSOR),
            set_up=5,
            work=2,
            columns=("CK",),
            turning=Turning.CRANKING,
            mechanical=True,
            fits=marks_its_cranking,
        ),
    ),
    card=card.SetUpCard(
        test=CaptureTest.CRANKCASE_PULSE,
        title=_say("card", "Crankcase pulse while cranking"),
        cranking=True,
        seconds=6.0,
        rate_hz=5_000.0,
        clips=card.with_sync(Role.CRANKCASE_PRESSURE),
        checks=card.CRANKING_CHECKS,
    ),
)
