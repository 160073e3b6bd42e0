"""Injector current from a clamp on one lead or on a shared feed."""
