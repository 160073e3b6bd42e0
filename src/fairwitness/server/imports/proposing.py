"""What a file is proposed to be: the guess of its shape, and what the shop said of the same column before."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import asdict
from datetime import datetime
from typing import Any

from fairwitness.core.messages.catalogue import template
from fairwitness.core.messages.message import NOTHING
from fairwitness.core.model.capture import Role
from fairwitness.core.model.lead import Lead, lead_block, read_lead
from fairwitness.core.model.lead_presets import fitting, presets_of
from fairwitness.core.model.units import UNIT_TO_SI
from fairwitness.formats.columns import ColumnGuess, ColumnUse, leads_worth_asking
from fairwitness.formats.file_guess import FileGuess
from fairwitness.server.accounts.models import User
from fairwitness.server.captures.models import RememberedColumn

LIKELY_ENOUGH = 0.02
"""A memory is followed only where the trace may be what it was then: inputs are plugged anew every day."""
KEPT = 2_000
SAID_BEFORE = template("proposing.said_before", "as {who} said of {column} on {day}")


def proposal(guess: FileGuess) -> dict[str, Any]:
    """What a file probably holds, as the interface shows it."""
    names = [c.name for c in guess.columns]
    memories = _memories(names)
    columns = [_proposed(c, memories.get(c.name)) for c in guess.columns]
    return {
        "columns": columns,
        "needs_rate": guess.needs_rate,
        "rate_hz": guess.rate_hz,
        "segments": guess.segments,
        "attempts": guess.attempts,
        "engine_state": guess.engine_state.value if guess.engine_state else "",
        "test": guess.test.value if guess.test else "",
        "written": guess.written,
    }


def remember(uses: Sequence[ColumnUse], *, by: User, at: datetime) -> None:
    """Remember what the columns of a file were said to be, for the next file of the same columns."""
    shape = _shape(u.column for u in uses)
    for use in uses:
        if use.role in (Role.TIME, Role.OTHER):
            continue
        RememberedColumn.objects.update_or_create(
            shape=shape,
            column=use.column[:200],
            role=use.role.value,
            defaults={"unit": use.unit, "lead": lead_block(use.lead), "said_by": by, "said_at": at},
        )
    old = RememberedColumn.objects.order_by("-said_at", "-id").values_list("pk", flat=True)[KEPT:]
    RememberedColumn.objects.filter(pk__in=list(old)).delete()


def _memories(names: Sequence[str]) -> dict[str, list[RememberedColumn]]:
    """What was said of columns in files of the same columns, the latest first."""
    found: dict[str, list[RememberedColumn]] = {}
    rows = RememberedColumn.objects.filter(shape=_shape(names)).select_related("said_by").order_by("-said_at", "-id")
    for row in rows:
        found.setdefault(row.column, []).append(row)
    return found


def _shape(names: Iterable[str]) -> str:
    """Files of the same columns come from the same instrument set the same way."""
    return "|".join(sorted(names))[:2_000]


def _proposed(column: ColumnGuess, said: Sequence[RememberedColumn] | None) -> dict[str, Any]:
    memory = _believable(column, said or ())
    role, lead = column.role, column.lead
    if memory is not None:
        role = Role(memory.role)
        lead = read_lead(memory.lead) if memory.unit == (column.unit or memory.unit) else lead
    return {
        "name": column.name,
        "unit": column.unit,
        "role": role.value,
        "cylinder": column.cylinder,
        "sync": column.sync and role is column.role,
        "preview": column.preview,
        "chances": [{"role": c.role.value, "chance": c.chance} for c in column.chances],
        "leads": _offers(column),
        "height": column.height,
        "events_hz": column.events_hz,
        "lead": _block(lead) if lead is not None else None,
        "remembered": SAID_BEFORE(
            who=memory.said_by.shown_name, column=memory.column, day=memory.said_at.date().isoformat()
        )
        if memory is not None
        else NOTHING,
    }


def _believable(column: ColumnGuess, said: Sequence[RememberedColumn]) -> RememberedColumn | None:
    """The likeliest of what was said of such a column, by how well the trace fits it."""
    chances = {c.role.value: c.chance for c in column.chances}
    likely = [m for m in said if chances.get(m.role, 0.0) > LIKELY_ENOUGH]
    return max(likely, key=lambda m: chances[m.role], default=None)


def _offers(column: ColumnGuess) -> list[dict[str, Any]]:
    """Leads to choose from, by role: first those through which the trace would stand at a usual level."""
    height_v = column.height * UNIT_TO_SI[column.unit if leads_worth_asking(column.unit) and column.unit else "V"][0]
    offers = []
    for role in Role:
        fits = [one for one in fitting(role, height_v, presets_of(role)) if one.known]
        rest = [one for one in presets_of(role) if one not in fits]
        offers += [
            {"role": role.value, "lead": _block(one), "words": one.said, "fits": one in fits} for one in (*fits, *rest)
        ]
    return offers


def _block(lead: Lead) -> dict[str, Any]:
    return {**asdict(lead), "kind": lead.kind.value, "reference": lead.reference.value if lead.reference else None}
