"""Reasoning over several states of one vehicle: what a change-over showed, what a repair cured."""
