"""What may be wrong: every fault at every place it can sit, two at once where one brought the other, and none."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, replace
from functools import cached_property, lru_cache
from types import MappingProxyType

from fairwitness.core.model.case import Case
from fairwitness.core.model.engine import Engine, Ignition
from fairwitness.core.model.symptom import Symptom
from fairwitness.core.reason.knowledge.fault_spec import Cause, FaultMode, FaultSpec, Mode, Seat
from fairwitness.core.reason.knowledge.faults import (
    CATALOGUE,
    FAULTS,
    NO_FAULT,
    OTHER,
    OTHER_MECHANICAL,
    PRIOR_OF,
    TWO_FAULTS,
)
from fairwitness.core.reason.knowledge.nudges import NO_OWN_CODES, Nudges, OwnCodes, nudge, nudges_of

FEED_BRANCH_SHARE = 0.6
"""[M] how often a lost feed is one injector's own branch, beside 1 for the fuse or splice of all."""
AS_SHIPPED: Mapping[str, float] = MappingProxyType({})
TIMING_ALL_SHARE = 0.4
TIMING_COMPANIONS_SHARE = 0.15


@dataclass(frozen=True)
class Placed:
    """A fault and the cylinders it sits in; ``mode`` tells which of its ways it shows itself in."""

    fault: str
    cylinders: tuple[int, ...]
    mode: Mode = Mode.STAYS

    @cached_property
    def shown(self) -> FaultMode:
        """Fault and mode, as the tables are looked up."""
        return FaultMode(self.fault, self.mode)

    @property
    def is_intermittent(self) -> bool:
        """It comes and goes."""
        return self.mode is Mode.INTERMITTENT

    @property
    def cause(self) -> Cause:
        """Of the fault."""
        return FAULTS[self.fault].cause


@dataclass(frozen=True)
class Hypothesis:
    """One fault at one place (``no_fault`` and ``other`` at none), or two; the root of the trouble is named first.

    Without slots, so that what follows from its fields is worked out once: an engine has thousands of them.
    """

    fault: str
    cause: Cause
    cylinders: tuple[int, ...]
    """Of the root fault."""
    prior: float
    also: tuple[Placed, ...] = ()
    mode: Mode = Mode.STAYS
    """Which of its ways the root fault shows itself in."""

    @cached_property
    def placed(self) -> tuple[Placed, ...]:
        """Every fault with its place; empty for none and for the unlisted."""
        if self.fault not in FAULTS:
            return ()
        return (Placed(self.fault, self.cylinders, self.mode), *self.also)

    @cached_property
    def everywhere(self) -> tuple[int, ...]:
        """All cylinders that suffer."""
        if not self.also:
            return self.cylinders
        return tuple(sorted({*self.cylinders, *(c for placed in self.also for c in placed.cylinders)}))


NO_START_UNLISTED: Mapping[str, float] = {NO_FAULT: 0.01, OTHER: 0.3, OTHER_MECHANICAL: 0.05}
"""[M] how often an engine with nothing listed wrong does not start."""
ALL_UNFED = 0.95
"""[M] how often an engine does not start whose coils or injectors all lost their feed."""


def hypotheses(
    case: Case, factors: Mapping[str, float] = AS_SHIPPED, codes: OwnCodes = NO_OWN_CODES
) -> tuple[Hypothesis, ...]:
    """Everything that may be wrong with a case, with its prior.

    Parameters
    ----------
    case : Case
        Codes, earlier work and complaint nudge the priors; they never decide.
    factors : mapping of fault to float
        How much more often than as shipped a fault comes in this shop.
    codes : mapping of code to factors by fault
        What the shop added to what codes nudge.

    Returns
    -------
    tuple of Hypothesis
        Priors sum to 1.
    """
    plain = _of_engine(case.engine)
    nudges = nudges_of(case, codes)
    weights = [
        h.prior * factors.get(h.fault, 1.0) * _nudged(h, nudges) * _as_it_behaves(h, case.symptom, case.engine)
        for h in plain
    ]
    total = sum(weights)
    return tuple(replace(h, prior=w / total) for h, w in zip(plain, weights, strict=True))


def joined(one: Hypothesis, other: Hypothesis) -> Hypothesis | None:
    """Two hypotheses at once; None where they are the same trouble, or one of them is none.

    Parameters
    ----------
    one, other : Hypothesis
        The likelier first.

    Returns
    -------
    Hypothesis or None
        Its prior: both priors, and how rarely two unrelated faults come together.
    """
    if one.also or other.also or Mode.INTERMITTENT in (one.mode, other.mode) or not one.placed or not other.placed:
        return None
    if one.fault == other.fault and set(one.cylinders) & set(other.cylinders):
        return None
    prior = 2 * TWO_FAULTS * one.prior * other.prior
    return replace(one, prior=prior, also=other.placed)


def _as_it_behaves(hypothesis: Hypothesis, symptom: Symptom, engine: Engine) -> float:
    """How often an engine with this trouble behaves as this one does: runs and misfires, or does not start."""
    stays = [_no_start(placed, engine) for placed in hypothesis.placed] or [NO_START_UNLISTED[hypothesis.fault]]
    chance = max(stays)
    if not symptom.runs:
        return chance
    return (1.0 - chance) * max((FAULTS[placed.fault].misfires for placed in hypothesis.placed), default=1.0)


def _no_start(placed: Placed, engine: Engine) -> float:
    spec = FAULTS[placed.fault]
    everywhere = len(placed.cylinders) == engine.cylinders > 1 and (spec.seat is Seat.FEED or spec.no_spark)
    return ALL_UNFED if everywhere else spec.no_start


