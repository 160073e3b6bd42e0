"""What one average pressure cycle says: where top dead centre is, how it compresses and expands, when valves move.

Between the closing of the intake and the opening of the exhaust the gas follows p V^n = const while nothing is lost;
what leaks is lost fastest where the volume is small, so a leaking tower leans: it falls faster than it rose and its
summit comes before top dead centre.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np
import scipy
from numpy.typing import NDArray

from fairwitness.core.model.engine import Fuel, cylinder_volume
from fairwitness.core.signal.pressure.trace import ATMOSPHERE_PA, GRID_DEG, PressureCycles

FloatArray = NDArray[np.float64]

GAMMA = 1.4
CRITICAL_RATIO = (2 / (GAMMA + 1)) ** (GAMMA / (GAMMA - 1))
"""Of cold air."""
ROD_RATIO = 3.4
"""[M] rod over crank radius; its error hardly moves anything within 120 degrees of top dead centre."""
EXPONENT, EXPONENT_SIGMA = 1.28, 0.05
"""[M] motored compression of air with the heat it loses; 1.2 to 1.35."""
RATIO = {Fuel.DIESEL: 17.0}
RATIO_USUAL, RATIO_SIGMA = 10.5, 1.3
"""[M] geometric compression ratio where it is not known, and how well."""
LEAKS_SHARE = 0.1
HIGHEST_PA = 5e7
"""More than any engine compresses to."""
TOWER_POINTS_MIN, SUMMIT_REACH_DEG = 16, 30.0
FITTED_SHARE = 0.06
"""Of the tower's height: from here up it is fitted."""
REACH_DEG = 100.0
INTAKE_FROM, INTAKE_TO = -215.0, -40.0
EXHAUST_FROM, EXHAUST_TO = 95.0, 320.0
OVERLAP_FROM, OVERLAP_TO = 300.0, 470.0
"""Where each valve event is looked for, degrees after top dead centre of compression."""
COARSE_DEG = 3.0
VACUUM_SMOOTH, VACUUM_SIGMA, VACUUM_PA = 5, 8.0, 6_000.0
"""A vacuum deeper than the intake's by this much is a piston pulling on a valve that is still shut."""
EDGE_SIGMA = 9.0
"""Steps smaller than so many standard deviations of the average cycle are not timed."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Tower:
    """The compression as a law.

    Parameters
    ----------
    tdc_deg : float
        Top dead centre on the grid of the average cycle: the summit comes this much too early where it is positive.
    tdc_sigma_deg : float
    exponent : float
    ratio : float
        Compression ratio that fits.
    leak : float
        Share of the mass that is lost over the fitted tower.
    loss_per_deg : float
        What is lost per degree at clearance volume, of the logarithm of the mass.
    scale_pa : float
        Pressure at ``ratio``-fold clearance volume the compression comes from.
    residual : float
        Of the fit, as a share of the height.
    """

    tdc_deg: float
    tdc_sigma_deg: float
    exponent: float
    ratio: float
    leak: float
    loss_per_deg: float
    scale_pa: float
    residual: float


@dataclass(frozen=True, slots=True, kw_only=True)
class Event:
    """A valve moving, degrees after top dead centre of compression, and how well that is known."""

    deg: float
    sigma_deg: float


@dataclass(frozen=True, slots=True, kw_only=True)
class CycleEvents:
    """All of one cylinder.

    Parameters
    ----------
    tower : Tower
    peak_pa : float
        Absolute.
    lean : float
        Fall over rise of the tower at half its height, both in degrees: 1 is even, less leans.
    expansion_exponent : float
    intake_closes, exhaust_opens, intake_opens : Event or None
        None where nothing marks it.
    intake_pa, exhaust_pa, deepest_pa : float
        Plateaus, and the lowest pressure before the exhaust opens.
    """

    tower: Tower
    peak_pa: float
    asymmetry: float
    expansion_exponent: float
    intake_closes: Event | None
    exhaust_opens: Event | None
    intake_opens: Event | None
    intake_pa: float
    exhaust_pa: float
    deepest_pa: float


def cycle_events(cycles: PressureCycles, fuel: Fuel, *, ratio: float | None = None) -> CycleEvents | None:
    """Read one average cycle.

    Parameters
    ----------
    cycles : PressureCycles
    fuel : Fuel
        Sets what compression ratio is usual.
    ratio : float, optional
        Of the engine, where known.

    Returns
    -------
    CycleEvents or None
        None where what repeats is no compression.
    """
    pressure = cycles.middle
    tower = fit_tower(pressure, cycles.noise_pa, ratio or RATIO.get(fuel, RATIO_USUAL), known=ratio is not None)
    if tower is None:
        return None
    angle = GRID_DEG - tower.tdc_deg
    exhaust = _plateau(pressure, angle, 250.0, 325.0)
    intake = _plateau(pressure, angle, -260.0, -195.0)
    volume = _volume(angle, tower.ratio)
    expansion = _expansion(pressure, angle, volume)
    return CycleEvents(
        tower=tower,
        peak_pa=float(np.median(cycles.peaks_pa)),
        asymmetry=_lean(pressure),
        expansion_exponent=expansion[1],
        intake_closes=_intake_closes(pressure, angle, tower, intake, cycles.noise_pa),
        exhaust_opens=_exhaust_opens(pressure, angle, volume, expansion, cycles.noise_pa),
        intake_opens=_intake_opens(pressure, angle, exhaust, intake, cycles.noise_pa, tower.ratio),
        intake_pa=intake,
        exhaust_pa=exhaust,
        deepest_pa=float(np.percentile(pressure[(angle > 60) & (angle < 260)], 2)),
    )


def fit_tower(pressure: FloatArray, noise_pa: float, ratio: float, *, known: bool = False) -> Tower | None:
    """Fit the compression law with a loss of mass to a tower.

    Parameters
    ----------
    pressure : (720,) float, Pa
        Absolute, on ``GRID_DEG``.
    noise_pa : float
    ratio : float
        Usual compression ratio.
    known : bool
        Whether it is this engine's.

    Returns
    -------
    Tower or None
        None where too little stands above the foot, or it stands elsewhere.
    """
    base = float(np.median(pressure[np.abs(GRID_DEG) > 180]))
    height = float(pressure.max()) - base
    near = (np.abs(GRID_DEG) <= REACH_DEG) & (pressure - base >= FITTED_SHARE * height)
    # One piece around the summit: what rises elsewhere is another matter.
    summit = int(np.argmax(pressure))
    outside = np.flatnonzero(~near)
    near[: outside[outside < summit].max(initial=-1) + 1] = False
    near[outside[outside > summit].min(initial=near.size) :] = False
    if not np.isfinite(pressure).all() or not 1e4 < float(pressure.max()) < HIGHEST_PA:
        return None
    if np.count_nonzero(near) < TOWER_POINTS_MIN or abs(float(GRID_DEG[summit])) > SUMMIT_REACH_DEG:
        return None
    leaving = _leaving(pressure[near])
    angle, logs = GRID_DEG[near], np.log(np.clip(pressure[near], 1e3, None))
    # Noise is even in pressure and the law is in its logarithm; a hundredth stands for what no law explains.
    sigma = np.hypot(noise_pa / np.clip(pressure[near], 1e3, None), 0.01)
    ratio_sigma = 0.3 if known else RATIO_SIGMA

    def law(x: FloatArray) -> FloatArray:
        shift, exponent, scale, loss, rc = x
        volume = _volume(angle - shift, rc)
        lost = np.cumsum(leaving / volume)
        lost = (lost - lost[0]) / max(float(lost[-1] - lost[0]), 1e-9)
        return np.asarray(scale - exponent * (np.log(volume) + loss * lost))

    def misfit(x: FloatArray) -> FloatArray:
        prior = ((x[1] - EXPONENT) / EXPONENT_SIGMA, (x[4] - ratio) / ratio_sigma, x[3] / 2.0)
        return np.concatenate(((law(x) - logs) / sigma, prior))

    fitted = scipy.optimize.least_squares(
        misfit,
        (0.0, EXPONENT, float(logs.max()), 0.02, ratio),
        bounds=((-25.0, 1.05, 5.0, -0.02, 4.0), (25.0, 1.5, 20.0, 3.0, 26.0)),
        x_scale=(1.0, 0.05, 0.1, 0.05, 1.0),
    )
    shift, exponent, scale, loss, rc = (float(v) for v in fitted.x)
    reached = float(np.sum(leaving / _volume(angle - shift, rc)))
    slopes = np.asarray(fitted.jac, dtype=np.float64)
    covariance = np.linalg.pinv(slopes.T @ slopes)
    left = law(fitted.x) - logs
    return Tower(
        tdc_deg=shift,
        tdc_sigma_deg=float(np.sqrt(max(covariance[0, 0], 0.0))) + 0.1,
        exponent=exponent,
        ratio=rc,
        leak=1 - float(np.exp(-max(loss, 0.0))),
        loss_per_deg=max(loss, 0.0) / max(reached, 1e-9),
        scale_pa=float(np.exp(scale)),
        residual=float(np.std(np.exp(left) - 1)),
    )


def _leaving(pressure: FloatArray, outside_pa: float = ATMOSPHERE_PA) -> FloatArray:
    """How much of the choked flow leaves through a leak, as a share of what is there; negative where it comes in.

    An ideal orifice between the cylinder and what lies outside.

    References
    ----------
    Heywood, Internal Combustion Engine Fundamentals, appendix C [P].
    """
    over = np.clip(pressure, 2e4, None) / max(outside_pa, 1e4)
    ratio = np.clip(np.minimum(over, 1 / over), CRITICAL_RATIO, 1.0)
    flow = np.sqrt(np.clip(ratio ** (2 / GAMMA) - ratio ** ((GAMMA + 1) / GAMMA), 0.0, None))
    choked = np.sqrt(CRITICAL_RATIO ** (2 / GAMMA) - CRITICAL_RATIO ** ((GAMMA + 1) / GAMMA))
    return np.asarray(np.where(over >= 1, 1.0, -1 / over) * flow / choked)


def _volume(angle_deg: FloatArray, ratio: float) -> FloatArray:
    return cylinder_volume(angle_deg, compression_ratio=ratio, rod_ratio=ROD_RATIO)


def _plateau(pressure: FloatArray, angle: FloatArray, first: float, last: float) -> float:
    at = (angle - first) % 720.0 <= (last - first)
    return float(np.median(pressure[at]))


def _lean(pressure: FloatArray) -> float:
    """Degrees of fall over degrees of rise, at half the tower's height above its foot."""
    summit = int(np.argmax(pressure))
    foot = float(np.median(pressure[np.abs(GRID_DEG) > 180]))
    level = foot + 0.5 * (float(pressure[summit]) - foot)
    before = np.flatnonzero(pressure[:summit] < level)
    after = np.flatnonzero(pressure[summit:] < level)
    if not before.size or not after.size:
        return 1.0
    return float(after[0]) / max(float(summit - before[-1]), 1.0)


