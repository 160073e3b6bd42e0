"""The shop's own prices: none are shipped, none are guessed."""
