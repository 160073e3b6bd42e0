"""Who does the work: the contributions of all cylinders solved together from the kinetic energy of the crank.

Reading each cylinder's own window mixes it with its neighbours as soon as power strokes overlap, and measures a loss
where a cylinder only coasts. Here the gain of energy over crank angle is the sum of known shapes: combustion work of
every single event, the push and pull of compression, the inertia of the pistons, and a load that changes slowly.
Energies are in rad^2/s^2 (half the square of the speed): the flywheel is not known and cancels in every share.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray
from scipy.interpolate import CubicSpline
from scipy.linalg import solveh_banded

from fairwitness.core.crank_wheel import CrankAngle
from fairwitness.core.engine import CYCLE_DEG, REVOLUTION_DEG, Engine, cylinder_volume

FloatArray = NDArray[np.float64]

STEPS_PER_EVENT = 15
STEPS_MIN, STEPS_MAX = 60, 120
"""Steps of a cycle: fine enough for the shape of a power stroke, coarser than the teeth."""
COMPRESSION_RATIO, ROD_RATIO = 10.0, 3.5
"""[M] only shapes depend on them, and little."""
POLYTROPIC = 1.3
BURN_STARTS_DEG, BURN_WIDTH_DEG = (-8.0, 0.0, 8.0, 16.0), 65.0
"""[M] Wiebe curves of usual width, from early to the late burning of an idle; the one that fits best is taken."""
EXHAUST_OPENS_DEG, EXHAUST_OPEN_DEG = 130.0, 170.0
PUSH_SHARE, PUSH_SPREAD = 0.45, 0.5
"""[M] work stored by compression as a share of a cylinder's net work at part load, and how far that may be off."""
DRIFT_CYCLES = 8
"""The load is what stays the same over about this many cycles."""
RIDGE = 1e-3
FINE = 12


@dataclass(frozen=True, slots=True, kw_only=True)
class Work:
    """Contributions, solved.

    Parameters
    ----------
    per_cycle : (cycles, cylinders) float, rad^2/s^2
        Combustion work of each event, in firing-order position.
    level : (cylinders,) float, rad^2/s^2
        Of the averaged cycle.
    residual : float
        Share of the averaged cycle's movement that the shapes do not explain.
    folded : (cycles, steps) float, rpm
        Speed over the cycle, from TDC of the first of the firing order, its mean left out.
    cycle_times_s : (cycles + 1,) float, s
        Where each cycle begins.
    rpm : (cycles,) float
    """

    per_cycle: FloatArray
    level: FloatArray
    residual: float
    burn_start_deg: float
    folded: FloatArray
    cycle_times_s: FloatArray
    rpm: FloatArray


def steps_of(engine: Engine, teeth: int) -> int:
    """Steps of a cycle that this wheel can resolve."""
    wanted = int(np.clip(STEPS_PER_EVENT * engine.cylinders, STEPS_MIN, STEPS_MAX))
    return max(2 * engine.cylinders, min(wanted, 2 * teeth))


