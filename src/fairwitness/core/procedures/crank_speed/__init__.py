"""Contribution from the crank sensor while the engine runs."""
