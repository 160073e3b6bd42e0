"""How often the answers were right in this shop: in all, by test, by engine, by person where the lead wants that."""

from __future__ import annotations

from collections import Counter, defaultdict
from collections.abc import Callable, Iterable, Sequence
from dataclasses import dataclass
from typing import TypeVar

import scipy

from fairwitness.core.procedures.specs import SPECS
from fairwitness.server.cases.models import StoredOutcome
from fairwitness.server.learning.services import BY_PERSON, agreements, outcomes, switches

Item = TypeVar("Item")
UNNAMED_ENGINE = "engine without a name"


@dataclass(frozen=True, slots=True, kw_only=True)
class Tally:
    """How often something was as stated, with a 95 % interval.

    References
    ----------
    Wilson score interval: Wilson, JASA 22 (1927) [P].
    """

    words: object
    hits: int
    count: int

    @property
    def interval(self) -> tuple[float, float]:
        """Lower and upper bound of the share."""
        if not self.count:
            return 0.0, 1.0
        found = scipy.stats.binomtest(self.hits, self.count).proportion_ci(method="wilson")
        return float(found.low), float(found.high)


@dataclass(frozen=True, slots=True, kw_only=True)
class OwnFigures:
    """What this shop's outcomes say of the answers it was given."""

    overall: Tally
    established: Tally
    tests: tuple[Tally, ...]
    engines: tuple[Tally, ...]
    people: tuple[Tally, ...] | None
    """None while the lead has not turned it on."""


def own_figures() -> OwnFigures:
    """Over the latest outcome of each case."""
    told = outcomes()
    sure = [o for o in told if o.said.get("status") == "established"]
    by_test = agreements(told)
    return OwnFigures(
        overall=_tally("", told),
        established=_tally("", sure),
        tests=tuple(
            Tally(words=SPECS[test].title, hits=counted[True], count=counted.total())
            for test, counted in _by_count(by_test.items(), lambda item: item[1].total())
        ),
        engines=_grouped(told, lambda o: str(o.case.engine.get("label") or UNNAMED_ENGINE)),
        people=_grouped(told, lambda o: o.by.shown_name) if switches().get(BY_PERSON, False) else None,
    )


def _grouped(told: Sequence[StoredOutcome], by: Callable[[StoredOutcome], str]) -> tuple[Tally, ...]:
    groups: dict[str, list[StoredOutcome]] = defaultdict(list)
    for outcome in told:
        groups[by(outcome)].append(outcome)
    return tuple(_tally(name, own) for name, own in _by_count(groups.items(), lambda item: len(item[1])))


def _by_count(items: Iterable[Item], count: Callable[[Item], int]) -> list[Item]:
    return sorted(items, key=count, reverse=True)


def _tally(words: object, told: Sequence[StoredOutcome]) -> Tally:
    return Tally(words=words, hits=Counter(o.agreed for o in told)[True], count=len(told))
