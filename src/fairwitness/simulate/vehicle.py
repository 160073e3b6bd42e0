"""A whole vehicle: what turns, what sparks, what sprays, what senses, and what is wrong with it.

Typical values are from memory [M] unless a source stands beside them; units are SI or in the name.
"""

from __future__ import annotations

from dataclasses import dataclass, field

from fairwitness.core.model.engine import CrankWheel, Engine, Ignition, InjectorDrive
from fairwitness.simulate.cranking import CrankingVehicle
from fairwitness.simulate.health import Fault
from fairwitness.simulate.worlds.choices import KNOWN_WORLD, World
from fairwitness.simulate.worlds.parts import Acoustics, Habit, Hands, Leads


@dataclass(frozen=True, slots=True, kw_only=True)
class IgnitionBuild:
    """Coil, plug and command."""

    primary_ohm: float = 0.65
    primary_henry: float = 2.6e-3
    ratio: float = 110.0
    """Secondary over primary turns."""
    capacity_f: float = 55e-12
    """Coil, lead and plug together."""
    transfer: float = 0.62
    """Share of the stored energy that reaches the secondary."""
    ceiling_kv: float = 36.0
    limit_a: float | None = 8.5
    """Where the driver holds the current; None: nowhere."""
    driver_drop_v: float = 1.1
    dwell_s: float = 0.0032
    cranking_dwell_s: float = 0.0045
    advance_deg: float = 12.0
    cranking_advance_deg: float = 8.0
    gap_cm: float = 0.10
    plug_ohm: float = 5_000.0
    ring_hz: float = 5_500.0
    """Oscillation of what energy is left after the spark."""
    turn_on_hz: float = 19_000.0
    """Oscillation of the secondary while the primary switches on, seen on the current."""
    command_v: float = 5.0
    scatter: float = 0.06
    """Standard deviation of breakdowns, as a share."""
    strikes: int = 1
    """Sparks per firing at idle."""
    ring_decay_s: float = 0.00030
    saturates_a: float | None = None
    """Current from which the iron saturates."""
    turn_on_a: float = 0.45
    """Oscillation of the current while it is switched on."""


@dataclass(frozen=True, slots=True, kw_only=True)
class InjectionBuild:
    """Injectors and their drivers."""

    drive: InjectorDrive = InjectorDrive.SATURATED
    ohm: float = 14.5
    henry: float = 0.012
    driver_drop_v: float = 0.5
    on_time_s: float = 0.0030
    """At idle; scales with the charge."""
    start_deg: float = -420.0
    """Begin of injection before TDC compression; port injectors spray on the closed valve."""
    lift_s: float = 0.0012
    """When the needle hits its stop."""
    dip: float = 0.07
    """Depth of the pintle dip as a share of the plateau."""
    close_s: float = 0.0009
    """After switch-off, when the needle falls shut."""
    kick_v: float = 66.0
    bias_v: float = 3.3
    """What the control unit's monitor leaves on an open circuit."""
    peak_a: float = 4.0
    hold_a: float = 1.0
    boost_v: float = 65.0
    eddy_share: float = 0.0
    """Part of the current that rises at once: eddy currents."""
    decay_s: float = 0.00016
    """Time constant of the current after switch-off."""
    twice: bool = False
    """Injects once a revolution, half the fuel each time."""
    spread: tuple[float, ...] = ()
    """Resistance of each cylinder's injector beside the usual one, cylinder 1 first; empty: all alike."""

    def own_ohm(self, cylinder: int) -> float:
        """Factor on the usual resistance of one cylinder's injector."""
        return self.spread[cylinder - 1] if self.spread else 1.0


@dataclass(frozen=True, slots=True, kw_only=True)
class SensorBuild:
    """Crank wheel and cam sensor."""

    wheel: CrankWheel = field(default_factory=lambda: CrankWheel(teeth=60, missing=2, tdc1_deg_after_gap=84.0))
    hall: bool = False
    spacing_error_deg: float = 0.06
    """Standard deviation of a tooth's place."""
    reversed: bool = False
    volts_at_idle: float = 6.0
    runout_deg: float = 0.0
    runout_at_deg: float = 0.0
    """The wheel is off by so much once a turn, most here."""
    twist_deg: float = 0.0
    twist_hz: float = 0.0
    """Standard deviation and frequency of the crank's winding up."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Running:
    """How the engine idles and breathes."""

    idle_rpm: float = 760.0
    cold_idle_rpm: float = 1150.0
    accessories_nm: float = 6.0
    friction_hot: float = 0.45
    """Share of the friction that the starter meets in cold oil."""
    friction_cold: float = 0.65
    heat_per_charge: float = 27.0
    """J of heat per m3 of cylinder volume and Pa of charge: 3.5 MJ/m3 of mixture at 1 atm and 300 K less losses."""
    variation: float = 0.05
    """Cycle-to-cycle standard deviation of the heat at idle."""
    exhaust_m: float = 2.6
    """From valve to probe."""
    exhaust_speed_m_s: float = 500.0
    cranking_exhaust_speed_m_s: float = 350.0
    idle_control: bool = True
    stragglers: float = 0.0
    """How often a sound cylinder burns badly."""
    rebound: float = 0.0
    """What a bad cycle leaves to the next."""
    uneven: tuple[float, ...] = ()
    """Heat of each cylinder beside the usual one, cylinder 1 first; empty: all alike."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Vehicle:
    """Everything a signal depends on."""

    label: str
    turning: CrankingVehicle
    ignition: IgnitionBuild = IgnitionBuild()
    injection: InjectionBuild = InjectionBuild()
    sensors: SensorBuild = SensorBuild()
    running: Running = Running()
    faults: tuple[Fault, ...] = ()
    protective: bool = True
    """Fuel is withheld where no primary current is seen."""
    feeds: tuple[tuple[int, ...], ...] = field(default_factory=tuple)
    """Cylinders whose injectors share a feed; empty: one feed for all."""
    acoustics: Acoustics = field(default_factory=Acoustics)
    leads: Leads = field(default_factory=Leads)
    habit: Habit = field(default_factory=Habit)
    hands: Hands = field(default_factory=Hands)
    world: World = KNOWN_WORLD
    entered: Engine | None = None
    """The engine as somebody entered it; None: as it is."""

    @property
    def engine(self) -> Engine:
        """The engine as the measurements know it."""
        return self.turning.engine

    @property
    def engine_as_entered(self) -> Engine:
        """The engine as a case tells it."""
        return self.entered or self.engine

    @property
    def sparkless(self) -> bool:
        """Compression ignition."""
        return self.engine.ignition is Ignition.COMPRESSION_IGNITION

    @property
    def injector_feeds(self) -> tuple[tuple[int, ...], ...]:
        """Cylinders of each injector feed."""
        return self.feeds or (tuple(range(1, self.engine.cylinders + 1)),)
