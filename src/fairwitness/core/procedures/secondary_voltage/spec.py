"""Record of secondary voltage."""

from __future__ import annotations

from fairwitness.core.messages.catalogue import scope
from fairwitness.core.model.acts import Act
from fairwitness.core.model.capture import CaptureTest, Role
from fairwitness.core.model.tools import Tool
from fairwitness.core.procedures import cautions
from fairwitness.core.procedures import set_up_card as card
from fairwitness.core.procedures.engines import has_coils
from fairwitness.core.procedures.spec import Offer, TestSpec, Trust

_say = scope("secondary_voltage")
SPEC = TestSpec(
    id="secondary_voltage",
    title=_say("title", "Secondary voltage"),
    owner=_say("owner", "the spark of each cylinder"),
    place=40,
    trust=Trust.SIGNAL,
    possible=has_coils,
    unit="kV",
    columns=("FV", "SV", "SD", "SL", "RG"),
    kinds=("spark_gaps", "snap_reaction"),
    plural=_say("plural", "The sparks"),
    quiet_remarks=("spark_line_voltage", "spark_duration", "spark_line_rise", "coil_ringing"),
    compared_later=True,
    offers=(
        Offer(
            id="secondary_voltage",
            title=_say("offer", "Secondary voltage of all cylinders"),
            tools=_say("tools", "scope with pick-ups"),
            splits=_say("splits", "separates plug, lead and coil, and shows a lean or leaking cylinder"),
            needs=(Tool.SCOPE, Tool.PICK_UPS),
            set_up=12,
            work=4,
            works_cranking=True,
            columns=("FV", "SV", "SD", "SL", "RG"),
            acts=frozenset({Act.TOUCHES_COIL}),
            cautions=(cautions.ATTENUATOR,),
            fits=has_coils,
        ),
    ),
    card=card.SetUpCard(
        test=CaptureTest.SECONDARY_VOLTAGE,
        title=_say("card", "Secondary voltage, all cylinders"),
        cranking=False,
        seconds=2.0,
        rate_hz=200_000.0,
        clips=card.on_each(Role.SECONDARY_VOLTAGE),
        checks=(*card.RUNNING_CHECKS, card.HIGH_VOLTAGE, card.ATTENUATED),
    ),
)