def solve_work(crank: CrankAngle, engine: Engine, tdc1_deg: float) -> Work | None:
    """Solve for the work of every event.

    Parameters
    ----------
    crank : CrankAngle
    engine : Engine
    tdc1_deg : float
        Unwrapped crank angle of any TDC compression of the first cylinder of the firing order.

    Returns
    -------
    Work or None
        None where fewer than two whole cycles were seen.
    """
    steps = steps_of(engine, crank.teeth)
    first = tdc1_deg + CYCLE_DEG * np.ceil((crank.angle_deg[0] - tdc1_deg) / CYCLE_DEG)
    cycles = int((crank.angle_deg[-1] - first) // CYCLE_DEG)
    if cycles < 2:
        return None
    nodes = first + np.arange(cycles * steps + 1) * (CYCLE_DEG / steps)
    times = CubicSpline(crank.angle_deg, crank.times_s)(nodes)  # across missing teeth the speed goes on changing
    omega = np.deg2rad(CYCLE_DEG / steps) / np.diff(times)
    energy = 0.5 * omega**2
    # Gain from the middle of one step to the middle of the next, so half a step later than its node.
    gain = np.diff(energy, append=2 * energy[-1] - energy[-2])
    gain = gain - _drift(gain, steps * min(DRIFT_CYCLES, cycles))
    table = gain.reshape(cycles, steps)
    mean = np.median(table, axis=0) if cycles >= 5 else table.mean(axis=0)
    angles = tuple(engine.event_angles_deg.tolist())
    tried = [(_averaged(mean, _shapes(steps, angles, start)), start) for start in BURN_STARTS_DEG]
    (level, common, residual), start = min(tried, key=lambda t: t[0][2])
    burn = _shapes(steps, angles, start).burn
    per_event = _events(gain - np.tile(common, cycles), engine.event_angles_deg, burn, start)
    rpm = omega * 60 / (2 * np.pi)
    folded = rpm.reshape(cycles, steps)
    return Work(
        per_cycle=per_event,
        level=level,
        residual=residual,
        burn_start_deg=start,
        folded=folded - folded.mean(axis=1, keepdims=True),
        cycle_times_s=times[::steps],
        rpm=120.0 / np.diff(times[::steps]),
    )


@dataclass(frozen=True, slots=True)
class _Shapes:
    """(steps, ...) gains of energy per step over a cycle."""

    burn: FloatArray
    """(steps, cylinders), each of sum 1."""
    push: FloatArray
    """(steps,) all compressions, for a stored work of 1 each."""
    inertia: FloatArray


@lru_cache(maxsize=64)
def _shapes(steps: int, events_deg: tuple[float, ...], burn_start_deg: float) -> _Shapes:
    def burning(angle_deg: FloatArray) -> FloatArray:
        return burn_torque(angle_deg, burn_start_deg)

    burn = np.stack([_over_cycle(burning, steps, event) for event in events_deg], axis=1)
    push = sum((_over_cycle(push_torque, steps, event) for event in events_deg), np.zeros(steps))
    inertia = sum((_over_cycle(inertia_torque, steps, event) for event in events_deg), np.zeros(steps))
    return _Shapes(burn=burn, push=push, inertia=inertia)


def burn_torque(angle_deg: FloatArray, start_deg: float) -> FloatArray:
    """Torque of combustion over the angle from TDC compression (-180 to 540), of work 1 over a radian.

    Pressure above that of compression alone: burnt share of a Wiebe curve, expanding polytropically until the exhaust
    valve opens [P: Heywood, Internal Combustion Engine Fundamentals, ch. 9, eq. 9.27 for the curve].
    """
    return np.asarray(_burning(angle_deg, start_deg) / _burn_work(start_deg))


def _burning(angle_deg: FloatArray, start_deg: float) -> FloatArray:
    burnt = np.maximum(angle_deg - start_deg, 0.0) / BURN_WIDTH_DEG
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


def inertia_torque(angle_deg: FloatArray) -> FloatArray:
    """Torque the piston's own mass takes and gives, largest value about 1."""
    stroke = np.deg2rad(angle_deg)
    speed = np.sin(stroke) + np.sin(2 * stroke) / (2 * ROD_RATIO)
    change = np.cos(stroke) + np.cos(2 * stroke) / ROD_RATIO
    return np.asarray(-speed * change)


def _volume(angle_deg: FloatArray) -> FloatArray:
    return cylinder_volume(angle_deg, compression_ratio=COMPRESSION_RATIO, rod_ratio=ROD_RATIO)


def _widening(angle_deg: FloatArray) -> FloatArray:
    small = 0.05
    return np.asarray((_volume(angle_deg + small) - _volume(angle_deg - small)) / np.deg2rad(2 * small))


@lru_cache(maxsize=8)
def _burn_work(start_deg: float) -> float:
    return float(np.sum(_burning(np.arange(-180.0, 540.0, 0.5), start_deg)) * np.deg2rad(0.5))


@lru_cache(maxsize=1)
def _push_work() -> float:
    angle = np.arange(0.0, 180.0, 0.5)
    pressure = (_volume(angle) / COMPRESSION_RATIO) ** -POLYTROPIC - 1.0
    return float(np.sum(pressure * _widening(angle)) * np.deg2rad(0.5))


def _over_cycle(torque: Callable[[FloatArray], FloatArray], steps: int, event_deg: float) -> FloatArray:
    """Energy gained from the middle of each step to the middle of the next, for an event at an angle."""
    width = CYCLE_DEG / steps
    fine = (np.arange(steps * FINE) + 0.5) * width / FINE
    angle = (fine - event_deg + 180.0) % CYCLE_DEG - 180.0
    energy = np.cumsum(torque(angle)) * np.deg2rad(width / FINE)
    total = energy[-1]
    # mean energy over each step, then its rise to the next step
    over = energy.reshape(steps, FINE).mean(axis=1)
    return np.asarray(np.diff(over, append=over[0] + total))


def _averaged(mean: FloatArray, shapes: _Shapes) -> tuple[FloatArray, FloatArray, float]:
    """Contributions of the averaged cycle, what is common to all cycles, and the unexplained share."""
    cylinders = shapes.burn.shape[1]
    gains = np.column_stack((shapes.burn, shapes.push, shapes.inertia))
    # Speed is what was measured, with noise that is alike everywhere: fit the energy, not its changes.
    columns, energy = (_summed(held) for held in (gains, mean))
    solution = np.linalg.lstsq(columns, energy, rcond=1e-9)[0]
    for _ in range(4):
        level = max(float(np.median(solution[:cylinders])), 1e-12)
        miss = float(np.std(energy - columns @ solution)) + 1e-12
        tie = np.zeros((1, columns.shape[1]))
        tie[0, cylinders] = 1.0
        tie[0, :cylinders] = -PUSH_SHARE / cylinders
        weight = 3.0 * miss / (PUSH_SPREAD * PUSH_SHARE * level)
        rows = np.concatenate((columns, weight * tie))
        solution = np.linalg.lstsq(rows, np.concatenate((energy, [0.0])), rcond=1e-9)[0]
    rest = energy - columns @ solution
    moved = float(np.sum(energy**2))
    residual = float(np.sqrt(np.sum(rest**2) / moved)) if moved > 0 else 1.0
    load = float(np.sum(solution[:cylinders])) / mean.size  # what the crank gives away at the same rate
    common = gains[:, cylinders:] @ solution[cylinders:] - load
    return np.asarray(solution[:cylinders]), np.asarray(common), residual


def _summed(gain: FloatArray) -> FloatArray:
    """Energy over the cycle from its gains, the mean and what is left at the end taken out."""
    steps = gain.shape[0]
    level = np.cumsum(gain, axis=0)
    ramp = np.arange(1, steps + 1) / steps
    level = level - (ramp[:, None] * level[-1] if gain.ndim > 1 else ramp * level[-1])
    return np.asarray(level - level.mean(axis=0))


def _events(gain: FloatArray, events_deg: FloatArray, burn: FloatArray, burn_start_deg: float) -> FloatArray:
    """Work of every single event: a banded system, since power strokes reach only as far as the next few events."""
    steps, n = burn.shape
    cycles = gain.size // steps
    # Columns reach into the next cycle; wrapped parts belong to the same event one cycle on.
    reach = int(np.ceil((EXHAUST_OPEN_DEG + 2 * CYCLE_DEG / steps) / CYCLE_DEG * steps))
    lead = int(np.ceil((max(0.0, -burn_start_deg) + 2 * CYCLE_DEG / steps) / CYCLE_DEG * steps))
    starts = np.floor(events_deg / CYCLE_DEG * steps).astype(np.int64) - lead
    length = reach + lead + 1
    pieces = np.stack([np.take(burn[:, i], np.arange(starts[i], starts[i] + length), mode="wrap") for i in range(n)])
    events = cycles * n
    begin = (starts[None, :] + steps * np.arange(cycles)[:, None]).reshape(-1)
    padded = np.concatenate((np.zeros(length), gain, np.zeros(length)))
    windows = padded[(begin + length)[:, None] + np.arange(length)]
    own = np.tile(pieces, (cycles, 1))
    right = np.sum(windows * own, axis=1)
    bands = [np.sum(own * own, axis=1)]
    for apart in range(1, n + 1):
        shift = begin[apart:] - begin[:-apart]
        if shift.size == 0 or shift.min() >= length:
            break
        band = np.zeros(events)
        for kind in range(n):
            other = (kind + apart) % n
            by = int(begin[kind + apart] - begin[kind]) if kind + apart < events else length
            if by < length:
                band[kind::n] = float(pieces[kind][by:] @ pieces[other][: length - by])
        band[events - apart :] = 0.0
        bands.append(band)
    matrix = np.zeros((len(bands), events))
    for apart, band in enumerate(bands):
        matrix[apart] = band
    matrix[0] += RIDGE * matrix[0].mean()
    return np.asarray(solveh_banded(matrix, right, lower=True)).reshape(cycles, n)


def _drift(gain: FloatArray, width: int) -> FloatArray:
    """Slow change of speed: mean gain over several cycles, held constant beyond the ends."""
    if gain.size <= width + 2:
        return np.full(gain.size, gain.mean())
    sums = np.concatenate(([0.0], np.cumsum(gain)))
    middle = (sums[width:] - sums[:-width]) / width
    before = (gain.size - middle.size) // 2
    return np.concatenate((np.full(before, middle[0]), middle, np.full(gain.size - middle.size - before, middle[-1])))
