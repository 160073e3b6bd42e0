"""What became of each cylinder between two measurements of the same test: gone, better, unchanged, off since.

From a pair of measurements; goes to the judgement of repairs and to the board.
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from enum import StrEnum

from fairwitness.core.messages.catalogue import phrase
from fairwitness.core.reason.accusations import WORK
from fairwitness.core.reason.phases.side_by_side import Pair, Share

WORKS = (WORK, "EX")
"""Columns that show whether a cylinder works."""
CURED_SHARE = 0.6
"""[M] share of what was missing that must have come back before a cylinder counts as cured."""
BETTER_SHARE = 0.3
"""[M] less than this come back is what an engine changes by itself."""
EVEN_SHARE = 0.1
"""[M] a share of the work that came back this near is even, whatever single events did."""
NEWLY_SHARE = 0.12
"""[M] a share that moved less than this between two runs moved by itself."""


class Change(StrEnum):
    """What became of one cylinder in one test."""

    GONE = "gone"
    BETTER = "better"
    UNCHANGED = "unchanged"
    NEWLY_OFF = "newly_off"
    EVEN = "even"
    NOT_COMPARABLE = "not_comparable"


CHANGE_WORDS = {
    change: phrase(f"repair_proof.change.{change.value}", words)
    for change, words in {
        Change.GONE: "gone",
        Change.BETTER: "better",
        Change.UNCHANGED: "unchanged",
        Change.NEWLY_OFF: "off since",
        Change.EVEN: "even",
        Change.NOT_COMPARABLE: "not comparable",
    }.items()
}


@dataclass(frozen=True, slots=True, kw_only=True)
class Compared:
    """One test before and after, each cylinder's change."""

    test: str
    pair: Pair
    changes: dict[int, Change]

    @property
    def newly_off(self) -> frozenset[int]:
        """Who was sound before and is off now."""
        return frozenset(c for c, how in self.changes.items() if how is Change.NEWLY_OFF)


def is_work(pair: Pair) -> bool:
    """Whether a test shows that a cylinder works, whatever the reason where it does not."""
    return bool({line.line for line in pair.after.lines} & set(WORKS))


def changes_of(pair: Pair) -> dict[int, Change]:
    """What became of each cylinder between two measurements of one test."""
    changes = {}
    for cylinder, after in pair.shares_after.items():
        before = pair.shares_before.get(cylinder)
        if before is None or not pair.comparable:
            changes[cylinder] = Change.NOT_COMPARABLE
        elif not before.ill:
            changes[cylinder] = Change.NEWLY_OFF if _newly_off(before, after) else Change.EVEN
        else:
            changes[cylinder] = _of_who_was_off(before, after, works=is_work(pair))
    return changes


def _of_who_was_off(before: Share, after: Share, *, works: bool) -> Change:
    if math.isnan(before.share) or math.isnan(after.share) or not before.share_tells:
        return Change.UNCHANGED if after.ill else Change.GONE
    left = abs(1.0 - after.share)
    back = 1.0 - left / abs(1.0 - before.share)
    if back >= CURED_SHARE and (not after.ill or (works and left <= EVEN_SHARE)):
        return Change.GONE if after.apart_from(before) else Change.NOT_COMPARABLE
    return Change.BETTER if back >= BETTER_SHARE and after.otherwise_than(before) else Change.UNCHANGED


def is_unsure(compared: Compared) -> bool:
    """Whether it cannot tell of a cylinder that was off whether it still is."""
    return any(compared.changes.get(c) is Change.NOT_COMPARABLE for c in compared.pair.ill_before)


def _newly_off(before: Share, after: Share) -> bool:
    """Whether somebody sound before is accused now, for more than an engine changes by itself."""
    if not after.ill:
        return False
    if math.isnan(before.share) or math.isnan(after.share):
        return True
    return abs(after.share - before.share) >= NEWLY_SHARE and after.apart_from(before)
