"""Engine records: what they say with what they inherit, what a case takes from them, and how they are changed."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass, field
from datetime import datetime
from typing import Any

from django.db import transaction

from fairwitness.core.errors import EngineError
from fairwitness.core.model.engine import Engine
from fairwitness.core.procedures.safety import PROHIBITED
from fairwitness.formats.engine_block import REQUIRED, engine_block, read_engine
from fairwitness.server.accounts.models import User
from fairwitness.server.accounts.permissions import require
from fairwitness.server.cases.models import StoredCase
from fairwitness.server.engines.models import EngineChange, EngineRecord

DEPTH_MAX = 6
"""Variants of variants."""
USUAL_MAX, USUAL_LENGTH = 40, 120
TOLD = ("label", "years", "code", "block", "usual", "notes")


@dataclass(frozen=True, slots=True, kw_only=True)
class Described:
    """A record as somebody wrote it down.

    Parameters
    ----------
    label : str
    variant_of : str
        Label of the engine it is a variant of; empty for none.
    years, code, notes : str
    block : mapping
        Only what it states itself.
    usual : sequence of mapping
        Rows of ``words`` and ``value``.
    """

    label: str
    variant_of: str = ""
    years: str = ""
    code: str = ""
    notes: str = ""
    block: Mapping[str, Any] = field(default_factory=dict)
    usual: Iterable[Mapping[str, str]] = ()


@dataclass(frozen=True, slots=True)
class Difference:
    """One thing a variant says otherwise than the engine it is a variant of."""

    key: str
    here: Any
    there: Any


def whole_block(record: EngineRecord) -> dict[str, Any]:
    """Everything a record says, with what it has from the engines it is a variant of; its own word last."""
    chain, one = [record.block], record.variant_of
    while one is not None and len(chain) <= DEPTH_MAX:
        chain.append(one.block)
        one = one.variant_of
    known: dict[str, Any] = {}
    for block in reversed(chain):
        known |= block
    return {**known, "label": record.label}


def differences(record: EngineRecord) -> list[Difference]:
    """What a variant says otherwise, or beside, in the order it was written down."""
    if record.variant_of is None:
        return []
    there = whole_block(record.variant_of)
    return [
        Difference(key, value, there.get(key))
        for key, value in record.block.items()
        if key != "label" and there.get(key) != value
    ]


def engine_of(case: StoredCase) -> Engine:
    """The engine of a case, with what the shop's record of that name adds to what the case itself says.

    Raises
    ------
    EngineError
    """
    return read_engine(known_block(case.engine))


def known_block(block: Mapping[str, Any]) -> dict[str, Any]:
    """An engine block with what the shop's record adds; a record of another make-up adds nothing."""
    label = str(block.get("label", "")).strip()
    record = EngineRecord.objects.filter(label=label).select_related("variant_of").first() if label else None
    if record is None:
        return dict(block)
    known = whole_block(record)
    if any(known.get(key) not in (None, block.get(key)) for key in REQUIRED):
        return dict(block)
    added = {key: value for key, value in known.items() if key not in REQUIRED}
    if block.get("injector_path"):
        added.pop("wiring", None)  # the case names its own way along the circuit
    prohibited = sorted({*_listed(known), *_listed(block)})
    return {**added, **block, **({PROHIBITED: prohibited} if prohibited else {})}


def _listed(block: Mapping[str, Any]) -> list[str]:
    acts = block.get(PROHIBITED)
    return [act for act in acts if isinstance(act, str)] if isinstance(acts, list) else []


@transaction.atomic
def describe(told: Described, *, by: User, at: datetime, record: EngineRecord | None = None) -> EngineRecord:
    """Write an engine down, or change what is written; what stood there before is kept.

    Parameters
    ----------
    told : Described
    record : EngineRecord, optional
        The one to change; a new one if left out.

    Raises
    ------
    PermissionDenied
    EngineError
        No name or one that is taken, an engine that cannot be, or a variant of itself.
    """
    require(by, "add_evidence")
    label = told.label.strip()[:200]
    if not label:
        raise EngineError("An engine has a name.", where="label", remedy="As the shop calls it.")
    taken = EngineRecord.objects.filter(label__iexact=label)
    if (taken.exclude(pk=record.pk) if record is not None else taken).exists():
        raise EngineError(f"There is an engine {label!r} already.", where="label", remedy="Change that one.")
    parent = _parent(told.variant_of, record)
    inherited = whole_block(parent) if parent is not None else {}
    whole = read_engine({**inherited, **told.block, "label": label})
    own = {k: v for k, v in engine_block(whole).items() if k != "label" and (k in told.block or k not in inherited)}
    if parent is not None:
        own = {k: v for k, v in own.items() if inherited.get(k) != v}
    changed = record or EngineRecord(label=label)
    if record is not None:
        EngineChange.objects.create(record=record, before={k: getattr(record, k) for k in TOLD}, by=by, at=at)
    changed.label, changed.variant_of, changed.block = label, parent, own
    changed.years, changed.code = told.years.strip()[:60], told.code.strip()[:60]
    changed.notes, changed.usual = told.notes.strip()[:4000], _usual(told.usual)
    changed.by, changed.at = by, at
    changed.save()
    return changed


def _parent(label: str, record: EngineRecord | None) -> EngineRecord | None:
    if not label.strip():
        return None
    parent = EngineRecord.objects.filter(label=label.strip()).first()
    if parent is None:
        raise EngineError(f"There is no engine {label!r}.", where="variant_of")
    one: EngineRecord | None = parent
    for _ in range(DEPTH_MAX):
        if one is None:
            return parent
        if record is not None and one.pk == record.pk:
            raise EngineError("An engine is no variant of itself.", where="variant_of")
        one = one.variant_of
    raise EngineError("These are too many variants of variants.", where="variant_of")


def _usual(rows: Iterable[Mapping[str, str]]) -> list[dict[str, str]]:
    kept = [{"words": str(row.get("words", "")).strip(), "value": str(row.get("value", "")).strip()} for row in rows]
    kept = [row for row in kept if row["words"] and row["value"]]
    if len(kept) > USUAL_MAX or any(len(text) > USUAL_LENGTH for row in kept for text in row.values()):
        raise EngineError("Usual values are up to 40 short lines.", where="usual")
    return kept


KEY_WORDS = {"tdc1_deg_after_gap": "TDC 1 degrees after the gap"}


def value_words(value: object) -> str:
    """A value of an engine block in a few words."""
    if value is None:
        return "not said"
    if isinstance(value, list) and value and isinstance(value[0], dict):
        return f"{len(value)} circuits" if len(value) > 1 else "one circuit"
    if isinstance(value, list):
        return " ".join(value_words(item) for item in value)
    if isinstance(value, dict):
        said = ((KEY_WORDS.get(key, key.replace("_", " ")), item) for key, item in value.items())
        return ", ".join(f"{words} {value_words(item)}" for words, item in said)
    return str(value).replace("_", " ")


def suggested(letters: str, cylinders: int | None = None) -> list[EngineRecord]:
    """Records whose name, code or years hold the letters."""
    wanted = letters.strip().lower()
    rows = EngineRecord.objects.select_related("variant_of")
    return [
        row
        for row in rows
        if wanted in f"{row.label} {row.code} {row.years}".lower()
        and cylinders in (None, whole_block(row).get("cylinders"))
    ]
