"""Set-up cards: where to clip on, what to sync on, which range, what to make safe, before a test is begun."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass

from fairwitness.core.model.capture import CaptureTest, EngineState, Role, SetUp
from fairwitness.core.model.engine import Engine, Ignition

LEADS_MAX = 6
"""Beyond this many leads one channel per cylinder is too much for a bay: the common feed is clamped."""
Feeds = tuple[tuple[int, ...], ...]


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
    def place(self) -> str:
        """Where it is clipped on, in words."""
        where = self.usual.where
        if self.cylinder:
            where = where.replace("the cylinder", f"cylinder {self.cylinder}")
        if self.feeds:
            where += f", the one for cylinders {', '.join(map(str, self.feeds))}"
        return where


@dataclass(frozen=True, slots=True)
class UsualLead:
    """Unit, full scale each way in that unit, attenuation and place of a role's lead [T]."""

    unit: str
    reach: float
    probe: float
    where: str


USUAL: Mapping[Role, UsualLead] = {
    Role.STARTER_CURRENT: UsualLead("A", 1000.0, 1, "Clamp, zeroed, on one battery cable near the battery"),
    Role.BATTERY_VOLTAGE: UsualLead("V", 20.0, 1, "Probe on the battery posts, not on the clamps"),
    Role.CRANK_SENSOR: UsualLead("V", 20.0, 1, "Back-probe at the crank sensor"),
    Role.CAM_SENSOR: UsualLead("V", 10.0, 1, "Back-probe at the cam sensor"),
    Role.COIL_CONTROL: UsualLead("V", 20.0, 1, "Back-probe the command wire at the coil of the cylinder"),
    Role.COIL_CURRENT: UsualLead("A", 20.0, 1, "Small clamp, zeroed, round the coil feed of the cylinder"),
    Role.SECONDARY_VOLTAGE: UsualLead("kV", 50.0, 1000, "Pick-up on the coil or lead of the cylinder"),
    Role.INJECTOR_VOLTAGE: UsualLead(
        "V", 100.0, 20, "Back-probe the control side of the injector of the cylinder, attenuator on"
    ),
    Role.INJECTOR_CURRENT: UsualLead("A", 10.0, 1, "Small clamp, zeroed, round the injector feed"),
    Role.CYLINDER_PRESSURE: UsualLead("bar", 50.0, 1, "Transducer in the plug hole of the cylinder"),
    Role.EXHAUST_PRESSURE: UsualLead("kPa", 10.0, 1, "Hose sensor in the tailpipe"),
    Role.INTAKE_PRESSURE: UsualLead("kPa", 10.0, 1, "Hose sensor on an intake port without a check valve"),
    Role.CRANKCASE_PRESSURE: UsualLead("kPa", 5.0, 1, "Hose sensor in the dipstick tube, breather closed"),
    Role.OTHER: UsualLead("1", 20.0, 1, "As you like"),
}


@dataclass(frozen=True, slots=True)
class Check:
    """One thing to tick before the engine may turn."""

    id: str
    words: str


BATTERY = Check("battery", "Battery at 12.4 V or more at rest")
NEUTRAL = Check("neutral", "Gear in neutral or park, brake on, wheels chocked")
CLEAR = Check("clear", "Hands, leads and sleeves clear of belts and fans")
FUEL_OFF = Check("fuel_off", "Fuel disabled, and how is recorded")
SPARK_OFF = Check("spark_off", "Ignition disabled, open plug holes covered")
CLAMP_ZERO = Check("clamp_zero", "Clamp zeroed; its arrow towards the battery does not matter")
EXHAUST_OUT = Check("exhaust_out", "Exhaust gas led outdoors")
HIGH_VOLTAGE = Check("high_voltage", "Nobody with a pacemaker near; no coil left open")
ATTENUATED = Check("attenuated", "Attenuator on where a coil or injector can kick")
NO_LOCK = Check("no_lock", "No cylinder can be full of fuel or water")


