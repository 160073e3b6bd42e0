"""Set-up cards: where to clip on, what to sync on, which range, what to make safe, before a test is begun.

Each capture test holds its own card in its record; here is what cards are made of. They go to the bench, to the plan
and to the simulated technician.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass

from fairwitness.core.messages.catalogue import Template, phrase, scope, template
from fairwitness.core.messages.message import Message
from fairwitness.core.model.capture import CaptureTest, EngineState, Role, SetUp
from fairwitness.core.model.engine import Engine, Ignition

LEADS_MAX = 6
"""Beyond this many leads one channel per cylinder is too much for a bay: the common feed is clamped."""
Feeds = tuple[tuple[int, ...], ...]


THE_CYLINDER = phrase("lead.the_cylinder", "the cylinder")
THIS_CYLINDER = template("lead.this_cylinder", "cylinder {cylinder}")
FEED_OF = template("lead.feed_of", "{where}, the one for cylinders {cylinders}")


@dataclass(frozen=True, slots=True)
class _Place:
    """Where a lead sits; some places name the part of a cylinder."""

    words: Template

    def __call__(self, *, part: Message) -> Message:
        return self.words(part=part) if self.words.places else self.words()


@dataclass(frozen=True, slots=True, kw_only=True)
class Clip:
    """One lead of an instrument and where it is clipped on."""

    role: Role
    cylinder: int | None = None
    feeds: tuple[int, ...] = ()
    """Cylinders on the clamped feed."""
    sync: bool = False
    at_unit: bool = False
    """At the control unit's own pin rather than at the part."""
    unplugged: bool = False
    name: str = ""

    @property
    def label(self) -> str:
        """What the channel is called."""
        where = f" {self.cylinder}" if self.cylinder else ""
        return self.name or f"{self.role.value.replace('_', ' ')}{where}"

    @property
    def usual(self) -> UsualLead:
        """How such a lead is usually set."""
        return USUAL[self.role]

    @property
    def place(self) -> Message:
        """Where it is clipped on, in words."""
        usual = self.usual.where
        where = usual(part=THIS_CYLINDER(cylinder=self.cylinder) if self.cylinder else THE_CYLINDER)
        return FEED_OF(where=where, cylinders=self.feeds) if self.feeds else where


@dataclass(frozen=True, slots=True)
class UsualLead:
    """Unit, full scale each way in that unit, attenuation and place of a role's lead [T]."""

    unit: str
    reach: float
    probe: float
    where: _Place


def _lead(role: Role, unit: str, reach: float, probe: float, where: str) -> tuple[Role, UsualLead]:
    return role, UsualLead(unit, reach, probe, _Place(template(f"lead.{role.value}", where)))


USUAL: Mapping[Role, UsualLead] = dict(
    (
        _lead(Role.STARTER_CURRENT, "A", 1000.0, 1, "Clamp, zeroed, on one battery cable near the battery"),
        _lead(Role.BATTERY_VOLTAGE, "V", 20.0, 1, "Probe on the battery posts, not on the clamps"),
        _lead(Role.CRANK_SENSOR, "V", 20.0, 1, "Back-probe at the crank sensor"),
        _lead(Role.CAM_SENSOR, "V", 10.0, 1, "Back-probe at the cam sensor"),
        _lead(Role.COIL_CONTROL, "V", 20.0, 1, "Back-probe the command wire at the coil of {part}"),
        _lead(Role.COIL_CURRENT, "A", 20.0, 1, "Small clamp, zeroed, round the coil feed of {part}"),
        _lead(Role.SECONDARY_VOLTAGE, "kV", 50.0, 1000, "Pick-up on the coil or lead of {part}"),
        _lead(
            Role.INJECTOR_VOLTAGE,
            "V",
            100.0,
            20,
            "Back-probe the control side of the injector of {part}, attenuator on",
        ),
        _lead(Role.INJECTOR_CURRENT, "A", 10.0, 1, "Small clamp, zeroed, round the injector feed"),
        _lead(Role.CYLINDER_PRESSURE, "bar", 50.0, 1, "Transducer in the plug hole of {part}"),
        _lead(Role.EXHAUST_PRESSURE, "kPa", 10.0, 1, "Hose sensor in the tailpipe"),
        _lead(Role.INTAKE_PRESSURE, "kPa", 10.0, 1, "Hose sensor on an intake port without a check valve"),
        _lead(Role.CRANKCASE_PRESSURE, "kPa", 5.0, 1, "Hose sensor in the dipstick tube, breather closed"),
        _lead(Role.OTHER, "1", 20.0, 1, "As you like"),
    )
)


