"""People, roles, and how each wants to read."""
