"""Pulses of the intake while cranking: who does not draw, or blows back."""
