"""What to ask next: what each test would show, what it costs here, what an imagined outcome would change."""
