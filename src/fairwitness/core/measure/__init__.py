"""One module per test of the trade.

A capture module has ``TEST``, ``applies(capture)`` and ``measure(capture, engine)``; an observation module has ``TEST``
and ``measure(observation, index, engine)``. Naming a module here is all it takes to have it used.
"""

from collections.abc import Sequence
from typing import Protocol

from fairwitness import __version__
from fairwitness.core.capture import Capture, UnreadableCapture
from fairwitness.core.case import Observation
from fairwitness.core.engine import Engine
from fairwitness.core.finding import Measured, Origin, refused
from fairwitness.core.measure import (
    cam_timing,
    coil_control,
    coil_current,
    compression_gauge,
    crank_speed,
    crankcase_pulse,
    cranking_speed,
    cylinder_pressure,
    delivery,
    exhaust_pulse,
    fuel_pressure,
    fuel_trim,
    injector_current,
    injector_voltage,
    intake_pulse,
    key_cycle,
    leak_down,
    load_lamp,
    misfire_counts,
    power_balance,
    relative_compression,
    resistance,
    runner_check,
    secondary_voltage,
    spark_check,
    swap,
    vacuum,
    visual,
    voltage,
)
from fairwitness.core.quality import Reason


class CaptureTestModule(Protocol):
    """What a test that reads captures offers."""

    TEST: str

    def applies(self, capture: Capture) -> bool:
        """Whether the test can read this capture."""
        ...

    def measure(self, capture: Capture, engine: Engine) -> Measured:
        """Read it."""
        ...


class SweepTestModule(Protocol):
    """What a test offers that may be taken cylinder by cylinder."""

    TEST: str

    def together(self, parts: Sequence[Measured], engine: Engine) -> tuple[Measured, ...]:
        """Judge parts beside each other, in the same order."""
        ...


class ObservationTestModule(Protocol):
    """What a test that reads hand-entered observations offers."""

    TEST: str

    def measure(self, observation: Observation, index: int, engine: Engine) -> Measured:
        """Read it."""
        ...


CAPTURE_TESTS: tuple[CaptureTestModule, ...] = (
    relative_compression,
    crank_speed,
    exhaust_pulse,
    secondary_voltage,
    coil_current,
    coil_control,
    injector_current,
    injector_voltage,
    cylinder_pressure,
    crankcase_pulse,
    intake_pulse,
    cam_timing,
)
OBSERVATION_TESTS: tuple[ObservationTestModule, ...] = (
    cranking_speed,
    power_balance,
    misfire_counts,
    resistance,
    voltage,
    swap,
    spark_check,
    load_lamp,
    visual,
    leak_down,
    fuel_pressure,
    fuel_trim,
    delivery,
    runner_check,
    compression_gauge,
    vacuum,
    key_cycle,
)
SWEEP_TESTS: tuple[SweepTestModule, ...] = (secondary_voltage, coil_current, injector_voltage, resistance)


def swept(measured: Sequence[Measured], engine: Engine) -> tuple[Measured, ...]:
    """Compare what was taken cylinder by cylinder, as if it had been one capture.

    Parameters
    ----------
    measured : sequence of Measured
    engine : Engine

    Returns
    -------
    tuple of Measured
        In the same order; parts of one sweep are judged beside each other.
    """
    judged = list(measured)
    for test in SWEEP_TESTS:
        groups: dict[str, list[int]] = {}
        for i, m in enumerate(measured):
            if m.test == test.TEST and m.usable and m.figures and len(m.figures) < engine.cylinders:
                groups.setdefault(str(m.facts.get("group", "")), []).append(i)
        for at in groups.values():
            if len(at) > 1:
                for i, again in zip(at, test.together([measured[i] for i in at], engine), strict=True):
                    judged[i] = again
    return tuple(judged)


def unreadable(capture: UnreadableCapture, engine: Engine) -> Measured | None:
    """What the test of a capture can say when its samples could not be read: nothing, with the reason.

    Returns
    -------
    Measured or None
        Unusable; None where no test is known for it.
    """
    test = capture.set_up.test
    if test is None or test.value not in {module.TEST for module in CAPTURE_TESTS}:
        return None
    reason = Reason("unreadable", capture.reason, blocking=True)
    origin = Origin(resource=capture.name, code_version=__version__)
    return refused(test.value, "1", engine.firing_order, (reason,), origin)
