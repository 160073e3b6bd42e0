"""Keeping the price list, and what the ways to go on with a case cost by it."""

from __future__ import annotations

from collections.abc import Mapping
from datetime import datetime
from decimal import Decimal

from django.db import transaction

from fairwitness.core.errors import ObservationError
from fairwitness.core.reason.knowledge.remedies import PART_NAMES
from fairwitness.core.reason.options import Option, Prices, options
from fairwitness.server.accounts.models import User
from fairwitness.server.accounts.permissions import require
from fairwitness.server.cases.evidence import concluded
from fairwitness.server.cases.models import StoredCase
from fairwitness.server.engines.records import engine_of
from fairwitness.server.prices.models import HOUR, Price

MOST = Decimal(1_000_000)


def prices() -> Prices:
    """The shop's prices, as far as they are written down."""
    known = dict(Price.objects.values_list("item", "amount"))
    hour = known.pop(HOUR, None)
    return Prices(
        parts={item: float(amount) for item, amount in known.items()}, hour=None if hour is None else float(hour)
    )


def set_prices(changes: Mapping[str, Decimal | None], *, by: User, at: datetime) -> None:
    """Write prices down, all of them or none; None takes one off the list.

    Raises
    ------
    PermissionDenied
    ObservationError
        Nothing of that name has a price, or the sum cannot be.
    """
    require(by, "set_prices")
    with transaction.atomic():
        for item, amount in changes.items():
            if item != HOUR and item not in PART_NAMES:
                raise ObservationError("Nothing of this name has a price.", where=item)
            if amount is None:
                Price.objects.filter(item=item).delete()
            elif not 0 <= amount <= MOST:
                raise ObservationError("A price lies between 0 and a million.", where=item)
            else:
                Price.objects.update_or_create(item=item, defaults={"amount": amount, "set_by": by, "set_at": at})


def options_of(case: StoredCase) -> tuple[Option, ...]:
    """Ways to go on with a case by today's prices; empty where no fault is supported or established."""
    diagnosis = concluded(case)
    return options(diagnosis.posterior, diagnosis.verdict.faults, engine_of(case), prices(), diagnosis.plan.offers)
