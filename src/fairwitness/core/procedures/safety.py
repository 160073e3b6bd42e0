"""What may be offered on an engine, what is held back, and which cautions go with it: one source for all who ask.

A record says what its test does (``Offer.turning`` and ``Offer.acts``); here stands what follows from that on an engine
and in a state. The plan, the set-up cards, the bench and the forms take their cautions and refusals from here. Common
practice throughout; the maker's procedure goes before any of it.
"""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping
from dataclasses import dataclass

from fairwitness.core.messages.catalogue import scope
from fairwitness.core.messages.message import Message
from fairwitness.core.model.acts import Act
from fairwitness.core.model.engine import Engine, Fuel, Injection, InjectorDrive
from fairwitness.core.model.tools import Turning
from fairwitness.core.procedures import cautions as say
from fairwitness.core.procedures.engines import does_not_fit
from fairwitness.core.procedures.spec import Offer, TestSpec

_why = scope("barred")
HIGH_PRESSURE = (Injection.DIRECT, Injection.COMMON_RAIL)
COIL_DRIVER, IN_UNIT, IN_COIL = "coil_driver", "control_unit", "coil"
"""Key and values of the engine data that say where the coils' drivers sit."""
HIGH_VOLTAGE_VEHICLE = "high_voltage_vehicle"
"""Key of the engine data: a hybrid or another vehicle with a traction battery."""
PROHIBITED = "prohibited"
"""Key of the engine data: acts that this engine's maker forbids, by their ids."""


def is_boosted(engine: Engine) -> bool:
    """Injectors driven with 65 to 150 V on both pins."""
    drives = (InjectorDrive.BOOSTED, InjectorDrive.PIEZO)
    return engine.injection in HIGH_PRESSURE or engine.injector_drive in drives


def is_high_voltage(engine: Engine) -> bool:
    """The vehicle holds a traction battery and may start its engine itself."""
    return engine.extra.get(HIGH_VOLTAGE_VEHICLE) is True


def driven_inside(engine: Engine) -> bool:
    """The coils' drivers are known to sit inside them: their windings are out of a meter's reach."""
    return engine.extra.get(COIL_DRIVER) == IN_COIL


def _is_diesel(engine: Engine) -> bool:
    return engine.fuel is Fuel.DIESEL


def _is_single(engine: Engine) -> bool:
    return engine.cylinders == 1


def _is_carburettor(engine: Engine) -> bool:
    return engine.injection is Injection.CARBURETTOR


def _is_commanded_by_logic(engine: Engine) -> bool:
    return engine.extra.get(COIL_DRIVER) != IN_UNIT


def _unplugs_badly(engine: Engine) -> bool:
    return engine.injection is Injection.COMMON_RAIL or engine.injector_drive is InjectorDrive.PIEZO


@dataclass(frozen=True, slots=True)
class Bar:
    """An act that is never offered on some engines."""

    act: Act
    on: Callable[[Engine], bool]
    why: Message


BARS = (
    Bar(
        Act.LOADS_INJECTOR,
        is_boosted,
        _why(
            "loads_injector",
            "These injectors carry 65 to 150 V on both pins: no lamp and no meter there. Clamp the current instead.",
        ),
    ),
    Bar(
        Act.LOADS_COIL_COMMAND,
        _is_commanded_by_logic,
        _why(
            "loads_coil_command",
            "A coil with its driver inside is commanded by a logic level, and a lamp there overloads the control unit. "
            "Where the driver sits in the control unit, say so in the engine data.",
        ),
    ),
    Bar(
        Act.SWAPS_INJECTOR,
        lambda engine: engine.injection in HIGH_PRESSURE,
        _why(
            "swaps_injector",
            "Injectors on a high-pressure rail are not changed over: lines and seals are for one use, and the control "
            "unit knows each injector by its code.",
        ),
    ),
    Bar(
        Act.UNPLUGS_INJECTOR_RUNNING,
        _unplugs_badly,
        _why(
            "unplugs_injector",
            "Never unplug an injector of a common rail or a piezo drive while it runs: the driver may die of it.",
        ),
    ),
    Bar(
        Act.READS_CONTROL_UNIT,
        _is_carburettor,
        _why("reads_control_unit", "An engine with a carburettor reports neither trims nor counts."),
    ),
    Bar(Act.COMPARES, _is_single, _why("compares", "A single cylinder has no peers to be compared with.")),
)
FORBIDDEN = _why("forbidden", "This engine's maker forbids it; so the engine data say.")


