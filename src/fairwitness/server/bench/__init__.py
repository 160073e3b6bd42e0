"""The bench of one person: vehicle, scope and scan link, and what they say while they say it."""
