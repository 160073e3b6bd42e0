"""Instruments over open protocols: a scope by SCPI, the vehicle by SAE J1979, files by a watched folder.

Each has a simulated stand-in behind the same protocol, so that a real one can take its place.
"""
