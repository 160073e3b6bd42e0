"""What one compression does to the starter current, and how the cylinders' shares are solved from the sum.

Reading each hump from valley to crest fails where humps overlap: the window of a dead cylinder holds its neighbours'
flanks, and the compression after a dead one stands taller because nothing pushed it along. Here the course of a whole
cycle is a sum of equal shapes, one per cylinder: gas torque of the slider-crank, smoothed by the starter and flywheel
(one time constant). The heights are solved together by least squares.

References
----------
Gas torque: Heywood, Internal Combustion Engine Fundamentals, ch. 2 [P]. First-order response of a motor with inertia,
J R / k squared: handbook of electric machines, from memory [M].
"""

from __future__ import annotations

from dataclasses import dataclass
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

from fairwitness.core.model.engine import CYCLE_DEG, Engine, cylinder_volume
from fairwitness.core.signal.peers import healthy_level

FloatArray = NDArray[np.float64]

GRID = 360
"""Points per cycle; 2 degrees of crank."""
DEG_PER_POINT = CYCLE_DEG / GRID

TYPICAL_COMPRESSION_RATIO = 9.5  # [M] shape only; the fit is insensitive between 8 and 18
TYPICAL_ROD_RATIO = 3.4  # [M]
TYPICAL_POLYTROPIC = 1.28  # [M] 1.2 to 1.35 at cranking speed
INTAKE_CLOSING_DEG = -130.0  # [M]
EXHAUST_OPENING_DEG = 130.0  # [M]
SMOOTHING_DEG = (10.0, 20.0, 40.0, 80.0, 160.0, 320.0)
"""Time constants tried, in degrees of crank."""
SPEED_SWING = (0.0, 0.12, 0.25, 0.4)
"""How much the starter slows at a crest, tried as a share of mean speed."""
LAG_STEP_DEG = 4.0


LEAK_ROUNDS = 3
"""Heights and leak shapes depend on each other; they settle within a few rounds."""
NUISANCE_FROM_CYLINDERS = 6
"""From here up a free once-per-cycle wave is fitted too: a leak's net loss of work lies there, and with many cylinders
it would otherwise tilt all of them."""
LEAK_SHARE = 0.87
"""Cylinders above this are taken as sound; a leak read into every small deviation would feed on itself."""
LEAK_HARMONICS = 64
"""The starter smooths away what lies above."""
CANDIDATES = 4
"""Settings taken on to the second, slower look."""


@dataclass(frozen=True, slots=True, kw_only=True)
class PulseFit:
    """Heights solved from one averaged cycle.

    Parameters
    ----------
    heights : (cylinders,) float
        In firing-order position, unit of the trace.
    lag_deg : float
        Crest of the shape behind TDC by this much.
    smoothing_deg, speed_swing : float
        The other two fitted values.
    leak_course : (GRID,) float
        What leaking cylinders add to the cycle beyond a lower hump; zero where a plain fit does better.
    residual : float, 0 to 1
        Root of the share of the cycle's variance left unexplained.
    """

    heights: FloatArray
    lag_deg: float
    smoothing_deg: float
    speed_swing: float
    leak_course: FloatArray
    residual: float


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class _Candidate:
    """A setting that might fit: lag (as its place among those tried), smoothing, speed swing, and the load they give.

    ``left`` is the share of the variance that plain humps leave unexplained with it.
    """

    lag_at: int
    smoothing_deg: float
    speed_swing: float
    course: FloatArray
    left: float


@dataclass(frozen=True, slots=True, eq=False)
class _Solution:
    """Heights, what leaks add beyond lower humps, and the share of the variance left unexplained."""

    heights: FloatArray
    leak: FloatArray
    left: float


def lag_range_deg(engine: Engine) -> tuple[float, float]:
    """Lags considered where TDC is known: less than a firing interval wide, so that none is mistaken for the next."""
    half = min(26.0, 0.46 * min(engine.firing_intervals_deg))
    return 4.0 - half, 4.0 + half


