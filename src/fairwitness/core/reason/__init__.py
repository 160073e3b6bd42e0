"""From findings to which cylinder, which cause, how sure, and what to test next."""
