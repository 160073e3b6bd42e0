"""Voltage at an injector: rest, pull, kick and the closing needle."""
