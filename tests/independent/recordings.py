"""The cranks by entry: what was odd about them, the engine, and who is really sick; ``everything`` counts all."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import dataclass
from itertools import product

from fairwitness.core.model.capture import Capture
from tests.independent.starter import (
    PLAIN,
    Crank,
    Instrument,
    one_after_another,
    recorded,
    running_on,
    with_a_consumer,
)

ORDERS = {
    1: (1,),
    2: (1, 2),
    3: (1, 3, 2),
    4: (1, 3, 4, 2),
    5: (1, 2, 4, 5, 3),
    6: (1, 5, 3, 6, 2, 4),
    8: (1, 8, 4, 3, 6, 5, 7, 2),
    10: (1, 10, 9, 4, 3, 6, 5, 8, 7, 2),
    12: (1, 7, 5, 11, 3, 9, 6, 12, 2, 8, 4, 10),
}
USUAL = (3, 4, 6, 8)
SICK = (3, 0.5)
"""Cylinder and share of its gas that leaks."""
SHORT_S = (1.4, 1.8, 2.0, 2.2, 2.6, 3.0, 3.2, 3.6, 4.0)


@dataclass(frozen=True)
class Recording:
    """One recording, who is sick in it (0: nobody), and whether it is long enough to be judged."""

    entry: str
    order: tuple[int, ...]
    sick: int
    judged: bool
    make: Callable[[], Capture]


def recordings() -> Iterator[Recording]:
    """All recordings, healthy and sick, in the order of the table."""
    for n, seconds, sync in product(ORDERS, SHORT_S, ("clean", "none")):
        how = Crank(order=ORDERS[n], seconds=seconds, start_deg=60.0 + 70.0 * seconds, seed=round(10 * seconds))
        yield from _both("short crank", how, Instrument(sync=sync), sick=False, judged=False)
    for n, sync in product(USUAL, ("half", "rings")):
        yield from _both(f"sync {sync}", Crank(order=ORDERS[n], seconds=8.0), Instrument(sync=sync))
    for n, scale in product(USUAL, (0.001, 0.01, 10.0, -1.0)):
        yield from _both("clamp's gain or side", Crank(order=ORDERS[n]), Instrument(scale=scale))
    for n, lengths in product(USUAL, ((5.0, 5.0), (3.0, 6.0), (1.5, 5.0))):
        yield from _both("two attempts", Crank(order=ORDERS[n], seconds=lengths[0]), then_s=lengths[1])
    for n, seconds in product(USUAL, (2.0, 5.0, 10.0)):
        yield from _both("the engine catches", Crank(order=ORDERS[n]), catches_s=seconds)
    for n, consumer in product(USUAL, ((60.0, 0.05, 3.1), (8.0, 0.0, 2.1), (40.0, 2.5, 9.0))):
        yield from _both("glow plug, pump, fan", Crank(order=ORDERS[n]), consumer=consumer)
    for n, bits in product(USUAL, (8, 16)):
        yield from _both("converter", Crank(order=ORDERS[n]), Instrument(bits=bits))
    for rate_hz in (250.0, 1000.0, 100_000.0, 1_000_000.0):
        yield from _both("sample rate", Crank(), Instrument(rate_hz=rate_hz))


def _both(
    entry: str,
    how: Crank,
    by: Instrument = PLAIN,
    *,
    sick: bool = True,
    judged: bool = True,
    **then: object,
) -> Iterator[Recording]:
    for leak in ((), (SICK,)) if sick else ((),):
        one = Crank(**{**how.__dict__, "leak": leak})
        yield Recording(
            entry=entry,
            order=how.order,
            sick=leak[0][0] if leak else 0,
            judged=judged,
            make=lambda one=one: _changed(one, by, then),
        )


def _changed(how: Crank, by: Instrument, then: dict[str, object]) -> Capture:
    capture = recorded(how, by)
    if "then_s" in then:
        again = Crank(**{**how.__dict__, "seconds": then["then_s"], "start_deg": 333.0, "seed": 9})
        return one_after_another(capture, recorded(again, by))
    if "catches_s" in then:
        return running_on(capture, seconds=float(str(then["catches_s"])))
    if "consumer" in then:
        amps, on_s, off_s = then["consumer"]  # type: ignore[misc]
        return with_a_consumer(capture, amps, on_s=on_s, off_s=off_s)
    return capture