def _nudged(hypothesis: Hypothesis, nudges: Nudges) -> float:
    if not hypothesis.placed:
        return 1.0
    return max(nudge(nudges, placed.fault, placed.cylinders) for placed in hypothesis.placed)


@lru_cache(maxsize=64)
def _of_engine(engine: Engine) -> tuple[Hypothesis, ...]:
    found: list[Hypothesis] = []
    by_fault: dict[str, list[Hypothesis]] = {}
    for fault in CATALOGUE:
        if not fault.possible(engine):
            continue
        places = list(_places(fault, engine))
        total = sum(weight for _, weight in places)
        by_fault[fault.id] = [
            Hypothesis(fault.id, fault.cause, cylinders, share * fault.prior * weight / total, mode=mode)
            for cylinders, weight in places
            for mode, share in _ways(fault, cylinders, engine).items()
        ]
        found += by_fault[fault.id] + _in_two(fault, by_fault[fault.id], engine)
        found += _coming_and_going(fault, by_fault[fault.id])
    for consequence in (FAULTS[name] for name in by_fault):
        for root, share in consequence.died_of.items():
            found += [
                replace(h, prior=share * h.prior, also=(Placed(consequence.id, h.cylinders),))
                for h in by_fault.get(root, ())
                if len(h.cylinders) < max(engine.cylinders, 2)
            ]
    found.append(Hypothesis(NO_FAULT, Cause.NONE, (), PRIOR_OF[NO_FAULT]))
    found.append(Hypothesis(OTHER, Cause.OTHER, (), PRIOR_OF[OTHER]))
    found.append(Hypothesis(OTHER_MECHANICAL, Cause.MECHANICAL, (), PRIOR_OF[OTHER_MECHANICAL]))
    total = sum(h.prior for h in found)
    return tuple(replace(h, prior=h.prior / total) for h in found)


def _ways(fault: FaultSpec, cylinders: tuple[int, ...], engine: Engine) -> Mapping[Mode, float]:
    """In which ways a fault may show itself at a place, with their shares. Only bent valves single out companions."""
    if fault.bends_valves and engine.cylinders > 2 and cylinders in engine.companion_pairs:
        return {Mode.BENT: 1.0}
    return fault.ways


def _coming_and_going(fault: FaultSpec, staying: Sequence[Hypothesis]) -> list[Hypothesis]:
    """The fault where it comes and goes: once a place, in whichever way it shows itself when it is there."""
    if not fault.intermittent:
        return []
    weights: dict[tuple[int, ...], float] = {}
    for h in staying:
        weights[h.cylinders] = weights.get(h.cylinders, 0.0) + fault.intermittent * h.prior
    return [Hypothesis(fault.id, fault.cause, at, prior, mode=Mode.INTERMITTENT) for at, prior in weights.items()]


def _in_two(fault: FaultSpec, once: Sequence[Hypothesis], engine: Engine) -> list[Hypothesis]:
    """The same fault in any two of the cylinders it can sit in alone."""
    alone = [h.cylinders[0] for h in once if len(h.cylinders) == 1]
    pairs = [(a, b) for i, a in enumerate(alone) for b in alone[i + 1 :]]
    taken = {h.cylinders for h in once}
    pairs = [pair for pair in pairs if pair not in taken]
    if fault.seat not in (Seat.CYLINDER, Seat.COIL, Seat.COIL_OR_END) or not fault.in_two or engine.cylinders < 3:
        return []
    each = fault.in_two * sum(h.prior for h in once) / max(len(pairs), 1)
    return [Hypothesis(fault.id, fault.cause, pair, each) for pair in pairs]


def _places(fault: FaultSpec, engine: Engine) -> Iterable[tuple[tuple[int, ...], float]]:
    everyone = tuple(sorted(engine.firing_order))
    if fault.seat in (Seat.COIL, Seat.COIL_OR_END) and engine.ignition is Ignition.DISTRIBUTOR:
        yield everyone, 1.0  # one coil for all
    elif fault.seat in (Seat.CYLINDER, Seat.COIL, Seat.COIL_OR_END):
        coils = engine.coil_pairs or (engine.companion_pairs if engine.ignition is Ignition.WASTE_SPARK else ())
        paired = {c for pair in coils for c in pair} if fault.seat is Seat.COIL else set()
        if fault.seat is not Seat.CYLINDER:
            yield from ((tuple(sorted(pair)), 2.0) for pair in coils)
        yield from (((c,), 1.0) for c in everyone if c not in paired)
    elif fault.seat is Seat.NEIGHBOURS:
        yield from ((tuple(sorted(pair)), 1.0) for pair in engine.block_neighbours)
    elif fault.seat is Seat.GROUP:
        yield everyone, TIMING_ALL_SHARE
        yield from ((tuple(sorted(bank)), 1.0) for bank in engine.banks if len(bank) < engine.cylinders)
        yield from ((pair, TIMING_COMPANIONS_SHARE) for pair in engine.companion_pairs if engine.cylinders > 2)
    elif fault.seat is Seat.FEED:
        yield everyone, 1.0
        groups = engine.injector_feeds or engine.banks
        yield from ((tuple(sorted(group)), 0.5) for group in groups if 1 < len(group) < engine.cylinders)
        if engine.cylinders > 1:  # its own branch, behind the splice
            yield from (((c,), FEED_BRANCH_SHARE / engine.cylinders) for c in everyone)
    else:
        yield everyone, 1.0
