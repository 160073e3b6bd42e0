"""Record of the intake pulse while cranking."""

from __future__ import annotations

from fairwitness.core.messages.catalogue import scope
from fairwitness.core.model.capture import CaptureTest, Role
from fairwitness.core.model.tools import Tool, Turning
from fairwitness.core.procedures import set_up_card as card
from fairwitness.core.procedures.engines import marks_its_cranking
from fairwitness.core.procedures.spec import Offer, TestSpec, Trust

_say = scope("intake_pulse")
SPEC = TestSpec(
    id="intake_pulse",
    title=_say("title", "Intake pulse"),
    owner=_say("owner", "how each cylinder draws its air"),
    place=110,
    trust=Trust.SIGNAL,
    unit="1",
    columns=("IN",),
    plural=_say("plural", "The pulls at the intake"),
    offers=(
        Offer(
            id="intake_pulse",
            title=_say("offer", "Intake pulse while cranking"),
            tools=_say("tools", "hose sensor at a vacuum port"),
            splits=_say("splits", "shows compression blowing back past an intake valve"),
            needs=(Tool.SCOPE, Tool.HOSE_SENSOR),
            set_up=5,
            work=3,
            columns=("IN",),
            turning=Turning.CRANKING,
            mechanical=True,
            fits=marks_its_cranking,
        ),
    ),
    card=card.SetUpCard(
        test=CaptureTest.INTAKE_PULSE,
        title=_say("card", "Intake pulse while cranking"),
        cranking=True,
        seconds=6.0,
        rate_hz=5_000.0,
        clips=card.with_sync(Role.INTAKE_PRESSURE),
        checks=card.CRANKING_CHECKS,
    ),
)
