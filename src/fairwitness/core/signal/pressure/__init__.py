"""Pressure in a cylinder: its law, its losses, its valve events, and what a sound one would show."""
