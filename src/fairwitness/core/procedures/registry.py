"""Every test with its measurement: what can be read of captures and observations.

Found by looking, as ``specs`` finds the records. From the case's evidence; what is measured goes to the reasoning.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import replace
from importlib import import_module
from types import MappingProxyType
from typing import Protocol, cast

from fairwitness import __version__
from fairwitness.core import procedures
from fairwitness.core.messages.message import verbatim
from fairwitness.core.model.capture import Capture, UnreadableCapture
from fairwitness.core.model.case import Observation
from fairwitness.core.model.engine import Engine
from fairwitness.core.model.measurement import Measured, Origin, refused
from fairwitness.core.model.reason import Reason
from fairwitness.core.procedures.spec import Trust
from fairwitness.core.procedures.specs import SPECS


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


def _module(test: str) -> object:
    package = SPECS[test].trust is Trust.SIGNAL
    return import_module(f"{procedures.__name__}.{test}{'.measure' if package else ''}")


CAPTURE_TESTS: Mapping[str, CaptureTestModule] = MappingProxyType(
    {name: cast(CaptureTestModule, _module(name)) for name, spec in SPECS.items() if spec.trust is Trust.SIGNAL}
)
OBSERVATION_TESTS: Mapping[str, ObservationTestModule] = MappingProxyType(
    {name: cast(ObservationTestModule, _module(name)) for name, spec in SPECS.items() if spec.trust is not Trust.SIGNAL}
)
SWEEP_TESTS: tuple[SweepTestModule, ...] = tuple(
    cast(SweepTestModule, _module(name)) for name, spec in SPECS.items() if spec.compared_later
)


def measure_observation(observation: Observation, index: int, engine: Engine) -> Measured | None:
    """What an observation says; None where no test is known for it."""
    test = OBSERVATION_TESTS.get(observation.test)
    return test.measure(observation, index, engine) if test is not None else None


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
                groups.setdefault(str(m.facts.get("compared_with", m.facts.get("group", ""))), []).append(i)
        for at in groups.values():
            if len(at) > 1:
                for i, again in zip(at, test.together([measured[i] for i in at], engine), strict=True):
                    judged[i] = _under_their_numbers(again, measured[i])
    return tuple(judged)


def _under_their_numbers(again: Measured, before: Measured) -> Measured:
    """Findings judged anew keep the numbers that sentences name them by."""
    if len(again.findings) != len(before.findings):
        return again
    kept = tuple(replace(f, id=old.id) for f, old in zip(again.findings, before.findings, strict=True))
    return replace(again, findings=kept)


def unreadable(capture: UnreadableCapture, engine: Engine) -> Measured | None:
    """What the test of a capture can say when its samples could not be read: nothing, with the reason.

    Returns
    -------
    Measured or None
        Unusable; None where no test is known for it.
    """
    test = capture.set_up.test
    if test is None or test.value not in CAPTURE_TESTS:
        return None
    reason = Reason("unreadable", verbatim(capture.reason), blocking=True)
    origin = Origin(resource=capture.name, code_version=__version__)
    return refused(test.value, "1", engine.firing_order, (reason,), origin)
