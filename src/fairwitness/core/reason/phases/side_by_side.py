"""The same test of the same vehicle in two states, brought onto one scale: shares of the peers, cylinder by cylinder.

From measurements of both states; goes to the judgement of change-overs and repairs, and to the board.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Iterable, Mapping, Sequence
from dataclasses import dataclass

import numpy as np

from fairwitness.core import thresholds as limit
from fairwitness.core.messages.catalogue import template
from fairwitness.core.messages.message import NOTHING, Message
from fairwitness.core.model.engine import Engine
from fairwitness.core.model.measurement import Finding, Measured, State
from fairwitness.core.procedures.specs import SPECS
from fairwitness.core.reason.accusations import compared, deviates
from fairwitness.core.reason.taken_under import Taken

OTHER_CONDITIONS = template("side_by_side.other_conditions", "not comparable: {before} before, {after} after")
AS_SURE = 1.25
"""[M] measurements whose spreads differ by less than this factor are as sure as each other."""
TITLE = template("side_by_side.title", "{title:lower}")
CHANGED_SIGMAS = 3.0
SHARE_TELLS = 0.2
"""[M] a share nearer to that of the peers is not what a cylinder was accused for."""
TakenOf = Callable[[Measured], Taken]


@dataclass(frozen=True, slots=True)
class Share:
    """What one cylinder does in one state: its share of the peers, how sure, and whether it was accused.

    Parameters
    ----------
    share, sigma : float
        Of the peers; NaN where the test gives no share.
    state : State
    ill : bool
        The finding speaks against the cylinder.
    value : float or None
        Of the finding, in the unit of the test.
    """

    share: float
    sigma: float
    state: State
    ill: bool
    value: float | None

    def otherwise_than(self, before: Share) -> bool:
        """Whether the test says something else of the cylinder than before: there or not, or another share."""
        if (self.state is State.ABSENT) != (before.state is State.ABSENT):
            return True
        if math.isnan(before.share) or math.isnan(self.share) or not before.share_tells:
            return self.ill != before.ill
        return abs(self.share - before.share) > CHANGED_SIGMAS * math.hypot(before.sigma, self.sigma)

    def apart_from(self, before: Share) -> bool:
        """Whether the two shares differ by more than they are unsure."""
        return abs(self.share - before.share) > math.hypot(before.sigma, self.sigma)

    @property
    def share_tells(self) -> bool:
        """Whether it is the share that the cylinder stands out by; else it is the shape of the trace."""
        return abs(1.0 - self.share) > SHARE_TELLS


@dataclass(frozen=True, slots=True, kw_only=True)
class Pair:
    """One test in both states.

    Parameters
    ----------
    test : str
    before, after : Measured
        The surest of either state.
    shares_before, shares_after : mapping of cylinder to Share
    why_not : Message
        Why the two cannot be compared; nothing where they can.
    """

    test: str
    before: Measured
    after: Measured
    shares_before: Mapping[int, Share]
    shares_after: Mapping[int, Share]
    why_not: Message = NOTHING

    @property
    def comparable(self) -> bool:
        """Taken under the same conditions, as far as anybody said."""
        return not self.why_not

    @property
    def ill_before(self) -> frozenset[int]:
        """Cylinders that were accused."""
        return frozenset(c for c, s in self.shares_before.items() if s.ill)

    @property
    def ill_after(self) -> frozenset[int]:
        """Cylinders that are accused."""
        return frozenset(c for c, s in self.shares_after.items() if s.ill)


def titles(tests: Iterable[str]) -> tuple[Message, ...]:
    """Tests by their titles, as they stand within a sentence."""
    return tuple(TITLE(title=SPECS[test].title) for test in tests)


def pairs_of(before: Sequence[Measured], after: Sequence[Measured], engine: Engine, taken: TakenOf) -> tuple[Pair, ...]:
    """Every test that was taken in both states, each with its surest measurement of either.

    Parameters
    ----------
    before, after : sequence of Measured
    engine : Engine
    taken : callable
        Under which conditions a measurement was taken.

    Returns
    -------
    tuple of Pair
        In the order of the board.
    """
    found = []
    for test in dict.fromkeys(m.test for m in after):
        one, other = _of_test(before, test, engine), _of_test(after, test, engine)
        if not one or not other:
            continue
        found.append(
            Pair(
                test=test,
                before=one[-1],
                after=other[-1],
                shares_before=_together(one, engine),
                shares_after=_together(other, engine),
                why_not=_why_not(taken(one[-1]), taken(other[-1])),
            )
        )
    return tuple(sorted(found, key=lambda p: SPECS[p.test].place))


def _of_test(measured: Sequence[Measured], test: str, engine: Engine) -> list[Measured]:
    """The surest measurement that compares every cylinder, the last of equals; else all taken cylinder by cylinder."""
    own = [m for m in measured if m.test == test and m.usable]
    whole = [m for m in own if is_decided(m, engine)]
    if whole:
        best = min(map(_unsureness, whole))
        return [m for m in whole if _unsureness(m) <= AS_SURE * best][-1:]
    return [m for m in own if m.figures and len(m.figures) < engine.cylinders]


def _unsureness(measured: Measured) -> float:
    return float(np.median(measured.evidence.sigmas)) if measured.evidence is not None else 1.0


def _together(parts: Sequence[Measured], engine: Engine) -> dict[int, Share]:
    """Shares out of several measurements, of each cylinder the last."""
    return {cylinder: share for part in parts for cylinder, share in shares_of(part, engine).items()}


def shares_of(measured: Measured, engine: Engine) -> dict[int, Share]:
    """Shares and findings of every cylinder that a measurement compares.

    Parameters
    ----------
    measured : Measured
    engine : Engine

    Returns
    -------
    dict of cylinder to Share
        Without cylinders that were not tried.
    """
    line = measured.evidence
    shares: dict[int, Share] = {}
    for finding in measured.findings:
        cylinder = finding.cylinder
        if cylinder is None or not compared(finding) or finding.quantity != _first_quantity(measured):
            continue
        share, sigma = float("nan"), float("nan")
        if line is not None and len(line.alternatives) == 1:
            at = engine.position(cylinder)
            if line.sigmas[at] < limit.NOT_TRIED_SIGMA.value:
                share, sigma = float(line.alternatives[0][at]), float(line.sigmas[at])
        shares[cylinder] = Share(share, sigma, finding.state, deviates(finding), finding.value)
    return shares


def _first_quantity(measured: Measured) -> str:
    return next((f.quantity for f in measured.findings if _is_of_a_cylinder(f)), "")


def _is_of_a_cylinder(finding: Finding) -> bool:
    return finding.cylinder is not None and compared(finding)


def is_decided(measured: Measured, engine: Engine) -> bool:
    """Whether a measurement compares every cylinder of an engine and names each."""
    named = {f.cylinder for f in measured.findings if _is_of_a_cylinder(f)}
    decided = measured.evidence is None or len(measured.evidence.alternatives) == 1
    return measured.usable and decided and len(named) == engine.cylinders


def _why_not(before: Taken, after: Taken) -> Message:
    for one, other in (
        (before.under.load, after.under.load),
        (before.under.temperature, after.under.temperature),
    ):
        if one is not None and other is not None and one != other:
            return OTHER_CONDITIONS(before=before.under.words, after=after.under.words)
    return NOTHING
