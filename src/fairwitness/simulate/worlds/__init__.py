"""Alternatives for what the simulator assumes, so that no answer rests on one way of modelling an engine."""
