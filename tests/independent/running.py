"""A running engine by first principles: gas of every cylinder over all four strokes, pistons, a flywheel, a wheel.

Numpy only, and nothing shared with the project's own simulator. Pressures follow the polytropic law from the manifold's
pressure, a double Wiebe burn, blow-down to the atmosphere; the intake stroke pulls against the manifold's vacuum.
"""

from __future__ import annotations

from dataclasses import dataclass, field

import numpy as np

ATMOSPHERE = 101.3e3


@dataclass(frozen=True)
class Running:
    """An engine that runs; lengths in m, pressures in Pa.

    ``shares`` is the work of combustion that each cylinder of the firing order still does.
    """

    order: tuple[int, ...] = (1, 3, 4, 2)
    manifold_kpa: float = 35.0
    rpm: float = 800.0
    ratio: float = 10.5
    bore: float = 0.08
    stroke: float = 0.085
    rod: float = 0.14
    piston_kg: float = 0.45
    flywheel: float = 0.14
    teeth: str = "x" * 58 + ".."
    shares: dict[int, float] = field(default_factory=dict)
    scatter: float = 0.06
    friction_kpa: float = 110.0
    burn_from_deg: float = -6.0
    burn_deg: float = 55.0
    blips: float = 0.0
    """By what share of itself the speed rises when the throttle is touched, every ten cycles for four."""
    seed: int = 0


def _geometry(engine: Running, angle: np.ndarray) -> tuple[np.ndarray, np.ndarray, np.ndarray]:
    """Volume, its change per radian, and the piston's acceleration factor, from TDC."""
    r, a = engine.rod / (engine.stroke / 2), np.deg2rad(angle)
    root = np.sqrt(r**2 - np.sin(a) ** 2)
    travel = (engine.stroke / 2) * (1 - np.cos(a) + r - root)
    speed = (engine.stroke / 2) * (np.sin(a) + np.sin(a) * np.cos(a) / root)
    area = np.pi * engine.bore**2 / 4
    swept = area * engine.stroke
    return swept / (engine.ratio - 1) + area * travel, area * speed, speed


def torque_of(engine: Running, angle: np.ndarray, heat: float) -> np.ndarray:
    """Torque of one cylinder's gas over a cycle, N m; ``angle`` from TDC compression, -360 to 360 degrees.

    ``heat`` is how far combustion would raise the pressure at constant volume, in pressures at the end of compression.
    """
    volume, widening, _ = _geometry(engine, angle)
    low, _, _ = _geometry(engine, np.array([180.0]))
    manifold = 1e3 * engine.manifold_kpa
    burnt = np.clip((angle - engine.burn_from_deg) / engine.burn_deg, 0.0, None)
    share = 1 - np.exp(-5.0 * burnt**2.6)
    top, _, _ = _geometry(engine, np.array([0.0]))
    compressed = manifold * (low / volume) ** 1.32
    peak = manifold * (low / top) ** 1.32
    closed = compressed + heat * peak * share * (top / volume) ** 1.27
    out = np.clip((angle - 140.0) / 45.0, 0.0, 1.0) ** 2
    pressure = np.where(angle < -180.0, manifold, closed * (1 - out) + (ATMOSPHERE + 4e3) * out)
    pressure = np.where(angle > 185.0, ATMOSPHERE + 4e3, pressure)
    return (pressure - ATMOSPHERE) * widening


def tooth_times(engine: Running, seconds: float = 4.0) -> tuple[np.ndarray, np.ndarray]:
    """When each tooth of the wheel passes, and when the first of the firing order stands at TDC compression, s."""
    rng = np.random.default_rng(engine.seed)
    n = len(engine.order)
    step = 0.5
    grid = np.arange(-360.0, 360.0, step)
    cycles = int(seconds * engine.rpm / 120) + 2
    # What combustion must give so that the engine holds its speed against friction of about 1 bar over the cycle.
    area = np.pi * engine.bore**2 / 4
    friction = engine.friction_kpa * 1e3 * area * engine.stroke  # J a cylinder and cycle

    def work(heat: float) -> float:
        return float(np.sum(torque_of(engine, grid, heat)) * np.deg2rad(step))

    empty, full = work(0.0), work(1.0)
    heat = (friction - empty) / (full - empty)
    alive = sum(engine.shares.get(c, 1.0) for c in engine.order) / n
    heat /= max(alive, 0.3)
    plain, fired = torque_of(engine, grid, 0.0), torque_of(engine, grid, heat)
    per_cycle = grid.size
    total = np.zeros(cycles * per_cycle)
    for place, cylinder in enumerate(engine.order):
        gains = engine.shares.get(cylinder, 1.0) * (1 + engine.scatter * rng.standard_normal(cycles + 1))
        for k in range(cycles + 1):
            own = plain + gains[k] * (fired - plain)
            at = round(k * per_cycle + (place / n - 1) * per_cycle + per_cycle / 2)
            first, last = max(at, 0), min(at + per_cycle, total.size)
            if last > first:
                total[first:last] += own[first - at : last - at]
    angle = np.arange(total.size) * step  # 0 is TDC compression of the first
    load = total.mean()
    # Inertia of the pistons: kinetic energy that depends on the angle.
    mass = np.zeros(total.size)
    for place in range(n):
        _, _, speed = _geometry(engine, (angle - place * 720.0 / n) % 720.0)
        mass += engine.piston_kg * speed**2
    energy = np.cumsum(total - load) * np.deg2rad(step)
    mean_w = engine.rpm * 2 * np.pi / 60
    touched = np.clip((angle % 7200.0 - 2200.0) / 2880.0, 0.0, 1.0)
    faster = 1.0 + engine.blips * np.sin(np.pi * touched) ** 2
    kinetic = 0.5 * (engine.flywheel + mass.mean()) * (mean_w * faster) ** 2 + energy - energy.mean()
    omega = np.sqrt(np.maximum(2 * kinetic / (engine.flywheel + mass), 1.0))
    clock = np.concatenate(([0.0], np.cumsum(np.deg2rad(step) / omega)))[:-1]
    pitch = 360.0 / len(engine.teeth)
    places = [i for i, mark in enumerate(engine.teeth) if mark == "x"]
    turns = int(angle[-1] // 360)
    marks = np.array([360.0 * turn + pitch * p for turn in range(turns) for p in places])
    tops = np.arange(0.0, angle[-1], 720.0)
    return np.interp(marks, angle, clock), np.interp(tops, angle, clock)


def random_engines(order: tuple[int, ...], *, count: int, seed: int) -> list[tuple[Running, float]]:
    """Engines that differ in all that is not known beforehand, each with one cylinder that does less, and how much."""
    rng = np.random.default_rng(seed)
    made = []
    for number in range(count):
        true = (0.85, 0.5, 0.0)[number % 3]
        run = Running(
            order=order,
            manifold_kpa=float(rng.uniform(25, 100)),
            shares={order[1]: true},
            flywheel=float(rng.uniform(0.09, 0.25)),
            friction_kpa=float(rng.uniform(80, 160)),
            burn_from_deg=float(rng.uniform(-12, 6)),
            burn_deg=float(rng.uniform(45, 80)),
            rpm=float(rng.uniform(650, 950)),
            ratio=float(rng.uniform(9.5, 12)),
            piston_kg=float(rng.uniform(0.3, 0.6)),
            seed=number,
        )
        made.append((run, true))
    return made
