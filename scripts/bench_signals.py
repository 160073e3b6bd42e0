"""Figures of pure computation: nothing of the server is in here."""

from __future__ import annotations

import time
from collections.abc import Callable
from dataclasses import dataclass

import numpy as np
from scipy.signal import butter, sosfiltfilt

from fairwitness.core.diagnose import conclude
from fairwitness.core.model.capture import Capture, CaptureTest, Role, SetUp
from fairwitness.core.model.engine import even_engine
from fairwitness.core.procedures.crank_speed import measure as crank_speed
from fairwitness.core.procedures.relative_compression import measure as relative_compression
from fairwitness.core.procedures.secondary_voltage import measure as secondary_voltage
from fairwitness.core.procedures.set_up_card import Clip
from fairwitness.core.procedures.specs import CARDS, OFFERS
from fairwitness.core.signal.crank.tooth_times import tooth_times
from fairwitness.simulate.cranking import crank
from fairwitness.simulate.examine import Recorder, sample
from fairwitness.simulate.garage import ENGINES, build
from fairwitness.simulate.health import Fault
from fairwitness.simulate.instruments import Rig, record
from fairwitness.simulate.population import vehicle_for
from fairwitness.simulate.running import run_engine
from fairwitness.study.visit import Visit

FOUR = even_engine((1, 3, 4, 2))
ROUNDS = 5


@dataclass(frozen=True)
class Figure:
    """One line of the table."""

    work: str
    yardstick: str
    value: float
    unit: str
    target: float
    at_least: bool = False

    @property
    def met(self) -> bool:
        """On the right side of the target."""
        return self.value >= self.target if self.at_least else self.value <= self.target


def once_s(work: Callable[[], object]) -> float:
    """Time of one round."""
    begin = time.perf_counter()
    work()
    return time.perf_counter() - begin


def median_s(work: Callable[[], object], rounds: int = ROUNDS) -> float:
    """Median time of a few rounds, the first one left out."""
    work()
    return float(np.median([once_s(work) for _ in range(rounds)]))


def cranking(rate_hz: float, seconds: float = 8.0) -> Capture:
    """A crank of four cylinders at a rate; built without the simulator's own sampling cost counting."""
    rng = np.random.default_rng(1)
    run = crank(vehicle_for(FOUR, (1.0, 1.0, 0.1, 1.0), rng), seconds=seconds, rest_s=0.5)
    return record(run, FOUR, Rig(rate_hz=rate_hz, noise_a=0.6, bits=12, clamp_range_a=1000.0), rng=rng)


def relative_compression_figures() -> list[Figure]:
    """The measurement against one filter pass, and how it grows."""
    capture = cranking(500_000.0)
    capture.sha256  # noqa: B018 - a fingerprint belongs to the import, not to the measurement
    trace = capture.channels[0].samples
    sos = butter(4, 100, fs=500_000, output="sos")
    # Taken in turn, so that a machine that slows down slows both.
    pairs = [
        (median_s(lambda: sosfiltfilt(sos, trace), 1), median_s(lambda: relative_compression.measure(capture, FOUR), 1))
        for _ in range(ROUNDS)
    ]
    ratio = float(np.median([ours / theirs for theirs, ours in pairs]))
    sizes, times = [], []
    for rate in (500_000.0, 1_000_000.0, 2_000_000.0):
        grown = cranking(rate)
        grown.sha256  # noqa: B018
        sizes.append(grown.time.samples)
        times.append(median_s(lambda held=grown: relative_compression.measure(held, FOUR), 3))
    exponent = float(np.polyfit(np.log(sizes), np.log(times), 1)[0])
    return [
        Figure("relative compression, 4 M + 4 M samples", "one zero-phase filter pass of 4 M", ratio, "x", 0.35),
        Figure("relative compression, growth from 4 M to 16 M samples", "exponent", exponent, "", 1.05),
    ]


