"""Cases, their observations and their board. What may be done is in ``services``; ``api`` parses and answers."""