def fit_cycle(cycle: FloatArray, engine: Engine, *, lags_deg: tuple[float, float]) -> PulseFit:
    """Solve the cylinders' heights from one cycle.

    Parameters
    ----------
    cycle : (GRID,) float
        Humps upward; point 0 is TDC compression of the first of the firing order, less the lag.
    engine : Engine
    lags_deg : (float, float)
        Range of lags tried.

    Returns
    -------
    PulseFit
    """
    steps = np.arange(np.ceil(lags_deg[0] / LAG_STEP_DEG), np.floor(lags_deg[1] / LAG_STEP_DEG) + 1) * LAG_STEP_DEG
    shifts = np.rint(steps / DEG_PER_POINT).astype(int)
    index = (np.arange(GRID)[:, None] + shifts[None, :]) % GRID
    looks: list[_Candidate] = []
    for swing in SPEED_SWING:
        courses = load_courses(cycle, swing, SMOOTHING_DEG)
        for smoothing, course in zip(SMOOTHING_DEG, courses, strict=True):
            power = float(course @ course)
            if power <= 0:
                continue
            ortho, _ = _solver(engine.firing_intervals_deg, smoothing)
            upward = _upward(engine.firing_intervals_deg, smoothing)
            projected = ortho.T @ course[index]  # (cylinders, lags)
            left = 1.0 - np.einsum("ij,ij->j", projected, projected) / power
            left = np.where(upward @ projected > 0, left, 1.0)  # upside-down humps half an interval off fit as well
            at = int(np.argmin(left))
            looks.append(
                _Candidate(lag_at=at, smoothing_deg=smoothing, speed_swing=swing, course=course, left=float(left[at]))
            )
    if not looks:
        nothing = np.zeros(engine.cylinders)
        return PulseFit(
            heights=nothing, lag_deg=0.0, smoothing_deg=0.0, speed_swing=0.0, leak_course=np.zeros(GRID), residual=1.0
        )
    looks.sort(key=lambda look: look.left)
    solved = [
        (_solve_with_leaks(look.course[index[:, look.lag_at]], engine, look.smoothing_deg), look)
        for look in looks[:CANDIDATES]
    ]
    best, look = min(solved, key=lambda pair: pair[0].left)
    at = look.lag_at
    for near in (at - 1, at + 1):
        if 0 <= near < steps.size:
            again = _solve_with_leaks(look.course[index[:, near]], engine, look.smoothing_deg)
            if again.left < best.left:
                best, at = again, near
    return PulseFit(
        heights=best.heights,
        lag_deg=float(steps[at]),
        smoothing_deg=look.smoothing_deg,
        speed_swing=look.speed_swing,
        leak_course=best.leak,
        residual=float(np.sqrt(max(best.left, 0.0))),
    )


def _solve_with_leaks(course: FloatArray, engine: Engine, smoothing_deg: float) -> _Solution:
    """The humps with leaks; plain heights and no leak where that explains more."""
    ortho, triangle = _solver(engine.firing_intervals_deg, smoothing_deg)
    power = float(course @ course)
    projected = ortho.T @ course
    plain = _heights(triangle, projected, engine)
    plain_left = 1.0 - float(projected @ projected) / power
    best = _Solution(plain, np.zeros(GRID), plain_left)
    heights = plain
    for _ in range(LEAK_ROUNDS):
        if not (heights < LEAK_SHARE * healthy_level(heights)).any():
            break
        leak = _leak_course(heights, engine, smoothing_deg)
        rest = course - leak
        projected = ortho.T @ rest
        heights = _heights(triangle, projected, engine)
        left = float(rest @ rest - projected @ projected) / power
        if left < best.left:
            best = _Solution(heights, leak, left)
    return best


def _heights(triangle: FloatArray, projected: FloatArray, engine: Engine) -> FloatArray:
    return np.asarray(np.linalg.solve(triangle, projected)[: engine.cylinders], dtype=np.float64)


