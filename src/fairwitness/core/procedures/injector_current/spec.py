"""Record of injector current on shared feeds or single leads."""

from __future__ import annotations

from fairwitness.core.messages.catalogue import scope
from fairwitness.core.model.acts import Act
from fairwitness.core.model.capture import CaptureTest, Role
from fairwitness.core.model.engine import Engine
from fairwitness.core.model.tools import Tool
from fairwitness.core.procedures import set_up_card as card
from fairwitness.core.procedures.engines import has_injectors
from fairwitness.core.procedures.spec import Offer, TestSpec, Trust

_say = scope("injector_current")


def _clips(engine: Engine, suspects: tuple[int, ...], feeds: card.Feeds) -> tuple[card.Clip, ...]:
    clamps = tuple(
        card.Clip(role=Role.INJECTOR_CURRENT, feeds=feed if len(feeds) > 1 else (), name=f"injector feed {i}")
        for i, feed in enumerate(feeds, start=1)
    )
    order = sorted(engine.firing_order)
    sound = next((c for c in order if c not in suspects), order[0])
    return (*clamps, card.Clip(role=Role.INJECTOR_VOLTAGE, cylinder=sound, sync=True, name="sync"))


SPEC = TestSpec(
    id="injector_current",
    title=_say("title", "Injector current"),
    owner=_say("owner", "the current of the fuel injectors"),
    place=70,
    trust=Trust.SIGNAL,
    unit="A",
    columns=("IC", "PD"),
    kinds=("injector_on_time",),
    plural=_say("plural", "The injector currents"),
    offers=(
        Offer(
            id="injector_current",
            title=_say("offer", "Injector current on the shared feed"),
            tools=_say("tools", "small clamp"),
            splits=_say("splits", "compares all injectors at once and shows the one that draws nothing"),
            needs=(Tool.SCOPE, Tool.SMALL_CLAMP),
            set_up=7,
            work=2,
            works_cranking=True,
            columns=("IC", "PD"),
            kinds=("injector_on_time",),
            acts=frozenset({Act.TOUCHES_INJECTOR}),
            fits=has_injectors,
        ),
    ),
    card=card.SetUpCard(
        test=CaptureTest.INJECTOR_CURRENT,
        title=_say("card", "Injector current on the feed"),
        cranking=False,
        seconds=3.0,
        rate_hz=50_000.0,
        clips=_clips,
        checks=(*card.RUNNING_CHECKS, card.CLAMP_ZERO, card.ATTENUATED),
    ),
)
