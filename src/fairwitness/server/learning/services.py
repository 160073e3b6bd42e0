"""What was learned in this shop, line by line, and what a diagnosis is given of it."""

from __future__ import annotations

import hashlib
from collections import Counter, defaultdict
from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from datetime import datetime
from functools import cached_property

from django.db import transaction
from django.db.models import Count, Max, Value

from fairwitness.core.errors import ObservationError
from fairwitness.core.messages.catalogue import phrase, template
from fairwitness.core.messages.message import Message
from fairwitness.core.procedures.specs import OFFERS, SPECS
from fairwitness.core.reason.knowledge.codes import meaning_of
from fairwitness.core.reason.knowledge.faults import FAULTS, NO_FAULT
from fairwitness.core.reason.learned import (
    MINUTES_COUNT_AS,
    MOST_FACTOR,
    NOTHING_LEARNED,
    SHIPPED_COUNTS_AS,
    Outcome,
    ShopKnowledge,
    agreement_weight,
    learned_minutes,
    learned_shares,
    plausible_timings,
)
from fairwitness.formats.engine_block import read_engine
from fairwitness.server.accounts.models import User
from fairwitness.server.accounts.permissions import require
from fairwitness.server.cases.models import LabourSpan, StoredOutcome
from fairwitness.server.learning.models import FreshStart, LearnedSwitch, ShopCode
from fairwitness.server.learning.timings import timings

BY_PERSON = "people"
"""Key of the one switch that is off until a lead turns it on."""
PRIOR, MINUTES, AGREEMENT = "prior", "minutes", "agreement"
LEAST_AGREEMENTS = 6
"""A test is weighed anew once it was compared with so many outcomes."""
SOUND = phrase("learned.sound", "nothing wrong with it")
FROM_OUTCOMES = template("learned.from_outcomes", "outcomes: {count}; what ships weighs as {weight:g} cases")
FROM_TIMINGS = template("learned.from_timings", "timings: {count}; the planned minutes weigh as {weight:g}")
FROM_AGREEMENTS = template("learned.from_agreements", "agreed with what was found in {agreed} of {count}")


@dataclass(frozen=True, slots=True, kw_only=True)
class LearnedLine:
    """One thing that was learned.

    Parameters
    ----------
    key : str
        By which it is switched.
    kind : str
        ``prior``, ``minutes`` or ``agreement``.
    words : Message
        Of what.
    shipped, here : float
        A share, minutes, or a weight.
    source : Message
        From how much.
    on : bool
        It is used.
    """

    key: str
    kind: str
    words: Message
    shipped: float
    here: float
    source: Message
    on: bool


def fresh_from() -> datetime | None:
    """From when on outcomes teach; None for from the beginning."""
    last = FreshStart.objects.last()
    return last.at if last is not None else None


def outcomes() -> list[StoredOutcome]:
    """The latest outcome of each case that teaches anything, oldest first."""
    rows = StoredOutcome.objects.select_related("case").order_by("at", "id")
    since = fresh_from()
    if since is not None:
        rows = rows.filter(at__gt=since)
    return list({row.case_id: row for row in rows}.values())


def fault_of(outcome: StoredOutcome) -> str:
    """What an outcome names; nothing wrong where neither a fault nor a cylinder was found to be."""
    if outcome.fault in FAULTS:
        return outcome.fault
    return NO_FAULT if not outcome.fault and not outcome.cylinders and outcome.agreed else ""


def known_outcomes(of: Sequence[StoredOutcome]) -> list[Outcome]:
    """Outcomes as the core learns from them; what is not in the catalogue teaches nothing."""
    told = []
    for row in of:
        fault = fault_of(row)
        if fault:
            engine = read_engine({**row.case.engine, "label": ""})
            told.append(Outcome(engine=engine, fault=fault, chance=_chance(row, fault)))
    return told


