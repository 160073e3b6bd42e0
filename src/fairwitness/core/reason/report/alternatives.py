"""The rival in words: what else it could be, which evidence tells the two apart, what would decide, what disagrees."""

from __future__ import annotations

from collections.abc import Iterable, Sequence

from fairwitness.core.model.measurement import Measured
from fairwitness.core.reason.inference.explanation import Explanation, SourceLogRatio
from fairwitness.core.reason.inference.hypotheses import Hypothesis
from fairwitness.core.reason.knowledge.faults import FAULTS, NO_FAULT
from fairwitness.core.reason.report.sentence import Sentence, cylinders_in_words

TELLING_NAMED = 3


def rival(explanation: Explanation, measured: Sequence[Measured], deciding: str) -> list[Sentence]:
    """What else it could be.

    Parameters
    ----------
    explanation : Explanation
    measured : sequence of Measured
        Findings carry their ids.
    deciding : str
        Title of the test that would tell the two apart; empty where none on offer does.

    Returns
    -------
    list of Sentence
        Empty where all others are negligible.
    """
    other = explanation.rival
    if other is None or not explanation.leading.placed:
        return []
    chance = 100 * explanation.rival_probability
    reported = [Sentence(f"Next to it: {in_words(other)} ({chance:.0f} %)." if chance >= 1 else
                     f"Next to it, hardly probable: {in_words(other)}.")]  # fmt: skip
    ours = [t for t in explanation.telling if t.nats > 0][:TELLING_NAMED]
    theirs = [t for t in explanation.telling if t.nats < 0][:TELLING_NAMED]
    if ours:
        reported.append(Sentence(f"Against it speaks {_sources(ours, measured)}.", _ids(ours, measured)))
    if theirs:
        reported.append(Sentence(f"For it speaks {_sources(theirs, measured)}.", _ids(theirs, measured)))
    if not ours and not theirs:
        reported.append(Sentence("Nothing measured so far tells the two apart."))
    if deciding:
        reported.append(Sentence(f"What would decide: {deciding[0].lower()}{deciding[1:]}."))
    return reported


def spoken_against(explanation: Explanation, measured: Sequence[Measured]) -> list[Sentence]:
    """Evidence that another explanation would have foretold far better: named, not averaged away."""
    return [
        Sentence(
            f"This does not fit {in_words(explanation.leading)}: {_sources([t], measured)}. Take it again before "
            "either is believed.",
            _ids([t], measured),
        )
        for t in explanation.against
        if explanation.leading.placed
    ]


def methods_apart(measured: Sequence[Measured]) -> list[Sentence]:
    """Two ways to see the valves move that say different things: kept as a disagreement, never averaged away."""
    usable = [m for m in measured if m.usable]
    reported = {
        kind: {s.outcome.removeprefix("very_") for m in usable for s in m.categorical if s.kind == kind}
        for kind in ("cam_timing", "valve_events")
    }
    if not all(reported.values()) or reported["cam_timing"] & reported["valve_events"]:
        return []
    cam, valves = ("/".join(sorted(reported[kind])).replace("_", " ") for kind in ("cam_timing", "valve_events"))
    ids = tuple(f.id for m in usable if any(s.kind in reported for s in m.categorical) for f in m.findings)
    text = (
        f"The cam sensor says {cam}, the pressure in the cylinder says {valves}: both stand. A sensor wheel that "
        "moved, a worn cam or a wrong known good make such a difference; compare a second cylinder."
    )
    return [Sentence(text, ids)]


def in_words(hypothesis: Hypothesis) -> str:
    """A hypothesis as a technician would say it."""
    if hypothesis.fault == NO_FAULT:
        return "no fault at all"
    if hypothesis.fault not in FAULTS:
        return "something that is not in the catalogue"
    reported = [
        f"{FAULTS[p.fault].words}{_at(p.cylinders)}{', now and then' if p.seldom else ''}" for p in hypothesis.placed
    ]
    return " and ".join(reported)


def _at(cylinders: Sequence[int]) -> str:
    return f" at {cylinders_in_words(cylinders)}" if cylinders else ""


def _of(reported: Iterable[SourceLogRatio], measured: Sequence[Measured]) -> list[Measured]:
    wanted = {t.source for t in reported}
    return [m for m in measured if m.usable and wanted & m.sources]


def _sources(reported: Sequence[SourceLogRatio], measured: Sequence[Measured]) -> str:
    names = list(dict.fromkeys(m.test.replace("_", " ") for m in _of(reported, measured)))
    return names[0] if len(names) == 1 else f"{', '.join(names[:-1])} and {names[-1]}" if names else "what was seen"


def _ids(reported: Sequence[SourceLogRatio], measured: Sequence[Measured]) -> tuple[str, ...]:
    return tuple(f.id for m in _of(reported, measured) for f in m.findings if not f.is_remark)
