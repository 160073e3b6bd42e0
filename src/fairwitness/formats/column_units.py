"""Units as the headers of files spell them."""

from __future__ import annotations

from fairwitness.core.model.units import UNIT_TO_SI

UNIT_WORDS = {
    "s": ("sec", "secs", "second", "seconds", "sek", "sekunden", "secondes", "segundos"),
    "ms": ("msec", "millisecond", "milliseconds", "millisekunden"),
    "us": ("µs", "μs", "usec", "microsecond", "microseconds"),
    "V": ("volt", "volts", "v", "vdc"),
    "mV": ("mv", "millivolt", "millivolts"),
    "kV": ("kv",),
    "A": ("amp", "amps", "ampere", "amperes", "a", "adc"),
    "mA": ("ma",),
    "Pa": ("pa",),
    "kPa": ("kpa",),
    "deg": ("°",),
}
UNIT_OF_WORD = {word: unit for unit, words in UNIT_WORDS.items() for word in words}


def unit_of(text: str) -> str | None:
    """The unit a text means, or None."""
    bare = text.strip().strip("[]()").strip()
    if bare in UNIT_TO_SI:
        return bare
    return UNIT_OF_WORD.get(bare.lower())
