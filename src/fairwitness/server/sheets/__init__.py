"""What is handed over: one page for the owner, the annex behind it, and links for whoever has no account."""