def crank_speed_figures() -> list[Figure]:
    """Eight million samples of a crank sensor: teeth, and contributions."""
    rng = np.random.default_rng(2)
    vehicle = build(ENGINES["drover-2.0"], rng=rng)
    card = CARDS[CaptureTest.CRANK_SPEED]
    trajectory = run_engine(vehicle, seconds=16.0, rng=rng)
    clips = (Clip(role=Role.CRANK_SENSOR),)
    set_up = card.recorded(hot=True)
    capture = sample(
        trajectory, clips, Recorder(rate_hz=500_000.0, level="workshop", name="bench", set_up=set_up), rng=rng
    )
    capture.sha256  # noqa: B018
    trace = capture.channels[0].samples.astype(np.float32)
    pairs = [
        (
            median_s(lambda: trace > 0.5, 5),
            median_s(lambda: tooth_times(trace, capture.time), 3),
            median_s(lambda: crank_speed.measure(capture, vehicle.engine), 3),
        )
        for _ in range(ROUNDS)
    ]
    teeth = float(np.median([t / plain for plain, t, _ in pairs]))
    whole = float(np.median([w / plain for plain, _, w in pairs]))
    millions = f"{trace.size / 1e6:.0f} M samples of a crank sensor"
    return [
        Figure(f"{millions}: tooth times", "one plain compare pass", teeth, "x", 8.0),
        Figure(f"{millions}: contributions", "one plain compare pass", whole, "x", 12.0),
    ]


def ignition_figures() -> list[Figure]:
    """One second of four leads at 1 MS/s: every spark found, read and compared."""
    rng = np.random.default_rng(4)
    vehicle = build(ENGINES["drover-2.0"], rng=rng)
    card = CARDS[CaptureTest.SECONDARY_VOLTAGE]
    trajectory = run_engine(vehicle, seconds=1.0, rng=rng)
    clips = card.clips(vehicle.engine, (), vehicle.injector_feeds)
    set_up = card.recorded(hot=True)
    capture = sample(trajectory, clips, Recorder(rate_hz=1e6, level="workshop", name="bench", set_up=set_up), rng=rng)
    capture.sha256  # noqa: B018
    traces = [c.samples.astype(np.float64) for c in capture.channels]
    sos = butter(4, 1000.0, fs=1e6, output="sos")
    filtering = median_s(lambda: [sosfiltfilt(sos, trace) for trace in traces])
    reading = median_s(lambda: secondary_voltage.measure(capture, vehicle.engine))
    words = "secondary voltage, 1 s x 4 leads at 1 MS/s, whole measurement"
    return [Figure(words, "one zero-phase filter pass of the same", reading / filtering, "x", 2.0)]


def reasoning_figures() -> list[Figure]:
    """Twelve cylinders with every test of the trade taken: reasoned over and planned again."""
    engine = even_engine((1, 7, 5, 11, 3, 9, 6, 12, 2, 8, 4, 10), label="bench twelve")
    ill = build(engine, (Fault("injector_open_circuit", (5,)),), rng=np.random.default_rng(1))
    visit = Visit(ill, "workshop", 1)
    measured = tuple(m for test in OFFERS.values() if test.fits(visit.engine) for m in visit.take(test, (5,)))
    again = median_s(lambda: conclude(visit.case(), measured))
    words = f"12 cylinders, {len(measured)} measurements: diagnosed and planned again"
    return [Figure(words, "", 1000 * again, "ms", 200.0)]


def simulation_figures() -> list[Figure]:
    """Ten seconds of an eight-cylinder with eight channels at 100 kS/s, from trajectory to numbers."""
    vehicle = build(ENGINES["salter-4.4"], rng=np.random.default_rng(1))
    roles = (Role.CRANK_SENSOR, Role.CAM_SENSOR, Role.COIL_CURRENT, Role.INJECTOR_CURRENT, Role.EXHAUST_PRESSURE)
    single = (Role.SECONDARY_VOLTAGE, Role.INJECTOR_VOLTAGE, Role.COIL_CONTROL)
    clips = [Clip(role=role) for role in roles] + [Clip(role=role, cylinder=1) for role in single]

    def simulate() -> None:
        rng = np.random.default_rng(2)
        trajectory = run_engine(vehicle, seconds=10.0, rng=rng)
        sample(trajectory, clips, Recorder(rate_hz=100_000.0, level="workshop", name="bench", set_up=SetUp()), rng=rng)

    taken = median_s(simulate, 3)
    return [Figure("simulated 8 cylinders, 8 channels at 100 kS/s, 10 s of life", "", taken, "s", 10.0)]
