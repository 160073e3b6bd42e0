"""The starter current and the pulses while cranking, as sums of what each compression adds."""
