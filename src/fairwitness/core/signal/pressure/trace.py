"""Pressure in one cylinder: towers found, cycles laid over each other, one average cycle in crank degrees.

A cylinder's own compression tower marks its cycle, so no sync is needed. Where the crank sensor was recorded too its
teeth give the angle; without it the crank is taken to turn evenly from tower to tower, which holds while the engine
runs and is off by up to ten degrees while a starter turns three or four cylinders.
"""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum

import numpy as np
import scipy
from numpy.typing import NDArray

from fairwitness.core import thresholds as limit
from fairwitness.core.model.capture import Capture, Channel, Role
from fairwitness.core.model.engine import CYCLE_DEG, Engine
from fairwitness.core.signal.conditioning import block_means, bridge_gaps, step_of
from fairwitness.core.signal.crank.tooth_times import tooth_times
from fairwitness.core.signal.crank.wheel import CrankAngle, crank_angle
from fairwitness.core.signal.robust import robust_centre

FloatArray = NDArray[np.float64]

WORKING_RATE_HZ = 10_000.0
SMOOTH_S = 1.0e-3
ATMOSPHERE_PA = 101_325.0
"""ISO 2533 [P]: standard atmosphere at sea level."""
STEP_DEG = 1.0
HALF = CYCLE_DEG / 2
GRID_DEG = np.arange(-HALF, HALF, STEP_DEG)
"""Crank angle of an average cycle: 0 is the tower."""
TOWER_SHARE = 0.5
MINOR_SHARE = 0.35
"""A second tower this high in every cycle is no noise: the cylinder compresses what it could not let out."""
CYCLES_MIN = 3
SHAKEN = 0.2
"""[M] of a level: noise from which rounding averages out."""
ROUNDED = 0.29
"""Standard deviation of a value rounded to whole levels, in levels: 1/sqrt 12."""
EXHAUST_FROM, EXHAUST_TO = 255.0, 325.0
"""Degrees after the tower in which the exhaust valve of any sound engine stands open."""


class AngleFrom(StrEnum):
    """What gives the crank angle."""

    TEETH = "teeth"
    TOWERS = "towers"


@dataclass(frozen=True, kw_only=True, eq=False)
class PressureCycles:
    """One cylinder's pressure.

    Parameters
    ----------
    peak_s : (n,) float, s
        Towers, from the first sample.
    middle, spread : (720,) float, Pa
        Median over the cycles and its robust sigma, absolute, on ``GRID_DEG``.
    peaks_pa : (n,) float, Pa
        Height of each tower, absolute.
    offset_pa : float, Pa
        Added to what was written to make it absolute.
    absolute : bool
        What was written was absolute already.
    speed_rpm : float
    angle_from : AngleFrom
    twin : bool
        Two like towers in every cycle, 360 degrees apart.
    noise_pa : float
        Of the average cycle.
    """

    peak_s: FloatArray
    middle: FloatArray
    spread: FloatArray
    peaks_pa: FloatArray
    offset_pa: float
    absolute: bool
    speed_rpm: float
    angle_from: AngleFrom
    twin: bool
    noise_pa: float

    @property
    def count(self) -> int:
        """How many towers."""
        return int(self.peak_s.size)


def wheel_of(capture: Capture, engine: Engine) -> CrankAngle | None:
    """Crank angle of the capture's own crank sensor; None where there is none or it does not tell.

    The towers of the pressure itself say how many teeth make two revolutions.
    """
    sensors = capture.with_role(Role.CRANK_SENSOR)
    if not sensors:
        return None
    teeth = tooth_times(sensors[0].samples, capture.time)
    if teeth is None:
        return None
    starts: list[FloatArray] = []
    for channel in capture.with_role(Role.CYLINDER_PRESSURE):
        values, rate = _values(channel, capture)
        if values is not None:
            peaks, _ = _without_twins(_towers(values[1], rate), values[1])
            starts += [capture.time.start_s + peaks / rate] if peaks.size >= CYCLES_MIN else []
    # A cylinder that cannot let out shows a tower every revolution: the slowest one marks the cycles.
    slowest = max(starts, key=lambda s: float(np.median(np.diff(s)))) if starts else None
    return crank_angle(teeth.times_s, wheel=engine.crank_wheel, cycle_starts_s=slowest)


