"""The calculators over HTTP, filled from a case."""
