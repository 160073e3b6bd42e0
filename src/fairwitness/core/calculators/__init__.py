"""Sums of the trade: each a record with its formula, its source and a worked example, found by looking."""

from fairwitness.core.calculators.record import Calculator, calculated
from fairwitness.core.calculators.shelf import CALCULATORS

__all__ = ["CALCULATORS", "Calculator", "calculated"]
