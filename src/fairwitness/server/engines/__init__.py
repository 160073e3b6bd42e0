"""Engines as the shop knows them: data, variants, wiring by the pin, what may not be done, minutes as they are here."""
