"""Pulses of the crankcase while cranking: blow-by, cylinder by cylinder."""