def _values(channel: Channel, capture: Capture) -> tuple[tuple[FloatArray, FloatArray] | None, float]:
    """Pressure at the working rate as written, in Pa, and smoothed; None where there is next to nothing."""
    block = max(1, int(capture.time.rate_hz // WORKING_RATE_HZ))
    rate = capture.time.rate_hz / block
    values = block_means(channel.samples, block) * channel.si_factor
    if np.count_nonzero(np.isfinite(values)) < 200:
        return None, rate
    values = bridge_gaps(values)
    return (values, np.asarray(scipy.ndimage.uniform_filter1d(values, max(1, round(SMOOTH_S * rate))))), rate


def read_pressure(channel: Channel, capture: Capture, crank: CrankAngle | None) -> PressureCycles | None:
    """Average cycle of one cylinder.

    Parameters
    ----------
    channel : Channel
        Any unit, gauge or absolute, any polarity of the transducer excluded: pressure upwards.
    capture : Capture
        Evenly sampled.
    crank : CrankAngle or None

    Returns
    -------
    PressureCycles or None
        None where fewer than three towers stand out.
    """
    read, rate = _values(channel, capture)
    if read is None:
        return None
    values, smooth = read
    peaks = _towers(smooth, rate)
    if peaks.size < CYCLES_MIN:
        return None
    peaks, twin = _twins_by_wheel(peaks, smooth, rate, crank, capture.time.start_s) or _without_twins(peaks, smooth)
    if peaks.size < CYCLES_MIN:
        return None
    seconds = np.arange(values.size) / rate
    angles, source = _angles(seconds, peaks / rate, crank, capture.time.start_s)
    at_peak = np.interp(peaks / rate, seconds, angles)
    rows = []
    for centre in at_peak:
        wanted = centre + GRID_DEG
        if wanted[0] >= angles[0] and wanted[-1] <= angles[-1]:
            rows.append(np.interp(wanted, angles, values))
    if len(rows) < CYCLES_MIN - 1:
        return None
    table = np.array(rows)
    middle, spread = robust_centre(table)
    outside = (GRID_DEG >= EXHAUST_FROM) & (GRID_DEG <= EXHAUST_TO)
    plateau = float(np.median(middle[outside]))
    absolute = limit.ABSOLUTE_FROM.value * ATMOSPHERE_PA < plateau < limit.ABSOLUTE_TO.value * ATMOSPHERE_PA
    offset = 0.0 if absolute else ATMOSPHERE_PA - plateau
    gaps = np.diff(peaks) / rate
    return PressureCycles(
        peak_s=peaks / rate,
        middle=middle + offset,
        spread=spread,
        peaks_pa=smooth[np.round(peaks).astype(np.intp)] + offset,
        offset_pa=offset,
        absolute=absolute,
        speed_rpm=120.0 / float(np.median(gaps)),
        angle_from=source,
        twin=twin,
        noise_pa=_noise_pa(float(np.median(spread)), len(rows), step_of(channel)),
    )


def _noise_pa(spread: float, cycles: int, step: float) -> float:
    """Noise of an average cycle. Rounding repeats every cycle unless noise carries the values from level to level."""
    rounded = ROUNDED * step / (np.sqrt(cycles) if spread > SHAKEN * step else 1.0)
    return float(np.hypot(spread / np.sqrt(cycles), rounded)) + 1.0


def _towers(smooth: FloatArray, rate: float) -> FloatArray:
    """Places of the towers, in samples and parts of them."""
    quiet = float(np.median(smooth))
    top = float(np.percentile(smooth, 99.0)) - quiet
    if top < limit.TOWER_MIN_PA.value:
        return np.empty(0)
    high = smooth - quiet >= TOWER_SHARE * top
    starts = np.flatnonzero(high[1:] & ~high[:-1]) + 1
    ends = np.flatnonzero(~high[1:] & high[:-1]) + 1
    places: list[float] = []
    for start in starts:
        after = ends[ends > start]
        if not after.size:
            break
        at = start + int(np.argmax(smooth[start : after[0]]))
        if places and at - places[-1] < limit.TOWER_APART_S.value * rate:
            if smooth[at] > smooth[round(places[-1])]:
                places[-1] = float(at)
            continue
        places.append(float(at))
    return np.array([_summit(smooth, int(p)) for p in places])


def _summit(smooth: FloatArray, at: int) -> float:
    """Top of a parabola through the summit's surroundings."""
    reach = 6
    if at < reach or at + reach >= smooth.size:
        return float(at)
    x = np.arange(-reach, reach + 1)
    bend, slope, _ = np.polyfit(x, smooth[at - reach : at + reach + 1], 2)
    return float(at - np.clip(slope / (2 * bend), -reach, reach)) if bend < 0 else float(at)


def _without_twins(peaks: FloatArray, smooth: FloatArray) -> tuple[FloatArray, bool]:
    """Towers once per cycle. Where every second one is clearly lower the higher ones are the compressions."""
    heights = smooth[np.round(peaks).astype(np.intp)] - float(np.median(smooth))
    gaps = np.diff(peaks)
    if gaps.size < 4:
        return peaks, False
    even, odd = float(np.median(heights[0::2])), float(np.median(heights[1::2]))
    if max(even, odd) <= 0 or min(even, odd) < MINOR_SHARE * max(even, odd):
        return peaks, False
    # Two towers a cycle follow each other in half the time; nothing else tells them from single ones at twice the speed
    # but their unlike heights, since a compression and what could not be let out are never quite the same.
    unlike = abs(even - odd) / max(even, odd)
    scatter = float(np.median(np.abs(np.diff(heights[0::2])))) / max(even, odd) + 1e-9
    if unlike < limit.TWIN_UNLIKE.value or unlike < 4 * scatter:
        return peaks, False
    return (peaks[0::2] if even >= odd else peaks[1::2]), True


def _twins_by_wheel(
    peaks: FloatArray, smooth: FloatArray, rate: float, crank: CrankAngle | None, start_s: float
) -> tuple[FloatArray, bool] | None:
    """Two towers a cycle, where the wheel says that they come every revolution; None where it does not.

    What could not be let out collapses when the intake opens: the tower that falls more slowly is the compression.
    """
    if crank is None or peaks.size < 2 * CYCLES_MIN:
        return None
    inverted = np.diff(np.interp(peaks / rate, crank.times_s - start_s, crank.angle_deg))
    if abs(float(np.median(inverted)) - CYCLE_DEG / 2) > limit.CYCLE_APART_DEG.value:
        return None
    quiet = float(np.median(smooth))

    def fall(at: float) -> float:
        top = round(at)
        after = smooth[top : top + round(0.25 * rate)] - quiet
        below = np.flatnonzero(after < TOWER_SHARE * after[0])
        return float(below[0]) if below.size else float(after.size)

    even, odd = (float(np.median([fall(float(p)) for p in peaks[k::2]])) for k in (0, 1))
    return (peaks[0::2] if even >= odd else peaks[1::2]), True


def _angles(
    seconds: FloatArray, peak_s: FloatArray, crank: CrankAngle | None, start_s: float
) -> tuple[FloatArray, AngleFrom]:
    """Unwrapped crank angle of every sample."""
    if crank is not None and crank.times_s.size > 20:
        at = crank.times_s - start_s
        inverted = np.interp(peak_s, at, crank.angle_deg)
        inside = (peak_s > at[0]) & (peak_s < at[-1])
        per_cycle = np.diff(inverted[inside])
        if per_cycle.size and abs(float(np.median(per_cycle)) - CYCLE_DEG) < limit.CYCLE_APART_DEG.value:
            return _extended(seconds, at, crank.angle_deg), AngleFrom.TEETH
    return _extended(seconds, peak_s, np.arange(peak_s.size, dtype=np.float64) * CYCLE_DEG), AngleFrom.TOWERS


def _extended(seconds: FloatArray, times: FloatArray, angles: FloatArray) -> FloatArray:
    """Angle between known moments, and on at the last speed outside them."""
    found = np.interp(seconds, times, angles)
    before, after = seconds < times[0], seconds > times[-1]
    reach = min(20, times.size - 1)
    first = (angles[reach] - angles[0]) / (times[reach] - times[0])
    last = (angles[-1] - angles[-1 - reach]) / (times[-1] - times[-1 - reach])
    found[before] = angles[0] + (seconds[before] - times[0]) * first
    found[after] = angles[-1] + (seconds[after] - times[-1]) * last
    return np.asarray(found)
