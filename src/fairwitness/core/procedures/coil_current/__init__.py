"""Coil current from a clamp on a shared feed or on single coils."""