def _leak_course(heights: FloatArray, engine: Engine, smoothing_deg: float) -> FloatArray:
    """(GRID,) float: sum over the cylinders of what a leak does beyond lowering the hump."""
    level = healthy_level(heights)
    if level <= 0:
        return np.zeros(GRID)
    shares = np.clip(heights / level, 0.0, 1.0)
    shares = np.where(shares < LEAK_SHARE, shares, 1.0)
    levels, spectra = _leak_spectra()
    order = np.arange(spectra.shape[1])
    place = np.interp(shares, levels, np.arange(levels.size))
    low = np.floor(place).astype(int)
    part = (place - low)[:, None]
    own = spectra[low] * (1 - part) + spectra[np.minimum(low + 1, levels.size - 1)] * part
    turn = np.exp(-2j * np.pi * order[None, :] * engine.event_angles_deg[:, None] / CYCLE_DEG)
    total = (own * turn).sum(axis=0) / (1 + 2j * np.pi * order * smoothing_deg / CYCLE_DEG)
    total[0] = 0.0
    return np.asarray(level * np.fft.irfft(total, n=GRID), dtype=np.float64)


def solve_heights(cycles: FloatArray, engine: Engine, fit: PulseFit) -> FloatArray:
    """Heights of single cycles with the shape already fitted.

    Parameters
    ----------
    cycles : (n_cycles, GRID) float
    engine : Engine
    fit : PulseFit

    Returns
    -------
    (n_cycles, cylinders) float
        Firing-order position.
    """
    ortho, triangle = _solver(engine.firing_intervals_deg, fit.smoothing_deg)
    shift = round(fit.lag_deg / DEG_PER_POINT)
    courses = np.stack([np.roll(load_course(c, fit.speed_swing, fit.smoothing_deg), -shift) for c in cycles])
    courses = courses - fit.leak_course
    return np.asarray(np.linalg.solve(triangle, ortho.T @ courses.T).T[:, : engine.cylinders])


def load_course(cycle: FloatArray, swing: float, smoothing_deg: float) -> FloatArray:
    """``load_courses`` for one time constant.

    Parameters
    ----------
    cycle : (n,) float
    swing, smoothing_deg : float

    Returns
    -------
    (n,) float
    """
    return np.asarray(load_courses(cycle, swing, (smoothing_deg,))[0], dtype=np.float64)


