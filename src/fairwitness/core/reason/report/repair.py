"""What is offered once a fault is named: the failed part alone, or the set, each with its reason."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from fairwitness.core.messages.catalogue import phrase, template
from fairwitness.core.messages.message import Message
from fairwitness.core.reason.knowledge.faults import FAULTS
from fairwitness.core.reason.planning.approach import Repair

PART = template("repair.part", "The part: {parts:and}")
SET = template("repair.set", "The set: {sets:and}")
ONE_PART = phrase("repair.one_part", "Least cost, and the next test shows at once whether it was that")


@dataclass(frozen=True, slots=True)
class RepairOffer:
    """One way to repair, with its reason; the first is what the case's setting prefers."""

    words: Message
    why: Message


def offers(faults: Sequence[str], repair: Repair) -> tuple[RepairOffer, ...]:
    """Both schools of a named fault, the preferred one first.

    Parameters
    ----------
    faults : sequence of str
        Of two the root first; each is offered.
    repair : Repair

    Returns
    -------
    tuple of RepairOffer
        Empty where no part with a set is named.
    """
    known = [r for fault in dict.fromkeys(faults) if (r := FAULTS[fault].repair) is not None]
    if not known:
        return ()
    part = RepairOffer(PART(parts=tuple(dict.fromkeys(r.part for r in known))), ONE_PART)
    whole = RepairOffer(SET(sets=tuple(dict.fromkeys(r.whole for r in known))), known[0].why)
    return (whole, part) if repair is Repair.SET else (part, whole)
