"""Which of two sources of the same thing is believed: a signal of one's own before a value the control unit reports."""

from __future__ import annotations

from dataclasses import replace

from fairwitness.core.messages.catalogue import phrase, template
from fairwitness.core.messages.message import Message
from fairwitness.core.model.measurement import Finding, Measured, State
from fairwitness.core.model.reason import Reason

NOBODY = phrase("source_precedence.nobody", "nobody")
CYLINDERS = template("source_precedence.cylinders", "cylinder {cylinders:and}")
DISAGREE = template(
    "source_precedence.disagree",
    "The control unit counts {counted}, the crank signal shows {shown}. The crank signal is believed.",
)

DISAGREE_IN_TABLE = template(
    "source_precedence.disagree_in_table",
    "The scan tool's table sets {counted} apart, the crank signal shows {shown}. The crank signal is believed.",
)
REPORTED = {"misfire_counts": DISAGREE, "roughness": DISAGREE_IN_TABLE}
RAW = ("crank_speed",)
ILL = (State.LOW, State.ABSENT)


def raw_preferred(measured: tuple[Measured, ...]) -> tuple[Measured, ...]:
    """Set reported values aside where a raw signal of the same case says otherwise; say so.

    Counts can stop when a misfire is gross and can be booked on the wrong cylinder; the crank was there.

    Parameters
    ----------
    measured : tuple of Measured
        With their findings numbered.

    Returns
    -------
    tuple of Measured
        Reported ones in disagreement carry a reason and no evidence.
    """
    raw = [m for m in measured if m.test in RAW and m.usable and _named(m)]
    heard = []
    for m in measured:
        rival = next((r for r in raw if m.test in REPORTED and m.usable and not _ill(m) <= _ill(r)), None)
        silent = next((r for r in raw if m.test in REPORTED and m.usable and _ill(r) and not _ill(m)), None)
        against = rival or silent
        if against is None:
            heard.append(m)
            continue
        text = REPORTED[m.test](counted=_words(_ill(m)), shown=_words(_ill(against)))
        heard.append(replace(m, lines=(), reasons=(*m.reasons, Reason("raw_preferred", text))))
    return tuple(heard)


def _named(measured: Measured) -> list[Finding]:
    return [f for f in measured.findings if f.cylinder is not None and f.quantity == f.test]


def _ill(measured: Measured) -> frozenset[int]:
    return frozenset(f.cylinder for f in _named(measured) if f.state in ILL and f.cylinder is not None)


def _words(cylinders: frozenset[int]) -> Message:
    if not cylinders:
        return NOBODY
    return CYLINDERS(cylinders=tuple(sorted(cylinders)))
