"""Record of injector voltage on the control side, at the injector and at the control unit."""

from __future__ import annotations

from fairwitness.core.messages.catalogue import scope
from fairwitness.core.model.acts import Act
from fairwitness.core.model.capture import CaptureTest, Role
from fairwitness.core.model.tools import Tool, Turning
from fairwitness.core.procedures import set_up_card as card
from fairwitness.core.procedures.engines import has_injectors
from fairwitness.core.procedures.spec import Offer, TestSpec, Trust, one_part

_say = scope("injector_voltage")
_PLACES = ("part", "part_unplugged", "control_unit", "control_unit_unplugged")
SPEC = TestSpec(
    id="injector_voltage",
    title=_say("title", "Injector voltage"),
    owner=_say("owner", "the electrical command of the fuel injectors"),
    place=80,
    trust=Trust.SIGNAL,
    unit="V",
    columns=("IV",),
    kinds=(
        *(f"injector_command:{place}" for place in _PLACES),
        *(f"voltage:injector_control:{place}" for place in _PLACES),
        "injector_on_time",
        "injector_bump",
    ),
    plural=_say("plural", "The injector voltages"),
    compared_later=True,
    offers=(
        Offer(
            id="injector_voltage",
            title=_say("offer", "Injector voltage"),
            tools=_say("tools", "scope with attenuator"),
            splits=_say("splits", "shows whether current was flowing when the driver let go"),
            needs=(Tool.SCOPE, Tool.ATTENUATOR),
            set_up=8,
            work=4,
            works_cranking=True,
            columns=("IV",),
            kinds=("injector_command:part",),
            acts=frozenset({Act.TOUCHES_INJECTOR}),
            fits=has_injectors,
        ),
        one_part(
            "injector_command:control_unit",
            _say("at_unit", "Injector command at the control unit's own pin"),
            20,
            tools=_say("scope", "scope"),
            needs=(Tool.SCOPE, Tool.ATTENUATOR),
            splits=_say("at_unit_splits", "tells the wire from the driver"),
            turning=Turning.RUNNING,
            works_cranking=True,
            acts=frozenset({Act.AT_UNIT_PLUG, Act.TOUCHES_INJECTOR}),
            fits=has_injectors,
            lead={"at_unit": True},
        ),
        one_part(
            "injector_command:part_unplugged",
            _say("unplugged", "Injector command with the injector unplugged"),
            8,
            tools=_say("scope", "scope"),
            needs=(Tool.SCOPE, Tool.ATTENUATOR),
            splits=_say(
                "unplugged_splits", "a level that stays wrong without the injector is the wire or the control unit"
            ),
            turning=Turning.RUNNING,
            works_cranking=True,
            acts=frozenset({Act.PULLS_CONNECTOR, Act.TOUCHES_INJECTOR, Act.UNPLUGS_INJECTOR_RUNNING}),
            fits=has_injectors,
            lead={"unplugged": True},
        ),
    ),
    card=card.SetUpCard(
        test=CaptureTest.INJECTOR_VOLTAGE,
        title=_say("card", "Injector voltage, control side"),
        cranking=False,
        seconds=2.0,
        rate_hz=50_000.0,
        clips=card.on_each(Role.INJECTOR_VOLTAGE),
        checks=(*card.RUNNING_CHECKS, card.ATTENUATED),
    ),
)
