"""Traces of many worlds with what they are, and the weights by which a trace is recognised.

Traces are taken as people take them: through leads of unknown gain, cut short, sampled slowly, coarse, noisy, upside
down. A part of the vehicles is kept out of the fit and judged by it.
"""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Sequence
from dataclasses import dataclass

import numpy as np
from numpy.random import Generator
from numpy.typing import NDArray
from scipy.optimize import minimize

from fairwitness import __version__
from fairwitness.core.errors import CaptureError, SimulationError
from fairwitness.core.model.capture import CaptureTest, Channel, Role
from fairwitness.core.signal.recognition.recogniser import (
    SHIPPED,
    Weights,
    allows,
    by_shape,
    scaled,
    write_weights,
)
from fairwitness.core.signal.recognition.shape import outline_of, shape
from fairwitness.simulate.clips import LEVELS
from fairwitness.simulate.examine import cam_capture, capture_of
from fairwitness.simulate.garage import ENGINES, build, random_faults
from fairwitness.simulate.worlds.choices import draw_world

FloatArray = NDArray[np.float64]
STREAM = 22
VOLTS_PER = {"A": (1e-3, 1e-2, 1e-1), "Pa": (1e-6, 2e-6, 1e-5, 1e-4), "V": (1e-1, 5e-2, 1e-2, 1e-3, 1e-4)}
"""Gains of leads, volts per unit used inside."""
NOT_THROUGH_LEADS = (Role.BATTERY_VOLTAGE, Role.CRANK_SENSOR, Role.CAM_SENSOR)
SLOWEST_HZ = 800.0
EVERY_OUT = 5
"""One vehicle of so many is judged and not learned from."""
PULL = 0.003
"""How strongly weights are held at nothing; without it the fit learns the simulator by heart."""


@dataclass(frozen=True, slots=True, kw_only=True)
class KnownTrace:
    """The shape of a trace, and what it was."""

    seed: int
    role: Role
    unit: str | None
    told: FloatArray


def known_traces(seeds: Iterable[int]) -> Iterator[KnownTrace]:
    """Every channel of every test of a vehicle per seed, cam against crank too, clean and as people take them."""
    for seed in seeds:
        rng = np.random.default_rng([seed, STREAM])
        engine = list(ENGINES.values())[int(rng.integers(len(ENGINES)))]
        try:
            vehicle = build(engine, random_faults(engine, rng), rng=rng, world=draw_world(rng))
        except SimulationError:
            continue
        for test in (*CaptureTest, None):
            level = list(LEVELS)[int(rng.integers(len(LEVELS)))]
            try:
                if test is None:
                    capture = cam_capture(vehicle, level=level, rng=rng)
                else:
                    capture = capture_of(vehicle, test, level=level, rng=rng)
            except (SimulationError, CaptureError):
                continue
            for channel in capture.channels:
                yield from _told(seed, channel, capture.time.rate_hz, rng)


def _told(seed: int, channel: Channel, rate_hz: float, rng: Generator) -> Iterator[KnownTrace]:
    samples, unit = _through_a_lead(channel, rng)
    for spoiled in (False, True):
        taken, rate = _as_people_do(samples, rate_hz, rng) if spoiled else (samples, rate_hz)
        outline = outline_of(taken)
        if outline is not None:
            yield KnownTrace(seed=seed, role=channel.role, unit=unit, told=shape(outline, rate, unit))


def _through_a_lead(channel: Channel, rng: Generator) -> tuple[FloatArray, str | None]:
    """As the instrument writes it: in its own unit, or in volts of a lead nobody named; now and then upside down."""
    samples, unit = np.asarray(channel.samples, dtype=np.float64), str(channel.unit)
    if channel.role not in NOT_THROUGH_LEADS and rng.random() < 0.5:
        gains = VOLTS_PER[channel.si_unit]
        samples, unit = samples * channel.si_factor * gains[int(rng.integers(len(gains)))], "V"
        if rng.random() < 0.5:
            samples, unit = samples * 1e3, "mV"
    if rng.random() < 0.15:
        samples = -samples
    return samples, None if rng.random() < 0.1 else unit


