"""Sums of coils and injectors: how current rises, and what resistance it speaks of."""

from __future__ import annotations

from collections.abc import Mapping
from functools import partial

from fairwitness.core.calculators.record import Calculator, Quantity
from fairwitness.core.messages.catalogue import phrase
from fairwitness.core.signal.injector.electrical import (
    DRIVER_DROP_V,
    HIGHEST_C,
    LOWEST_C,
    expected_current,
    expected_ohms,
    rise,
)

VOLTS = partial(Quantity, key="volts", words=phrase("calculator.volts", "Feed, under load"), unit="V", high=100.0)


def _rise(*, volts: float, ohms: float, millihenry: float, milliseconds: float) -> Mapping[str, float]:
    henry = millihenry / 1000
    return {
        "final_amps": volts / ohms,
        "amps": rise(milliseconds / 1000, ohm=ohms, henry=henry, volts=volts),
        "tau_ms": 1000 * henry / ohms,
    }


def _current(*, ohms: float, volts: float, celsius: float) -> Mapping[str, float]:
    known = expected_current(ohms, volts, celsius)
    return {"amps": known.value, "low_amps": known.low, "high_amps": known.high}


def _ohms(*, amps: float, volts: float, celsius: float) -> Mapping[str, float]:
    known = expected_ohms(amps, volts, celsius)
    return {"ohms": known.value, "low_ohms": known.low, "high_ohms": known.high}


CELSIUS = Quantity(
    key="celsius", words=phrase("calculator.celsius", "Winding at"), unit="°C", low=LOWEST_C, high=HIGHEST_C
)
CALCULATORS = (
    Calculator(
        id="current_rise",
        title=phrase("calculator.rise", "Current of a coil or injector after switch-on"),
        needed=phrase("calculator.rise_needed", "beside a current ramp: does it rise as its winding says?"),
        given=(
            VOLTS(low=1.0, case="volts"),
            Quantity(
                key="ohms", words=phrase("calculator.circuit", "Whole circuit"), unit="Ω", low=0.05, high=1000.0,
                case="injector_ohms",
            ),
            Quantity(
                key="millihenry", words=phrase("calculator.inductance", "Inductance"), unit="mH", low=0.01, high=100.0
            ),
            Quantity(
                key="milliseconds", words=phrase("calculator.after", "Time after switch-on"), unit="ms", low=0.0,
                high=1000.0,
            ),
        ),
        found=(
            Quantity(key="amps", words=phrase("calculator.amps_then", "Current then"), unit="A"),
            Quantity(key="final_amps", words=phrase("calculator.final", "Final current"), unit="A"),
            Quantity(key="tau_ms", words=phrase("calculator.tau", "Time constant, 63 % of it"), unit="ms"),
        ),
        formula="I(t) = U/R · (1 − e^(−t·R/L)),  τ = L/R",
        source="Nilsson and Riedel, Electric Circuits, 10th ed., 7.3: step response of an RL circuit",
        example={"volts": 12.0, "ohms": 0.6, "millihenry": 4.8, "milliseconds": 8.0},
        compute=_rise,
        beware=phrase("calculator.rise_beware", "A driver that limits the current cuts the rise off before."),
    ),
    Calculator(
        id="expected_current",
        title=phrase("calculator.expected_current", "What current should flow"),
        needed=phrase("calculator.expected_needed", "beside injector current, cold or hot"),
        given=(
            Quantity(
                key="ohms", words=phrase("calculator.ohms_20", "Winding at 20 °C"), unit="Ω", low=0.05, high=1000.0,
                case="injector_ohms",
            ),
            VOLTS(low=DRIVER_DROP_V + 0.1, case="volts"),
            CELSIUS,
        ),
        found=(
            Quantity(key="amps", words=phrase("calculator.current", "Current"), unit="A"),
            Quantity(key="low_amps", words=phrase("calculator.at_least", "at least"), unit="A"),
            Quantity(key="high_amps", words=phrase("calculator.at_most", "at most"), unit="A"),
        ),
        formula="I = (U − 0.5 V) / (R₂₀ · (1 + 0.00393 · (ϑ − 20 °C)))",
        source="IEC 60028: temperature coefficient of copper; the driver's 0.5 V from memory",
        example={"ohms": 14.0, "volts": 14.5, "celsius": 20.0},
        compute=_current,
    ),
    Calculator(
        id="ohms_from_amps",
        title=phrase("calculator.ohms_from_amps", "What resistance a current speaks of"),
        needed=phrase("calculator.ohms_needed", "beside injector current: is the winding or the wiring high?"),
        given=(
            Quantity(
                key="amps", words=phrase("calculator.settled", "Settled current"), unit="A", low=0.005, high=60.0
            ),
            VOLTS(low=DRIVER_DROP_V + 0.1, case="volts"),
            CELSIUS,
        ),
        found=(
            Quantity(key="ohms", words=phrase("calculator.ohms", "Winding at 20 °C, and all wire"), unit="Ω"),
            Quantity(key="low_ohms", words=phrase("calculator.at_least", "at least"), unit="Ω"),
            Quantity(key="high_ohms", words=phrase("calculator.at_most", "at most"), unit="Ω"),
        ),
        formula="R₂₀ = (U − 0.5 V) / I / (1 + 0.00393 · (ϑ − 20 °C))",
        source="IEC 60028: temperature coefficient of copper; the driver's 0.5 V from memory",
        example={"amps": 1.0, "volts": 14.5, "celsius": 20.0},
        compute=_ohms,
    ),
)  # fmt: skip
