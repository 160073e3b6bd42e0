"""What each fault of the catalogue does to the parts of one cylinder."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, replace
from enum import StrEnum

import numpy as np
from numpy.random import Generator
from numpy.typing import NDArray

from fairwitness.core.errors import SimulationError
from fairwitness.core.model.engine import Engine, Ignition


class Condition(StrEnum):
    """When a fault shows."""

    ALWAYS = "always"
    HOT = "hot"
    VIBRATION = "vibration"
    RANDOM = "random"


class LeakPath(StrEnum):
    """Where a leaking cylinder's gas goes."""

    NOWHERE = "nowhere"
    CRANKCASE = "crankcase"
    INTAKE = "intake"
    EXHAUST = "exhaust"
    NEIGHBOUR = "neighbour"


@dataclass(frozen=True, slots=True)
class Fault:
    """One thing wrong with the vehicle.

    Parameters
    ----------
    fault : str
        An id of the catalogue.
    cylinders : tuple of int
        Empty for a fault of the whole engine.
    severity : float
        0 barely there, 1 complete.
    condition : Condition
    """

    fault: str
    cylinders: tuple[int, ...] = ()
    severity: float = 1.0
    condition: Condition = Condition.ALWAYS

    def __post_init__(self) -> None:
        if self.fault not in EFFECTS:
            raise SimulationError(
                f"There is no fault {self.fault!r}.", where="fault", remedy=f"Use one of {', '.join(EFFECTS)}."
            )
        if not 0 < self.severity <= 1:
            raise SimulationError(f"A severity of {self.severity:g} cannot be.", where="fault", remedy="Give 0 to 1.")


@dataclass(frozen=True, slots=True, kw_only=True)
class Health:
    """The parts of one cylinder. Defaults are sound; ratios are to the sound part."""

    sealing: float = 1.0
    """Share of the sound compression peak that is left while cranking."""
    leak_path: LeakPath = LeakPath.NOWHERE
    intake_opens: bool = True
    exhaust_opens: bool = True
    valves_late_deg: float = 0.0
    gap: float = 1.0
    """Plug gap."""
    shunt_kv: float | None = None
    """Voltage at which current goes another way than through the gap."""
    shunt_random: bool = False
    """The other way is taken in most cycles, not in all."""
    series_ohm: float = 0.0
    """Added to the secondary path."""
    secondary_open: bool = False
    coil_output: float = 1.0
    """Share of the stored energy that reaches the secondary."""
    coil_inductance: float = 1.0
    primary_closed: bool = True
    coil_feed: bool = True
    command_at_unit: bool = True
    command_at_coil: bool = True
    command_low_v: float = 0.0
    """Level of the command that should be at earth, also with the coil unplugged."""
    injector_ohm: float = 1.0
    injector_closed_circuit: bool = True
    injector_feed: bool = True
    injector_command_at_unit: bool = True
    injector_command_at_part: bool = True
    injector_always_on: bool = False
    injector_inductance: float = 1.0
    pintle_moves: bool = True
    flow: float = 1.0
    """Fuel delivered per on-time."""
    drip: float = 0.0
    """Fuel leaking in beside the metered one, as a share of it."""
    extra_air: float = 0.0
    """Unmetered air as a share of the idle charge."""
    cut: bool = False
    """The control unit withholds injection."""

    @property
    def coil_runs(self) -> bool:
        """Whether current flows in the coil's primary when it should."""
        return (
            self.primary_closed
            and self.coil_feed
            and self.command_at_unit
            and self.command_at_coil
            and self.command_low_v < SWITCHING_V
        )

    @property
    def injector_runs(self) -> bool:
        """Whether current flows in the injector when it should."""
        return (
            self.injector_closed_circuit
            and self.injector_feed
            and self.injector_command_at_unit
            and self.injector_command_at_part
            and not self.cut
        )


SHUNT_CHANCE = 0.8
"""[M] how often a carbon track takes the spark."""
SWITCHING_V = 1.5
"""[M] a command that stays above this when low never switches the coil off and on."""

Effect = Callable[[float], dict[str, object]]


def _leak(path: LeakPath, mildest: float, worst: float) -> Effect:
    return lambda s: {"sealing": mildest + (worst - mildest) * s, "leak_path": path}


def _fixed(**changes: object) -> Effect:
    return lambda _: dict(changes)


