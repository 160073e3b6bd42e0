"""The application around the core: accounts, cases, captures, and the interface's API."""
