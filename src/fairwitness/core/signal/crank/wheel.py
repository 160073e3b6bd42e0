"""From tooth times to crank angle: the pattern of the wheel, known or learned, with its gaps bridged."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
import scipy
from numpy.typing import NDArray

from fairwitness.core.model.engine import REVOLUTION_DEG, CrankWheel

FloatArray = NDArray[np.float64]
IntArray = NDArray[np.int64]

LONG_STEP = 1.35
"""[M] a step this much longer than its neighbours spans missing teeth; no engine slows that fast within one tooth."""
NEIGHBOURS = 13
GAPS_MIN = 3
PATTERN_MAX = 8
"""Gaps in one revolution looked for."""
AGREE_SHARE = 0.65
GAP_FROM, GAP_TO = 0.75, 1.5
"""Of the gap's true length in teeth: what may be it while a starter turns unevenly."""
WHOLE_SHARE = 0.9
SHIFT_MAX = 3
"""Teeth by which a revolution may be miscounted and still be taken for one."""


@dataclass(frozen=True, slots=True, kw_only=True)
class CrankAngle:
    """Crank angle at tooth times.

    Parameters
    ----------
    times_s : (n,) float, s
    angle_deg : (n,) float
        Unwrapped and rising; a multiple of 360 at the first tooth after the gap, if there is a single gap.
    teeth : int
        Per revolution, missing ones counted.
    gapped : bool
        Whether a single gap marks the revolution.
    broken : int
        Revolutions in which teeth were lost or found.
    """

    times_s: FloatArray
    angle_deg: FloatArray
    teeth: int
    gapped: bool
    broken: int = 0
    spacing_deg: float = 0.0
    """Usual error of a tooth's place, as far as the trace shows it."""


def crank_angle(
    times_s: FloatArray, *, wheel: CrankWheel | None = None, cycle_starts_s: FloatArray | None = None
) -> CrankAngle | None:
    """Crank angle of every tooth.

    Parameters
    ----------
    times_s : (n,) float, s
    wheel : CrankWheel, optional
        As the engine is said to have; what the trace shows is believed over it.
    cycle_starts_s : (m,) float, s, optional
        Once per two revolutions: settles how many teeth a regular wheel has.

    Returns
    -------
    CrankAngle or None
        None where nothing says how many teeth make a revolution.
    """
    steps = np.diff(times_s)
    usual = scipy.ndimage.median_filter(steps, size=NEIGHBOURS, mode="mirror")
    ratio = steps / usual
    spans = np.where(ratio > LONG_STEP, np.maximum(np.rint(ratio), 2), 1).astype(np.int64)
    spans = _as_built(ratio, spans, wheel)
    gaps = np.flatnonzero(spans > 1)
    counts = np.concatenate(([0], np.cumsum(spans)))
    per_cycle = _per_cycle(times_s, counts, cycle_starts_s)
    teeth, pattern = _teeth(gaps, counts, wheel, per_cycle)
    if teeth is None:
        return None
    gapped = pattern == 1
    if not gapped:
        return CrankAngle(times_s=times_s, angle_deg=counts * REVOLUTION_DEG / teeth, teeth=teeth, gapped=False)
    return _gapped(times_s, counts, _true_gaps(gaps, spans, counts, teeth), teeth)