BEYOND_CYLINDERS = (
    "crank_signal_lost",
    "cam_signal_wrong",
    "ignition_common_lost",
    "unit_unpowered",
    "reference_bad",
    "unit_misbehaves",
    "immobiliser_locked",
    "outside_interference",
    "plugs_all_worn",
    "fuel_supply_none",
    "weak_battery",
)
"""Faults that change no part of a cylinder: what they do stands in the chain of ``gauges_engine``."""
DOES_NOT_START = (*BEYOND_CYLINDERS, "washed_bores")
EFFECTS: Mapping[str, Effect] = {
    "plug_gap_wide": lambda s: {"gap": 1.4 + 1.8 * s},
    "plug_shorted": lambda s: {"shunt_kv": 4.5 - 3.0 * s},
    "plug_tracking": lambda s: {"shunt_kv": 6.5 - 1.5 * s, "shunt_random": True},
    "secondary_high_resistance": lambda s: {"series_ohm": 4e4 + 1.2e5 * s},
    "secondary_open": _fixed(secondary_open=True),
    "secondary_leak": lambda s: {"shunt_kv": 5.5 - 1.5 * s},
    "coil_secondary_shorted": lambda s: {"coil_inductance": 0.5 - 0.25 * s, "coil_output": 0.16 - 0.12 * s},
    "coil_output_dead": _fixed(coil_output=0.0),
    "coil_primary_open": _fixed(primary_closed=False),
    "coil_feed_lost": _fixed(coil_feed=False),
    "coil_control_open": _fixed(command_at_coil=False),
    "coil_driver_failed": lambda s: {"command_low_v": 2.2 + 2.8 * s},
    "injector_open_circuit": _fixed(injector_closed_circuit=False),
    "injector_high_resistance": lambda s: {"injector_ohm": 1.10 + 0.52 * s},
    "injector_shorted": lambda s: {"injector_ohm": 0.35 - 0.2 * s, "injector_inductance": 0.05, "pintle_moves": False},
    "injector_stuck_closed": _fixed(pintle_moves=False, flow=0.0),
    "injector_restricted": lambda s: {"flow": 0.85 - 0.25 * s},
    "injector_leaking": lambda s: {"drip": 0.3 + 0.7 * s, "sealing": 0.97 - 0.07 * s},
    "injector_feed_lost": _fixed(injector_feed=False),
    "injector_control_open": _fixed(injector_command_at_part=False),
    "injector_driver_failed": lambda s: (
        {"injector_always_on": True, "drip": 4.0} if s >= 0.75 else {"injector_command_at_unit": False}
    ),
    "unmetered_air_at_runner": lambda s: {"extra_air": 0.15 + 0.3 * s},
    "fuel_supply_low": lambda s: {"flow": 0.86 - 0.16 * s},
    "ring_or_piston_leak": _leak(LeakPath.CRANKCASE, 0.72, 0.04),
    "intake_valve_leak": _leak(LeakPath.INTAKE, 0.72, 0.04),
    "exhaust_valve_leak": _leak(LeakPath.EXHAUST, 0.72, 0.04),
    "head_gasket_leak": _leak(LeakPath.NEIGHBOUR, 0.65, 0.2),
    "intake_valve_not_opening": _fixed(intake_opens=False),
    "exhaust_valve_not_opening": _fixed(exhaust_opens=False),
    "valve_timing_shifted": lambda s: {"valves_late_deg": 18.0 + 30.0 * s},
    "low_compression_all": _leak(LeakPath.CRANKCASE, 0.75, 0.45),
    "cut_by_ecu": _fixed(cut=True),
    "washed_bores": _leak(LeakPath.CRANKCASE, 0.55, 0.3),
    **dict.fromkeys(BEYOND_CYLINDERS, _fixed()),
}
"""Values [M]: a spread from just visible to complete, not one vehicle's."""

WHOLE_ENGINE = ("fuel_supply_low", "low_compression_all", *DOES_NOT_START)
COIL_FAULTS = (
    "coil_secondary_shorted",
    "coil_output_dead",
    "coil_primary_open",
    "coil_feed_lost",
    "coil_control_open",
    "coil_driver_failed",
)


def reach(fault: Fault, engine: Engine) -> tuple[int, ...]:
    """Cylinders a fault shows on: those named, all that share the coil, or the whole engine."""
    everyone = tuple(range(1, engine.cylinders + 1))
    if fault.fault in WHOLE_ENGINE or not fault.cylinders:
        return everyone
    for cylinder in fault.cylinders:
        engine.position(cylinder)
    if fault.fault not in COIL_FAULTS or engine.ignition is Ignition.COIL_ON_PLUG:
        return fault.cylinders
    if engine.ignition is Ignition.DISTRIBUTOR:
        return everyone
    pairs = engine.coil_pairs or engine.companion_pairs
    return tuple(sorted({c for named in fault.cylinders for pair in pairs if named in pair for c in pair}))


def healths(engine: Engine, faults: Sequence[Fault], *, protective: bool = True) -> dict[int, Health]:
    """The state of every cylinder's parts under the faults that show now.

    Parameters
    ----------
    engine : Engine
    faults : sequence of Fault
    protective : bool
        The control unit withholds fuel where it sees no primary current.

    Returns
    -------
    dict of cylinder to Health
    """
    states = {c: Health() for c in range(1, engine.cylinders + 1)}
    for fault in faults:
        for cylinder in reach(fault, engine):
            states[cylinder] = _made_worse(states[cylinder], EFFECTS[fault.fault](fault.severity))
    if protective:
        states = {c: h if h.coil_runs else replace(h, cut=True) for c, h in states.items()}
    return states


def _made_worse(health: Health, changes: Mapping[str, object]) -> Health:
    merged = dict(changes)
    for name in ("sealing", "flow", "coil_output"):
        if name in merged:
            merged[name] = float(merged[name]) * float(getattr(health, name))  # type: ignore[arg-type]
    return replace(health, **merged)  # type: ignore[arg-type]


def shows(fault: Fault, *, hot: bool, load: str, cycles: int, rng: Generator) -> NDArray[np.bool_]:
    """In which engine cycles a fault shows.

    Parameters
    ----------
    fault : Fault
    hot : bool
    load : str
    cycles : int
    rng : numpy Generator

    Returns
    -------
    (cycles,) bool
    """
    if fault.condition is Condition.ALWAYS:
        return np.ones(cycles, dtype=np.bool_)
    if fault.condition is Condition.HOT:
        return np.full(cycles, hot)
    if fault.condition is Condition.VIBRATION:
        # A loose contact opens for a few cycles at a time, more often under load.
        opening = rng.random(cycles) < (0.02 if load in ("none", "idle") else 0.08)
        return np.convolve(opening, np.ones(6), mode="full")[:cycles] > 0
    return rng.random(cycles) < 0.25