def _as_people_do(samples: FloatArray, rate_hz: float, rng: Generator) -> tuple[FloatArray, float]:
    """Cut short, sampled slowly, noisy, coarse: each every other time."""
    span = float(np.nanmax(samples) - np.nanmin(samples))
    if rng.random() < 0.5:
        kept = max(400, int(samples.size * rng.uniform(0.15, 0.8)))
        begin = int(rng.integers(0, max(1, samples.size - kept)))
        samples = samples[begin : begin + kept]
    if rng.random() < 0.5:
        every = int(rng.choice([2, 4, 5, 8, 10, 20]))
        if rate_hz / every > SLOWEST_HZ:
            samples, rate_hz = samples[::every], rate_hz / every
    if rng.random() < 0.5:
        samples = samples + span * 10 ** rng.uniform(-3, -1.6) * rng.standard_normal(samples.size)
    step = span / 2 ** int(rng.integers(6, 9)) * rng.uniform(1, 2)
    if rng.random() < 0.5 and step > 0:
        samples = np.round(samples / step) * step
    return samples, rate_hz


def fit_weights(traces: Sequence[KnownTrace]) -> Weights:
    """Weights of a linear rule, by maximum likelihood; rare roles count for more than their number.

    Parameters
    ----------
    traces : sequence of KnownTrace
    """
    roles = tuple(r for r in Role if any(t.role is r for t in traces))
    told = np.array([t.told for t in traces])
    which = np.array([roles.index(t.role) for t in traces])
    centre, spread = told.mean(axis=0), told.std(axis=0) + 1e-6
    rows = np.concatenate((np.ones((len(traces), 1)), scaled(told, centre, spread)), axis=1)
    counts = np.bincount(which, minlength=len(roles))
    weight = np.sqrt(1.0 / counts[which])
    weight = weight / weight.sum()
    truth = np.eye(len(roles))[which]

    def loss(flat: FloatArray) -> tuple[float, FloatArray]:
        slopes = flat.reshape(rows.shape[1], len(roles))
        scores = rows @ slopes
        scores = scores - scores.max(axis=1, keepdims=True)
        shares = np.exp(scores)
        shares = shares / shares.sum(axis=1, keepdims=True)
        pulled = slopes.copy()
        pulled[0] = 0.0
        value = -float(weight @ np.log(shares[np.arange(which.size), which] + 1e-12))
        value += 0.5 * PULL * float((pulled**2).sum())
        return value, (rows.T @ (weight[:, None] * (shares - truth)) + PULL * pulled).ravel()

    found = minimize(loss, np.zeros(rows.shape[1] * len(roles)), jac=True, method="L-BFGS-B", options={"maxiter": 1500})
    slopes = found.x.reshape(rows.shape[1], len(roles))
    return Weights(roles=roles, centre=centre, spread=spread, slope=slopes[1:], level=slopes[0])


def scored(traces: Sequence[KnownTrace], weights: Weights = SHIPPED) -> tuple[float, float]:
    """Share of traces whose role stands first, and among the first three; what the unit rules out is left out."""
    first = three = 0
    shares = by_shape(np.array([t.told for t in traces]), weights)
    for trace, share in zip(traces, shares, strict=True):
        allowed = np.array([allows(trace.unit, role) for role in weights.roles])
        order = [weights.roles[i] for i in np.argsort(-np.where(allowed, share, 0.0))]
        first += order[0] is trace.role
        three += trace.role in order[:3]
    return first / len(traces), three / len(traces)


def fitted_text(vehicles: int, *, seed: int, command: str) -> str:
    """The weights over so many vehicles as a file, with how they did on those kept out."""
    traces = list(known_traces(range(seed, seed + vehicles)))
    out = [t for t in traces if t.seed % EVERY_OUT == 0]
    first, three = scored(out, fit_weights([t for t in traces if t.seed % EVERY_OUT]))
    remarks = (
        "Weights by which a trace is recognised. Fit of Fair Witness " + __version__ + ": " + command,
        f"{len(traces)} traces of {vehicles} vehicles; one of {EVERY_OUT} vehicles kept out: the role stands first in "
        f"{100 * first:.1f} %, among three in {100 * three:.1f} % of {len(out)}.",
    )
    return write_weights(fit_weights(traces), remarks)
