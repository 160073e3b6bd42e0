"""How often the answers are right, measured on simulated populations."""
