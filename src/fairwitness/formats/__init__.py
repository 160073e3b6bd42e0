"""Open files in and out. Each reader gives core objects; nothing of the job is decided here."""