def _chance(outcome: StoredOutcome, fault: str) -> float:
    """What the evidence gave to a fault when the outcome was written down."""
    kept = outcome.said.get("chance_of_found")
    if isinstance(kept, int | float):
        return float(kept)
    listed = outcome.said.get("hypotheses", [])  # outcomes of earlier versions kept only the first few
    named = sum(h.get("probability", 0.0) for h in listed if fault in [f.get("fault") for f in h.get("faults", [])])
    left = max(0.0, 1.0 - sum(h.get("probability", 0.0) for h in listed))
    return float(named) or left / max(len(FAULTS), 1)


def switches() -> dict[str, bool]:
    """What somebody switched, by key."""
    return dict(LearnedSwitch.objects.values_list("key", "on"))


def lines() -> list[LearnedLine]:
    """Everything learned, line by line: how often faults come, minutes of tests, how far tests agree."""
    told, set_by_hand = outcomes(), switches()
    return [
        *_priors(known_outcomes(told), set_by_hand),
        *_minutes(timings(fresh_from()), set_by_hand),
        *_agreements(told, set_by_hand),
    ]


def _priors(known: Sequence[Outcome], switched: dict[str, bool]) -> Iterator[LearnedLine]:
    source = FROM_OUTCOMES(count=len(known), weight=SHIPPED_COUNTS_AS)
    for share in learned_shares(known):
        key = f"{PRIOR}:{share.fault}"
        yield LearnedLine(
            key=key,
            kind=PRIOR,
            words=FAULTS[share.fault].words if share.fault in FAULTS else SOUND,
            shipped=share.shipped,
            here=share.here,
            source=source,
            on=switched.get(key, True),
        )


def _minutes(taken: dict[str, list[float]], switched: dict[str, bool]) -> Iterator[LearnedLine]:
    for test, own in sorted(taken.items()):
        offer, key = OFFERS[test], f"{MINUTES}:{test}"
        used = plausible_timings(offer.minutes, own)
        if used:
            yield LearnedLine(
                key=key,
                kind=MINUTES,
                words=offer.title,
                shipped=offer.minutes,
                here=learned_minutes(offer.minutes, own),
                source=FROM_TIMINGS(count=len(used), weight=MINUTES_COUNT_AS),
                on=switched.get(key, True),
            )


def agreements(of: Sequence[StoredOutcome]) -> dict[str, Counter[bool]]:
    """How often each test spoke for what was found, and against it."""
    counted: dict[str, Counter[bool]] = defaultdict(Counter)
    for row in of:
        for test, spoke_for in row.said.get("tests", {}).items():
            if test in SPECS and isinstance(spoke_for, bool):
                counted[test][spoke_for] += 1
    return counted


def _agreements(of: Sequence[StoredOutcome], switched: dict[str, bool]) -> Iterator[LearnedLine]:
    for test, counted in sorted(agreements(of).items()):
        key, every = f"{AGREEMENT}:{test}", counted.total()
        if every >= LEAST_AGREEMENTS:
            yield LearnedLine(
                key=key,
                kind=AGREEMENT,
                words=SPECS[test].title,
                shipped=1.0,
                here=agreement_weight(counted[True], counted[False]),
                source=FROM_AGREEMENTS(agreed=counted[True], count=every),
                on=switched.get(key, True),
            )


@dataclass(frozen=True, kw_only=True)
class Learned:
    """What a diagnosis is given: what the core weighs with, and minutes of tests."""

    knowledge: ShopKnowledge = NOTHING_LEARNED
    minutes: dict[str, float]

    @cached_property
    def mark(self) -> str:
        """What tells a diagnosis made with this from one made with anything else."""
        return hashlib.sha256(repr((self.knowledge, sorted(self.minutes.items()))).encode()).hexdigest()[:16]


_last: tuple[tuple[object, ...], Learned] | None = None


def learned() -> Learned:
    """What is in use now. Worked out anew once something it comes from has changed.

    Returns
    -------
    Learned
    """
    global _last
    stand = _stand()
    if _last is None or _last[0] != stand:
        _last = (stand, _worked_out())
    return _last[1]


