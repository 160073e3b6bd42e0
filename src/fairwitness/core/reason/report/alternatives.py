"""The rival in words: what else it could be, which evidence tells the two apart, what would decide, what disagrees."""

from __future__ import annotations

from collections.abc import Iterable, Sequence

from fairwitness.core.model.measurement import Measured
from fairwitness.core.reason.inference.explanation import Explanation, Testimony
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
    told = [Sentence(f"Next to it: {in_words(other)} ({chance:.0f} %)." if chance >= 1 else
                     f"Next to it, hardly probable: {in_words(other)}.")]  # fmt: skip
    ours = [t for t in explanation.telling if t.nats > 0][:TELLING_NAMED]
    theirs = [t for t in explanation.telling if t.nats < 0][:TELLING_NAMED]
    if ours:
        told.append(Sentence(f"Against it speaks {_sources(ours, measured)}.", _ids(ours, measured)))
    if theirs:
        told.append(Sentence(f"For it speaks {_sources(theirs, measured)}.", _ids(theirs, measured)))
    if not ours and not theirs:
        told.append(Sentence("Nothing measured so far tells the two apart."))
    if deciding:
        told.append(Sentence(f"What would decide: {deciding[0].lower()}{deciding[1:]}."))
    return told


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
    told = {
        kind: {s.outcome.removeprefix("very_") for m in usable for s in m.sightings if s.kind == kind}
        for kind in ("cam_timing", "valve_events")
    }
    if not all(told.values()) or told["cam_timing"] & told["valve_events"]:
        return []
    cam, valves = ("/".join(sorted(told[kind])).replace("_", " ") for kind in ("cam_timing", "valve_events"))
    ids = tuple(f.id for m in usable if any(s.kind in told for s in m.sightings) for f in m.findings)
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
    told = [
        f"{FAULTS[p.fault].words}{_at(p.cylinders)}{', now and then' if p.seldom else ''}" for p in hypothesis.placed
    ]
    return " and ".join(told)


def _at(cylinders: Sequence[int]) -> str:
    return f" at {cylinders_in_words(cylinders)}" if cylinders else ""


def _of(told: Iterable[Testimony], measured: Sequence[Measured]) -> list[Measured]:
    wanted = {t.source for t in told}
    return [m for m in measured if m.usable and wanted & m.sources]


def _sources(told: Sequence[Testimony], measured: Sequence[Measured]) -> str:
    names = list(dict.fromkeys(m.test.replace("_", " ") for m in _of(told, measured)))
    return names[0] if len(names) == 1 else f"{', '.join(names[:-1])} and {names[-1]}" if names else "what was seen"


def _ids(told: Sequence[Testimony], measured: Sequence[Measured]) -> tuple[str, ...]:
    return tuple(f.id for m in _of(told, measured) for f in m.findings if not f.beside)
