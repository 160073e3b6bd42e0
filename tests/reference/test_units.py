"""Unit factors against a general unit library (pint, whose values follow CODATA and NIST SP 811 [P])."""

import pint
import pytest

from fairwitness.core.model.units import UNIT_TO_SI

NAMES = {
    "s": ("second", "second"), "ms": ("millisecond", "second"), "us": ("microsecond", "second"),
    "V": ("volt", "volt"), "mV": ("millivolt", "volt"), "kV": ("kilovolt", "volt"),
    "A": ("ampere", "ampere"), "mA": ("milliampere", "ampere"),
    "Pa": ("pascal", "pascal"), "kPa": ("kilopascal", "pascal"), "bar": ("bar", "pascal"), "psi": ("psi", "pascal"),
}  # fmt: skip
REGISTRY = pint.UnitRegistry()


@pytest.mark.parametrize("unit", NAMES)
def test_the_factor_is_the_librarys(unit):
    written, inside = NAMES[unit]
    assert UNIT_TO_SI[unit][0] == pytest.approx(REGISTRY.Quantity(1, written).to(inside).magnitude, rel=1e-12)


def test_every_unit_with_a_dimension_is_checked():
    assert set(UNIT_TO_SI) - set(NAMES) == {"rpm", "deg", "1"}
