"""Record of cam against crank."""

from __future__ import annotations

from fairwitness.core.messages.catalogue import scope
from fairwitness.core.model.acts import Act
from fairwitness.core.model.engine import CAM_EDGES, Engine
from fairwitness.core.model.tools import Tool
from fairwitness.core.procedures.spec import Offer, TestSpec, Trust

_say = scope("cam_timing")


def _known_good_held(engine: Engine) -> bool:
    """An edge alone tells nothing."""
    return CAM_EDGES in engine.extra


SPEC = TestSpec(
    id="cam_timing",
    title=_say("title", "Cam timing"),
    owner=_say("owner", "whether the valves open at the right moment"),
    place=120,
    trust=Trust.SIGNAL,
    unit="deg",
    kinds=("cam_timing",),
    offers=(
        Offer(
            id="cam_timing",
            title=_say("offer", "Cam against crank, beside a known good"),
            tools=_say("tools", "scope on both sensors"),
            splits=_say("splits", "shows a chain or belt that jumped, in degrees, without taking anything apart"),
            needs=(Tool.SCOPE,),
            set_up=12,
            work=3,
            kinds=("cam_timing",),
            mechanical=True,
            acts=frozenset({Act.NEEDS_IDLE}),
            fits=_known_good_held,
        ),
    ),
)
