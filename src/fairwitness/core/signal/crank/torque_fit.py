"""Who does the work: the contributions of all cylinders solved together from the kinetic energy of the crank.

Reading each cylinder's own window mixes it with its neighbours as soon as power strokes overlap, and measures a loss
where a cylinder only coasts. Here the gain of energy over crank angle is the sum of known shapes: combustion work of
every single event, the push and pull of compression, the inertia of the pistons, and a load that changes slowly.
Energies are in rad^2/s^2 (half the square of the speed): the flywheel is not known and cancels in every share.
"""

from __future__ import annotations

from dataclasses import dataclass, replace
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from fairwitness.core.model.engine import CYCLE_DEG, UNTHROTTLED, Engine, Fuel
from fairwitness.core.signal.crank.averaged_energy import (
    AFTER_DEG,
    BEFORE_DEG,
    AveragedCycle,
    BoolArray,
    Weighed,
    averaged_cycle,
    summed,
)
from fairwitness.core.signal.crank.proportions import BREATHES_APART, usual_proportions
from fairwitness.core.signal.crank.torque_shapes import (
    BURN_STARTS_DEG,
    BURN_WIDTHS_DEG,
    EXHAUST_OPEN_DEG,
    Firing,
    Shapes,
    shapes_of,
)
from fairwitness.core.signal.crank.wheel import CrankAngle
from fairwitness.core.signal.robust import robust_centre, sample_noise

FloatArray = NDArray[np.float64]

