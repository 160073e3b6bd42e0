"""What the trade knows of faults: one record each, the matrix of signatures, the table of outcomes, the proofs."""
