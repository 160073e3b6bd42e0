"""The ``wiring`` list of an engine block: circuits by the pin, in and out."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

from fairwitness.core.errors import EngineError
from fairwitness.core.model.wiring import Circuit, CircuitOf, Place

TEXTS = ("name", "connector", "pin", "colour", "fuse")
CIRCUITS_MAX = 64


def read_wiring(value: object) -> tuple[Circuit, ...]:
    """Read circuits.

    Parameters
    ----------
    value : object
        The JSON value under ``wiring``; None for none.

    Returns
    -------
    tuple of Circuit

    Raises
    ------
    EngineError
        It is no list of circuits, or a place cannot be.
    """
    if value is None:
        return ()
    if not isinstance(value, list) or len(value) > CIRCUITS_MAX:
        raise EngineError("Wiring is a short list of circuits.", where="engine.wiring")
    return tuple(_circuit(item) for item in value)


def wiring_block(wiring: Sequence[Circuit]) -> list[dict[str, Any]]:
    """Write circuits; what is empty is left out."""
    return [
        {
            "part": circuit.part.value,
            **({"cylinder": circuit.cylinder} if circuit.cylinder is not None else {}),
            "places": [_place_block(place) for place in circuit.places],
        }
        for circuit in wiring
    ]


def _circuit(item: object) -> Circuit:
    if not isinstance(item, dict) or item.get("part") not in list(CircuitOf):
        raise EngineError(
            "A circuit says of which part it is.", where="engine.wiring", remedy=f"One of {', '.join(CircuitOf)}."
        )
    cylinder, places = item.get("cylinder"), item.get("places")
    if cylinder is not None and (isinstance(cylinder, bool) or not isinstance(cylinder, int)):
        raise EngineError("A circuit belongs to a cylinder by its number.", where="engine.wiring.cylinder")
    if not isinstance(places, list):
        raise EngineError("A circuit lists its places.", where="engine.wiring.places")
    return Circuit(part=CircuitOf(item["part"]), cylinder=cylinder, places=tuple(_place(place) for place in places))


def _place(item: object) -> Place:
    if not isinstance(item, dict) or any(not isinstance(item.get(key, ""), str) for key in TEXTS):
        raise EngineError("A place has a name, and texts for what else is known.", where="engine.wiring.places")
    minutes = item.get("minutes", 0.0)
    if isinstance(minutes, bool) or not isinstance(minutes, int | float):
        raise EngineError(f"{minutes!r} is not a number of minutes.", where="engine.wiring.places.minutes")
    return Place(
        **{key: str(item.get(key, "")).strip() for key in TEXTS},
        unplugs=item.get("unplugs") is True,
        minutes=float(minutes),
        is_part=item.get("is_part") is True,
    )


def _place_block(place: Place) -> dict[str, Any]:
    block: dict[str, Any] = {key: getattr(place, key) for key in TEXTS if getattr(place, key)}
    if place.unplugs:
        block["unplugs"] = True
    if place.minutes:
        block["minutes"] = place.minutes
    if place.is_part:
        block["is_part"] = True
    return block
