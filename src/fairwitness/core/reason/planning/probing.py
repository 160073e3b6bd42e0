"""Where to put the probe: connector, pin and colour of the shop's own wiring, easiest place first."""

from __future__ import annotations

from collections.abc import Sequence

from fairwitness.core.messages.message import NOTHING, Message
from fairwitness.core.model.acts import Act
from fairwitness.core.model.engine import Engine
from fairwitness.core.model.tools import Tool, Turning
from fairwitness.core.model.wiring import CircuitOf, Place, easiest, how_to_reach
from fairwitness.core.procedures.spec import Offer

PROBES = frozenset({Tool.METER, Tool.ATTENUATOR})
"""What is put to a pin; a clamp goes round any wire, and a lamp takes the place of the part."""
TOUCHED = {Act.TOUCHES_INJECTOR: CircuitOf.INJECTOR, Act.TOUCHES_COIL: CircuitOf.COIL}


def where_to_probe(offer: Offer, engine: Engine, scope: Sequence[int]) -> Message:
    """Where a test of a part's circuit is measured on this engine.

    Parameters
    ----------
    offer : Offer
    engine : Engine
    scope : sequence of int
        Cylinders it is offered for.

    Returns
    -------
    Message
        Nothing where it touches no circuit, or nobody wrote the pins down.
    """
    part = _part_of(offer)
    if part is None:
        return NOTHING
    known = [p for p in engine.circuit(part, scope[0] if scope else None) if _is_known(p)]
    # The part itself is measured at rest, at its own plug; a live wire wherever it is easiest to get at.
    itself = offer.turning is Turning.STILL and "item" in offer.asks
    place = next((p for p in known if p.is_part), None) if itself else easiest(known)
    return NOTHING if place is None else how_to_reach(place)


def _part_of(offer: Offer) -> CircuitOf | None:
    """The part whose circuit a test touches."""
    if not PROBES & set(offer.needs):
        return None
    item = str(offer.asks.get("item", ""))
    named = next((part for part in CircuitOf if item.startswith(part.value)), None)
    return named or next((part for act, part in TOUCHED.items() if act in offer.acts), None)


def _is_known(place: Place) -> bool:
    """More than a name was written down."""
    return bool(place.connector or place.pin or place.colour or place.fuse)
