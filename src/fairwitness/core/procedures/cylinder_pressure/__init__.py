"""Pressure in a cylinder from a transducer in the plug hole."""
