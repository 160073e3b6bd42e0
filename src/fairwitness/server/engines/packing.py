"""Engines as a Data Package: a descriptor with one resource that holds its rows itself, to be sent and read again.

References
----------
Frictionless Data, Data Package version 1 and Data Resource (inline ``data``) [published].
"""

from __future__ import annotations

from collections.abc import Iterable
from datetime import datetime
from typing import Any

from django.db import transaction

from fairwitness import __version__
from fairwitness.core.errors import EngineError
from fairwitness.server.accounts.models import User
from fairwitness.server.cases.models import EngineAccess
from fairwitness.server.engines.minutes import keep_minutes
from fairwitness.server.engines.models import EngineRecord
from fairwitness.server.engines.records import Described, describe

NAME, ROWS_MAX = "engines", 500
FIELDS = (
    ("label", "string"),
    ("variant_of", "string"),
    ("years", "string"),
    ("code", "string"),
    ("notes", "string"),
    ("engine", "object"),
    ("usual", "array"),
    ("minutes", "object"),
)


def packed(records: Iterable[EngineRecord]) -> dict[str, Any]:
    """Records as one descriptor.

    Parameters
    ----------
    records : iterable of EngineRecord

    Returns
    -------
    dict
        JSON-ready.
    """
    minutes: dict[str, dict[str, float]] = {}
    for label, test, value in EngineAccess.objects.values_list("engine_label", "test", "minutes"):
        minutes.setdefault(label, {})[test] = value
    rows = [
        {
            "label": record.label,
            "variant_of": record.variant_of.label if record.variant_of else "",
            "years": record.years,
            "code": record.code,
            "notes": record.notes,
            "engine": record.block,
            "usual": record.usual,
            "minutes": minutes.get(record.label, {}),
        }
        for record in records
    ]
    return {
        "name": "fair-witness-engines",
        "profile": "data-package",
        "fair_witness": {"version": __version__},
        "resources": [
            {
                "name": NAME,
                "profile": "data-resource",
                "schema": {"fields": [{"name": name, "type": kind} for name, kind in FIELDS]},
                "data": rows,
            }
        ],
    }


@transaction.atomic
def unpack(descriptor: object, *, by: User, at: datetime) -> list[EngineRecord]:
    """Write down the engines of a package; one of a name the shop knows already is changed. All or none.

    Parameters
    ----------
    descriptor : object
        As ``packed`` made it.

    Returns
    -------
    list of EngineRecord

    Raises
    ------
    PermissionDenied
    EngineError
        It is no package of engines, or one of them cannot be; says which.
    """
    kept = []
    for row in _in_order(_rows(descriptor)):
        label = row["label"]
        told = Described(
            label=label,
            variant_of=_text(row, "variant_of"),
            years=_text(row, "years"),
            code=_text(row, "code"),
            notes=_text(row, "notes"),
            block=row["engine"],
            usual=[usual for usual in row.get("usual", []) if isinstance(usual, dict)],
        )
        known = EngineRecord.objects.filter(label=label).first()
        try:
            record = describe(told, by=by, at=at, record=known)
        except EngineError as error:
            raise EngineError(error.what, where=f"{label}, {error.where}", remedy=error.remedy) from error
        _minutes(record, row.get("minutes"), by, at)
        kept.append(record)
    return kept


def _rows(descriptor: object) -> list[dict[str, Any]]:
    resources = descriptor.get("resources") if isinstance(descriptor, dict) else None
    listed = resources if isinstance(resources, list) else []
    rows = next((r.get("data") for r in listed if isinstance(r, dict) and r.get("name") == NAME), None)
    if not isinstance(rows, list) or len(rows) > ROWS_MAX:
        raise EngineError("This is no package of engines.", where="file", remedy="Export one from the engines page.")
    for row in rows:
        named = isinstance(row, dict) and isinstance(row.get("label"), str)
        if not named or not isinstance(row.get("engine"), dict):
            raise EngineError("An engine has a name and its data.", where="engines")
    return rows


def _in_order(rows: list[dict[str, Any]]) -> list[dict[str, Any]]:
    """Engines before their variants."""
    left, done, ordered = list(rows), set[str](), list[dict[str, Any]]()
    here = {row["label"] for row in rows}
    while left:
        ready = [row for row in left if _text(row, "variant_of") in done or _text(row, "variant_of") not in here]
        if not ready:
            raise EngineError("An engine is no variant of itself.", where=left[0]["label"])
        ordered += ready
        done |= {row["label"] for row in ready}
        left = [row for row in left if row["label"] not in done]
    return ordered


def _text(row: dict[str, Any], key: str) -> str:
    value = row.get(key, "")
    return value if isinstance(value, str) else ""


def _minutes(record: EngineRecord, value: object, by: User, at: datetime) -> None:
    if isinstance(value, dict):
        for test, minutes in value.items():
            keep_minutes(record.label, str(test), minutes, by=by, at=at)
