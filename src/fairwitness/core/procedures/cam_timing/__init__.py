"""Cam against crank, beside a known good."""
