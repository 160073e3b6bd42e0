"""What a shop's own outcomes add to what ships: how often faults come here, how long tests take, how far tests agree.

Nothing learned replaces what ships. Each figure starts at the shipped one, with a stated weight, and moves with what
was really found. An outcome that all evidence of its case speaks against is more often a slip than a discovery, and
counts by its chance of being right.
"""

from __future__ import annotations

import math
from collections import defaultdict
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from functools import lru_cache

from fairwitness.core.model.case import Case
from fairwitness.core.model.engine import Engine
from fairwitness.core.reason.inference.hypotheses import hypotheses
from fairwitness.core.reason.knowledge.faults import FAULTS, NO_FAULT

SHIPPED_COUNTS_AS = 60.0
"""[M] the shipped shares weigh as much as so many cases of the shop."""
MOST_FACTOR = 4.0
"""[M] no fault becomes more than so many times likelier, or rarer, by what was learned."""
SLIPS = 0.05
"""[M] how often an outcome is written down wrong: another part, another job, a guess."""
MINUTES_COUNT_AS = 4.0
"""[M] the planned minutes of a test weigh as much as so many timings."""
MINUTES_SPREAD_MOST = 4.0
"""[M] a timing that is off the planned minutes by more than this factor was a coffee break or a job half done."""
AGREED_SHIPPED, DISAGREED_SHIPPED = 19.0, 1.0
"""[M] as if a test had agreed nineteen times of twenty before the shop's first outcome."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Outcome:
    """What was really found in one closed case.

    Parameters
    ----------
    engine : Engine
    fault : str
        Of the catalogue, or ``NO_FAULT``.
    chance : float
        What the evidence of the case gave to that fault, by shipped or learned shares.
    """

    engine: Engine
    fault: str
    chance: float


@dataclass(frozen=True, slots=True, kw_only=True)
class LearnedShare:
    """How often one fault comes in this shop.

    Parameters
    ----------
    fault : str
    shipped : float
        Share of all cases on the shop's engines, as shipped.
    here : float
        As learned.
    outcomes : int
        How often it was found.
    counted : float
        The same, each outcome by its chance of being right.
    """

    fault: str
    shipped: float
    here: float
    outcomes: int
    counted: float

    @property
    def factor(self) -> float:
        """How much likelier than as shipped."""
        return self.here / self.shipped if self.shipped > 0 else 1.0


@dataclass(frozen=True, slots=True, kw_only=True)
class ShopKnowledge:
    """What a shop's record does to a diagnosis; empty it changes nothing.

    Parameters
    ----------
    factors : mapping of fault to float
        On its prior.
    agreement : mapping of test to float
        Weight of a test whose results agreed less often with what was found than usual, at most 1.
    codes : mapping of code to (fault, float)
        The shop's own additions to what codes nudge: a factor per fault.
    outcomes : int
        How many outcomes the shares were learned from.
    """

    factors: Mapping[str, float] = field(default_factory=dict)
    agreement: Mapping[str, float] = field(default_factory=dict)
    codes: Mapping[str, Mapping[str, float]] = field(default_factory=dict)
    outcomes: int = 0


NOTHING_LEARNED = ShopKnowledge()


def learned_shares(outcomes: Sequence[Outcome]) -> tuple[LearnedShare, ...]:
    """How often each fault comes, after a shop's outcomes.

    A Dirichlet distribution over the shipped shares, with exposure: an engine that cannot have a fault says nothing of
    how often it comes. Every outcome counts by the chance that it is right, which is Bayes over a slip and none.

    Parameters
    ----------
    outcomes : sequence of Outcome

    Returns
    -------
    tuple of LearnedShare
        Of every fault that any of the engines can have, the most moved first; empty without outcomes.

    References
    ----------
    Gelman et al., Bayesian Data Analysis, 3rd ed., 3.4: multinomial with a Dirichlet prior [P]. The bound is ours.
    """
    if not outcomes:
        return ()
    expected: dict[str, float] = defaultdict(float)
    counted: dict[str, float] = defaultdict(float)
    found: dict[str, int] = defaultdict(int)
    for outcome in outcomes:
        shares = shipped_shares(outcome.engine)
        right = chance_right(outcome.chance, shares.get(outcome.fault, 0.0))
        found[outcome.fault] += 1
        counted[outcome.fault] += right
        for fault, share in shares.items():
            expected[fault] += right * share
    total = sum(counted.values())
    lines = []
    for fault, exposed in expected.items():
        shipped = exposed / total if total else 0.0
        before = SHIPPED_COUNTS_AS * shipped
        factor = (before + counted[fault]) / (before + exposed) if before + exposed else 1.0
        factor = min(max(factor, 1 / MOST_FACTOR), MOST_FACTOR)
        lines.append(
            LearnedShare(
                fault=fault, shipped=shipped, here=shipped * factor, outcomes=found[fault], counted=counted[fault]
            )
        )
    return tuple(sorted(lines, key=lambda line: (-abs(math.log(line.factor or 1.0)), line.fault)))


def chance_right(chance: float, share: float) -> float:
    """How probably an outcome is what was really there.

    Parameters
    ----------
    chance : float
        What the evidence gives to the fault.
    share : float
        How often it comes anyway: a slip names it that often.

    Returns
    -------
    float
    """
    true, slip = (1 - SLIPS) * max(chance, 0.0), SLIPS * max(share, 0.0)
    return true / (true + slip) if true + slip > 0 else 0.0


@lru_cache(maxsize=64)
def shipped_shares(engine: Engine) -> Mapping[str, float]:
    """Share of each fault, and of none, among cases on an engine, as shipped; what is unlisted is left out.

    Parameters
    ----------
    engine : Engine

    Returns
    -------
    mapping of str to float
        Sums to 1.
    """
    shares: dict[str, float] = defaultdict(float)
    for h in hypotheses(Case(name="", engine=engine)):
        if h.fault in FAULTS or h.fault == NO_FAULT:
            shares[h.fault] += h.prior
    total = sum(shares.values())
    return {fault: share / total for fault, share in shares.items()}


def learned_minutes(planned: float, timings: Sequence[float]) -> float:
    """Minutes of a test after some timings, by their geometric mean.

    Parameters
    ----------
    planned : float, min
    timings : sequence of float, min
        One that is off by more than ``MINUTES_SPREAD_MOST`` is left out.

    Returns
    -------
    float, min
    """
    logs = [math.log(t / planned) for t in plausible_timings(planned, timings)]
    return planned * math.exp(sum(logs) / (MINUTES_COUNT_AS + len(logs)))


def plausible_timings(planned: float, timings: Sequence[float]) -> list[float]:
    """Timings that may be of the test alone."""
    return [t for t in timings if planned / MINUTES_SPREAD_MOST <= t <= planned * MINUTES_SPREAD_MOST]


def agreement_weight(agreed: int, disagreed: int) -> float:
    """Weight of a test beside its usual 1, after comparing it with what was found.

    A test that agrees as often as usual keeps its weight; it is never trusted more than it was.

    Parameters
    ----------
    agreed, disagreed : int

    Returns
    -------
    float, at most 1
        Log odds of agreeing, as shares of the usual; a test that is as often wrong as right weighs next to nothing.
    """
    usual = math.log(AGREED_SHIPPED / DISAGREED_SHIPPED)
    now = math.log((AGREED_SHIPPED + agreed) / (DISAGREED_SHIPPED + disagreed))
    return min(1.0, max(0.1, now / usual))