def _stand() -> tuple[object, ...]:
    """What tells one state of the record from another, asked in one query: every judgement begins with it."""
    first, *others = (
        rows.order_by()
        .annotate(of=Value(rows.model.__name__))
        .values("of")
        .annotate(rows=Count("id"), latest=Max(moment))
        .values_list("of", "rows", "latest")
        for rows, moment in (
            (StoredOutcome.objects.all(), "at"),
            (LabourSpan.objects.filter(ended_at__isnull=False), "ended_at"),
            (LearnedSwitch.objects.all(), "at"),
            (FreshStart.objects.all(), "at"),
            (ShopCode.objects.all(), "at"),
        )
    )
    return tuple(sorted(first.union(*others, all=True)))


def _worked_out() -> Learned:
    every = [line for line in lines() if line.on]
    known = known_outcomes(outcomes())
    return Learned(
        knowledge=ShopKnowledge(
            factors={_of(line): line.here / line.shipped for line in every if line.kind == PRIOR and line.shipped},
            agreement={_of(line): line.here for line in every if line.kind == AGREEMENT},
            codes={row.code: {row.fault: row.factor} for row in ShopCode.objects.exclude(fault="")},
            outcomes=len(known),
        ),
        minutes={_of(line): line.here for line in every if line.kind == MINUTES},
    )


def _of(line: LearnedLine) -> str:
    return line.key.partition(":")[2]


def switch(key: str, *, on: bool, by: User, at: datetime) -> None:
    """Use one line of what was learned, or do not.

    Raises
    ------
    PermissionDenied
    ObservationError
        There is no such line.
    """
    require(by, "set_record")
    if key != BY_PERSON and key not in {line.key for line in lines()}:
        raise ObservationError("Nothing of this name was learned.", where=key)
    LearnedSwitch.objects.update_or_create(key=key, defaults={"on": on, "by": by, "at": at})


@transaction.atomic
def start_afresh(*, by: User, at: datetime) -> None:
    """Let what was found up to now teach nothing any more; the outcomes themselves stay where they are.

    Raises
    ------
    PermissionDenied
    """
    require(by, "set_record")
    FreshStart.objects.create(by=by, at=at)


@transaction.atomic
def count_again(*, by: User) -> None:
    """Take the last fresh start back.

    Raises
    ------
    PermissionDenied
    ObservationError
        There was none.
    """
    require(by, "set_record")
    last = FreshStart.objects.last()
    if last is None:
        raise ObservationError("Everything counts already.", where="fresh start")
    last.delete()


def add_code(code: str, words: str, *, fault: str = "", factor: float = 1.0, by: User, at: datetime) -> ShopCode:
    """Write down what a code means here.

    Raises
    ------
    PermissionDenied
    ObservationError
        It has not the form of a code, is a published one, says nothing, or the fault or the factor cannot be.
    """
    require(by, "add_evidence")
    meaning = meaning_of(code)
    if meaning is None:
        raise ObservationError(f"{code!r} is no code.", where="code", remedy="One letter and four digits, as P1234.")
    if meaning.published and meaning.nudges:
        raise ObservationError(
            "The standard gives this code its meaning already.", where="code", remedy="Add codes of the maker."
        )
    if not words.strip():
        raise ObservationError("Say what it means.", where="words")
    if fault and fault not in FAULTS:
        raise ObservationError(f"There is no fault {fault!r}.", where="fault")
    if not 1 / MOST_FACTOR <= factor <= MOST_FACTOR * 2:
        raise ObservationError("A code makes a fault up to eight times likelier.", where="factor")
    row, _ = ShopCode.objects.update_or_create(
        code=meaning.code,
        defaults={"words": words.strip()[:200], "fault": fault, "factor": factor, "by": by, "at": at},
    )
    return row


def drop_code(row: ShopCode, *, by: User) -> None:
    """Take a code off the shop's list.

    Raises
    ------
    PermissionDenied
    """
    require(by, "add_evidence")
    row.delete()
