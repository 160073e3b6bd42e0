"""The demo's accounts. Made only in demo mode; the passwords are public on purpose."""

from __future__ import annotations

from fairwitness.server.accounts.models import Role, User

DEMO_ACCOUNTS = (
    {"username": "tamsin", "password": "depot-demo-bay-1", "name": "Tamsin Orrell", "role": "technician"},
    {"username": "idris", "password": "depot-demo-bay-2", "name": "Idris Venn", "role": "lead"},
    {"username": "rosalind", "password": "depot-demo-office", "name": "Rosalind Peake", "role": "reader"},
)


def make_accounts() -> dict[str, User]:
    """Create the demo's people where they are missing."""
    made = {}
    for account in DEMO_ACCOUNTS:
        first, last = account["name"].split(" ", 1)
        user, new = User.objects.get_or_create(
            username=account["username"],
            defaults={"first_name": first, "last_name": last, "role": Role(account["role"])},
        )
        if new:
            user.set_password(account["password"])
            user.save(update_fields=["password"])
        made[user.username] = user
    return made
