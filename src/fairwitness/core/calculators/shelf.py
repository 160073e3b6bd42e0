"""All calculators, in the order of the work."""

from __future__ import annotations

from collections.abc import Mapping
from types import MappingProxyType

from fairwitness.core.calculators import circuits, crank, pressures
from fairwitness.core.calculators.record import Calculator

CALCULATORS: Mapping[str, Calculator] = MappingProxyType(
    {c.id: c for c in (*crank.CALCULATORS, *circuits.CALCULATORS, *pressures.CALCULATORS)}
)