EVENT_SPREAD = 0.35
"""[M] how far single events of one cylinder differ, misfires included."""
ALIKE_SHARE = 0.06
"""[M] scale by which sound cylinders differ. A few may differ by anything: it is that of a Cauchy density, whose tails
do not draw a dead cylinder towards the living ones as a normal or a Laplace density does."""
ALIKE_TURNS = 8
PHASE_STARTS_DEG, PHASE_WIDTH_DEG = (-12.0, 2.0), 58.0
"""[M] burns by which phases are compared: early and late, of usual width."""
FIRST_LOOK, KEPT = 3, 4
"""Turns after which burns are compared, and how many of them are followed to the end."""
LEAST_SHARE = 0.25
"""[M] work of a sound event is more than this share of how far the energy swings over a cycle."""
SCATTER_USUAL = 0.10
"""[M] by what share the work of single events differs at idle."""
SCALE_GUESSED = 0.4
"""[M] share of itself by which a level may be off that scatter alone gave."""
LEVEL_KNOWN, LEVEL_STANDS = 0.02, 0.97
"""Share of itself by which the common level is never known better, and the weight from which it stands alone."""
SCALE_CYLINDERS = 8
"""Cylinders from which the rhythm of firing is too fast to set the scale."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Work:
    """Contributions, solved.

    Parameters
    ----------
    per_cycle : (cycles, cylinders) float, rad^2/s^2
        Combustion work of each event, in firing-order position.
    level : (cylinders,) float, rad^2/s^2
        Of the averaged cycle.
    sigma : (cylinders,) float, rad^2/s^2
        How well it is known, errors of the wheel included.
    residual : float
        Share of the averaged cycle's movement that the shapes do not explain.
    cost : float
        What is left unexplained beside its noise, and how far the whole is from what engines do.
    folded : (cycles, steps) float, rpm
        Speed over the cycle, from TDC of the first of the firing order, its mean left out.
    cycle_times_s : (cycles + 1,) float, s
        Where each cycle begins.
    rpm : (cycles,) float
    steady : (cycles,) bool
        Cycles at the usual speed; the others say nothing of the cylinders.
    """

    per_cycle: FloatArray
    level: FloatArray
    sigma: FloatArray
    residual: float
    cost: float
    burn_start_deg: float
    folded: FloatArray
    cycle_times_s: FloatArray
    rpm: FloatArray
    steady: BoolArray


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
    cycle = averaged_cycle(crank, engine, tdc1_deg)
    if cycle is None:
        return None
    steps, lead, cycles, gain, mean, seen = cycle.steps, cycle.lead, cycle.cycles, cycle.gain, cycle.mean, cycle.seen
    firing = _firing(engine, steps)
    solved, start, burn_width = _likely_burn(seen, firing)
    level = solved.level
    burn = shapes_of(firing, start, burn_width).burn
    around = np.cumsum(gain - mean[np.arange(-lead, gain.size - lead) % steps])
    usual = float(np.median(level))
    frame = _Frame(lead, cycles, engine.event_angles_deg, cycle.steady)
    changes = _event_changes(around, frame, burn, start, usual=usual)
    scale = _scale_checked(level, solved, changes[cycle.steady])
    if scale is not None:
        again = _averaged(seen, shapes_of(firing, start, burn_width), scale).level
        level = again - np.median(again)
        level = level + max(scale, float(-level.min()))
    per_event = level + changes
    rpm = cycle.omega[lead : lead + cycles * steps] * 60 / (2 * np.pi)
    begins = cycle.times_s[lead::steps][: cycles + 1]
    folded = rpm.reshape(cycles, steps)
    return Work(
        per_cycle=per_event,
        level=level,
        sigma=solved.sigma if usual > 0 else np.maximum(solved.sigma, SCALE_GUESSED * float(np.median(level))),
        residual=solved.residual,
        cost=solved.cost,
        burn_start_deg=start,
        folded=folded - folded.mean(axis=1, keepdims=True),
        cycle_times_s=begins,
        rpm=120.0 / np.diff(begins),
        steady=cycle.steady,
    )


def phase_cost(cycle: AveragedCycle, engine: Engine, late_deg: float) -> float:
    """How badly the shapes fit where all events come later than was thought: unexplained, and unlike engines.

    Parameters
    ----------
    cycle : AveragedCycle
    engine : Engine
    late_deg : float
        Crank degrees.

    Returns
    -------
    float
        The least over a few burns; one of several phases with the least is the likeliest.
    """
    firing = _firing(engine, cycle.steps, late_deg)
    return min(
        _averaged(cycle.seen, shapes_of(firing, start, PHASE_WIDTH_DEG), turns=FIRST_LOOK).cost
        for start in PHASE_STARTS_DEG
    )


def _firing(engine: Engine, steps: int, late_deg: float = 0.0) -> Firing:
    """When the engine fires, ``late_deg`` after what its firing order says."""
    metered = engine.fuel is not Fuel.DIESEL and engine.extra.get(UNTHROTTLED) is not True
    return Firing(steps, tuple((engine.event_angles_deg + late_deg).tolist()), metered)


@dataclass(frozen=True)
class _Solved:
    level: FloatArray
    precision: FloatArray
    residual: float
    cost: float
    """What is left unexplained, and how far the whole is from what engines do."""

    @cached_property
    def covariance(self) -> FloatArray:
        """Of the levels."""
        n = self.level.size
        return np.asarray(np.linalg.pinv(self.precision, rcond=1e-14)[:n, :n])

    @property
    def sigma(self) -> FloatArray:
        """How well each level is known."""
        return np.asarray(np.sqrt(np.maximum(np.diag(self.covariance), 0.0)))

    @property
    def usual_sigma(self) -> float:
        """How well the level common to all is known."""
        return float(np.sqrt(max(self.covariance.mean(), 0.0)))


def _averaged(seen: Weighed, shapes: Shapes, scale: float | None = None, turns: int = ALIKE_TURNS) -> _Solved:
    """Contributions of the averaged cycle, what is common to all cylinders, and the unexplained share.

    Errors of the wheel repeat every revolution, so they look like a cylinder and its companion both deviating. Fitting
    with them as noise, and with most cylinders expected alike, leaves that to the wheel unless one of the two differs.
    How alike goes by the work of a sound event, given as ``scale`` where the cycle itself does not tell it.
    """
    cylinders = shapes.burn.shape[1]
    breath = (shapes.breath,) if cylinders <= BREATHES_APART else ()
    gains = np.column_stack((shapes.burn, shapes.push, *breath, shapes.inertia))
    # Speed is what was measured, with noise that is alike everywhere: fit the energy, not its changes.
    design, energy, wheel, weight = summed(gains), seen.energy, seen.wheel, seen.weight
    normal_matrix, right_hand_side = design.T @ weight @ design, design.T @ weight @ energy
    constraint_matrix = usual_proportions(cylinders, throttled=shapes.throttled)
    prior_mean = np.zeros(gains.shape[1])  # in units of the usual work
    prior_mean[:cylinders] = 1.0
    least = LEAST_SHARE * float(np.ptp(energy)) + 1e-12
    usual = least
    solution: FloatArray = np.zeros(gains.shape[1])
    for turn in range(turns):
        if turn == 0:
            solution = np.asarray(np.linalg.lstsq(normal_matrix, right_hand_side, rcond=1e-12)[0], dtype=np.float64)
            usual = max(_middle(solution[:cylinders]), 2 * least)
            continue
        size = usual if scale is None else scale
        alike = 2.0 / ((ALIKE_SHARE * size) ** 2 + (solution[:cylinders] - usual) ** 2)
        prior_precision = np.append(alike, np.zeros(gains.shape[1] - cylinders))
        held = normal_matrix + np.diag(prior_precision) + constraint_matrix / usual**2
        ridge = 1e-15 * np.trace(held) * np.eye(held.shape[0])
        solution = np.linalg.solve(held + ridge, right_hand_side + prior_precision * prior_mean * usual)
        usual = max(_middle(solution[:cylinders]), least)
    rest = energy - design @ solution
    explained = wheel @ (wheel.T @ (weight @ rest))
    moved = float(np.sum(energy**2))
    residual = float(np.sqrt(np.sum((rest - explained) ** 2) / moved)) if moved > 0 else 1.0
    cost = float(rest @ weight @ rest + solution @ constraint_matrix @ solution / usual**2)
    return _Solved(np.asarray(solution[:cylinders]), normal_matrix + constraint_matrix / usual**2, residual, cost)


def _middle(values: FloatArray) -> float:
    """Median of a few: hundreds are asked for in a fit, and the general one takes ten times as long."""
    ranked = sorted(values.tolist())
    half = len(ranked) // 2
    return float(ranked[half] if len(ranked) % 2 else 0.5 * (ranked[half - 1] + ranked[half]))


def _likely_burn(seen: Weighed, firing: Firing) -> tuple[_Solved, float, float]:
    """The likeliest burn, when it begins and how long it lasts, with the levels that likely burns have on the average.

    Several burns fit nearly alike and say different things of the common level: the best one alone is the one that
    the errors of the shapes happen to favour.
    """
    every = [(start, width) for start in BURN_STARTS_DEG for width in BURN_WIDTHS_DEG]
    looks = {burn: _averaged(seen, shapes_of(firing, *burn), turns=FIRST_LOOK).cost for burn in every}
    kept = sorted(every, key=looks.__getitem__)[:KEPT]
    solved = [_averaged(seen, shapes_of(firing, *burn)) for burn in kept]
    costs = np.array([one.cost for one in solved])
    likely = np.exp(-0.5 * (costs - costs.min()))
    shares = np.stack([one.level / np.median(one.level) for one in solved])
    best = int(np.argmin(costs))
    level = float(np.median(solved[best].level)) * (likely @ shares / likely.sum())
    return replace(solved[best], level=level), *kept[best]


def _scale_checked(level: FloatArray, solved: _Solved, changes: FloatArray) -> float | None:
    """Work of a sound event with what the scatter of single events says of it, where the averaged cycle may not know.

    Many cylinders on a coarse wheel hardly move the crank at the rhythm of firing. Combustion never repeats exactly,
    though: sound events scatter by a usual share of their work. Each of the two counts by how well it is known. Where
    compression hides combustion the common level may come out as none at all, and an engine that runs does work.
    """
    usual = float(np.median(level))
    by_scatter = max(float(np.median(robust_centre(changes)[1])), 1e-12) / SCATTER_USUAL
    if usual <= 0:
        return by_scatter
    if level.size < SCALE_CYLINDERS:
        return None
    known = max(solved.usual_sigma / usual, LEVEL_KNOWN) ** -2
    weight = known / (known + SCALE_GUESSED**-2)
    return None if weight > LEVEL_STANDS else float(usual**weight * by_scatter ** (1.0 - weight))


@dataclass(frozen=True, slots=True)
class _Frame:
    """Where the cycles lie in a run of steps: steps before the first, whole cycles, TDC of each event in a cycle."""

    lead: int
    cycles: int
    events_deg: FloatArray
    steady: BoolArray


def _event_changes(
    energy: FloatArray, frame: _Frame, burn: FloatArray, burn_start_deg: float, *, usual: float
) -> FloatArray:
    """How far the work of every single event is from its cylinder's mean.

    Each event is read from a stretch around it, together with the events that reach into it and a free offset; what
    noise alone would make is held back by how far events are expected to differ.

    Parameters
    ----------
    energy : (lead + cycles * steps + tail,) float
        Less the averaged cycle.
    frame : _Frame
    burn : (steps, cylinders) float
    burn_start_deg : float
    usual : float
        Work of a sound event.

    Returns
    -------
    (cycles, cylinders) float
    """
    steps, n = burn.shape
    events_deg, cycles = frame.events_deg, frame.cycles
    width = CYCLE_DEG / steps
    noise = sample_noise(energy, order=2) + 1e-9 * usual
    risen = np.stack([_risen(burn[:, i], events_deg[i], width, burn_start_deg) for i in range(n)])
    before, after = round(BEFORE_DEG / width), round(AFTER_DEG / width)
    changes = np.empty((cycles, n))
    for i in range(n):
        begin = round(events_deg[i] / width)
        window = np.arange(begin - before, begin + after)
        columns = [np.ones(window.size)]
        mine = 0
        for k in range(n):
            for turn in (-1, 0, 1):
                column = np.interp(window, np.arange(-steps, 2 * steps) + turn * steps, risen[k])
                if np.ptp(column) > 0.02:
                    if k == i and turn == 0:
                        mine = len(columns)
                    columns.append(column)
        design = np.stack(columns, axis=1)
        prior = np.full(design.shape[1], (noise / (EVENT_SPREAD * usual)) ** 2)
        prior[0] = 1e-9
        solver = np.linalg.solve(design.T @ design + np.diag(prior), design.T)[mine]
        at = frame.lead + steps * np.arange(cycles)[:, None] + window
        changes[:, i] = energy[np.clip(at, 0, energy.size - 1)] @ solver
    return np.asarray(changes - changes[frame.steady].mean(axis=0))


def _risen(burn: FloatArray, event_deg: float, width: float, burn_start_deg: float) -> FloatArray:
    """Share of an event's work already done, over three cycles of which the event belongs to the middle one."""
    steps = burn.size
    first = int(np.floor((event_deg + min(0.0, burn_start_deg)) / width)) - 2
    own = np.cumsum(np.roll(burn, -first % steps))
    own = np.where(np.arange(steps) * width < EXHAUST_OPEN_DEG + 6 * width - min(0.0, burn_start_deg), own, 1.0)
    return np.asarray(np.interp(np.arange(-steps, 2 * steps), first + np.arange(steps), own, left=0.0, right=1.0))
