"""One module per test of the trade.

A capture module has ``TEST``, ``applies(capture)`` and ``measure(capture, engine)``; an observation module has ``TEST``
and ``measure(observation, index, engine)``. Naming a module here is all it takes to have it used.
"""

from typing import Protocol

from fairwitness.core.capture import Capture, UnreadableCapture
from fairwitness.core.case import Observation
from fairwitness.core.engine import Engine
from fairwitness.core.finding import Measured
from fairwitness.core.measure import cranking_speed, relative_compression


class CaptureTestModule(Protocol):
    """What a test that reads captures offers."""

    TEST: str

    def applies(self, capture: Capture) -> bool:
        """Whether the test can read this capture."""
        ...

    def measure(self, capture: Capture, engine: Engine) -> Measured:
        """Read it."""
        ...

    def unreadable(self, capture: UnreadableCapture, engine: Engine) -> Measured:
        """Say that it could not be read."""
        ...


class ObservationTestModule(Protocol):
    """What a test that reads hand-entered observations offers."""

    TEST: str

    def measure(self, observation: Observation, index: int, engine: Engine) -> Measured:
        """Read it."""
        ...


CAPTURE_TESTS: tuple[CaptureTestModule, ...] = (relative_compression,)
OBSERVATION_TESTS: tuple[ObservationTestModule, ...] = (cranking_speed,)
