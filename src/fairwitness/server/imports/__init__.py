"""Files on their way to become captures: staged once, looked at, and kept by a process of their own."""
