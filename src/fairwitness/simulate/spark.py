"""Whether and how a spark comes about: breakdown by Paschen's law, energy from the coil."""

from __future__ import annotations

import math

from fairwitness.simulate.health import Health
from fairwitness.simulate.vehicle import IgnitionBuild

PASCHEN_A_PER_KPA_CM = 112.50
PASCHEN_B_V_PER_KPA_CM = 2737.50
PASCHEN_GAMMA = 0.01
"""Air; Paschen's law with handbook constants: Lieberman and Lichtenberg, Principles of Plasma Discharges [P]."""
KELVIN_REFERENCE = 293.0
KELVIN_AT_CLOSING = 330.0
"""[M] charge temperature when the intake closes."""
LEAN_DEMAND = 0.75
"""[M] rise of the demand per unit of excess air."""


def paschen_v(pressure_kpa: float, gap_cm: float) -> float:
    """Breakdown voltage of air between plane electrodes at 293 K.

    Parameters
    ----------
    pressure_kpa : float
    gap_cm : float

    Returns
    -------
    float, V
        Infinite left of the minimum, where no avalanche forms.
    """
    product = pressure_kpa * gap_cm
    below = math.log(max(PASCHEN_A_PER_KPA_CM * product, 1e-9)) - math.log(math.log(1 + 1 / PASCHEN_GAMMA))
    return PASCHEN_B_V_PER_KPA_CM * product / below if below > 0 else math.inf


def dense_kpa(pressure_pa: float, charge_pa: float, polytropic: float) -> float:
    """Pressure the charge would have at 293 K: breakdown follows density, not pressure.

    Parameters
    ----------
    pressure_pa, charge_pa : float
        Now, and when the intake closed.
    polytropic : float

    Returns
    -------
    float, kPa
    """
    ratio = max(pressure_pa / max(charge_pa, 1.0), 0.05)
    kelvin = KELVIN_AT_CLOSING * ratio ** ((polytropic - 1) / polytropic)
    return float(pressure_pa / 1000 * KELVIN_REFERENCE / kelvin)


def demand_kv(build: IgnitionBuild, health: Health, *, kpa: float, mixture: float) -> float:
    """Voltage at which the plug gap breaks down.

    Parameters
    ----------
    kpa : float
        Density as a pressure at 293 K.
    mixture : float
        Air-fuel ratio over ideal; infinite without fuel.

    Returns
    -------
    float, kV
    """
    lean = min(max(mixture - 1.0, 0.0), 0.4)
    return paschen_v(max(kpa, 12.0), build.gap_cm * health.gap) / 1000 * (1 + LEAN_DEMAND * lean)


def primary_end_a(build: IgnitionBuild, health: Health, *, battery_v: float, dwell_s: float) -> float:
    """Coil current when the driver switches off: the closed form of a resistance and an inductance.

    Returns
    -------
    float, A
    """
    if not health.coil_runs:
        return 0.0
    henry = build.primary_henry * health.coil_inductance
    ends = (battery_v - build.driver_drop_v) / build.primary_ohm * (1 - math.exp(-dwell_s * build.primary_ohm / henry))
    return min(ends, build.limit_a) if build.limit_a is not None else ends


def stored_j(build: IgnitionBuild, health: Health, amps: float) -> float:
    """Energy that reaches the secondary, J."""
    henry = build.primary_henry * health.coil_inductance
    return 0.5 * henry * amps**2 * build.transfer * health.coil_output


def available_kv(build: IgnitionBuild, joule: float) -> float:
    """What the energy can charge the secondary's capacity to, kV."""
    return min(math.sqrt(2 * joule / build.capacity_f) / 1000, build.ceiling_kv)
