"""Relative compression from starter current or battery voltage."""