def load_courses(cycle: FloatArray, swing: float, smoothings_deg: tuple[float, ...]) -> FloatArray:
    """Load on the starter against crank angle, from current evenly divided in time.

    The current follows the load with one time constant, in time; the shapes are known in angle. So the lag is taken out
    in time, the cycle re-spaced to even angle, and the same lag put back in angle, which keeps noise where it was.
    With an even speed the three steps cancel.

    Parameters
    ----------
    cycle : (n,) float
    swing : float
        Share of mean speed lost at about the crest: the starter slows where it draws more.
    smoothings_deg : tuple of float
        Time constants in degrees of crank at mean speed.

    Returns
    -------
    (time constants, n) float
        Each of mean zero.
    """
    centred = np.asarray(cycle - cycle.mean(), dtype=np.float64)
    spread = float(centred.std())
    if swing == 0 or spread == 0:
        return np.broadcast_to(centred, (len(smoothings_deg), cycle.size))
    per_degree = 2j * np.pi * np.arange(cycle.size // 2 + 1) / CYCLE_DEG
    slope = np.fft.irfft(np.fft.rfft(centred) * per_degree, n=cycle.size)
    speed = np.clip(1.0 - swing * centred / (2.5 * spread), 0.2, None)
    angle = np.concatenate(([0.0], np.cumsum(speed)))
    angle = angle[:-1] * (cycle.size / angle[-1])
    places = np.arange(cycle.size)
    even, even_slope = (np.fft.rfft(np.interp(places, angle, y, period=cycle.size)) for y in (centred, slope))
    constants = np.array(smoothings_deg)[:, None]
    spectra = (even + constants * even_slope) / (1 + constants * per_degree)
    spectra[:, 0] = 0.0
    return np.asarray(np.fft.irfft(spectra, n=cycle.size), dtype=np.float64)


@lru_cache(maxsize=256)
def _upward(intervals_deg: tuple[float, ...], smoothing_deg: float) -> FloatArray:
    """Row that gives the sum of the heights from the projections, without solving for each lag."""
    triangle = _solver(intervals_deg, smoothing_deg)[1]
    pick = np.zeros(triangle.shape[0])
    pick[: len(intervals_deg)] = 1.0
    return np.asarray(np.linalg.solve(triangle.T, pick), dtype=np.float64)


@lru_cache(maxsize=256)
def _solver(intervals_deg: tuple[float, ...], smoothing_deg: float) -> tuple[FloatArray, FloatArray]:
    """QR factors of the (GRID, cylinders) table of shapes."""
    torque = _torque_spectrum()
    order = np.arange(torque.size)
    per_degree = np.pi / CYCLE_DEG  # harmonic k of the cycle is k/2 per crank radian
    spectrum = torque / (1 + 2j * order * per_degree * smoothing_deg)
    spectrum[0] = 0.0
    centres = np.concatenate(([0.0], np.cumsum(intervals_deg)[:-1]))
    shapes = [np.fft.irfft(spectrum * np.exp(-2j * order * per_degree * c), n=GRID) for c in centres]
    columns = np.stack(shapes, axis=1)
    if centres.size >= NUISANCE_FROM_CYLINDERS:
        once = np.exp(2j * np.pi * np.arange(GRID) / GRID)
        slow = np.stack((once.real, once.imag), axis=1)
        columns = np.concatenate((columns, slow * np.linalg.norm(columns[:, 0]) / np.linalg.norm(slow[:, 0])), axis=1)
    ortho, triangle = np.linalg.qr(columns)
    return ortho, triangle


@lru_cache(maxsize=1)
def _torque_spectrum() -> NDArray[np.complex128]:
    """Fourier series of the load one compression and expansion puts on the crank, largest value 1, TDC at 0."""
    load, _ = _load_and_peak(0.0)
    return np.fft.rfft(load / np.abs(load).max())


@lru_cache(maxsize=1)
def _leak_spectra() -> tuple[FloatArray, NDArray[np.complex128]]:
    """Per peak share, rising from 0 to 1: the Fourier series of a leaking cylinder's load less the scaled sound one."""
    sound, peak = _load_and_peak(0.0)
    scale = np.abs(sound).max()
    levels, spectra = [], []
    for leak in np.concatenate(([0.0], np.geomspace(1e-4, 1.0, 36))):
        load, own_peak = _load_and_peak(float(leak))
        levels.append(own_peak / peak)
        spectra.append(np.fft.rfft((load - levels[-1] * sound) / scale)[:LEAK_HARMONICS])
    order = np.argsort(levels)
    return np.array(levels)[order], np.array(spectra)[order]


def _load_and_peak(leak: float) -> tuple[FloatArray, float]:
    """Load of one cylinder against angle (TDC at 0) and its peak excess pressure, both in units of atmosphere.

    Parameters
    ----------
    leak : float
        Orifice flow per degree as a share of the clearance volume. The relative loss is largest near TDC, where the
        volume is small; below atmosphere air flows in.

    Returns
    -------
    (load, peak) : (GRID,) float and float
    """
    fine = 4
    angle = np.arange(-CYCLE_DEG / 2, CYCLE_DEG / 2, DEG_PER_POINT / fine)
    volume = cylinder_volume(angle, compression_ratio=TYPICAL_COMPRESSION_RATIO, rod_ratio=TYPICAL_ROD_RATIO)
    excess = np.zeros(angle.size)
    pressure = 1.0
    for i in np.flatnonzero((angle > INTAKE_CLOSING_DEG) & (angle < EXHAUST_OPENING_DEG)):
        pressure *= (volume[i - 1] / volume[i]) ** TYPICAL_POLYTROPIC
        ratio = min(pressure, 1 / pressure)
        flow = np.sign(pressure - 1.0) * np.sqrt(max(0.0, 1.0 - ratio**2))  # choked well above atmosphere
        pressure *= float(np.exp(-leak * flow * DEG_PER_POINT / fine / volume[i]))
        excess[i] = pressure - 1.0
    load = -(excess * np.gradient(volume))[::fine]
    return np.roll(load, -GRID // 2), float(excess.max())
