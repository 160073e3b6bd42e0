"""The energy of the crank over the averaged cycle, and what errors of wheel and noise do to it.

From angles and times; who does the work, and where the cycle begins, is solved from it. Energies are in rad^2/s^2, half
the square of the speed.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
import scipy
from numpy.typing import NDArray

from fairwitness.core.model.engine import CYCLE_DEG, REVOLUTION_DEG, Engine
from fairwitness.core.signal.crank.wheel import CrankAngle

FloatArray = NDArray[np.float64]
BoolArray = NDArray[np.bool_]

STEPS_PER_EVENT = 15
STEPS_MIN, STEPS_MAX = 60, 120
"""Steps of a cycle: fine enough for the shape of a power stroke, coarser than the teeth."""
DRIFT_CYCLES = 8
"""The load is what stays the same over about this many cycles."""
BEFORE_DEG, AFTER_DEG = 60.0, 210.0
"""Stretch around TDC compression that a single event is read from."""
ECCENTRIC_DEG = 0.12
"""[M] by which a wheel that runs out of true shifts its teeth, once a revolution."""
STEADY_SHARE, TREND_SHARE = 0.2, 0.03
"""[M] of the usual speed, by which a steady cycle may differ, and by which the speed may change from one cycle to the
next over three of them: beyond, somebody touched the throttle, or the engine stalls."""
MODEL_SHARE = 0.05
"""[M] of the movement of the averaged cycle that no shape gets right."""


def steps_of(engine: Engine, teeth: int) -> int:
    """Steps of a cycle that this wheel can resolve."""
    wanted = int(np.clip(STEPS_PER_EVENT * engine.cylinders, STEPS_MIN, STEPS_MAX))
    return max(2 * engine.cylinders, min(wanted, 2 * teeth))


@dataclass(frozen=True, slots=True)
class _Noise:
    """What disturbs the averaged cycle of energy."""

    per_step: float
    wheel: FloatArray
    """(steps, teeth): what a place error of each tooth of usual size does to each step."""


@dataclass(frozen=True, slots=True)
class Weighed:
    """(steps,) energy of the averaged cycle, what errors of the wheel do to it, and its precision."""

    energy: FloatArray
    wheel: FloatArray
    weight: FloatArray


@dataclass(frozen=True, kw_only=True, eq=False)
class AveragedCycle:
    """The energy of the crank over the cycle, before anything is solved.

    Parameters
    ----------
    steps, lead, cycles : int
        Of a cycle, before the first whole one, and how many whole ones there are.
    times_s, omega, gain : (lead + cycles * steps + tail,) float
        When each step begins (one more), its speed in rad/s, and its gain of energy less the load.
    mean : (steps,) float
        Gain over the averaged cycle.
    steady : (cycles,) bool
        Cycles at the usual speed: only they are averaged, as a touched throttle moves the crank more than any cylinder.
    seen : Weighed
    """

    steps: int
    lead: int
    cycles: int
    times_s: FloatArray
    omega: FloatArray
    gain: FloatArray
    mean: FloatArray
    steady: BoolArray
    seen: Weighed


def averaged_cycle(crank: CrankAngle, engine: Engine, tdc1_deg: float) -> AveragedCycle | None:
    """Fold the energy of the crank over the cycle; parameters and None as of ``solve_work``."""
    steps = steps_of(engine, crank.teeth)
    width = CYCLE_DEG / steps
    lead, tail = round(BEFORE_DEG / width), round(AFTER_DEG / width)  # so that the outermost events are seen whole
    first = tdc1_deg + CYCLE_DEG * np.ceil((crank.angle_deg[0] + lead * width - tdc1_deg) / CYCLE_DEG)
    cycles = int((crank.angle_deg[-1] - tail * width - first) // CYCLE_DEG)
    if cycles < 2:
        return None
    nodes = first + np.arange(-lead, cycles * steps + tail + 1) * width
    course = scipy.interpolate.CubicSpline(crank.angle_deg, crank.times_s)
    times = course(nodes)  # across missing teeth the speed goes on changing
    omega = np.deg2rad(width) / np.diff(times)
    energy = 0.5 * omega**2
    # Gain from the middle of one step to the middle of the next, so half a step later than its node.
    gain = np.diff(energy, append=2 * energy[-1] - energy[-2])
    steady = steady_cycles(120.0 / np.diff(times[lead::steps][: cycles + 1]))
    even = np.repeat(steady, steps)
    even = np.concatenate((np.full(lead, even[0]), even, np.full(gain.size - lead - even.size, even[-1])))
    gain = gain - _drift(gain, even, steps * min(DRIFT_CYCLES, cycles))
    whole = slice(lead, lead + cycles * steps)
    table = gain[whole].reshape(cycles, steps)[steady]
    mean = table.mean(axis=0)
    noise = _Noise(
        per_step=float(np.median(np.std(summed(table.T), axis=1))) / np.sqrt(table.shape[0]),
        wheel=2.0 * float(np.mean(energy)) * _wheel_error(crank, steps, max(6, engine.cylinders)),
    )
    return AveragedCycle(
        steps=steps,
        lead=lead,
        cycles=cycles,
        times_s=times,
        omega=omega,
        gain=gain,
        mean=mean,
        steady=steady,
        seen=_weighed(mean, noise),
    )


def _wheel_error(crank: CrankAngle, steps: int, orders: int) -> FloatArray:
    """Relative change of energy per step for a place error of each tooth; both revolutions of a cycle see the same.

    Only what ``smoothed_wheel`` had to leave is counted: the orders that combustion makes as well.
    """
    teeth = crank.teeth
    nodes = np.arange(steps + 1) * CYCLE_DEG / steps
    place = nodes * teeth / REVOLUTION_DEG
    low = np.floor(place).astype(np.int64)
    weights = np.zeros((nodes.size, teeth))
    weights[np.arange(nodes.size), low % teeth] += 1 - (place - low)
    weights[np.arange(nodes.size), (low + 1) % teeth] += place - low
    turn = 2 * np.pi * np.arange(teeth)[:, None] * np.arange(1, min(orders, teeth // 4) + 1) / teeth
    basis = np.concatenate((np.cos(turn), np.sin(turn)), axis=1)
    left = basis @ np.linalg.pinv(basis) * crank.spacing_deg
    once = 2 * np.pi * np.arange(teeth) / teeth
    eccentric = ECCENTRIC_DEG * np.column_stack((np.cos(once), np.sin(once)))
    return np.asarray(np.diff(weights @ np.column_stack((left, eccentric)), axis=0) / (CYCLE_DEG / steps))


def _weighed(mean: FloatArray, noise: _Noise) -> Weighed:
    """The averaged cycle of energy with the precision of each of its steps."""
    energy = summed(mean)
    wheel = noise.wheel - noise.wheel.mean(axis=0)
    least = 1e-9 * float((noise.wheel**2).sum(axis=1).max(initial=0.0)) + 1e-18
    variance = (MODEL_SHARE * float(np.std(energy))) ** 2 + noise.per_step**2 + least
    return Weighed(energy, wheel, np.linalg.inv(variance * np.eye(mean.size) + wheel @ wheel.T))


def summed(gain: FloatArray) -> FloatArray:
    """Energy over the cycle from its gains, the mean and what is left at the end taken out."""
    steps = gain.shape[0]
    level = np.cumsum(gain, axis=0)
    ramp = np.arange(1, steps + 1) / steps
    level = level - (ramp[:, None] * level[-1] if gain.ndim > 1 else ramp * level[-1])
    return np.asarray(level - level.mean(axis=0))


def steady_cycles(rpm: FloatArray) -> BoolArray:
    """Cycles at the usual speed that is not about to change.

    Parameters
    ----------
    rpm : (cycles,) float

    Returns
    -------
    (cycles,) bool
        All of them where hardly any is: then nothing is usual.
    """
    usual = float(np.median(rpm))
    around = np.convolve(np.concatenate((rpm[:1], rpm, rpm[-1:])), np.ones(3) / 3, mode="valid")
    trend = np.abs(np.gradient(around)) if rpm.size > 2 else np.zeros(rpm.size)
    changing = (np.abs(rpm - usual) > STEADY_SHARE * usual) | (trend > TREND_SHARE * usual)
    steady = ~scipy.ndimage.binary_dilation(changing)  # a throttle is touched within a cycle, not between two
    return steady if np.count_nonzero(steady) >= 2 else np.ones(rpm.size, dtype=bool)


def _drift(gain: FloatArray, even: BoolArray, width: int) -> FloatArray:
    """Slow change of speed: mean gain over several cycles, of their steady steps, held constant beyond the ends."""
    if gain.size <= width + 2:
        return np.full(gain.size, gain[even].mean())
    kept, counted = (np.concatenate(([0.0], np.cumsum(of))) for of in (np.where(even, gain, 0.0), even))
    inside = counted[width:] - counted[:-width]
    middle = np.where(inside > 0, (kept[width:] - kept[:-width]) / np.maximum(inside, 1.0), gain[even].mean())
    before = (gain.size - middle.size) // 2
    return np.concatenate((np.full(before, middle[0]), middle, np.full(gain.size - middle.size - before, middle[-1])))
