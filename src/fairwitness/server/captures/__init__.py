"""Captures, their samples and what was measured of them."""
