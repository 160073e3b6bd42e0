"""The words: headline, what was seen, what follows, what was not seen, the rival, the owner, the repair."""
