"""Keeping what was recorded: copies made while work goes on, tried, and put back."""
