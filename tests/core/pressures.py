"""Cylinder pressure made by hand for the tests: textbook compression, valve events where they are put."""

import numpy as np

from fairwitness.core.model.capture import Capture, CaptureTest, Channel, EngineState, Role, SetUp, TimeBase
from fairwitness.core.model.engine import cylinder_volume

RATE = 10_000.0
ATMOSPHERE = 101_325.0


def cycle(*, ratio=10.0, n=1.3, closes=-130.0, opens=140.0, intake=95_000.0, late=0.0, kept=1.0, shut_exhaust=False):
    """Absolute pressure on whole degrees from -360: intake, compression, expansion, exhaust."""
    angle = np.arange(-360.0, 360.0)
    closes, opens = closes + late, opens + late
    volume = cylinder_volume(angle, compression_ratio=ratio, rod_ratio=3.4)
    start = float(np.interp(closes, angle, volume))
    law = intake * (start / volume) ** n
    law = np.where(angle > 0, law * kept, law * (1 - (1 - kept) * np.clip((angle + 60) / 60, 0, 1)))
    pressure = np.where(angle < closes, intake, law)
    at_opening = float(np.interp(opens, angle, pressure))
    out = ATMOSPHERE + (at_opening - ATMOSPHERE) * np.exp(-(angle - opens).clip(0) / 10.0)
    pressure = np.where(angle > opens, out, pressure)
    enters = (angle > -360.0 + late) & (angle < -330.0 + late)
    step = ATMOSPHERE + (intake - ATMOSPHERE) * (angle + 360.0 - late) / 30.0
    pressure = np.where(enters, step, pressure)
    if shut_exhaust:
        again = 0.9 * intake * (volume.max() / volume) ** n
        pressure = np.where(np.abs(angle) > 180, np.maximum(again * (np.abs(angle) > 250), intake), pressure)
    return angle, pressure


def pressure_capture(engine, cylinders, *, rpm=200.0, cycles=8, noise=2_000.0, offset=-ATMOSPHERE, unit="bar",
                     state=EngineState.CRANKING, seed=0, shift_s=0.0):  # fmt: skip
    """Cylinders mapped to keywords of ``cycle``; the crank turns evenly."""
    factor = {"bar": 1e5, "kPa": 1e3, "psi": 6894.757}[unit]
    count = int(RATE * cycles * 120.0 / rpm)
    inverted = 6.0 * rpm * (np.arange(count) / RATE + shift_s)
    channels = []
    for i, (cylinder, about) in enumerate(cylinders.items()):
        angle, pressure = cycle(**about)
        at = (inverted - engine.tdc_deg(cylinder) + 360.0) % 720.0 - 360.0
        values = np.interp(at, angle, pressure, period=720.0) + np.random.default_rng(seed + i).normal(0, noise, count)
        channels.append(
            Channel(
                name=f"p{cylinder}", role=Role.CYLINDER_PRESSURE, unit=unit, cylinder=cylinder,
                samples=((values + offset) / factor).astype(np.float32),
            )
        )  # fmt: skip
    set_up = SetUp(test=CaptureTest.CYLINDER_PRESSURE, engine_state=state)
    return Capture(name="pressure", time=TimeBase(samples=count, rate_hz=RATE), channels=tuple(channels), set_up=set_up)