def barred(offer: Offer, engine: Engine) -> Message | None:
    """Why a test is never offered on an engine.

    Parameters
    ----------
    offer : Offer
    engine : Engine

    Returns
    -------
    Message or None
        None where it may be offered.
    """
    if not offer.fits(engine):
        return does_not_fit(offer.fits)
    prohibited = engine.extra.get(PROHIBITED)
    if isinstance(prohibited, list) and any(act.value in prohibited for act in offer.acts):
        return FORBIDDEN
    return next((bar.why for bar in BARS if bar.act in offer.acts and bar.on(engine)), None)


def stirs(offer: Offer) -> bool:
    """Whether a test turns or starts an engine, feeds it or lets sparks jump: nothing for one that may be flooded."""
    return offer.turning is not Turning.STILL or bool(offer.acts & {Act.ADDS_FUEL, Act.SPARKS, Act.ADDS_AIR})


@dataclass(frozen=True, slots=True)
class _Caution:
    """A caution, the acts or movements that call for it, and the engines it is for."""

    words: Message
    acts: frozenset[Act] = frozenset()
    turning: frozenset[Turning] = frozenset()
    on: Callable[[Engine], bool] = lambda _: True

    def applies(self, offer: Offer, engine: Engine) -> bool:
        """Whether it goes with a test on an engine."""
        return (bool(self.acts & offer.acts) or offer.turning in self.turning) and self.on(engine)


def _has_petrol(engine: Engine) -> bool:
    return not _is_diesel(engine)


ELECTRIC = frozenset({Act.TOUCHES_COIL, Act.TOUCHES_INJECTOR, Act.PULLS_CONNECTOR, Act.ON_BATTERY})
CRANKS, RUNS = frozenset({Turning.CRANKING}), frozenset({Turning.RUNNING})
CAUTIONS = (
    _Caution(say.ITSELF_STARTS, turning=CRANKS | RUNS, on=is_high_voltage),
    _Caution(say.MAKERS_CRANK_MODE, turning=CRANKS, on=is_high_voltage),
    _Caution(say.QUALIFIED_ONLY, ELECTRIC, on=is_high_voltage),
    _Caution(say.HYDRAULIC_LOCK, turning=CRANKS),
    _Caution(say.FUEL_FIRST, turning=CRANKS),
    _Caution(say.STARTER, turning=CRANKS),
    _Caution(say.ROTATING, turning=RUNS | CRANKS),
    _Caution(say.HIGH_VOLTAGE, frozenset({Act.TOUCHES_COIL, Act.SPARKS})),
    _Caution(say.BOOSTED, frozenset({Act.TOUCHES_INJECTOR}), on=is_boosted),
    _Caution(say.KICK, frozenset({Act.TOUCHES_INJECTOR}), on=lambda e: not is_boosted(e)),
    _Caution(say.PLUG_HOLES, frozenset({Act.OPENS_PLUG_HOLES, Act.SPARKS}), on=_has_petrol),
    _Caution(say.HOT_SPRAY, frozenset({Act.OPENS_PLUG_HOLES})),
    _Caution(say.NO_OIL, frozenset({Act.ADDS_OIL}), on=_is_diesel),
    _Caution(say.AIR_TURNS, frozenset({Act.ADDS_AIR})),
    _Caution(say.PULLED, frozenset({Act.PULLS_CONNECTOR})),
    _Caution(say.BATTERY_OFF, frozenset({Act.AT_UNIT_PLUG})),
    _Caution(say.TERMINALS, frozenset({Act.ON_BATTERY})),
    _Caution(say.FUEL_LINE, frozenset({Act.OPENS_FUEL_LINE, Act.ADDS_FUEL}), on=_has_petrol),
    _Caution(say.DIESEL_LINE, frozenset({Act.OPENS_FUEL_LINE}), on=_is_diesel),
    _Caution(say.NEVER_OPEN, frozenset({Act.UNPLUGS_COIL_RUNNING})),
    _Caution(say.SHORT_CUTS, frozenset({Act.UNPLUGS_COIL_RUNNING, Act.UNPLUGS_INJECTOR_RUNNING})),
    _Caution(say.BRAKE_TORQUE, frozenset({Act.BRAKE_TORQUE})),
    _Caution(say.SMOKE, frozenset({Act.SMOKE})),
)  # fmt: skip
"""In the order they are spoken: what may kill first."""


