"""Captures of a simulated crank, made once per set-up and shared."""

from __future__ import annotations

import os
from functools import lru_cache

import numpy as np
import pytest
from hypothesis import settings

from fairwitness.core.model.capture import Capture
from fairwitness.core.model.engine import Engine, even_engine
from fairwitness.server.keeping.folder import prepare
from fairwitness.simulate.cranking import CrankRun, crank
from fairwitness.simulate.instruments import Rig, record
from fairwitness.simulate.population import vehicle_for

# How fast a machine is fails no test. A run of every day looks at fewer examples; HYPOTHESIS_PROFILE=long at many.
settings.register_profile("everyday", deadline=None, max_examples=50)
settings.register_profile("long", deadline=None, max_examples=400)
settings.load_profile(os.environ.get("HYPOTHESIS_PROFILE", "everyday"))


def pytest_configure() -> None:
    """A folder for the databases of the tests, which reading the settings does not make."""
    from django.conf import settings as of_the_server

    prepare(of_the_server.DATA)


@lru_cache(maxsize=64)
def crank_run(order: tuple[int, ...], sealing: tuple[float, ...], seconds: float = 6.0, seed: int = 5) -> CrankRun:
    """One crank of an even petrol engine."""
    engine = even_engine(order)
    vehicle = vehicle_for(engine, sealing, np.random.default_rng(seed))
    return crank(vehicle, seconds=seconds, rest_s=0.5)


def cranking(
    engine: Engine, low: dict[int, float] | None = None, *, seconds: float = 6.0, seed: int = 5, **rig: object
) -> Capture:
    """A capture of an engine whose named cylinders seal to the given share."""
    sealing = tuple((low or {}).get(c, 1.0) for c in range(1, engine.cylinders + 1))
    run = crank_run(engine.firing_order, sealing, seconds, seed)
    settings = {"noise_a": 1.0, "rate_hz": 4000.0} | rig
    return record(run, engine, Rig(**settings), rng=np.random.default_rng(seed))


@pytest.fixture
def four() -> Engine:
    return even_engine((1, 3, 4, 2))


@pytest.fixture
def six() -> Engine:
    return even_engine((1, 5, 3, 6, 2, 4))
