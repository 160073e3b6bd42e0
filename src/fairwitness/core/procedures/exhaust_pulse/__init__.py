"""Pulses at the tailpipe: who does not push his gas out."""
