"""Where the cylinders of a firing order stand on the crank circle, and what is wrong with an order as it is typed."""

from __future__ import annotations

import re
from typing import Any

from fairwitness.core.errors import EngineError
from fairwitness.core.model.engine import REVOLUTION_DEG, Engine
from fairwitness.formats.engine_block import engine_block, read_engine

SEPARATORS = re.compile(r"[\s,;.\-/>]+")


def parse_order(text: str) -> list[int]:
    """Read a firing order as people type it: ``1-3-4-2``, ``1 3 4 2``, ``1,3,4,2`` or ``1342``.

    Raises
    ------
    EngineError
        Something in it is not a number.
    """
    parts = [p for p in SEPARATORS.split(text.strip()) if p]
    if len(parts) == 1 and parts[0].isdigit() and len(parts[0]) > 2:
        parts = list(parts[0])
    if any(not p.isdigit() for p in parts):
        raise EngineError("A firing order holds cylinder numbers only.", where="firing_order", remedy="Type 1 3 4 2.")
    return [int(p) for p in parts]


def check_engine(block: dict[str, Any]) -> dict[str, Any]:
    """Check an engine as typed and place its cylinders.

    Parameters
    ----------
    block : dict
        As in a package; ``firing_order`` may be text.

    Returns
    -------
    dict
        ``valid``, the ``problem`` sentence, the ``engine`` block, and ``places`` on the circle (also for an order that
        is not valid yet, so that it can be drawn while typing).
    """
    try:
        order = block.get("firing_order")
        typed = parse_order(order) if isinstance(order, str) else list(order or [])
    except EngineError as error:
        return {
            "valid": False,
            "problem": error.sentence[:1].upper() + error.sentence[1:],
            "engine": None,
            "places": [],
            "pairs": [],
        }
    try:
        engine = read_engine({**block, "firing_order": typed, **_circuit(block)})
    except EngineError as error:
        return {
            "valid": False,
            "problem": error.sentence[:1].upper() + error.sentence[1:],
            "engine": None,
            "places": _rough_places(typed, block.get("cylinders")),
            "pairs": [],
        }
    return {
        "valid": True,
        "problem": "",
        "engine": engine_block(engine),
        "places": _places(engine),
        "pairs": [list(pair) for pair in engine.companion_pairs],
    }


def typed_block(block: dict[str, Any]) -> dict[str, Any]:
    """An engine block with what people type as text read: firing order, feeds, places of a circuit.

    Raises
    ------
    EngineError
        Something in it is not a number.
    """
    order = block.get("firing_order")
    typed = {"firing_order": parse_order(order)} if isinstance(order, str) else {}
    return {key: value for key, value in {**block, **typed, **_circuit(block)}.items() if value not in (None, "", [])}


GROUPS = ("injector_feeds", "coil_pairs", "banks")


def _circuit(block: dict[str, Any]) -> dict[str, Any]:
    """Groups of cylinders and places of a circuit as people type them: ``1 2 3 / 4 5 6``, ``fuse > splice > plug``."""
    typed: dict[str, Any] = {}
    path = block.get("injector_path")
    for key in GROUPS:
        if isinstance(groups := block.get(key), str):
            typed[key] = [parse_order(group) for group in groups.split("/") if group.strip()]
    if isinstance(path, str):
        typed["injector_path"] = [place.strip() for place in re.split(r"[>,;\n]", path) if place.strip()]
    return typed


def _places(engine: Engine) -> list[dict[str, Any]]:
    return [
        {
            "cylinder": c,
            "cycle_deg": engine.tdc_deg(c),
            "crank_deg": engine.tdc_deg(c) % REVOLUTION_DEG,
            "second_turn": engine.tdc_deg(c) >= REVOLUTION_DEG,
            "wrong": "",
        }
        for c in engine.firing_order
    ]


def _rough_places(order: list[int], cylinders: object) -> list[dict[str, Any]]:
    count = cylinders if isinstance(cylinders, int) and 0 < cylinders <= 16 else max(len(order), 1)
    step = 2 * REVOLUTION_DEG / count
    places = []
    for i, c in enumerate(order[:16]):
        wrong = "twice" if order.count(c) > 1 else ("not in this engine" if not 1 <= c <= count else "")
        at = i * step
        places.append(
            {
                "cylinder": c,
                "cycle_deg": at,
                "crank_deg": at % REVOLUTION_DEG,
                "second_turn": at >= REVOLUTION_DEG,
                "wrong": wrong,
            }
        )
    return places
