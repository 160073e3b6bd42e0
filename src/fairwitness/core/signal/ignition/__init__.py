"""Sparks, ramps of coil current, and levels of coil commands, event by event."""
