"""Whatever is recorded, a test answers: findings or a refusal with its reason, never an exception."""

import numpy as np
import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from fairwitness.core.messages.rendering import render
from fairwitness.core.model.capture import Capture, CaptureTest, Channel, Role, SetUp, TimeBase
from fairwitness.core.model.engine import Fuel, Ignition, Injection, InjectorDrive, even_engine
from fairwitness.core.procedures.registry import CAPTURE_TESTS

ENGINES = (
    even_engine((1,)),
    even_engine((1, 3, 4, 2)),
    even_engine((1, 8, 4, 3, 6, 5, 7, 2), injection=Injection.DIRECT),
    even_engine((1, 3, 4, 2), injector_drive=InjectorDrive.PEAK_AND_HOLD, ignition=Ignition.WASTE_SPARK),
    even_engine(
        (1, 3, 4, 2), fuel=Fuel.DIESEL, ignition=Ignition.COMPRESSION_IGNITION, injection=Injection.COMMON_RAIL
    ),
)
ROLES = {
    CaptureTest.INJECTOR_CURRENT: (Role.INJECTOR_CURRENT, "A"),
    CaptureTest.INJECTOR_VOLTAGE: (Role.INJECTOR_VOLTAGE, "V"),
    CaptureTest.CYLINDER_PRESSURE: (Role.CYLINDER_PRESSURE, "bar"),
    CaptureTest.CRANKCASE_PULSE: (Role.CRANKCASE_PRESSURE, "Pa"),
    CaptureTest.INTAKE_PULSE: (Role.INTAKE_PRESSURE, "kPa"),
}


def wave(kind, count, rng, scale, period):
    at = np.arange(count)
    shapes = {
        "noise": rng.normal(0, 1, count),
        "flat": np.zeros(count),
        "step": (at > count // 2).astype(float),
        "square": ((at // period) % 2).astype(float),
        "saw": (at % period) / period,
        "sine": np.sin(2 * np.pi * at / period),
        "spikes": (rng.random(count) < 0.001).astype(float) * 30,
        "humps": np.clip(np.sin(2 * np.pi * at / period), 0, None) ** 8,
        "holes": np.where(rng.random(count) < 0.3, np.nan, rng.normal(0, 1, count)),
        "nothing": np.full(count, np.nan),
    }
    return (scale * shapes[kind]).astype(np.float32)


KINDS = ("noise", "flat", "step", "square", "saw", "sine", "spikes", "humps", "holes", "nothing")


@pytest.mark.parametrize("test", list(ROLES))
@settings(max_examples=250, deadline=None, suppress_health_check=[HealthCheck.too_slow])
@given(
    kinds=st.lists(st.sampled_from(KINDS), min_size=2, max_size=3),
    sync=st.sampled_from((None, *KINDS)),
    engine=st.sampled_from(ENGINES),
    count=st.sampled_from((2, 60, 3_000, 40_000)),
    rate=st.sampled_from((500.0, 10_000.0, 200_000.0)),
    scale=st.sampled_from((1e-6, 1.0, 14.0, 1e4)),
    period=st.integers(7, 5_000),
    shared=st.booleans(),
    seed=st.integers(0, 1000),
)
def test_anything_recorded_gets_an_answer(test, kinds, sync, engine, count, rate, scale, period, shared, seed):
    rng = np.random.default_rng(seed)
    role, unit = ROLES[test]
    channels = [
        Channel(
            name=f"c{i}", role=role, unit=unit, samples=wave(kind, count, rng, scale, period),
            cylinder=None if shared else engine.firing_order[i % engine.cylinders],
        )
        for i, kind in enumerate(kinds)
    ]  # fmt: skip
    if sync is not None:
        role = Role.INJECTOR_VOLTAGE if seed % 2 else Role.COIL_CONTROL
        mark = wave(sync, count, rng, 13.0, period)
        channels.append(Channel(name="sync", role=role, unit="V", samples=mark, cylinder=1, sync=True))
    capture = Capture(
        name="junk", time=TimeBase(samples=count, rate_hz=rate), channels=tuple(channels), set_up=SetUp(test=test)
    )
    for module in CAPTURE_TESTS.values():
        if module.applies(capture):
            reported = module.measure(capture, engine)
            assert reported.usable or any(r.blocking and render(r.statement) for r in reported.reasons)
            for line in reported.lines:
                assert all(np.isfinite(a).all() for a in line.alternatives)
                assert (line.sigmas > 0).all()