def _expansion(pressure: FloatArray, angle: FloatArray, volume: FloatArray) -> tuple[float, float]:
    """Logarithm of the constant and exponent of the expansion between 35 and 90 degrees."""
    part = (angle > 35) & (angle < 90) & (pressure > 2e4)
    if np.count_nonzero(part) < 10:
        return float(np.log(max(float(pressure.max()), 1.0))), EXPONENT
    slope, constant = np.polyfit(np.log(volume[part]), np.log(pressure[part]), 1)
    return float(constant), float(np.clip(-slope, 0.9, 2.5))


def _search(cost: Callable[[float], float], first: float, last: float, noise_power: float) -> Event:
    """Smallest cost on a grid, refined, with the width in which it hardly grows."""
    coarse = np.arange(first, last, COARSE_DEG)
    costs = np.array([cost(float(at)) for at in coarse])
    best = float(coarse[int(np.argmin(costs))])
    fine = np.arange(best - COARSE_DEG, best + COARSE_DEG + 0.1, 0.25)
    costs = np.array([cost(float(at)) for at in fine])
    lowest = float(costs.min())
    if not np.isfinite(lowest + noise_power):  # nothing that a cylinder's pressure could be
        return Event(deg=best, sigma_deg=(last - first) / 2)
    flat = fine[costs <= lowest + max(4.0 * noise_power, 0.02 * lowest)]
    return Event(deg=float(fine[int(np.argmin(costs))]), sigma_deg=max(0.5, float(np.ptp(flat)) / 2))


