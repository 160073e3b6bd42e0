"""All recordings of all makers: what was odd about each, the engine, who is sick, and whether it can be judged."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import dataclass, replace
from itertools import product

from fairwitness.core.model.capture import Capture, Role
from fairwitness.core.model.engine import Engine, even_engine
from tests.independent import entries
from tests.independent.breathing import Breathing, breathing_capture
from tests.independent.crank_sensor import Sensor, crank_capture
from tests.independent.injector import Feed, Winding, feed_current
from tests.independent.pressure import Cranked, cranking_pressure
from tests.independent.recordings import ORDERS, recordings
from tests.independent.running import Running
from tests.independent.spark import Ignition, Pickup, secondary


@dataclass(frozen=True)
class Put:
    """One recording that is put to the program; ``sick`` is 0 where nobody is, and ``judged`` says it can be."""

    entry: str
    engine: Engine
    sick: int
    judged: bool
    make: Callable[[], tuple[Capture, ...]]


def everything() -> Iterator[Put]:
    """Cranks, sparks, coils, injectors and pressures, in the order of the table."""
    for r in recordings():
        yield Put(f"crank: {r.entry}", even_engine(r.order), r.sick, r.judged, lambda r=r: (r.make(),))
    yield from _running()
    yield from _sparks()
    yield from _currents("coil", entries.ALL_COILS, entries.SICK_COILS, entries.COILS)
    yield from _currents("injector", entries.INJECTORS, entries.SICK_INJECTORS, Feed())
    for batch in (4, 2, 1):
        for odd in ({}, {3: Winding(dead=True)}):
            how = Feed(batch=batch, twice=True, odd=odd)
            yield Put(
                "injector: fired together", even_engine(how.order), 0, False, lambda how=how: (feed_current(how),)
            )
    yield from _pressures()
    yield from _pulses()


def _running() -> Iterator[Put]:
    for (entry, by), cylinders in product(entries.SENSORS.items(), (3, 4, 6, 8)):
        order = ORDERS[cylinders]
        for share in (1.0, 0.0):
            how = Running(order=order, shares={order[1]: share})
            sick = 0 if share else order[1]
            make = lambda how=how, by=by: (crank_capture(how, by),)  # noqa: E731
            yield Put(f"running: {entry}", even_engine(order), sick, True, make)
    for (entry, changes), cylinders in product(entries.RUNNING.items(), (3, 4, 6, 8)):
        how = Running(order=ORDERS[cylinders], **changes)
        yield Put(f"running: {entry}", even_engine(how.order), 0, True, lambda how=how: (crank_capture(how, Sensor()),))

    for cylinders, blips in product((3, 4, 6, 8), (0.3, 0.6)):
        how = Running(order=ORDERS[cylinders], blips=blips)
        make = lambda how=how: (crank_capture(how, Sensor(seconds=8.0)),)  # noqa: E731
        yield Put("running: the throttle is blipped", even_engine(how.order), 0, False, make)


def _sparks() -> Iterator[Put]:
    for entry, (how, by) in entries.SPARKS.items():
        yield Put(f"spark: {entry}", even_engine(how.order), 0, True, lambda how=how, by=by: (secondary(how, by),))
    for entry, sick in entries.SICK_SPARKS.items():
        for order in (Ignition().order, entries.SIX):
            for by in (Pickup(), Pickup(upside_down=(2, 3))):
                how = Ignition(order=order, odd={3: sick})
                yield Put(f"spark: {entry}", even_engine(order), 3, True, lambda how=how, by=by: (secondary(how, by),))


def _currents(kind: str, healthy: dict, sick: dict, usual: Feed) -> Iterator[Put]:
    for entry, (how, about) in healthy.items():
        about = dict(about)
        drive = about.pop("drive", None)
        engine = even_engine(how.order)
        engine = replace(engine, injector_drive=drive) if drive else engine
        yield Put(f"{kind}: {entry}", engine, 0, True, lambda how=how, about=about: (feed_current(how, **about),))
    for entry, winding in sick.items():
        for order in (usual.order, entries.SIX):
            how = replace(usual, order=order, odd={3: winding})
            sync = "coil" if kind == "coil" else "injector"
            make = lambda how=how, sync=sync: (feed_current(how, sync=sync),)  # noqa: E731
            yield Put(f"{kind}: {entry}", even_engine(order), 3, True, make)


def _pressures() -> Iterator[Put]:
    def engine(how: Cranked) -> Engine:
        return even_engine(ORDERS[how.cylinders])

    for entry, (how, by) in entries.PRESSURES.items():
        make = lambda how=how, by=by: (cranking_pressure(how, by),)  # noqa: E731
        yield Put(f"pressure: {entry}", engine(how), 0, True, make)
    for entry, (by, _) in entries.DOUBTFUL.items():
        yield Put(f"pressure: {entry}", engine(Cranked()), 0, False, lambda by=by: (cranking_pressure(Cranked(), by),))
    leaking = (cranking_pressure, Cranked(leak_per_s=25.0))
    make = lambda: (leaking[0](leaking[1]), cranking_pressure(Cranked(), cylinder=2, seed=1))  # noqa: E731
    yield Put("pressure: a leak", engine(Cranked()), 1, True, make)


def _pulses() -> Iterator[Put]:
    hoses = ((entry, by, {}) for entry, by in entries.HOSES.items())
    built = ((entry, entries.HOSES["as usual"], changes) for entry, changes in entries.LUNGS.items())
    for (entry, by, changes), cylinders, where in product((*hoses, *built), (3, 4, 6, 8), IDLES):
        how = Breathing(order=ORDERS[cylinders], **{**IDLES[where], **changes})
        judged = "seconds" not in changes and by.gain > 0
        make = lambda how=how, where=where, by=by: (breathing_capture(how, where, by),)  # noqa: E731
        yield Put(f"pulse: {entry}", even_engine(how.order), 0, judged, make)
    for (entry, (where, lungs)), cylinders in product(entries.SICK_LUNGS.items(), (3, 4, 6, 8)):
        order = ORDERS[cylinders]
        how = Breathing(order=order, odd={order[1]: lungs}, **IDLES[where])
        make = lambda how=how, where=where: (breathing_capture(how, where),)  # noqa: E731
        yield Put(f"pulse: {entry}", even_engine(order), order[1], True, make)


IDLES: dict[Role, dict[str, float]] = {
    Role.INTAKE_PRESSURE: {},
    Role.CRANKCASE_PRESSURE: {},
    Role.EXHAUST_PRESSURE: {"rpm": 750.0},
}
"""Where the hose sits, and how the engine turns there."""
