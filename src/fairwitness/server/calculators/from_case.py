"""What of a case fills a calculator: what its engine says, and the last speed and voltage that were measured."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Mapping

from fairwitness.core.model.engine import Engine
from fairwitness.core.model.measurement import Finding, Measured
from fairwitness.server.cases.evidence import concluded
from fairwitness.server.cases.models import StoredCase
from fairwitness.server.engines.records import engine_of

COMPRESSION_RATIO = "compression_ratio"
"""Key of the further engine data."""
LEAST_VOLTS = 6.0
"""Less is no feed."""


def case_values(case: StoredCase) -> dict[str, float]:
    """Numbers of a case by the names that calculators ask for.

    Parameters
    ----------
    case : StoredCase

    Returns
    -------
    dict of str to float
        What the case does not know is left out.
    """
    engine, measured = engine_of(case), concluded(case).measured
    told = {name: read(engine) for name, read in OF_ENGINE.items()}
    told["rpm"] = next(_speeds(measured), None)
    told["volts"] = next(_volts(measured), None)
    return {name: round(value, 3) for name, value in told.items() if value is not None}


def _ratio(engine: Engine) -> float | None:
    value = engine.extra.get(COMPRESSION_RATIO)
    return float(value) if isinstance(value, int | float) and not isinstance(value, bool) else None


OF_ENGINE: Mapping[str, Callable[[Engine], float | None]] = {
    "cylinders": lambda engine: float(engine.cylinders),
    "injector_ohms": lambda engine: engine.injector_ohms,
    "teeth": lambda engine: float(engine.crank_wheel.teeth) if engine.crank_wheel else None,
    "missing": lambda engine: float(engine.crank_wheel.missing) if engine.crank_wheel else None,
    COMPRESSION_RATIO: _ratio,
}


def _speeds(measured: tuple[Measured, ...]) -> Iterator[float]:
    """The latest first."""
    for m in reversed(measured):
        speed = m.facts.get("speed_rpm")
        if m.usable and isinstance(speed, int | float):
            yield float(speed)


def _volts(measured: tuple[Measured, ...]) -> Iterator[float]:
    readings: Iterator[Finding] = (f for m in reversed(measured) if m.usable for f in reversed(m.findings))
    for finding in readings:
        if finding.unit == "V" and finding.cylinder is None and (finding.value or 0.0) > LEAST_VOLTS:
            yield float(finding.value or 0.0)
