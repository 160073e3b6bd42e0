"""What heat does to a copper winding: a law of the material, shared by whoever measures windings or makes them."""

from __future__ import annotations

COPPER_PER_K = 0.00393  # [P: IEC 60028] resistance of annealed copper at 20 degrees C, per kelvin
REFERENCE_C = 20.0


def copper_resistance(ohm: float, celsius: float, *, at_c: float = REFERENCE_C) -> float:
    """Resistance of a copper winding at another temperature, ohm.

    Parameters
    ----------
    ohm : float
        At ``at_c``.
    celsius : float
    at_c : float

    References
    ----------
    IEC 60028, International standard of resistance for copper [P].
    """
    return ohm * (1 + COPPER_PER_K * (celsius - REFERENCE_C)) / (1 + COPPER_PER_K * (at_c - REFERENCE_C))


def copper_temperature(ohm: float, reference_ohm: float, *, at_c: float = REFERENCE_C) -> float:
    """Temperature at which a copper winding of ``reference_ohm`` at ``at_c`` has ``ohm``, degrees C."""
    ratio = ohm / reference_ohm * (1 + COPPER_PER_K * (at_c - REFERENCE_C))
    return REFERENCE_C + (ratio - 1) / COPPER_PER_K
