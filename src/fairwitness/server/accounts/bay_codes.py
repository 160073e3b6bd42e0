"""The short code by which a shared tablet changes hands without losing the case.

A code works only where somebody came in by password within the same working day, leads to a session that may not
manage people, and dies after a few wrong guesses until its owner sets it again.
"""

from __future__ import annotations

import re

from django.contrib.auth.hashers import check_password, make_password
from django.db import transaction

from fairwitness.core.errors import PeopleError
from fairwitness.server.accounts.models import User

GUESSES_MAX = 5
WRONG = "Name and code do not match."
DIGITS = 6
CODE = re.compile(rf"[0-9]{{{DIGITS}}}")


@transaction.atomic
def set_code(person: User, code: str) -> None:
    """Give a person a short code; empty takes it away.

    Raises
    ------
    PeopleError
        It is not six digits, or everybody's first guess.
    """
    if code and not CODE.fullmatch(code):
        raise PeopleError("A code is six digits.", where="code", remedy="Choose six digits.")
    if code and (len(set(code)) < 3 or code in "01234567890" or code in "09876543210"):
        raise PeopleError("This code is guessed first.", where="code", remedy="Choose another one.")
    person.bay_code = make_password(code) if code else ""
    person.wrong_codes = 0
    person.save(update_fields=["bay_code", "wrong_codes"])


def person_with(username: str, code: str) -> User:
    """Who has a name and a code; a wrong one is counted.

    Raises
    ------
    PeopleError
        They do not match, nobody has this name, or the code is dead of wrong guesses.
    """
    with transaction.atomic():
        person = User.objects.select_for_update().filter(username=username, is_active=True).first()
        if person is None or not person.bay_code:
            raise PeopleError(WRONG, where="code")
        if person.wrong_codes >= GUESSES_MAX:
            raise PeopleError(
                "This code was guessed too often.", where="code", remedy="Log in with the password and set it again."
            )
        right = check_password(code, person.bay_code)
        person.wrong_codes = 0 if right else person.wrong_codes + 1
        person.save(update_fields=["wrong_codes"])
    if not right:
        # Raised after the count is kept.
        raise PeopleError(WRONG, where="code")
    return person