def _intake_closes(
    pressure: FloatArray, angle: FloatArray, tower: Tower, intake_pa: float, noise_pa: float
) -> Event | None:
    """Where the compression leaves the intake pressure: a level, and from there on the law."""
    part = (angle > INTAKE_FROM) & (angle < INTAKE_TO)
    at, seen = angle[part], pressure[part]
    limit_pa = intake_pa + max(0.5e5, 6 * noise_pa)
    use = seen < limit_pa
    if np.count_nonzero(use) < 20:
        return None
    at, seen = at[use], seen[use]
    volume = _volume(at, tower.ratio)

    # What leaks goes to the crankcase and the tailpipe, or back to the intake: the pressure there is another.
    ways = [
        np.cumsum(_leaving(seen, outside) / volume) * tower.loss_per_deg * (at[1] - at[0])
        for outside in ((ATMOSPHERE_PA, intake_pa) if tower.leak > LEAKS_SHARE else (ATMOSPHERE_PA,))
    ]

    def cost(closes: float) -> float:
        start = float(_volume(np.array([closes]), tower.ratio)[0])
        costs = []
        for lost in ways:
            kept = np.exp(-tower.exponent * (lost - np.interp(closes, at, lost)))
            model = np.where(at < closes, 1.0, (start / volume) ** tower.exponent * kept)
            level = float(model @ seen) / float(model @ model)
            costs.append(float(((seen - level * model) ** 2).sum()))
        return min(costs)

    return _search(cost, INTAKE_FROM + 10, INTAKE_TO - 10, noise_pa**2)


