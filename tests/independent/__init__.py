"""Recordings made by other physics than the simulator's, and what the program must make of them."""
