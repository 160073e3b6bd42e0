"""The crank sensor: teeth to speed, and speed to the work of every event."""
