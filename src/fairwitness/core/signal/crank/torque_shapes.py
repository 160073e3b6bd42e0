"""Shapes of torque over the crank angle: combustion, compression, the pistons' inertia. Sizes are solved elsewhere."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

from fairwitness.core.model.engine import CYCLE_DEG, REVOLUTION_DEG, cylinder_volume

FloatArray = NDArray[np.float64]

COMPRESSION_RATIO, ROD_RATIO = 10.0, 3.5
"""[M] only shapes depend on them, and little."""
POLYTROPIC = 1.3
BURN_STARTS_DEG, BURN_WIDTHS_DEG = (-16.0, -8.0, 0.0, 8.0, 16.0), (45.0, 55.0, 65.0, 80.0)
"""[M] Wiebe curves from early to the late burning of an idle, from fast to slow."""
EXHAUST_OPENS_DEG, EXHAUST_OPEN_DEG = 130.0, 170.0
FINE = 12
"""Points a step of the cycle is summed from."""


@dataclass(frozen=True, slots=True)
class Firing:
    """When an engine fires, and how it gets its air.

    Parameters
    ----------
    steps : int
        Of a cycle.
    events_deg : tuple of float
        TDC of compression of each cylinder in a cycle, crank degrees.
    throttled : bool
        A throttle meters the air.
    """

    steps: int
    events_deg: tuple[float, ...]
    throttled: bool = True


@dataclass(frozen=True, slots=True)
class Shapes:
    """(steps, ...) gains of energy per step over a cycle."""

    burn: FloatArray
    """(steps, cylinders), each of sum 1."""
    push: FloatArray
    """(steps,) all compressions, for a stored work of 1 each."""
    breath: FloatArray
    """(steps,) what the vacuum of the manifold costs, for a work of 1 each over a cycle."""
    inertia: FloatArray
    throttled: bool


@lru_cache(maxsize=128)
def shapes_of(firing: Firing, burn_start_deg: float, burn_width_deg: float) -> Shapes:
    """Gains of energy per step of a cycle, for events at some angles and a burn that begins at one."""
    steps, events_deg = firing.steps, firing.events_deg

    def burning(angle_deg: FloatArray) -> FloatArray:
        return burn_torque(angle_deg, burn_start_deg, burn_width_deg)

    burn = np.stack([_over_cycle(burning, steps, event) for event in events_deg], axis=1)
    push, breath, inertia = _of_all(steps, events_deg)
    return Shapes(burn=burn, push=push, breath=breath, inertia=inertia, throttled=firing.throttled)


@lru_cache(maxsize=16)
def _of_all(steps: int, events_deg: tuple[float, ...]) -> tuple[FloatArray, FloatArray, FloatArray]:
    """Compression, breathing and inertia of all cylinders together, whatever the burn."""

    def together(torque: Callable[[FloatArray], FloatArray]) -> FloatArray:
        return sum((_over_cycle(torque, steps, event) for event in events_deg), np.zeros(steps))

    return together(push_torque), together(breath_torque), together(inertia_torque)


def burn_torque(angle_deg: FloatArray, start_deg: float, width_deg: float) -> FloatArray:
    """Torque of combustion over the angle from TDC compression (-180 to 540), of work 1 over a radian.

    Pressure above that of compression alone: burnt share of a Wiebe curve, expanding polytropically until the exhaust
    valve opens [P: Heywood, Internal Combustion Engine Fundamentals, ch. 9, eq. 9.27 for the curve].
    """
    return np.asarray(_burning(angle_deg, start_deg, width_deg) / _burn_work(start_deg, width_deg))


def _burning(angle_deg: FloatArray, start_deg: float, width_deg: float) -> FloatArray:
    burnt = np.maximum(angle_deg - start_deg, 0.0) / width_deg
    share = 1.0 - np.exp(-5.0 * burnt**3)
    let_out = np.clip((angle_deg - EXHAUST_OPENS_DEG) / (EXHAUST_OPEN_DEG - EXHAUST_OPENS_DEG), 0.0, 1.0)
    pressure = share * _volume(angle_deg) ** -POLYTROPIC * 0.5 * (1 + np.cos(np.pi * let_out))
    return np.asarray(np.where(angle_deg < EXHAUST_OPEN_DEG, pressure * _widening(angle_deg), 0.0))


def push_torque(angle_deg: FloatArray) -> FloatArray:
    """Torque of compression and expansion without combustion, for a stored work of 1 over a radian."""
    inside = np.abs(angle_deg) < REVOLUTION_DEG / 2
    pressure = (_volume(angle_deg) / COMPRESSION_RATIO) ** -POLYTROPIC - 1.0
    torque = np.where(inside, pressure * _widening(angle_deg), 0.0)
    return np.asarray(torque / _push_work())


def breath_torque(angle_deg: FloatArray) -> FloatArray:
    """Torque of a charge below the atmosphere over the angle from TDC compression (-180 to 540), of work -1 a cycle.

    What a throttle holds back is missing under the piston while it draws, compresses and expands, and no longer once
    the exhaust valve has let the atmosphere in [P: Heywood, ch. 5.2, pumping work].
    """
    thin = (angle_deg < REVOLUTION_DEG / 2) | (angle_deg >= REVOLUTION_DEG)
    return np.asarray(np.where(thin, -_widening(angle_deg), 0.0) / (COMPRESSION_RATIO - 1.0))


def inertia_torque(angle_deg: FloatArray) -> FloatArray:
    """Torque the piston's own mass takes and gives, largest value about two thirds."""
    stroke = np.deg2rad(angle_deg)
    speed = np.sin(stroke) + np.sin(2 * stroke) / (2 * ROD_RATIO)
    change = np.cos(stroke) + np.cos(2 * stroke) / ROD_RATIO
    return np.asarray(-speed * change)


def _volume(angle_deg: FloatArray) -> FloatArray:
    return cylinder_volume(angle_deg, compression_ratio=COMPRESSION_RATIO, rod_ratio=ROD_RATIO)


def _widening(angle_deg: FloatArray) -> FloatArray:
    small = 0.05
    return np.asarray((_volume(angle_deg + small) - _volume(angle_deg - small)) / np.deg2rad(2 * small))


@lru_cache(maxsize=32)
def _burn_work(start_deg: float, width_deg: float) -> float:
    return float(np.sum(_burning(np.arange(-180.0, 540.0, 0.5), start_deg, width_deg)) * np.deg2rad(0.5))


@lru_cache(maxsize=1)
def _push_work() -> float:
    angle = np.arange(0.0, 180.0, 0.5)
    pressure = (_volume(angle) / COMPRESSION_RATIO) ** -POLYTROPIC - 1.0
    return float(np.sum(pressure * _widening(angle)) * np.deg2rad(0.5))


def _over_cycle(torque: Callable[[FloatArray], FloatArray], steps: int, event_deg: float) -> FloatArray:
    """Energy gained from the middle of each step to the middle of the next, for an event at an angle."""
    width = CYCLE_DEG / steps
    fine = (np.arange(steps * FINE) + 0.5) * width / FINE
    angle = (fine - event_deg + 180.0) % CYCLE_DEG - 180.0  # an event is seen from its compression to its exhaust
    energy = np.cumsum(torque(angle)) * np.deg2rad(width / FINE)
    total = energy[-1]
    # mean energy over each step, then its rise to the next step
    over = energy.reshape(steps, FINE).mean(axis=1)
    return np.asarray(np.diff(over, append=over[0] + total))