@dataclass(frozen=True, slots=True, kw_only=True)
class SetUpCard:
    """How one capture of the trade is usually taken [T]."""

    test: CaptureTest
    title: str
    cranking: bool
    seconds: float
    rate_hz: float
    clips: Callable[[Engine, tuple[int, ...], Feeds], tuple[Clip, ...]]
    checks: tuple[Check, ...]
    cautions: tuple[str, ...]
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


def _with_sync(*roles: Role) -> Callable[[Engine, tuple[int, ...], Feeds], tuple[Clip, ...]]:
    def clips(engine: Engine, suspects: tuple[int, ...], _feeds: Feeds) -> tuple[Clip, ...]:
        return (*(Clip(role=role) for role in roles), sync_clip(engine, suspects))

    return clips


def _each(role: Role) -> Callable[[Engine, tuple[int, ...], Feeds], tuple[Clip, ...]]:
    def clips(engine: Engine, _suspects: tuple[int, ...], _feeds: Feeds) -> tuple[Clip, ...]:
        return tuple(Clip(role=role, cylinder=c) for c in sorted(engine.firing_order))

    return clips


def _coils(engine: Engine, suspects: tuple[int, ...], feeds: Feeds) -> tuple[Clip, ...]:
    if engine.cylinders <= LEADS_MAX and engine.ignition is Ignition.COIL_ON_PLUG:
        return _each(Role.COIL_CURRENT)(engine, suspects, feeds)
    return _with_sync(Role.COIL_CURRENT)(engine, suspects, feeds)


def _injectors(engine: Engine, suspects: tuple[int, ...], feeds: Feeds) -> tuple[Clip, ...]:
    clamps = tuple(
        Clip(role=Role.INJECTOR_CURRENT, feeds=feed if len(feeds) > 1 else (), name=f"injector feed {i}")
        for i, feed in enumerate(feeds, start=1)
    )
    order = sorted(engine.firing_order)
    sound = next((c for c in order if c not in suspects), order[0])
    return (*clamps, Clip(role=Role.INJECTOR_VOLTAGE, cylinder=sound, sync=True, name="sync"))


def _pressures(engine: Engine, suspects: tuple[int, ...], _feeds: Feeds) -> tuple[Clip, ...]:
    order = sorted(engine.firing_order)
    peer = next((c for c in order if c not in suspects), order[0])
    wanted = tuple(dict.fromkeys((*suspects[:2], peer)))
    transducers = tuple(Clip(role=Role.CYLINDER_PRESSURE, cylinder=c) for c in wanted)
    return (*transducers, Clip(role=Role.CRANK_SENSOR))  # the tower marks the cycle, the teeth give the degrees


_CRANKING = (BATTERY, NEUTRAL, CLEAR, FUEL_OFF)
_RUNNING = (NEUTRAL, CLEAR, EXHAUST_OUT)
_STARTER = "Crank 5 to 10 s, then let the starter cool."
_BELTS = "Keep clear of fans and belts; hot parts; lead exhaust gas outdoors."
_KILOVOLTS = "High voltage at coils, leads and injectors: hands off while running; not for anyone with a pacemaker."
_VAPOUR = "Petrol vapour and sparks: shield open plug holes, disable ignition, keep an extinguisher at hand."

