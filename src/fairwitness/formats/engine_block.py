"""The ``engine`` block of a case package, in and out."""

from __future__ import annotations

from enum import StrEnum
from typing import Any, TypeVar

from fairwitness.core.errors import EngineError
from fairwitness.core.model.engine import CrankWheel, Engine, Fuel, Ignition, Injection, InjectorDrive, Layout
from fairwitness.core.model.wiring import CircuitOf, circuit_of
from fairwitness.formats.wiring_block import read_wiring, wiring_block

_Kind = TypeVar("_Kind", bound=StrEnum)
KNOWN = (
    "label", "cylinders", "firing_order", "firing_intervals_deg", "layout", "banks", "fuel", "ignition", "coil_pairs",
    "injection", "injector_drive", "injector_ohms", "injector_feeds", "injector_path", "wiring", "crank_wheel",
)  # fmt: skip
REQUIRED = ("cylinders", "firing_order", "fuel", "ignition", "injection")


def read_engine(block: object) -> Engine:
    """Read an engine.

    Parameters
    ----------
    block : object
        The JSON value found under ``engine``.

    Returns
    -------
    Engine

    Raises
    ------
    EngineError
        A required key is missing, or a value cannot be.
    """
    if not isinstance(block, dict):
        raise EngineError("The engine is not described.", where="engine")
    for key in REQUIRED:
        if key not in block:
            raise EngineError(f"The engine does not state its {key.replace('_', ' ')}.", where=f"engine.{key}")
    wheel = block.get("crank_wheel")
    return Engine(
        cylinders=block["cylinders"],
        firing_order=tuple(_items(block["firing_order"], "firing_order")),
        fuel=_choice(Fuel, block["fuel"], "fuel"),
        ignition=_choice(Ignition, block["ignition"], "ignition"),
        injection=_choice(Injection, block["injection"], "injection"),
        firing_intervals_deg=tuple(
            _number(v, "firing_intervals_deg")
            for v in _items(block.get("firing_intervals_deg"), "firing_intervals_deg")
        ),
        layout=_choice(Layout, block["layout"], "layout") if block.get("layout") is not None else None,
        banks=tuple(tuple(_items(bank, "banks")) for bank in _items(block.get("banks"), "banks")),
        coil_pairs=tuple(tuple(_items(pair, "coil_pairs")) for pair in _items(block.get("coil_pairs"), "coil_pairs")),
        injector_drive=(
            _choice(InjectorDrive, block["injector_drive"], "injector_drive")
            if block.get("injector_drive") is not None
            else None
        ),
        injector_ohms=(
            _number(block["injector_ohms"], "injector_ohms") if block.get("injector_ohms") is not None else None
        ),
        injector_feeds=tuple(
            tuple(_items(feed, "injector_feeds")) for feed in _items(block.get("injector_feeds"), "injector_feeds")
        ),
        injector_path=tuple(_items(block.get("injector_path"), "injector_path")),
        wiring=read_wiring(block.get("wiring")),
        crank_wheel=_wheel(wheel) if wheel is not None else None,
        label=block["label"] if isinstance(block.get("label"), str) else "",
        extra={k: v for k, v in block.items() if k not in KNOWN},
    )


def engine_block(engine: Engine) -> dict[str, Any]:
    """Write an engine.

    Parameters
    ----------
    engine : Engine

    Returns
    -------
    dict
        JSON-ready; optional values that were not given are left out.
    """
    wheel = engine.crank_wheel
    block: dict[str, Any] = {
        "label": engine.label or None,
        "cylinders": engine.cylinders,
        "firing_order": list(engine.firing_order),
        "firing_intervals_deg": list(engine.firing_intervals_deg),
        "layout": engine.layout.value if engine.layout else None,
        "banks": [list(bank) for bank in engine.banks] or None,
        "fuel": engine.fuel.value,
        "ignition": engine.ignition.value,
        "coil_pairs": [list(pair) for pair in engine.coil_pairs] or None,
        "injection": engine.injection.value,
        "injector_drive": engine.injector_drive.value if engine.injector_drive else None,
        "injector_ohms": engine.injector_ohms,
        "injector_feeds": [list(feed) for feed in engine.injector_feeds] or None,
        "injector_path": _path(engine),
        "wiring": wiring_block(engine.wiring) or None,
        "crank_wheel": (
            {"teeth": wheel.teeth, "missing": wheel.missing, "tdc1_deg_after_gap": wheel.tdc1_deg_after_gap}
            if wheel
            else None
        ),
    }
    return {**engine.extra, **{k: v for k, v in block.items() if v is not None}}


def _path(engine: Engine) -> list[str] | None:
    """Places that the wiring does not tell already."""
    told = [place.name for place in circuit_of(engine.wiring, CircuitOf.INJECTOR, None)]
    named = list(engine.injector_path)
    return named if named and named != told else None


def _items(value: object, where: str) -> list[Any]:
    if value is None:
        return []
    if not isinstance(value, list) or len(value) > 64:
        raise EngineError("A short list was expected.", where=f"engine.{where}")
    return value


def _choice(kind: type[_Kind], value: object, where: str) -> _Kind:
    if not isinstance(value, str) or value not in [member.value for member in kind]:
        allowed = ", ".join(kind)
        raise EngineError(f"{value!r} is not known.", where=f"engine.{where}", remedy=f"Use one of {allowed}.")
    return kind(value)


def _number(value: object, where: str) -> float:
    if isinstance(value, bool) or not isinstance(value, int | float):
        raise EngineError(f"{value!r} is not a number.", where=f"engine.{where}")
    return float(value)


def _wheel(value: object) -> CrankWheel:
    if not isinstance(value, dict):
        raise EngineError("The crank wheel is an object with teeth and missing.", where="engine.crank_wheel")
    teeth, missing = value.get("teeth"), value.get("missing", 0)
    if any(isinstance(v, bool) or not isinstance(v, int) for v in (teeth, missing)):
        raise EngineError("Teeth are whole numbers.", where="engine.crank_wheel")
    angle = value.get("tdc1_deg_after_gap")
    return CrankWheel(
        teeth=teeth,  # type: ignore[arg-type]
        missing=missing,
        tdc1_deg_after_gap=_number(angle, "crank_wheel") if angle is not None else None,
    )
