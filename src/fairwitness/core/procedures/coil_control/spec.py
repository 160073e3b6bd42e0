"""Record of coil command levels, at the coil, at the control unit, plugged and unplugged."""

from __future__ import annotations

from fairwitness.core.messages.catalogue import scope
from fairwitness.core.model.acts import Act
from fairwitness.core.model.capture import CaptureTest, Role
from fairwitness.core.model.tools import Tool, Turning
from fairwitness.core.procedures import set_up_card as card
from fairwitness.core.procedures.engines import has_coils
from fairwitness.core.procedures.spec import Offer, TestSpec, Trust, one_part

_say = scope("coil_control")
_PLACES = ("part", "part_unplugged", "control_unit", "control_unit_unplugged")
SPEC = TestSpec(
    id="coil_control",
    title=_say("title", "Coil control"),
    owner=_say("owner", "what the engine computer tells the ignition coils"),
    place=60,
    trust=Trust.SIGNAL,
    possible=has_coils,
    unit="V",
    columns=("CMD",),
    kinds=tuple(f"command:{place}" for place in _PLACES),
    plural=_say("plural", "The commands"),
    offers=(
        Offer(
            id="coil_control",
            title=_say("offer", "Coil command levels"),
            tools=_say("tools", "scope"),
            splits=_say("splits", "tells the command from the coil"),
            needs=(Tool.SCOPE, Tool.ATTENUATOR),
            set_up=8,
            work=4,
            works_cranking=True,
            columns=("CMD",),
            acts=frozenset({Act.TOUCHES_COIL}),
            fits=has_coils,
        ),
        one_part(
            "command:control_unit",
            _say("at_unit", "Command at the control unit's own pin"),
            20,
            tools=_say("tools", "scope"),
            needs=(Tool.SCOPE, Tool.ATTENUATOR),
            splits=_say("at_unit_splits", "tells the wire from the driver"),
            turning=Turning.RUNNING,
            works_cranking=True,
            acts=frozenset({Act.AT_UNIT_PLUG, Act.TOUCHES_COIL}),
            fits=has_coils,
            lead={"at_unit": True},
        ),
        one_part(
            "command:part_unplugged",
            _say("unplugged", "Command with the coil unplugged"),
            8,
            tools=_say("tools", "scope"),
            needs=(Tool.SCOPE, Tool.ATTENUATOR),
            splits=_say(
                "unplugged_splits", "a level that stays wrong without the coil is the wire or the control unit"
            ),
            turning=Turning.RUNNING,
            works_cranking=True,
            acts=frozenset({Act.PULLS_CONNECTOR, Act.TOUCHES_COIL, Act.UNPLUGS_COIL_RUNNING}),
            fits=has_coils,
            lead={"unplugged": True},
        ),
    ),
    card=card.SetUpCard(
        test=CaptureTest.COIL_CONTROL,
        title=_say("card", "Coil command levels"),
        cranking=False,
        seconds=2.0,
        rate_hz=50_000.0,
        clips=card.on_each(Role.COIL_CONTROL),
        checks=(*card.RUNNING_CHECKS, card.HIGH_VOLTAGE, card.ATTENUATED),
    ),
)
