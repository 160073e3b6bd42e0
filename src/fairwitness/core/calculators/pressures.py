"""Sums of pressures: compression by ratio and height, vacuum by height, the hole a leak-down reading speaks of."""

from __future__ import annotations

import math
from collections.abc import Mapping

import scipy

from fairwitness.core.calculators.record import Calculator, Quantity
from fairwitness.core.messages.catalogue import phrase

KPA_PER_BAR, MILLIBAR_PER_BAR = 100.0, 1000.0
SEA_LEVEL_KPA, LAPSE_PER_M, HEIGHT_EXPONENT = 101.325, 2.25577e-5, 5.25588
"""[P: ISO 2533, Standard Atmosphere]: pressure at sea level, and how it falls with height in the troposphere."""
GAMMA_AIR = 1.4
ALTITUDE = Quantity(
    key="altitude_m", words=phrase("calculator.altitude", "Above the sea"), unit="m", low=-400.0, high=5000.0
)


def atmosphere_kpa(altitude_m: float) -> float:
    """Pressure of the standard atmosphere at a height.

    Parameters
    ----------
    altitude_m : float

    Returns
    -------
    float, kPa

    References
    ----------
    ISO 2533:1975, Standard Atmosphere [P].
    """
    return float(SEA_LEVEL_KPA * (1 - LAPSE_PER_M * altitude_m) ** HEIGHT_EXPONENT)


def nozzle_flow(upstream: float, downstream: float) -> float:
    """Flow of air through an orifice of unit area, relative to the choked flow at unit pressure upstream.

    Parameters
    ----------
    upstream, downstream : float
        Absolute, in the same unit.

    Returns
    -------
    float

    References
    ----------
    Heywood, Internal Combustion Engine Fundamentals, appendix C, equations C.8 and C.9 [P].
    """
    ratio = downstream / upstream
    if ratio >= 1.0:
        return 0.0
    critical = (2 / (GAMMA_AIR + 1)) ** (GAMMA_AIR / (GAMMA_AIR - 1))
    ratio = max(ratio, critical)

    def psi(r: float) -> float:
        return math.sqrt(2 * GAMMA_AIR / (GAMMA_AIR - 1) * (r ** (2 / GAMMA_AIR) - r ** ((GAMMA_AIR + 1) / GAMMA_AIR)))

    return upstream * psi(ratio) / psi(critical)


def _compression(*, ratio: float, exponent: float, altitude_m: float, manifold_kpa: float) -> Mapping[str, float]:
    outside = atmosphere_kpa(altitude_m)
    start = outside - manifold_kpa
    peak = start * ratio**exponent
    return {
        "bar": (peak - outside) / KPA_PER_BAR,
        "absolute_bar": peak / KPA_PER_BAR,
        "atmosphere_mbar": outside / KPA_PER_BAR * MILLIBAR_PER_BAR,
    }


def _vacuum(*, sea_kpa: float, altitude_m: float) -> Mapping[str, float]:
    # What the engine draws stays as it is in absolute pressure; what it is measured against falls.
    manifold = SEA_LEVEL_KPA - sea_kpa
    return {"kpa": atmosphere_kpa(altitude_m) - manifold, "atmosphere_kpa": atmosphere_kpa(altitude_m)}


def _orifice(*, supply_bar: float, reading_bar: float, orifice_mm: float) -> Mapping[str, float]:
    atmosphere = SEA_LEVEL_KPA / KPA_PER_BAR
    supply, held = supply_bar + atmosphere, reading_bar + atmosphere
    through = nozzle_flow(supply, held)
    out = nozzle_flow(held, atmosphere)
    leak_mm = orifice_mm * math.sqrt(through / out) if out > 0 else math.inf
    return {"percent": 100 * (1 - reading_bar / supply_bar), "hole_mm": leak_mm}


def held_pressure(supply_bar: float, orifice_mm: float, hole_mm: float) -> float:
    """What a leak-down gauge reads in front of a hole.

    Parameters
    ----------
    supply_bar : float
        Gauge.
    orifice_mm, hole_mm : float
        Of the tester, and of the leak.

    Returns
    -------
    float, bar, gauge
    """
    atmosphere = SEA_LEVEL_KPA / KPA_PER_BAR
    supply = supply_bar + atmosphere
    if hole_mm <= 0:
        return supply_bar

    def gap(held: float) -> float:
        return orifice_mm**2 * nozzle_flow(supply, held) - hole_mm**2 * nozzle_flow(held, atmosphere)

    return float(scipy.optimize.brentq(gap, atmosphere, supply)) - atmosphere


