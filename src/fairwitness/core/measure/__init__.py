"""One module per test of the trade.

A capture module has ``TEST``, ``applies(capture)`` and ``measure(capture, engine)``; an observation module has ``TEST``
and ``measure(observation, index, engine)``. Naming a module here is all it takes to have it used.
"""

from typing import Protocol

from fairwitness import __version__
from fairwitness.core.capture import Capture, UnreadableCapture
from fairwitness.core.case import Observation
from fairwitness.core.engine import Engine
from fairwitness.core.finding import Measured, Origin, refused
from fairwitness.core.measure import (
    crank_speed,
    cranking_speed,
    exhaust_pulse,
    misfire_counts,
    power_balance,
    relative_compression,
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


class ObservationTestModule(Protocol):
    """What a test that reads hand-entered observations offers."""

    TEST: str

    def measure(self, observation: Observation, index: int, engine: Engine) -> Measured:
        """Read it."""
        ...


CAPTURE_TESTS: tuple[CaptureTestModule, ...] = (relative_compression, crank_speed, exhaust_pulse)
OBSERVATION_TESTS: tuple[ObservationTestModule, ...] = (cranking_speed, power_balance, misfire_counts)


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
