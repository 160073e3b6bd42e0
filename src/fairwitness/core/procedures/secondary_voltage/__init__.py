"""Secondary voltage from pick-ups on leads or coils."""
