"""One record per fault: its names, where it can sit, how often, how it shows itself, what proves it, what follows."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass, field
from enum import StrEnum
from typing import NamedTuple

from fairwitness.core.messages.message import NOTHING, Message
from fairwitness.core.model.engine import Engine, Fuel, Ignition, Injection
from fairwitness.core.reason.knowledge.proof import Predicate


class Cause(StrEnum):
    """The great division."""

    IGNITION = "ignition"
    FUEL = "fuel"
    MECHANICAL = "mechanical"
    CONTROL = "control"
    NONE = "none"
    OTHER = "other"


class Seat(StrEnum):
    """Where a fault can sit."""

    CYLINDER = "cylinder"
    COIL = "coil"
    """A cylinder, or both of a pair that shares the coil."""
    COIL_OR_END = "coil_or_end"
    """As a coil, or one end of a shared one."""
    NEIGHBOURS = "neighbours"
    GROUP = "group"
    """A bank, a pair of companions, or the whole engine."""
    FEED = "feed"
    """A bank or the whole engine."""
    ENGINE = "engine"


class Mode(StrEnum):
    """In which of its ways a fault shows itself. The tables name it in brackets behind the fault."""

    STAYS = ""
    INTERMITTENT = "intermittent"
    """It comes and goes."""
    DEAD = "dead"
    HELD_ON = "held on"
    BENT = "bent valves"
    """Lost timing that bent the valves of some cylinders."""
    OPPOSITE = "opposite"
    """What it leaves at the cylinder fired a revolution later, which is itself sound."""


class FaultMode(NamedTuple):
    """A fault in one of its ways: what a row of the tables is looked up by."""

    fault: str
    mode: Mode = Mode.STAYS

    @property
    def row(self) -> str:
        """Name of the row in the tables."""
        return f"{self.fault} ({self.mode})" if self.mode else self.fault


@dataclass(frozen=True, slots=True)
class Repairs:
    """The failed part, the set it belongs to, and why one would change the set."""

    part: Message
    whole: Message
    why: Message


NO_PROOF_KNOWN: tuple[Predicate, ...] = ()
"""Said explicitly of a fault that two independent sources are enough for, because nobody has named more."""


def any_engine(_engine: Engine) -> bool:
    """A fault every engine can have."""
    return True


def lit_by_coils(engine: Engine) -> bool:
    """Engines with coils and plugs."""
    return engine.ignition is not Ignition.COMPRESSION_IGNITION and engine.fuel is not Fuel.DIESEL


def injector_each(engine: Engine) -> bool:
    """Engines with an injector at every cylinder."""
    return engine.injection not in (Injection.CARBURETTOR, Injection.THROTTLE_BODY)


def metered_air(engine: Engine) -> bool:
    """Engines that meter fuel to air: a diesel has air to spare."""
    return engine.fuel is not Fuel.DIESEL


@dataclass(frozen=True, slots=True, kw_only=True)
class FaultSpec:
    """All that is known of one fault beside what it does to each test, which stands in the tables.

    Parameters
    ----------
    id : str
        As files and tables name it.
    cause, seat
    words : Message
        "plug gap worn wide".
    owner, owner_of_several : Message
        The same after "because", in plain words, of one cylinder and of several.
    prior : float
        How often it is met relative to the others [T].
    remedy : str
        How it is mended: a name of ``remedies.REMEDIES``; empty of what is not listed.
    proof : tuple of Predicate
        What must be met before it is called established, or ``NO_PROOF_KNOWN``.
    advised : tuple of Predicate
        Worth its minutes before the job is done, though the call does not hang on it.
    possible : callable (Engine) -> bool
    in_two : float
        How often it sits in two cylinders, as a share of how often in one [M].
    intermittent : float
        How often it comes and goes, as a share of how often it stays [M].
    ways : mapping of Mode to float
        Shares of the ways it shows itself in, never in all [M].
    died_of : mapping of fault to float
        Roots that bring it in the same place, and how often, as a share of the root alone [M].
    repair : Repairs or None
    driver_of : str
        Circuit it drives, for a fault of the control unit: it is called last.
    is_coil, is_spray, is_feed
        A coil itself; an injector that is sound electrically; what a whole feed has in common.
    no_spark : bool
        After it the plug is wet.
    floods : bool
        Fuel may run without end.
    bends_valves : bool
        At companions alone it can only be bent valves.
    no_start : float
        Share of the cases with this fault in which the engine does not start [M].
    misfires : float
        [M] of the engines with it that do run, so many misfire; the others crank slowly, start late or cut out.
    """

    id: str
    cause: Cause
    seat: Seat
    words: Message
    owner: Message
    prior: float
    proof: tuple[Predicate, ...]
    remedy: str = ""
    owner_of_several: Message = NOTHING
    advised: tuple[Predicate, ...] = ()
    possible: Callable[[Engine], bool] = any_engine
    in_two: float = 0.0
    intermittent: float = 0.0
    ways: Mapping[Mode, float] = field(default_factory=lambda: {Mode.STAYS: 1.0})
    died_of: Mapping[str, float] = field(default_factory=dict)
    repair: Repairs | None = None
    driver_of: str = ""
    is_coil: bool = False
    is_spray: bool = False
    is_feed: bool = False
    no_spark: bool = False
    floods: bool = False
    bends_valves: bool = False
    no_start: float = 0.01
    misfires: float = 1.0

    def owner_words(self, *, several: bool) -> Message:
        """Plain words for one cylinder or several."""
        return self.owner_of_several if several and self.owner_of_several else self.owner
