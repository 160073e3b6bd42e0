"""Injector current and voltage, pulse by pulse: place, level, needle, course over minutes."""
