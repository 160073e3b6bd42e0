"""Fair Witness: which cylinder misfires, and why, with the evidence beside every claim."""

__version__ = "0.2.0"
