"""A capture beside what the shop holds as known good: which are held up to it, with what warnings, what they say."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from typing import Any

from fairwitness.core.messages.catalogue import phrase, template
from fairwitness.core.messages.message import Message, joined, verbatim
from fairwitness.core.model.lead import read_lead
from fairwitness.core.procedures.specs import SPECS
from fairwitness.core.reason.beside_known_good import BesideGood, judged_beside
from fairwitness.formats.measured_document import read_measured
from fairwitness.formats.set_up import read_set_up
from fairwitness.server.captures.known_good import make_up
from fairwitness.server.captures.models import CameFrom, KnownGood, StoredCapture
from fairwitness.server.engines.models import EngineRecord
from fairwitness.server.engines.records import differences, engine_of, value_words

HELD_MAX = 40
NOBODY_OUTSIDE = template("beside.inside", "Held up to {count} known good: nothing lies outside their spread.")
OUTSIDE = template("beside.outside", "Held up to {count} known good: {what}.")
ABOVE = template("beside.above", "{figure} of cylinder {cylinders} is higher")
BELOW = template("beside.below", "{figure} of cylinder {cylinders} is lower")
ALL_HIGHER = template("beside.all_higher", "{figure} of all cylinders alike is higher: another lead, battery or day")
ALL_LOWER = template("beside.all_lower", "{figure} of all cylinders alike is lower: another lead, battery or day")
NONE_HELD = phrase("beside.none", "Nothing is held for this engine. What follows is typical, not of this engine.")
NONE_AT_ALL = phrase(
    "beside.nothing", "Nothing is held for this engine, and no typical figures are known for this test."
)
NOT_COMPARED = phrase("beside.not_compared", "What is held for this engine shares no figure with this capture.")
OTHER_NAME = template("beside.other_name", "Another name, {label}: perhaps another variant.")
VARIANT = template("beside.variant", "Variant {label}: {what}.")
DIFFERS = template("beside.differs", "{key} {there} there, {here} here")
OTHER_CONDITION = template("beside.other_condition", "Taken {there}, this one {here}.")
OTHER_LEAD = template("beside.other_lead", "Through {there}, this one through {here}.")
SIMULATED = phrase("beside.simulated", "Simulated, for practice: no engine of yours.")
UNSAID, PLAIN_LEAD = phrase("beside.unsaid", "under conditions nobody noted"), phrase("beside.wire", "a plain wire")


@dataclass(frozen=True, slots=True, kw_only=True)
class Held:
    """One known good capture beside another capture.

    Parameters
    ----------
    good : KnownGood
    warnings : tuple of Message
        What differs beside the vehicle.
    used : bool
        Its figures are held up to the capture.
    """

    good: KnownGood
    warnings: tuple[Message, ...]
    used: bool


@dataclass(frozen=True, slots=True, kw_only=True)
class Beside:
    """All of them, what they say, and what is typical where none is held."""

    held: tuple[Held, ...]
    figures: tuple[BesideGood, ...]
    typical: tuple[Message, ...]
    words: Message


def beside(stored: StoredCapture) -> Beside:
    """Hold a capture up to what the shop knows of its engine.

    Only captures of the same test, in the same state of the engine and of the same make-up are looked at; their
    figures count where the name of the engine is the same too, or that of an engine it is a variant of.

    Parameters
    ----------
    stored : StoredCapture

    Returns
    -------
    Beside
    """
    held = tuple(_held(good, stored) for good in goods_like(stored))
    used = [one.good.capture for one in held if one.used]
    measured = [read_measured(m.document) for m in stored.measurements.all()]
    good = [read_measured(m.document) for capture in used for m in capture.measurements.all()]
    figures = judged_beside(measured, good)
    typical = () if used else _typical(stored)
    return Beside(held=held, figures=figures, typical=typical, words=_words(figures, len(used), typical))


def goods_like(stored: StoredCapture) -> list[KnownGood]:
    """Known good captures of the same test on an engine of the same make-up, those of its own name first."""
    rows = (
        KnownGood.objects.filter(
            capture__withdrawn_at__isnull=True,
            capture__unreadable="",
            capture__changed="",
            capture__set_up__test=stored.set_up.get("test"),
            capture__set_up__engine_state=stored.set_up.get("engine_state"),
        )
        .exclude(capture=stored)
        .select_related("capture__case")
        .prefetch_related("capture__measurements", "capture__channels")
        .order_by("-said_at")
    )
    label = stored.case.engine.get("label", "")
    alike = [row for row in rows if make_up(row.capture.case.engine) == make_up(stored.case.engine)]
    return sorted(alike, key=lambda row: row.capture.case.engine.get("label", "") != label)[:HELD_MAX]


def _held(good: KnownGood, stored: StoredCapture) -> Held:
    here, there = (str(c.case.engine.get("label", "")) for c in (stored, good.capture))
    relation = _relation(here, there)
    said = [] if here == there and here else [relation or OTHER_NAME(label=there or "?")]
    mine, theirs = condition_of(stored), condition_of(good.capture)
    if mine != theirs:
        said.append(OTHER_CONDITION(there=theirs or UNSAID, here=mine or UNSAID))
    own_lead, their_lead = lead_of(stored), lead_of(good.capture)
    if own_lead != their_lead:
        said.append(OTHER_LEAD(there=their_lead or PLAIN_LEAD, here=own_lead or PLAIN_LEAD))
    if good.came_from == CameFrom.PRACTICE:
        said.append(SIMULATED)
    return Held(good=good, warnings=tuple(said), used=bool(here) and (here == there or relation is not None))


def _relation(here: str, there: str) -> Message | None:
    """What a variant says otherwise than the other; None where the shop knows no relation of the two names."""
    rows = {row.label: row for row in EngineRecord.objects.filter(label__in=(here, there)).select_related("variant_of")}
    for one, other in ((here, there), (there, here)):
        record = rows.get(one)
        if record is not None and record.variant_of is not None and record.variant_of.label == other != one:
            what = [
                DIFFERS(
                    key=d.key.replace("_", " "),
                    here=value_words(d.here if one == here else d.there),
                    there=value_words(d.there if one == here else d.here),
                )
                for d in differences(record)
            ]
            return VARIANT(label=there, what=joined(*what, by=", ") or verbatim("as this one"))
    return None


def condition_of(stored: StoredCapture) -> Message:
    """Under which conditions a capture was taken, in words; nothing where nobody said."""
    return joined(*read_set_up(stored.set_up).circumstances.words, by=", ")


def lead_of(stored: StoredCapture) -> Message:
    """Through which leads a capture came, in words; nothing for plain wires."""
    leads = {lead.said: lead.said for c in stored.channels.all() if (lead := read_lead(c.lead)) is not None}
    return joined(*leads.values(), by=", ")


def _typical(stored: StoredCapture) -> tuple[Message, ...]:
    """Usual readings of a test where nothing of this engine is held."""
    engine = engine_of(stored.case)
    tests: Iterable[str] = (m.test for m in stored.measurements.all())
    return tuple(words for test in tests if test in SPECS for words in SPECS[test].usual(engine).values() if words)


def _words(figures: tuple[BesideGood, ...], count: int, typical: tuple[Message, ...]) -> Message:
    if not count:
        return NONE_HELD if typical else NONE_AT_ALL
    if not figures:
        return NOT_COMPARED
    outside = [
        sentence(figure=figure.figure.words, cylinders=_numbers(who))
        for figure in figures
        for sentence, who in ((ABOVE, figure.high), (BELOW, figure.low))
        if who
    ]
    levels = {"high": ALL_HIGHER, "low": ALL_LOWER}
    outside += [levels[figure.level](figure=figure.figure.words) for figure in figures if figure.level]
    return OUTSIDE(count=count, what=joined(*outside, by=", ")) if outside else NOBODY_OUTSIDE(count=count)


def _numbers(cylinders: tuple[int, ...]) -> str:
    return " ".join(map(str, cylinders))


def told(found: Beside) -> dict[str, Any]:
    """As plain data with messages, for an answer."""
    return {
        "held": [held_line(one) for one in found.held],
        "figures": [
            {
                "test": f.test,
                "words": f.figure.words,
                "unit": f.figure.unit,
                "low_here": min(f.here.values()),
                "high_here": max(f.here.values()),
                "usual": f.usual,
                "spread": f.spread,
                "captures": f.captures,
                "level": f.level,
                "high": list(f.high),
                "low": list(f.low),
            }
            for f in found.figures
        ],
        "typical": list(found.typical),
        "words": found.words,
    }


def _test(stored: StoredCapture) -> Message:
    """The test a capture was taken for."""
    test = str(stored.set_up.get("test", ""))
    return SPECS[test].title if test in SPECS else verbatim(stored.name)


def held_line(one: Held) -> dict[str, Any]:
    """One known good capture in a line."""
    good = one.good
    case = good.capture.case
    return {
        "id": good.capture_id,
        "case": case.pk,
        "words": joined(verbatim(case.vehicle or case.title), _test(good.capture), by=", "),
        "why": good.why,
        "came_from": good.came_from,
        "condition": condition_of(good.capture),
        "lead": lead_of(good.capture),
        "engine": str(case.engine.get("label", "")),
        "test": _test(good.capture),
        "warnings": list(one.warnings),
        "used": one.used,
    }
