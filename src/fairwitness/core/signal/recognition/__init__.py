"""What a trace probably is, told by its shape."""
