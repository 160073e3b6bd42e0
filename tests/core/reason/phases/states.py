"""A vehicle in several states as the reasoning sees it, without a signal behind it."""

from dataclasses import replace

import numpy as np

from fairwitness.core.model.capture import Capture, CaptureTest, EngineState, SetUp, TimeBase
from fairwitness.core.model.case import Case
from fairwitness.core.model.measurement import Measured, State
from fairwitness.core.model.phase import PartState, Phase, PhaseKind
from tests.core.reason.evidence import measured

COLUMN = {"crank_speed": "CON", "secondary_voltage": "FV", "injector_current": "IC", "relative_compression": "RC"}


def seen(engine, low, *, test="crank_speed", phase=0, sigma=0.05) -> Measured:
    """One test of one state; who lacks more than a quarter is accused, who lacks all is absent."""
    name = f"{test}-{phase}"
    plain = measured(engine, low, name=name)

    def state(cylinder):
        share = low.get(cylinder, 1.0)
        return State.ABSENT if share <= 0.05 else State.LOW if share < 0.75 else State.NORMAL

    findings = tuple(replace(f, test=test, quantity=test, state=state(f.cylinder)) for f in plain.findings)
    line = replace(plain.lines[0], line=COLUMN[test], sigmas=np.full(engine.cylinders, sigma))
    return replace(plain, test=test, findings=findings, lines=(line,))


def repaired(part, *cylinders, number=1, fitted=PartState.NEW):
    return Phase(number=number, kind=PhaseKind.AFTER_REPAIR, part=part, cylinders=cylinders, fitted=fitted)


def swapped(part, one, other, number=1):
    return Phase(number=number, kind=PhaseKind.CHANGED_OVER, part=part, cylinders=(one, other))


def put_back(number):
    return Phase(number=number, kind=PhaseKind.PUT_BACK)


def case_of(engine, phases, taken, **about) -> Case:
    """A case whose captures are those of some measurements, each named after its phase."""

    def listed(m):
        phase = int(m.resource.rsplit("-", 1)[1])
        set_up = SetUp(test=CaptureTest(m.test), engine_state=EngineState.RUNNING, load="idle", phase=phase)
        return Capture(name=m.resource, time=TimeBase(samples=10, rate_hz=1.0), channels=(), set_up=set_up)

    return Case(name="t", engine=engine, phases=tuple(phases), captures=tuple(listed(m) for m in taken), **about)