def _exhaust_opens(
    pressure: FloatArray, angle: FloatArray, volume: FloatArray, expansion: tuple[float, float], noise_pa: float
) -> Event | None:
    """Where the expansion ends: the law until then, and from there a way to the exhaust's pressure."""
    part = (angle > EXHAUST_FROM) & (angle < EXHAUST_TO)
    at, seen, space = angle[part], pressure[part], volume[part]
    outside = float(np.median(seen[at > 250]))
    constant, exponent = expansion
    lowest = float(seen[at < 235].min())
    if abs(lowest - outside) < max(6 * noise_pa, 2e3) and abs(float(seen[0]) - outside) < max(6 * noise_pa, 1e4):
        return None

    def cost(opens: float) -> float:
        closed = at < opens
        if np.count_nonzero(closed) < 3:
            return float("inf")
        law = np.exp(constant - exponent * np.log(space))
        # The law is fitted far above; it may drift by a factor until here.
        factor = float((law[closed] @ seen[closed]) / max(float(law[closed] @ law[closed]), 1e-9))
        left = float(((seen[closed] - factor * law[closed]) ** 2).sum())
        begin = factor * float(law[closed][-1])
        since = at[~closed] - opens
        rest = [
            float(((seen[~closed] - outside - (begin - outside) * shape) ** 2).sum())
            for width in (6.0, 10.0, 16.0, 25.0, 40.0)
            for shape in (np.exp(-since / width), np.clip(1 - since / (2 * width), 0.0, 1.0))
        ]
        return left + min(rest)

    return _search(cost, EXHAUST_FROM + 8, 235.0, noise_pa**2)


def _intake_opens(
    pressure: FloatArray, angle: FloatArray, exhaust_pa: float, intake_pa: float, noise_pa: float, ratio: float
) -> Event | None:
    """Where the pressure leaves the exhaust's level for the intake's."""
    inverted = angle % 720.0
    order = np.argsort(inverted)
    inverted, rolled = inverted[order], pressure[order]
    part = (inverted > OVERLAP_FROM) & (inverted < OVERLAP_TO)
    at, seen = inverted[part], scipy.ndimage.uniform_filter1d(rolled, VACUUM_SMOOTH)[part]
    pulled = intake_pa - float(seen.min())
    if pulled > max(VACUUM_SIGMA * noise_pa, VACUUM_PA):
        # The piston pulls on a shut intake: the deepest point is where it opens and the pressure jumps back.
        return Event(deg=float(at[int(np.argmin(seen))]), sigma_deg=2.0)
    seen = rolled[part]
    if exhaust_pa - intake_pa < max(EDGE_SIGMA * noise_pa, 2.5e3):
        return None

    # Until the intake opens the exhaust valve still holds the pressure, or both are shut and what is left expands.
    space = _volume(np.clip(at, 360.0, None), ratio)
    befores = (np.full(at.size, exhaust_pa), exhaust_pa * (space[0] / space) ** EXPONENT)

    def cost(opens: float) -> float:
        since = np.clip(at - opens, 0.0, None)
        shapes = [
            shape
            for width in (10.0, 20.0, 35.0, 55.0, 75.0)
            for shape in (np.clip(since / width, 0.0, 1.0), 1 - np.exp(-since / (0.5 * width)))
        ]
        starts = [before[min(int(np.searchsorted(at, opens)), at.size - 1)] for before in befores]
        return min(
            float(((seen - np.where(at < opens, before, start + (intake_pa - start) * shape)) ** 2).sum())
            for before, start in zip(befores, starts, strict=True)
            for shape in shapes
        )

    return _search(cost, OVERLAP_FROM + 10, OVERLAP_TO - 20, noise_pa**2)
