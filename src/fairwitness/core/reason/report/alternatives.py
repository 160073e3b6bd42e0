"""The rival in words: what else it could be, which evidence tells the two apart, what would decide, what disagrees."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence

from fairwitness.core.messages.catalogue import phrase, template
from fairwitness.core.messages.message import NOTHING, Message, joined
from fairwitness.core.messages.words import outcome_word
from fairwitness.core.model.measurement import Measured
from fairwitness.core.procedures.specs import SPECS
from fairwitness.core.reason.inference.explanation import Explanation, SourceLogRatio
from fairwitness.core.reason.inference.hypotheses import Hypothesis, Placed
from fairwitness.core.reason.knowledge.fault_spec import Seat
from fairwitness.core.reason.knowledge.faults import FAULTS, NO_FAULT
from fairwitness.core.reason.report.sentence import Sentence

NEXT = template("alternatives.next", "Next to it: {what} ({percent:chance}).")
HARDLY = template("alternatives.hardly", "Next to it, hardly probable: {what}.")
AGAINST = template("alternatives.against", "Against it speaks {sources}.")
FOR = template("alternatives.for", "For it speaks {sources}.")
NOT_TOLD_APART = phrase("alternatives.not_told_apart", "Nothing measured so far tells the two apart.")
FIRST_ANOTHER = template(
    "alternatives.first_another", "First {next:lower}: it tells more for its minutes, or opens less."
)
WOULD_DECIDE = template("alternatives.would_decide", "What would decide: {title:lower}.")
DOES_NOT_FIT = template(
    "alternatives.does_not_fit", "This does not fit {what}: {sources}. Take it again before either is believed."
)
STANDS_WITHOUT = template(
    "alternatives.stands_without", "{sources:capital} does not fit {what}; what was seen otherwise proves it without."
)
MISREAD = template(
    "alternatives.misread",
    "What {source} says does not fit the rest; it was probably misread ({percent:chance}). Take it again: which lead, "
    "which cylinder, which sync.",
)
METHODS_APART = template(
    "alternatives.methods_apart",
    "The cam sensor says {cam}, the pressure in the cylinder says {valves}: both stand. A sensor wheel that moved, a "
    "worn cam or a wrong known good make such a difference; compare a second cylinder.",
)
DEGREES_APART = template(
    "alternatives.degrees_apart",
    "Both say {outcome}, but the cam sensor by {cam:.0f}\u00b0 and the pressure in the cylinder by {valves:.0f}\u00b0 "
    "of crank: the timing is off, how far is open. Look at the marks before a part is ordered by either.",
)
APART_DEG = 12.0
"""[M] crank degrees that the two methods may differ by: the events of the valves are read to some six degrees."""
SHIFT = "valve_shift"
NO_FAULT_AT_ALL = phrase("alternatives.no_fault", "no fault at all")
UNLISTED = phrase("alternatives.unlisted", "something that is not in the catalogue")
PLACED = template("alternatives.placed", "{fault} at {cylinders:cylinders}")
INTERMITTENT = template("alternatives.intermittent", "{fault}, now and then")
TWO = template("alternatives.two", "{one} and {other}")
ONE_SOURCE, SOURCES = (
    template("alternatives.one_source", "{title:lower}"),
    template("alternatives.sources", "{titles:and}"),
)
ONE_CAPTURE = template("alternatives.one_capture", "{title:lower} (capture {resource})")
WHAT_WAS_SEEN = phrase("alternatives.what_was_seen", "what was seen")

TELLING_NAMED = 3


def rival(
    explanation: Explanation, measured: Sequence[Measured], deciding: Message, next_title: Message = NOTHING
) -> list[Sentence]:
    """What else it could be.

    Parameters
    ----------
    explanation : Explanation
    measured : sequence of Measured
        Findings carry their ids.
    deciding : Message
        Title of the test that would tell the two apart; empty where none on offer does.
    next_title : Message
        Of the test that is offered first.

    Returns
    -------
    list of Sentence
        Empty where all others are negligible.
    """
    other = explanation.rival
    if other is None or not explanation.leading.placed:
        return []
    percent = 100 * explanation.rival_probability
    what = in_words(other)
    said = [Sentence(NEXT(what=what, percent=percent) if percent >= 1 else HARDLY(what=what))]
    ours = [t for t in explanation.telling if t.nats > 0][:TELLING_NAMED]
    theirs = [t for t in explanation.telling if t.nats < 0][:TELLING_NAMED]
    if ours:
        said.append(Sentence(AGAINST(sources=_sources(ours, measured)), _ids(ours, measured)))
    if theirs:
        said.append(Sentence(FOR(sources=_sources(theirs, measured)), _ids(theirs, measured)))
    if not ours and not theirs:
        said.append(Sentence(NOT_TOLD_APART))
    if deciding:
        said.append(Sentence(WOULD_DECIDE(title=deciding)))
        if next_title and next_title != deciding:
            said.append(Sentence(FIRST_ANOTHER(next=next_title)))
    return said


def spoken_against(explanation: Explanation, measured: Sequence[Measured], *, proven: bool) -> list[Sentence]:
    """Evidence that another explanation would have foretold far better: named, not averaged away.

    Where the leading fault is proven all the same, that is said instead of asking for both to be doubted.
    """
    if not explanation.leading.placed:
        return []
    what = in_words(explanation.leading)
    words = STANDS_WITHOUT if proven else DOES_NOT_FIT
    return [
        Sentence(words(what=what, sources=_sources([t], measured)), _ids([t], measured)) for t in explanation.against
    ]


def misread(chances: Mapping[str, float], measured: Sequence[Measured]) -> list[Sentence]:
    """What does not fit all the rest, and was probably misread: to be taken again, and not believed until then.

    Parameters
    ----------
    chances : mapping of source to float
        Of ``doubted``.
    measured : sequence of Measured

    Returns
    -------
    list of Sentence
    """
    return [
        Sentence(
            MISREAD(source=_named(source, measured), percent=100 * chance),
            _ids([SourceLogRatio(source, 0.0)], measured),
        )
        for source, chance in chances.items()
    ]


def methods_apart(measured: Sequence[Measured]) -> list[Sentence]:
    """Two ways to see the valves move that say different things: kept as a disagreement, never averaged away."""
    usable = [m for m in measured if m.usable]
    said = {
        kind: {s.outcome.removeprefix("very_") for m in usable for s in m.categorical if s.kind == kind}
        for kind in ("cam_timing", "valve_events")
    }
    if not all(said.values()):
        return []
    if same := said["cam_timing"] & said["valve_events"]:
        return _degrees_apart(usable, min(same))
    cam, valves = (
        joined(*(outcome_word(o) for o in sorted(said[kind])), by="/") for kind in ("cam_timing", "valve_events")
    )
    ids = tuple(f.id for m in usable if any(s.kind in said for s in m.categorical) for f in m.findings)
    return [Sentence(METHODS_APART(cam=cam, valves=valves), ids)]


def _degrees_apart(usable: Sequence[Measured], outcome: str) -> list[Sentence]:
    """The same direction by different degrees; nothing where both are near each other or nobody says how far."""
    cams = [f for m in usable if m.test == "cam_timing" for f in m.findings if f.value is not None]
    valves = [f for m in usable for f in m.findings if f.quantity == SHIFT and f.value is not None]
    if not cams or not valves:
        return []
    cam, moved = (sum(f.value or 0.0 for f in own) / len(own) for own in (cams, valves))
    if abs(cam - moved) < APART_DEG:
        return []
    ids = tuple(f.id for f in (*cams, *valves))
    return [Sentence(DEGREES_APART(outcome=outcome_word(outcome), cam=abs(cam), valves=abs(moved)), ids)]


def in_words(hypothesis: Hypothesis) -> Message:
    """A hypothesis as a technician would say it."""
    if hypothesis.fault == NO_FAULT:
        return NO_FAULT_AT_ALL
    if hypothesis.fault not in FAULTS:
        return UNLISTED
    said = [_placed(p) for p in hypothesis.placed]
    return TWO(one=said[0], other=said[1]) if len(said) == 2 else said[0]


def _placed(placed: Placed) -> Message:
    words = FAULTS[placed.fault].words
    whole = FAULTS[placed.fault].seat is Seat.ENGINE
    where = PLACED(fault=words, cylinders=placed.cylinders) if placed.cylinders and not whole else words
    return INTERMITTENT(fault=where) if placed.is_intermittent else where


def _named(source: str, measured: Sequence[Measured]) -> Message:
    """A source by its test, and by the name of its capture where it has one."""
    own = next((m for m in measured if source in m.sources), None)
    if own is None:
        return WHAT_WAS_SEEN
    title = SPECS[own.test].title
    return ONE_SOURCE(title=title) if own.resource is None else ONE_CAPTURE(title=title, resource=own.resource)


def _of(ratios: Iterable[SourceLogRatio], measured: Sequence[Measured]) -> list[Measured]:
    wanted = {t.source for t in ratios}
    return [m for m in measured if m.usable and wanted & m.sources]


def _sources(ratios: Sequence[SourceLogRatio], measured: Sequence[Measured]) -> Message:
    titles = dict.fromkeys(ONE_SOURCE(title=SPECS[m.test].title) for m in _of(ratios, measured))
    return SOURCES(titles=tuple(titles)) if titles else WHAT_WAS_SEEN


def _ids(ratios: Sequence[SourceLogRatio], measured: Sequence[Measured]) -> tuple[str, ...]:
    return tuple(f.id for m in _of(ratios, measured) for f in m.findings if not f.is_remark)
