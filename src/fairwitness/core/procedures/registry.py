"""One module per test of the trade.

A capture module has ``TEST``, ``applies(capture)`` and ``measure(capture, engine)``; an observation module has ``TEST``
and ``measure(observation, index, engine)``. Naming a module here is all it takes to have it used.
"""

from collections.abc import Sequence
from typing import Protocol

from fairwitness import __version__
from fairwitness.core.model.capture import Capture, UnreadableCapture
from fairwitness.core.model.case import Observation
from fairwitness.core.model.engine import Engine
from fairwitness.core.model.measurement import Measured, Origin, refused
from fairwitness.core.model.reason import Reason
from fairwitness.core.procedures import (
    compression_gauge,
    cranking_speed,
    delivery,
    fuel_pressure,
    fuel_trim,
    key_cycle,
    leak_down,
    load_lamp,
    misfire_counts,
    power_balance,
    resistance,
    runner_check,
    spark_check,
    swap,
    vacuum,
    visual,
    voltage,
)
from fairwitness.core.procedures.cam_timing import measure as cam_timing
from fairwitness.core.procedures.coil_control import measure as coil_control
from fairwitness.core.procedures.coil_current import measure as coil_current
from fairwitness.core.procedures.crank_speed import measure as crank_speed
from fairwitness.core.procedures.crankcase_pulse import measure as crankcase_pulse
from fairwitness.core.procedures.cylinder_pressure import measure as cylinder_pressure
from fairwitness.core.procedures.exhaust_pulse import measure as exhaust_pulse
from fairwitness.core.procedures.injector_current import measure as injector_current
from fairwitness.core.procedures.injector_voltage import measure as injector_voltage
from fairwitness.core.procedures.intake_pulse import measure as intake_pulse
from fairwitness.core.procedures.relative_compression import measure as relative_compression
from fairwitness.core.procedures.secondary_voltage import measure as secondary_voltage


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
