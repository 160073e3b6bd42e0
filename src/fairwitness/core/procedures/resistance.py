"""Resistance of a coil, lead, injector or wire: open is decisive, the rest is told by the peers."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import replace

import numpy as np

from fairwitness.core import thresholds as limit
from fairwitness.core.model.case import Observation
from fairwitness.core.model.engine import Engine, InjectorDrive
from fairwitness.core.model.measurement import Measured, State
from fairwitness.core.procedures.by_hand import cylinder_of, number_of, on_the_coil, seen, unread

TEST = "resistance"
RANGES: Mapping[str, tuple[float, float]] = {
    "coil_primary": (limit.PRIMARY_OHM_MIN.value, limit.PRIMARY_OHM_MAX.value),
    "coil_secondary": (limit.SECONDARY_OHM_MIN.value, limit.SECONDARY_OHM_MAX.value),
    "plug_lead": (0.0, limit.LEAD_OHM_MAX.value),
    "control_wire": (0.0, limit.WIRE_OHM_MAX.value),
    "feed_wire": (0.0, limit.WIRE_OHM_MAX.value),
}
INJECTOR_RANGES: Mapping[InjectorDrive, tuple[float, float]] = {
    InjectorDrive.SATURATED: (limit.SATURATED_OHM_MIN.value, limit.SATURATED_OHM_MAX.value),
    InjectorDrive.PEAK_AND_HOLD: (limit.LOW_OHM_MIN.value, limit.LOW_OHM_MAX.value),
    InjectorDrive.BOOSTED: (limit.BOOSTED_OHM_MIN.value, limit.BOOSTED_OHM_MAX.value),
}
APART: Mapping[str, tuple[float, float]] = {
    "coil_primary": (0.7, 1.35),
    "coil_secondary": (0.7, 1.4),
    "plug_lead": (0.2, 2.5),
    "injector": (1 - limit.INJECTOR_OHM_APART.value, 1 + limit.INJECTOR_OHM_APART.value),
}
"""[M] shares of the peers' resistance beyond which one stands out; the injector's is the trade's 10 % [T]."""
WORDS = {"coil_primary": "coil primary", "coil_secondary": "coil secondary", "plug_lead": "plug lead",
         "control_wire": "control wire", "feed_wire": "feed wire", "injector": "injector"}  # fmt: skip
OPEN_OHM = 1e9
ANY = (0.0, float("inf"))


def measure(observation: Observation, index: int, engine: Engine) -> Measured:
    """Judge one reading by the range usual for its kind of part.

    Parameters
    ----------
    observation : Observation
        ``item``, ``cylinder``, and ``ohms`` or ``open``: true.
    index : int
    engine : Engine
        Its ``injector_ohms`` is the reference for injectors where known.

    Returns
    -------
    Measured
        ``figures`` holds the ohms, for comparing with the peers.
    """
    item = str(observation.data.get("item", ""))
    cylinder = cylinder_of(observation.data, engine)
    if item not in WORDS:
        return unread(TEST, index, engine, f"A resistance of {item or 'nothing'} is not known.")
    if cylinder is None:
        return unread(TEST, index, engine, "The reading names no cylinder of this engine.")
    ohms = number_of(observation.data, "ohms", low=0.0, high=1e8)
    is_open = observation.data.get("open") is True
    if ohms is None and not is_open:
        return unread(TEST, index, engine, "The reading holds neither ohms nor open.", cylinder=cylinder)
    shown = OPEN_OHM if is_open or ohms is None else ohms
    low, high = _range(item, engine)
    outcome = "open" if shown >= OPEN_OHM else "low" if shown < low else "high" if shown > high else "normal"
    words = usual(item, engine)
    about = f"usual is {words}" if words else "no usual range is known"
    return _judged(item, cylinder, shown, outcome, about, index, engine, str(observation.data.get("temperature", "")))


def together(parts: Sequence[Measured], engine: Engine) -> tuple[Measured, ...]:
    """Judge readings of one kind beside each other: what all share is how they are built."""
    ohms = {c: f["ohms"] for p in parts for c, f in p.figures.items()}
    if len(ohms) < 3:
        return tuple(parts)
    judged = []
    for part in parts:
        cylinder, own = next(iter(part.figures.items()))
        item, _, temperature = str(part.facts["group"]).partition(", ")
        peers = np.array([v for c, v in ohms.items() if c != cylinder])
        closed = peers[peers < OPEN_OHM]
        usual = float(np.median(closed)) if closed.size else OPEN_OHM  # built open only where all others are
        below, above = APART.get(item, (0.0, 5.0))
        share = own["ohms"] / max(usual, 1e-9)
        outcome = "low" if share < below else "high" if share > above else "normal"
        if own["ohms"] >= OPEN_OHM:
            outcome = "normal" if usual >= OPEN_OHM and item == "coil_secondary" else "open"
        about = f"its peers have {_ohms(usual)}"
        assert part.observation is not None
        again = _judged(item, cylinder, own["ohms"], outcome, about, part.observation, engine, temperature)
        judged.append(replace(part, findings=again.findings, categorical=again.categorical))
    return tuple(judged)


def usual(item: str, engine: Engine) -> str:
    """Range a sound part of a kind reads, in words; empty where none is known."""
    low, high = _range(item, engine)
    if high == ANY[1]:
        return ""
    return f"up to {_ohms(high)}" if low == 0 else f"{_ohms(low)} to {_ohms(high)}"


def _range(item: str, engine: Engine) -> tuple[float, float]:
    if item != "injector":
        return RANGES[item]
    if engine.injector_ohms:
        apart = limit.INJECTOR_OHM_NOMINAL.value
        return (1 - apart) * engine.injector_ohms, (1 + apart) * engine.injector_ohms
    drive = engine.injector_drive
    return INJECTOR_RANGES.get(drive, ANY) if drive is not None else ANY


def _ohms(value: float) -> str:
    if value >= OPEN_OHM:
        return "open"
    return f"{value / 1000:.1f} kΩ" if value >= 1000 else f"{value:.2f} Ω" if value < 10 else f"{value:.1f} Ω"


def _judged(
    item: str, cylinder: int, ohms: float, outcome: str, about: str, index: int, engine: Engine, temperature: str
) -> Measured:
    is_open = ohms >= OPEN_OHM
    reported = {
        "open": "is open",
        "high": f"reads {_ohms(ohms)}, too much",
        "low": f"reads {_ohms(ohms)}, too little",
        "normal": "reads open, as all do: coils with an inner diode"
        if is_open
        else f"reads {_ohms(ohms)}, as it should",
    }[outcome]
    when = f", {temperature}" if temperature in ("hot", "cold") else ""
    group = f"{item}{when}"
    states = {"open": State.ABSENT, "high": State.HIGH, "low": State.LOW, "normal": State.NORMAL}
    served = on_the_coil(cylinder, engine) if item == "coil_primary" else (cylinder,)
    return seen(
        TEST,
        index,
        kind=f"{TEST}:{item}",
        outcome=outcome,
        cylinders=served,
        cylinder=cylinder,
        state=states[outcome],
        statement=f"The {WORDS[item]} of cylinder {cylinder} {reported} ({about}).",
        word="open" if is_open else "",
        value=None if is_open else round(ohms, 3),
        unit="ohm",
        group=group,
        figures={cylinder: {"ohms": ohms}},
    )
