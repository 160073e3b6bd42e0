"""Whether the valves of a cylinder move when they should, by the pressure in it.

From one cylinder as read, beside others of the engine, a known good, or all engines; the outcome goes to the findings.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from fairwitness.core import thresholds as limit
from fairwitness.core.messages.message import NOTHING, Message
from fairwitness.core.model.engine import VALVE_EVENTS, Engine
from fairwitness.core.procedures.cylinder_pressure.words import BESIDE_ANOTHER_CYLINDER, BESIDE_KNOWN_GOOD
from fairwitness.core.signal.pressure.events import CycleEvents
from fairwitness.core.signal.pressure.trace import ATMOSPHERE_PA, GRID_DEG, AngleFrom, PressureCycles

USUAL_DEG = {"intake_closes": limit.INTAKE_CLOSES_DEG, "exhaust_opens": limit.EXHAUST_OPENS_DEG}
OF_ALL = (USUAL_DEG["intake_closes"].value, USUAL_DEG["exhaust_opens"].value)
"""What engines do where no known good of this one is held."""
BESIDE_OTHER, BESIDE_KNOWN = BESIDE_ANOTHER_CYLINDER(), BESIDE_KNOWN_GOOD()
AGAIN_SHARE = 0.3
"""A second tower at the end of the exhaust stroke, as a share of the first: the exhaust valve stays shut."""
ALONE_FACTOR, ALONE_STANDS = 1.5, 0.5
"""[M] of what is allowed: how far one cam must be off, and the other may be, for one to have moved alone."""
BAR = 1e5
FloatArray = NDArray[np.float64]


@dataclass(frozen=True, kw_only=True, eq=False)
class CylinderRead:
    """One cylinder as read."""

    cycles: PressureCycles
    events: CycleEvents

    @property
    def peak_bar(self) -> float:
        """Above the atmosphere, as a gauge shows it."""
        return (self.events.peak_pa - ATMOSPHERE_PA) / BAR


@dataclass(frozen=True, slots=True)
class ValveTiming:
    """How the valves of one cylinder move.

    Parameters
    ----------
    outcome : str
        ``usual``, ``late``, ``early``, ``very_late``, ``very_early`` or ``exhaust_shut``.
    shift_deg : float
        How late, of both cams or of the one that moved.
    beside : Message
        What it was compared with.
    one_cam : str
        ``intake`` or ``exhaust`` where one stands off and the other does not.
    other_deg : float
        How late the other one is then.
    """

    outcome: str = "usual"
    shift_deg: float = 0.0
    beside: Message = NOTHING
    one_cam: str = ""
    other_deg: float = 0.0


AS_USUAL = ValveTiming()


def valves_of(cylinder: int, found: Mapping[int, CylinderRead], engine: Engine, *, running: bool) -> ValveTiming:
    """What the valve events of a cylinder say, beside others of the engine, a known good, or all engines.

    Parameters
    ----------
    cylinder : int
    found : mapping of cylinder to CylinderRead
    engine : Engine
    running : bool

    Returns
    -------
    ValveTiming
    """
    read = found[cylinder]
    again = read.cycles.middle[np.abs(GRID_DEG) > 335].max() - ATMOSPHERE_PA
    if read.cycles.twin or again > AGAIN_SHARE * (read.events.peak_pa - ATMOSPHERE_PA):
        return ValveTiming("exhaust_shut")
    rough = not running and read.cycles.angle_from is AngleFrom.TOWERS and engine.cylinders <= 5
    margin = limit.VALVES_APART_DEG.value + (limit.DEGREES_ROUGH.value if rough else 0.0)
    own = timing_of(read)
    if own is None:
        return AS_USUAL
    others = [t for c, r in found.items() if c != cylinder and (t := timing_of(r)) is not None]
    known = _known(engine, running=running)
    # Against a cylinder of the same engine where one was recorded and lies earlier or later; else against a known good
    # of such an engine, and only where there is none against all engines.
    for usual in (*others, known or OF_ALL):
        apart = np.array(own) - np.array(usual)
        allowed = margin if usual in others or usual == known else margin + limit.ENGINES_APART_DEG.value
        beside = BESIDE_OTHER if usual in others else BESIDE_KNOWN if usual == known else NOTHING
        if usual not in others and (alone := _one_cam(apart, allowed, beside)) is not None:
            return alone
        shift = float(apart.mean())
        if abs(shift) > allowed and (np.sign(apart) == np.sign(shift)).all() and np.abs(apart).min() > 0.4 * allowed:
            if usual in others and abs(np.mean(own) - _centre()) < abs(np.mean(usual) - _centre()):
                continue  # the other one is the odd one
            far = "very_" if abs(shift) > limit.VALVES_FAR_SHARE.value * allowed else ""
            return ValveTiming(far + ("late" if shift > 0 else "early"), shift, beside)
    return AS_USUAL


def _one_cam(apart: FloatArray, allowed: float, beside: Message) -> ValveTiming | None:
    """One cam that moved beside the other: a slipped phaser, cam wheel or second chain; None where both agree."""
    moved = int(np.abs(apart).argmax())
    shift, other = float(apart[moved]), float(apart[1 - moved])
    if abs(shift) <= ALONE_FACTOR * allowed or abs(other) > ALONE_STANDS * allowed:
        return None
    return ValveTiming("late" if shift > 0 else "early", shift, beside, ("intake", "exhaust")[moved], other)


def is_borderline(read: CylinderRead, engine: Engine, *, running: bool) -> bool:
    """Whether valves that are not called late or early are nearly so: that clears nobody."""
    own = timing_of(read)
    if own is None:
        return True
    known = _known(engine, running=running)
    allowed = limit.VALVES_APART_DEG.value + (0.0 if known else limit.ENGINES_APART_DEG.value)
    return abs(float(np.mean(own)) - float(np.mean(known or OF_ALL))) > limit.VALVES_CLEAR_SHARE.value * allowed


def _known(engine: Engine, *, running: bool) -> tuple[float, float] | None:
    """Intake closing and exhaust opening of a known good of this engine, where the engine data hold them."""
    reported = engine.extra.get(VALVE_EVENTS[running])
    numbers = (
        [float(v) for v in reported if isinstance(v, int | float) and np.isfinite(v)]
        if isinstance(reported, list)
        else []
    )
    return (numbers[0], numbers[1]) if len(numbers) == 2 else None


def timing_of(read: CylinderRead) -> tuple[float, float] | None:
    """Intake closing and exhaust opening, degrees after top dead centre; None where one of them does not show."""
    closes, opens = read.events.intake_closes, read.events.exhaust_opens
    return (closes.deg, opens.deg) if closes is not None and opens is not None else None


def _centre() -> float:
    return float(np.mean(OF_ALL))
