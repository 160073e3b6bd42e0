"""Minutes that tests really take on an engine of a name, as somebody wrote them down."""

from __future__ import annotations

import math
from datetime import datetime

from fairwitness.core.errors import ObservationError
from fairwitness.core.procedures.specs import OFFERS
from fairwitness.server.accounts.models import User
from fairwitness.server.cases.models import EngineAccess

MINUTES_MOST = 600


def keep_minutes(label: str, test: str, minutes: float | None, *, by: User, at: datetime) -> None:
    """Write down how long a test takes; None goes back to the usual minutes.

    Raises
    ------
    ObservationError
        No such test, minutes that cannot be, or an engine without a name.
    """
    if not label:
        raise ObservationError(
            "This engine has no name.", where="engine", remedy="Minutes are kept for a named engine."
        )
    if test not in OFFERS:
        raise ObservationError(f"There is no test {test!r}.", where="test")
    if minutes is None:
        EngineAccess.objects.filter(engine_label=label, test=test).delete()
        return
    if isinstance(minutes, bool) or not isinstance(minutes, int | float) or not math.isfinite(minutes):
        raise ObservationError("Minutes are a number.", where="minutes")
    if not 0 < minutes <= MINUTES_MOST:
        raise ObservationError(f"{minutes:g} minutes cannot be.", where="minutes", remedy="Give 1 to 600.")
    changes = {"minutes": minutes, "set_by": by, "set_at": at}
    EngineAccess.objects.update_or_create(engine_label=label, test=test, defaults=changes)
