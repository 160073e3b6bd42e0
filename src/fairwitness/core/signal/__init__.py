"""Arrays in, arrays and small records out: what is common to several tests. From a capture; procedures read it."""
