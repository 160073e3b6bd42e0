"""Evidence as the reasoning sees it, without a signal behind it."""

import numpy as np

from fairwitness.core.messages.message import verbatim
from fairwitness.core.model.case import Case
from fairwitness.core.model.engine import Engine
from fairwitness.core.model.measurement import Evidence, Finding, Measured, Origin, State
from fairwitness.core.procedures.relative_compression.shares import judge


def shares_in_order(engine: Engine, low: dict[int, float]) -> np.ndarray:
    return np.array([low.get(c, 1.0) for c in engine.firing_order])


def line(engine: Engine, low: dict[int, float], *, source="capture:a", order_offsets=(0,), sigma=0.05) -> Evidence:
    shares = shares_in_order(engine, low)
    return Evidence(
        line="RC",
        source=source,
        alternatives=tuple(np.roll(shares, -t) for t in order_offsets),
        sigmas=np.full(engine.cylinders, sigma),
    )


def measured(engine: Engine, low: dict[int, float], *, name="a", usable=True) -> Measured:
    shares = shares_in_order(engine, low)
    states = judge(shares, np.full(shares.size, 0.01)) if usable else [State.UNUSABLE] * shares.size
    return Measured(
        test="relative_compression",
        resource=name,
        usable=usable,
        findings=tuple(
            Finding(
                test="relative_compression",
                cylinder=c,
                quantity="relative_compression",
                value=float(shares[i]) if usable else None,
                unit="1",
                spread=0.01,
                events=10,
                state=states[i],
                statement=verbatim(f"Cylinder {c}: {shares[i]:.2f}."),
                origin=Origin(resource=name),
                id=f"{name}{c}",
            )
            for i, c in enumerate(engine.firing_order)
        ),
        lines=(line(engine, low, source=f"capture:{name}"),) if usable else (),
        facts={"cycles": 10, "speed_rpm": 200.0, "source": "starter current", "assignment": "synced"},
    )


def case(engine: Engine, **about) -> Case:
    return Case(name="t", engine=engine, **about)