@dataclass(frozen=True, slots=True)
class Check:
    """One thing to tick before the engine may turn."""

    id: str
    words: Message


_say = scope("check")
BATTERY = Check("battery", _say("battery", "Battery at 12.4 V or more at rest"))
NEUTRAL = Check("neutral", _say("neutral", "Gear in neutral or park, brake on, wheels chocked"))
CLEAR = Check("clear", _say("clear", "Hands, leads and sleeves clear of belts and fans"))
FUEL_OFF = Check("fuel_off", _say("fuel_off", "Fuel disabled, and how is recorded"))
SPARK_OFF = Check("spark_off", _say("spark_off", "Ignition disabled, open plug holes covered"))
CLAMP_ZERO = Check("clamp_zero", _say("clamp_zero", "Clamp zeroed; its arrow towards the battery does not matter"))
EXHAUST_OUT = Check("exhaust_out", _say("exhaust_out", "Exhaust gas led outdoors"))
HIGH_VOLTAGE = Check("high_voltage", _say("high_voltage", "Nobody with a pacemaker near; no coil left open"))
ATTENUATED = Check("attenuated", _say("attenuated", "Attenuator on where a coil or injector can kick"))
NO_LOCK = Check("no_lock", _say("no_lock", "No cylinder can be full of fuel or water"))


Clips = Callable[[Engine, tuple[int, ...], Feeds], tuple[Clip, ...]]
"""Leads of a card: of an engine, its suspects, and the feeds its injectors hang on."""


@dataclass(frozen=True, slots=True, kw_only=True)
class SetUpCard:
    """How one capture of the trade is usually taken [T]."""

    test: CaptureTest
    title: Message
    cranking: bool
    seconds: float
    rate_hz: float
    clips: Clips
    checks: tuple[Check, ...]
    cautions: tuple[Message, ...] = ()
    """Beside those that follow from what the test does."""
    load: str = "idle"
    ignition_disabled: bool = False

    def recorded(self, *, hot: bool) -> SetUp:
        """What is recorded with a capture taken by this card."""
        return SetUp(
            test=self.test,
            engine_state=EngineState.CRANKING if self.cranking else EngineState.RUNNING,
            load="none" if self.cranking else self.load,
            fuel_disabled=self.cranking,
            ignition_disabled=self.ignition_disabled,
            temperature="hot" if hot else "cold",
        )


def sync_clip(engine: Engine, avoid: tuple[int, ...] = ()) -> Clip:
    """A phase mark of cylinder 1, or of the next one that is not under suspicion: its signal may vanish."""
    order = sorted(engine.firing_order)
    cylinder = next((c for c in order if c not in avoid), order[0])
    role = Role.COIL_CONTROL
    if engine.ignition is Ignition.COMPRESSION_IGNITION:
        role = Role.INJECTOR_VOLTAGE
    elif engine.ignition is Ignition.DISTRIBUTOR:
        role = Role.SECONDARY_VOLTAGE
    return Clip(role=role, cylinder=cylinder, sync=True, name="sync")


def with_sync(*roles: Role) -> Clips:
    """One lead for each role, and a sync."""

    def clips(engine: Engine, suspects: tuple[int, ...], _feeds: Feeds) -> tuple[Clip, ...]:
        return (*(Clip(role=role) for role in roles), sync_clip(engine, suspects))

    return clips


def on_each(role: Role) -> Clips:
    """One lead on every cylinder."""

    def clips(engine: Engine, _suspects: tuple[int, ...], _feeds: Feeds) -> tuple[Clip, ...]:
        return tuple(Clip(role=role, cylinder=c) for c in sorted(engine.firing_order))

    return clips


CRANKING_CHECKS = (BATTERY, NEUTRAL, CLEAR, FUEL_OFF)
RUNNING_CHECKS = (NEUTRAL, CLEAR, EXHAUST_OUT)
