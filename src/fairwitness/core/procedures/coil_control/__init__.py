"""Levels of the command to a coil, at coil and control unit, plugged and unplugged."""