def smoothed_wheel(crank: CrankAngle, orders: int) -> CrankAngle:
    """The same with the wheel's own spacing error taken out of the angles.

    What deviates at a tooth in the same way in every revolution, and faster than combustion can make the crank speed
    change, is the wheel.

    Parameters
    ----------
    crank : CrankAngle
    orders : int
        Highest order of a revolution that combustion can make; what repeats every revolution above it is the wheel's.
    """
    place = np.rint(crank.angle_deg * crank.teeth / REVOLUTION_DEG).astype(np.int64)
    order_offsets = place // crank.teeth
    whole = np.unique(order_offsets)[1:-1]
    if whole.size < 4:
        return crank
    starts = np.interp(whole * REVOLUTION_DEG, crank.angle_deg, crank.times_s)
    ends = np.interp((whole + 1) * REVOLUTION_DEG, crank.angle_deg, crank.times_s)
    row = np.searchsorted(whole, order_offsets)
    inside = (row < whole.size) & (whole[np.minimum(row, whole.size - 1)] == order_offsets)
    share = np.zeros(place.size)
    share[inside] = (crank.times_s[inside] - starts[row[inside]]) / (ends - starts)[row[inside]]
    tooth = place % crank.teeth
    held = np.full((whole.size, crank.teeth), np.nan)
    held[row[inside], tooth[inside]] = share[inside] * REVOLUTION_DEG - tooth[inside] * REVOLUTION_DEG / crank.teeth
    there = np.isfinite(held).any(axis=0)
    usual = np.zeros(crank.teeth)
    usual[there] = np.nanmedian(held[:, there], axis=0)
    if np.count_nonzero(there) < crank.teeth // 2:
        return crank
    angles = np.arange(crank.teeth) * REVOLUTION_DEG / crank.teeth
    orders = min(orders, crank.teeth // 4)
    turn = np.deg2rad(angles[:, None] * np.arange(1, orders + 1))
    basis = np.concatenate((np.ones((crank.teeth, 1)), np.cos(turn), np.sin(turn)), axis=1)
    slow = basis @ np.linalg.lstsq(basis[there], usual[there], rcond=None)[0]
    error = np.where(there, usual - slow, 0.0)
    angle_deg = crank.angle_deg + error[tooth]
    if np.any(np.diff(angle_deg) <= 0):
        return crank  # an error larger than a tooth is wide is not the wheel's
    return CrankAngle(
        times_s=crank.times_s,
        angle_deg=angle_deg,
        teeth=crank.teeth,
        gapped=crank.gapped,
        broken=crank.broken,
        spacing_deg=float(np.sqrt(np.sum(error**2) / max(1, np.count_nonzero(there) - 2 * orders - 1))),
    )


def _as_built(ratio: FloatArray, spans: IntArray, wheel: CrankWheel | None) -> IntArray:
    """Gaps counted as the engine's wheel has them, where that makes every revolution whole.

    A coil's signal is bent beside the gap, and a starter's speed changes within a few teeth: gaps then count one tooth
    too many, and slow teeth look like short gaps.
    """
    if wheel is None or not wheel.missing:
        return spans
    true = wheel.missing + 1
    near = np.flatnonzero((ratio > GAP_FROM * true) & (ratio < GAP_TO * true))
    if near.size < GAPS_MIN:
        return spans
    built = np.ones_like(spans)
    built[near] = true
    counts = np.concatenate(([0], np.cumsum(built)))
    whole = np.diff(counts[near]) == wheel.teeth
    return built if float(whole.mean()) >= WHOLE_SHARE else spans


def _per_cycle(times_s: FloatArray, counts: IntArray, starts_s: FloatArray | None) -> float | None:
    if starts_s is None or starts_s.size < 3:
        return None
    inside = starts_s[(starts_s > times_s[0]) & (starts_s < times_s[-1])]
    if inside.size < 3:
        return None
    return float(np.median(np.diff(np.interp(inside, times_s, counts))))


def _teeth(
    gaps: IntArray, counts: IntArray, wheel: CrankWheel | None, per_cycle: float | None
) -> tuple[int | None, int]:
    """Teeth of a revolution and gaps in it; None where it stays open."""
    if gaps.size >= GAPS_MIN:
        spacing = np.diff(counts[gaps])
        for pattern in range(1, min(PATTERN_MAX, spacing.size - 1) + 1):
            sums = np.convolve(spacing, np.ones(pattern, np.int64), mode="valid")
            usual = int(np.bincount(sums).argmax())
            if np.mean(sums == usual) >= AGREE_SHARE:
                return _whole_turns(usual, pattern, wheel, per_cycle)
    if per_cycle is not None:
        return max(2, round(per_cycle / 2)), 0
    return (wheel.teeth, 0) if wheel is not None and wheel.missing == 0 else (None, 0)


def _whole_turns(teeth: int, pattern: int, wheel: CrankWheel | None, per_cycle: float | None) -> tuple[int, int]:
    """A pattern that repeats within the revolution is taken several times."""
    wanted = per_cycle / 2 if per_cycle is not None else (wheel.teeth if wheel is not None else teeth)
    times = max(1, round(wanted / teeth))
    if abs(wanted - times * teeth) > 0.15 * teeth:
        times = 1
    return teeth * times, pattern * times


def _true_gaps(gaps: IntArray, spans: IntArray, counts: IntArray, teeth: int) -> IntArray:
    """The gaps of the wheel among those that a lost tooth leaves: of the usual size, whole turns apart."""
    sizes = spans[gaps]
    usual = int(np.bincount(sizes).argmax())
    likely = gaps[sizes == usual]
    place = counts[likely + 1]

    def chain(start: int) -> list[int]:
        kept = [start]
        for i in range(start + 1, likely.size):
            off = (place[i] - place[kept[-1]]) % teeth
            if min(off, teeth - off) <= SHIFT_MAX and place[i] - place[kept[-1]] > teeth // 2:
                kept.append(i)
        return kept

    best = max((chain(start) for start in range(min(likely.size, PATTERN_MAX))), key=len)
    return np.asarray(likely[best])


def _gapped(times_s: FloatArray, counts: IntArray, gaps: IntArray, teeth: int) -> CrankAngle:
    """Angles from gap to gap, each revolution stretched to its true count where teeth were lost or found."""
    firsts = gaps + 1  # the tooth that ends a gap
    order_offsets = np.maximum(1, np.rint(np.diff(counts[firsts]) / teeth)).astype(np.int64)
    marks = np.concatenate(([0], np.cumsum(order_offsets)))
    broken = int(np.count_nonzero(np.diff(counts[firsts]) != order_offsets * teeth))
    exact = counts[firsts[0]] + marks * teeth
    place = np.interp(counts, counts[firsts], exact)
    place[: firsts[0]] = counts[: firsts[0]]
    place[firsts[-1] :] = counts[firsts[-1] :] - counts[firsts[-1]] + exact[-1]
    angle = (place - counts[firsts[0]]) * REVOLUTION_DEG / teeth
    return CrankAngle(times_s=times_s, angle_deg=angle, teeth=teeth, gapped=True, broken=broken)
