"""What was watched where nothing was found: which tests, how long, how fast it turned, cold or hot.

From the measurements; the sentence goes to the statement. A fault that comes and goes was not there while one looked,
and a reader must see how little that may be.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import replace

from fairwitness.core.messages.catalogue import phrase, template
from fairwitness.core.messages.message import NOTHING, Message, joined
from fairwitness.core.model.circumstances import Circumstances
from fairwitness.core.model.measurement import Measured
from fairwitness.core.procedures.specs import SPECS
from fairwitness.core.reason.accusations import compared
from fairwitness.core.reason.report.sentence import Sentence
from fairwitness.core.reason.taken_under import Taken

REVOLUTIONS = 2
"""Of the crank, in a cycle of a four-stroke engine."""
LONG_S = 1.0
NONE_SAID: Mapping[str, Taken] = {}
NOT_SAID = Taken()
AT_REST = "none"
"""The load of an engine that did not run: its own speed says so."""
WATCHED = template("watched.all", "Watched: {what:and}. What shows only otherwise was not seen.")
LONG = template("watched.long", "{title:lower} for {seconds:.0f} s at {rpm:.0f} rpm{under}")
SHORT = template("watched.short", "{title:lower} for {seconds:.1f} s at {rpm:.0f} rpm{under}")
BRIEF = template("watched.brief", "{title:lower}{under}")
UNDER = template("watched.under", " ({conditions})")
BY_HAND = phrase("watched.by_hand", "readings by hand")


def watched(measured: Sequence[Measured], taken: Mapping[str, Taken] = NONE_SAID) -> list[Sentence]:
    """Say what was looked at, for how long, at what speed and under which conditions.

    Parameters
    ----------
    measured : sequence of Measured
        Unusable ones are left out.
    taken : mapping of finding id to Taken
        By the first finding of a measurement.

    Returns
    -------
    list of Sentence
        One; empty where nothing was usable.
    """
    usable = [m for m in measured if m.usable and m.test in SPECS]
    by_hand = [m for m in usable if SPECS[m.test].sound_in_one]
    longest: dict[tuple[str, Circumstances], tuple[float, float]] = {}
    for m in usable:
        if m not in by_hand:
            own = taken.get(m.findings[0].id, NOT_SAID) if m.findings else NOT_SAID
            alike = (m.test, own.under)
            seconds, rpm = _lasted(m.facts)
            longest[alike] = max(longest.get(alike, (0.0, 0.0)), (max(seconds, own.watched_s or 0.0), rpm))
    what = [_words(SPECS[test].title, *how_long, under) for (test, under), how_long in longest.items()]
    if by_hand:
        what.append(BY_HAND)
    findings = tuple(f.id for m in usable for f in m.findings if compared(f))
    return [Sentence(WATCHED(what=tuple(what)), findings)] if what else []


def _lasted(facts: Mapping[str, object]) -> tuple[float, float]:
    """Seconds that a comparison stands on, and the speed; zeros where they are not known."""
    cycles, rpm = facts.get("cycles"), facts.get("speed_rpm")
    if not isinstance(cycles, int | float) or not isinstance(rpm, int | float) or rpm <= 0:
        return 0.0, 0.0
    return 60.0 * REVOLUTIONS * cycles / rpm, float(rpm)


def _words(title: Message, seconds: float, rpm: float, taken: Circumstances) -> Message:
    said = taken.words if taken.load != AT_REST else replace(taken, load=None).words
    under = UNDER(conditions=joined(*said, by=", ")) if said else NOTHING
    if seconds <= 0:
        return BRIEF(title=title, under=under)
    return (LONG if seconds >= LONG_S else SHORT)(title=title, seconds=seconds, rpm=rpm, under=under)
