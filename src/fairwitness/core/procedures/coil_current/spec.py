"""Record of coil current on a shared feed or on single coils."""

from __future__ import annotations

from fairwitness.core.messages.catalogue import scope
from fairwitness.core.model.acts import Act
from fairwitness.core.model.capture import CaptureTest, Role
from fairwitness.core.model.engine import Engine, Ignition
from fairwitness.core.model.tools import Tool
from fairwitness.core.procedures import set_up_card as card
from fairwitness.core.procedures.engines import has_coils
from fairwitness.core.procedures.spec import Offer, TestSpec, Trust

_say = scope("coil_current")
LEADS_MAX = 6
"""Beyond this many leads one channel per cylinder is too much for a bay: the common feed is clamped."""


def _clips(engine: Engine, suspects: tuple[int, ...], feeds: card.Feeds) -> tuple[card.Clip, ...]:
    if engine.cylinders <= LEADS_MAX and engine.ignition is Ignition.COIL_ON_PLUG:
        return card.on_each(Role.COIL_CURRENT)(engine, suspects, feeds)
    return card.with_sync(Role.COIL_CURRENT)(engine, suspects, feeds)


SPEC = TestSpec(
    id="coil_current",
    title=_say("title", "Coil current"),
    owner=_say("owner", "the current of the ignition coils"),
    place=50,
    trust=Trust.SIGNAL,
    possible=has_coils,
    unit="A",
    columns=("CC",),
    kinds=("ramp_gaps",),
    plural=_say("plural", "The coil currents"),
    compared_later=True,
    offers=(
        Offer(
            id="coil_current",
            title=_say("offer", "Coil current on the shared feed"),
            tools=_say("tools", "small clamp"),
            splits=_say("splits", "tells a coil that is not charged from one that gives nothing"),
            needs=(Tool.SCOPE, Tool.SMALL_CLAMP),
            set_up=7,
            work=2,
            works_cranking=True,
            columns=("CC",),
            kinds=("ramp_gaps",),
            acts=frozenset({Act.TOUCHES_COIL}),
            fits=has_coils,
        ),
    ),
    card=card.SetUpCard(
        test=CaptureTest.COIL_CURRENT,
        title=_say("card", "Coil current"),
        cranking=False,
        seconds=3.0,
        rate_hz=50_000.0,
        clips=_clips,
        checks=(*card.RUNNING_CHECKS, card.CLAMP_ZERO, card.HIGH_VOLTAGE),
    ),
)
