"""What a driver sees, hears and smells, chosen from a list and never read out of a sentence.

From the intake; each makes people of the trade think of some faults first.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

from fairwitness.core.messages.catalogue import phrase
from fairwitness.core.messages.message import Message


@dataclass(frozen=True, slots=True)
class Sign:
    """One of them.

    Parameters
    ----------
    words : Message
    faults : tuple of str
        What it makes one think of.
    factor : float
        On their odds. [M]
    """

    words: Message
    faults: tuple[str, ...]
    factor: float


SIGNS: Mapping[str, Sign] = {
    "damp": Sign(phrase("sign.damp", "worse in the wet"), ("secondary_leak", "plug_tracking"), 2.0),
    "hot": Sign(
        phrase("sign.hot", "worse when hot"),
        ("injector_open_circuit", "coil_output_dead", "coil_secondary_shorted"),
        1.4,
    ),
    "oil_smoke": Sign(phrase("sign.oil_smoke", "blue smoke, uses oil"), ("ring_or_piston_leak",), 2.0),
    "coolant": Sign(phrase("sign.coolant", "loses coolant, white smoke"), ("head_gasket_leak",), 2.5),
    "fuel_smell": Sign(
        phrase("sign.fuel_smell", "smells of fuel, black smoke"), ("injector_leaking", "injector_driver_failed"), 2.0
    ),
    "no_power": Sign(phrase("sign.no_power", "no power under load"), ("fuel_supply_low", "plug_gap_wide"), 1.4),
    "hiss": Sign(phrase("sign.hiss", "hisses or whistles"), ("unmetered_air_at_runner",), 2.0),
    "ticking": Sign(
        phrase("sign.ticking", "ticks or taps"), ("intake_valve_not_opening", "exhaust_valve_not_opening"), 2.0
    ),
    "after_timing_work": Sign(
        phrase("sign.after_timing_work", "since work on belt or chain"), ("valve_timing_shifted",), 2.5
    ),
}