CALCULATORS = (
    Calculator(
        id="compression_pressure",
        title=phrase("calculator.compression", "Compression pressure to expect"),
        needed=phrase("calculator.compression_needed", "beside a gauge or a pressure transducer, cranking"),
        given=(
            Quantity(
                key="ratio", words=phrase("calculator.ratio", "Compression ratio, from where the intake closes"),
                unit=":1", low=2.0, high=25.0, case="compression_ratio",
            ),
            Quantity(key="exponent", words=phrase("calculator.exponent", "Exponent"), unit="", low=1.0, high=1.4),
            ALTITUDE,
            Quantity(
                key="manifold_kpa", words=phrase("calculator.below", "Intake below the atmosphere"), unit="kPa",
                low=0.0, high=90.0,
            ),
        ),
        found=(
            Quantity(key="bar", words=phrase("calculator.gauge", "On a gauge"), unit="bar"),
            Quantity(key="absolute_bar", words=phrase("calculator.absolute", "Absolute"), unit="bar"),
            Quantity(key="atmosphere_mbar", words=phrase("calculator.air", "Air outside"), unit="mbar"),
        ),
        formula="p = p₀(h) · εⁿ − p₀(h),  p₀(h) = 1013 mbar · (1 − 2.25577·10⁻⁵ · h)^5.25588",
        source="Heywood, ch. 4: polytropic compression; ISO 2533: air by height; exponent 1.2 to 1.35 while cranking "
        "from memory",
        example={"ratio": 8.0, "exponent": 1.3, "altitude_m": 0.0, "manifold_kpa": 0.0},
        compute=_compression,
        beware=phrase(
            "calculator.compression_beware",
            "The stated ratio counts from the bottom; the intake closes later, so that less is compressed. Compare "
            "cylinders first.",
        ),
    ),
    Calculator(
        id="vacuum_by_altitude",
        title=phrase("calculator.vacuum", "Idle vacuum at another height"),
        needed=phrase("calculator.vacuum_needed", "beside a vacuum gauge, far above the sea"),
        given=(
            Quantity(
                key="sea_kpa", words=phrase("calculator.sea", "Vacuum at the sea"), unit="kPa", low=0.0, high=100.0
            ),
            ALTITUDE,
        ),
        found=(
            Quantity(key="kpa", words=phrase("calculator.vacuum_here", "Vacuum there"), unit="kPa"),
            Quantity(key="atmosphere_kpa", words=phrase("calculator.air", "Air outside"), unit="kPa"),
        ),
        formula="v(h) = v(0) − (p₀(0) − p₀(h))",
        source="ISO 2533, Standard Atmosphere; that the pressure in the manifold stays is common practice",
        example={"sea_kpa": 65.0, "altitude_m": 1500.0},
        compute=_vacuum,
    ),
    Calculator(
        id="leak_down_hole",
        title=phrase("calculator.orifice", "The hole that a leak-down reading speaks of"),
        needed=phrase("calculator.orifice_needed", "when readings of two testers are compared"),
        given=(
            Quantity(key="supply_bar", words=phrase("calculator.supply", "Supply"), unit="bar", low=0.2, high=15.0),
            Quantity(
                key="reading_bar", words=phrase("calculator.held", "Cylinder holds"), unit="bar", low=0.01, high=14.99
            ),
            Quantity(
                key="orifice_mm", words=phrase("calculator.orifice_mm", "Orifice of the tester"), unit="mm", low=0.2,
                high=5.0,
            ),
        ),
        found=(
            Quantity(key="percent", words=phrase("calculator.leak", "Leak as the tester shows it"), unit="%"),
            Quantity(key="hole_mm", words=phrase("calculator.hole", "A round hole of"), unit="mm"),
        ),
        formula="A · ψ(p₀/p) · p = A₀ · ψ(p/p₁) · p₁, ψ the flow through a nozzle",
        source="Heywood, appendix C.8 and C.9; FAA AC 43.13-1B, 8-14: an orifice of 0.040 inch, 80 psi",
        example={"supply_bar": 5.516, "reading_bar": 4.137, "orifice_mm": 1.016},
        compute=_orifice,
        beware=phrase(
            "calculator.orifice_beware", "Per cent of two testers agree only with the same orifice and supply."
        ),
    ),
)  # fmt: skip
