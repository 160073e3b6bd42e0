"""A vehicle that can be made ill. Uses the engine model of the core and none of its measurements."""