CARDS: Mapping[CaptureTest, SetUpCard] = {
    card.test: card
    for card in (
        SetUpCard(
            test=CaptureTest.RELATIVE_COMPRESSION,
            title="Relative compression",
            cranking=True,
            seconds=7.0,
            rate_hz=5_000.0,
            clips=_with_sync(Role.STARTER_CURRENT, Role.BATTERY_VOLTAGE),
            checks=(*_CRANKING, CLAMP_ZERO),
            cautions=(_STARTER, "Sync on a sound cylinder: the suspect's signal may vanish."),
        ),
        SetUpCard(
            test=CaptureTest.CRANK_SPEED,
            title="Crank speed at idle",
            cranking=False,
            seconds=6.0,
            rate_hz=50_000.0,
            clips=_with_sync(Role.CRANK_SENSOR),
            checks=_RUNNING,
            cautions=(_BELTS,),
        ),
        SetUpCard(
            test=CaptureTest.SECONDARY_VOLTAGE,
            title="Secondary voltage, all cylinders",
            cranking=False,
            seconds=2.0,
            rate_hz=200_000.0,
            clips=_each(Role.SECONDARY_VOLTAGE),
            checks=(*_RUNNING, HIGH_VOLTAGE, ATTENUATED),
            cautions=(_KILOVOLTS, "Never run a coil open."),
        ),
        SetUpCard(
            test=CaptureTest.COIL_CURRENT,
            title="Coil current",
            cranking=False,
            seconds=3.0,
            rate_hz=50_000.0,
            clips=_coils,
            checks=(*_RUNNING, CLAMP_ZERO, HIGH_VOLTAGE),
            cautions=(_KILOVOLTS,),
        ),
        SetUpCard(
            test=CaptureTest.COIL_CONTROL,
            title="Coil command levels",
            cranking=False,
            seconds=2.0,
            rate_hz=50_000.0,
            clips=_each(Role.COIL_CONTROL),
            checks=(*_RUNNING, HIGH_VOLTAGE, ATTENUATED),
            cautions=(_KILOVOLTS,),
        ),
        SetUpCard(
            test=CaptureTest.INJECTOR_CURRENT,
            title="Injector current on the feed",
            cranking=False,
            seconds=3.0,
            rate_hz=50_000.0,
            clips=_injectors,
            checks=(*_RUNNING, CLAMP_ZERO, ATTENUATED),
            cautions=("Injectors kick to 60 to 100 V: attenuate.", "Direct injection is boosted: keep hands off."),
        ),
        SetUpCard(
            test=CaptureTest.INJECTOR_VOLTAGE,
            title="Injector voltage, control side",
            cranking=False,
            seconds=2.0,
            rate_hz=50_000.0,
            clips=_each(Role.INJECTOR_VOLTAGE),
            checks=(*_RUNNING, ATTENUATED),
            cautions=("Injectors kick to 60 to 100 V: attenuate.",),
        ),
        SetUpCard(
            test=CaptureTest.CYLINDER_PRESSURE,
            title="Cylinder pressure while cranking",
            cranking=True,
            seconds=5.0,
            rate_hz=10_000.0,
            clips=_pressures,
            checks=(*_CRANKING, SPARK_OFF, NO_LOCK),
            cautions=(_VAPOUR, "A cylinder full of liquid bends its rod: turn the engine by hand first."),
            ignition_disabled=True,
        ),
        SetUpCard(
            test=CaptureTest.EXHAUST_PULSE,
            title="Exhaust pulse",
            cranking=False,
            seconds=6.0,
            rate_hz=5_000.0,
            clips=_with_sync(Role.EXHAUST_PRESSURE),
            checks=_RUNNING,
            cautions=(_BELTS, "Hot gas at the tailpipe."),
        ),
        SetUpCard(
            test=CaptureTest.INTAKE_PULSE,
            title="Intake pulse while cranking",
            cranking=True,
            seconds=6.0,
            rate_hz=5_000.0,
            clips=_with_sync(Role.INTAKE_PRESSURE),
            checks=_CRANKING,
            cautions=(_STARTER,),
        ),
        SetUpCard(
            test=CaptureTest.CRANKCASE_PULSE,
            title="Crankcase pulse while cranking",
            cranking=True,
            seconds=6.0,
            rate_hz=5_000.0,
            clips=_with_sync(Role.CRANKCASE_PRESSURE),
            checks=_CRANKING,
            cautions=(_STARTER,),
        ),
    )
}
SPARK_TESTS = (CaptureTest.SECONDARY_VOLTAGE, CaptureTest.COIL_CURRENT, CaptureTest.COIL_CONTROL)


def fits(engine: Engine, test: str) -> bool:
    """Whether a test can be done on an engine: no coils are measured on a diesel."""
    return not (engine.ignition is Ignition.COMPRESSION_IGNITION and test in SPARK_TESTS)