def cautions(offer: Offer, engine: Engine) -> tuple[Message, ...]:
    """Cautions that go with a test on an engine.

    Parameters
    ----------
    offer : Offer
    engine : Engine

    Returns
    -------
    tuple of Message
        Those that follow from what the test does, then those of the test alone.
    """
    return tuple(dict.fromkeys((*(c.words for c in CAUTIONS if c.applies(offer, engine)), *offer.cautions)))


def cautions_of(spec: TestSpec, engine: Engine) -> tuple[Message, ...]:
    """Cautions of every way to take a test that is open on an engine, each once.

    Parameters
    ----------
    spec : TestSpec
    engine : Engine

    Returns
    -------
    tuple of Message
    """
    return _each_once(_by_way(spec.offers, engine))


def _by_way(offers: Iterable[Offer], engine: Engine) -> list[tuple[Message, ...]]:
    """Cautions of each way that is open on an engine."""
    return [cautions(offer, engine) for offer in offers if barred(offer, engine) is None]


def _each_once(by_way: Iterable[tuple[Message, ...]]) -> tuple[Message, ...]:
    return tuple(dict.fromkeys(words for way in by_way for words in way))


def cautions_always(spec: TestSpec, engine: Engine) -> tuple[Message, ...]:
    """Cautions that go with a test on an engine whichever of its open ways is taken.

    Parameters
    ----------
    spec : TestSpec
    engine : Engine

    Returns
    -------
    tuple of Message
    """
    by_way = _by_way(spec.offers, engine)
    return tuple(words for words in _each_once(by_way) if all(words in way for way in by_way))


def cautions_where(spec: TestSpec, engine: Engine, about: Mapping[str, object]) -> tuple[Message, ...]:
    """Cautions of the ways to take a test that ask for what is chosen, beside those that go with it always.

    Where no way on record asks for it, those of all ways: none is lost.

    Parameters
    ----------
    spec : TestSpec
    engine : Engine
    about : mapping
        One field of a reading, and what it holds.

    Returns
    -------
    tuple of Message
    """
    meant = [o for o in spec.offers if o.asks and all(o.asks.get(key) == value for key, value in about.items())]
    always = cautions_always(spec, engine)
    return tuple(words for words in _each_once(_by_way(meant or spec.offers, engine)) if words not in always)


def why_not(spec: TestSpec, engine: Engine, about: Mapping[str, object]) -> Message | None:
    """Why a reading of a test must not be asked for.

    Parameters
    ----------
    spec : TestSpec
    engine : Engine
    about : mapping
        Fields of the reading that are known already; may be empty.

    Returns
    -------
    Message or None
        None where at least one way to take it, or none of those on record, is meant.
    """
    meant = [offer for offer in spec.offers if all(about.get(key, asked) == asked for key, asked in offer.asks.items())]
    reasons = [barred(offer, engine) for offer in meant]
    return reasons[0] if reasons and None not in reasons else None
