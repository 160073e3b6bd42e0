"""Weighing the evidence: Bayes over everything that may be wrong.

Every hypothesis says in which condition each cylinder is. A piece of evidence is looked up once per condition and laid
over all hypotheses at a time, so that some thousands of them cost a few milliseconds.
"""

from __future__ import annotations

from collections import Counter
from collections.abc import Collection, Mapping, Sequence
from dataclasses import dataclass
from functools import cache, cached_property, lru_cache

import numpy as np
from numpy.typing import NDArray

from fairwitness.core.engine import CYCLE_DEG, REVOLUTION_DEG, Engine
from fairwitness.core.finding import Evidence, Sighting
from fairwitness.core.reason.faults import OTHER, OTHER_MECHANICAL, Cause
from fairwitness.core.reason.hypotheses import Hypothesis, Placed, joined
from fairwitness.core.reason.outcomes import SOUND, chance, faults_of, outcomes_of
from fairwitness.core.reason.signatures import LEFT_ALONE, MODES, OPPOSITE, SELDOM, WAYS_SHOWN, cell, log_likelihood

FloatArray = NDArray[np.float64]
IntArray = NDArray[np.intp]

BESIDE = "beside"
ANYTHING = ("=", "-", "0", "+", "~")
SCATTERS = ("~", "0")
"""Forms that stay visible where every cylinder is ill."""
TEMPER = 0.85
"""[M] numbers of one capture share clamp, battery and operator: together they count less than independent ones."""
VIEWS_COUNT_AS = 0.6
"""[M] several views of one source (breakdown, line and duration of the same sparks) count as this power of their
number, not as that many witnesses."""
SPREADS_ROUND = ("RC", "CON", "EX", "CK", "IN")
"""Lines in which an ill cylinder disturbs those fired beside it; coils and injectors do not hear each other."""
LEVEL_KNOWN = ("FV", "SV", "SD", "SL", "RG")
"""Lines in which, of two halves, the one nearer to what plugs usually need was taken as sound already."""
UNTRIED, LEAST_USUAL = 1.0, 0.05
"""[M] sigma from which a cylinder was not tried, and share below which sound cylinders are no measure."""
SHOWS_SELDOM = 0.35
"""[M] how often a test that is being planned is expected to meet a fault that comes and goes."""
DUTIES = (0.1, 0.3, 0.6, 0.9)
"""[M] how often a fault that comes and goes may be there, equally likely: tests that did not meet it say how seldom."""
SHARED_ERROR = ("valve_events", "fuel_trim")
"""Tests whose cylinders or banks are off together where the reading itself is off."""
SHARED = 0.7
"""[M] each of n alike outcomes of such a test weighs n to the power of minus this: more than one, fewer than n."""
WAITED_FOR = "swap:"
"""A part changed over is judged once the misfire came back: it meets the fault however seldom that is."""
UNEXPLAINED = float(np.log(100.0))
"""[M] how much worse the best single fault fits than each piece of evidence would allow, before two unrelated faults
are thought of."""
NEGLIGIBLE = 1e-9
DOUBTED, PAIRED = 1.0, 8
"""[M] misfit from which a source asks for another fault, and how many of the best for it are paired."""
DOUBTED_SOURCES = 5


@dataclass(frozen=True, kw_only=True)
class Posterior:
    """Hypotheses with what the evidence makes of them, most probable first.

    Parameters
    ----------
    hypotheses : tuple of Hypothesis
    probabilities : (hypotheses,) float
    sources : tuple of str
        What was heard, each capture or table once.
    testimony : (sources, hypotheses) float, nats
        How well each hypothesis would have foretold what each source says, as it was weighed.
    """

    hypotheses: tuple[Hypothesis, ...]
    probabilities: FloatArray
    sources: tuple[str, ...] = ()
    testimony: FloatArray | None = None

    def of_cause(self, cause: Cause) -> float:
        """Probability that the fault is of a cause, wherever it sits; of two faults the root counts."""
        return float(sum(p for h, p in zip(self.hypotheses, self.probabilities, strict=True) if h.cause is cause))

    def of_cylinder(self, cylinder: int, cause: Cause) -> float:
        """Probability that this cylinder suffers from a fault of a cause."""
        return self.of_any(cylinder, (cause,))

    def of_any(self, cylinder: int, causes: Collection[Cause]) -> float:
        """Probability that this cylinder suffers from a fault of any of some causes."""
        return float(sum(p for (c, own), p in self._suffering.items() if c == cylinder and own & set(causes)))

    def of_placed(self, placed: Placed) -> float:
        """Probability that a fault sits at a place, alone or beside another, whichever way it shows itself."""
        return float(
            sum(
                p
                for h, p in zip(self.hypotheses, self.probabilities.tolist(), strict=True)
                if p > NEGLIGIBLE and any(q.fault == placed.fault and q.cylinders == placed.cylinders for q in h.placed)
            )
        )

    @cached_property
    def _suffering(self) -> dict[tuple[int, frozenset[Cause]], float]:
        """Probability of each set of causes at each cylinder."""
        found: dict[tuple[int, frozenset[Cause]], float] = {}
        alone = {cause: frozenset((cause,)) for cause in Cause}
        for h, p in zip(self.hypotheses, self.probabilities.tolist(), strict=True):
            for c in h.everywhere:
                own = alone[h.cause]
                if h.also:
                    own = frozenset(placed.cause for placed in h.placed if c in placed.cylinders)
                found[(c, own)] = found.get((c, own), 0.0) + p
        return found

    @property
    def entropy_bits(self) -> float:
        """What is still open, in bits."""
        p = self.probabilities[self.probabilities > 0]
        return float(-(p * np.log2(p)).sum())


def infer(
    candidates: Sequence[Hypothesis],
    evidence: Sequence[Evidence],
    engine: Engine,
    sightings: Sequence[Sighting] = (),
    *,
    trust: Mapping[str, float] | None = None,
) -> Posterior:
    """Posterior over hypotheses.

    Two unrelated faults are thought of only where no single one explains what is seen.

    Parameters
    ----------
    candidates : sequence of Hypothesis
    evidence : sequence of Evidence
        Lines of one source are tempered together; an unusable capture gives none.
    engine : Engine
    sightings : sequence of Sighting
    trust : mapping of source to float, optional
        Weight of a source beside the others; 1 where it is not named.

    Returns
    -------
    Posterior
        Probabilities sum to 1.
    """
    heard = _Heard(evidence, sightings, trust or {})
    known = tuple(candidates)
    testimony = heard.by(known, engine)
    scores = np.log(np.array([h.prior for h in known])) + testimony.sum(axis=0)
    pairs = _two_unrelated(known, scores, testimony)
    if pairs:
        known += pairs
        testimony = np.hstack([testimony, heard.by(pairs, engine)])
        scores = np.log(np.array([h.prior for h in known])) + testimony.sum(axis=0)
    weights = np.exp(scores - scores.max())
    probabilities = weights / weights.sum()
    order = np.argsort(-probabilities, kind="stable")
    return Posterior(
        hypotheses=tuple(known[i] for i in order),
        probabilities=probabilities[order],
        sources=heard.sources,
        testimony=testimony[:, order],
    )


class _Heard:
    """All evidence of a case, with its weight."""

    def __init__(self, evidence: Sequence[Evidence], sightings: Sequence[Sighting], trust: Mapping[str, float]) -> None:
        self.evidence, self.sightings, self.trust = evidence, sightings, trust
        self.views = Counter(line.source for line in evidence)
        self.sources = tuple(dict.fromkeys([*(e.source for e in evidence), *(s.source for s in sightings)]))

    def by(self, candidates: tuple[Hypothesis, ...], engine: Engine) -> FloatArray:
        """(sources, candidates) float: weighed log likelihood of each source under each hypothesis."""
        told = np.zeros((len(self.sources), len(candidates) + 1))  # the last is a sound engine
        watched = np.zeros_like(told)
        at = {source: i for i, source in enumerate(self.sources)}
        conditions = _conditions(tuple((h.fault, h.placed) for h in candidates), engine.firing_order, _opposite(engine))
        for line in self.evidence:
            weight = TEMPER * self.views[line.source] ** (VIEWS_COUNT_AS - 1) * self.trust.get(line.source, 1.0)
            told[at[line.source]] += weight * _of_line(line, conditions)
        alike = Counter((s.source, s.kind, s.outcome) for s in self.sightings if s.kind in SHARED_ERROR)
        for sighting in self.sightings:
            weight = TEMPER * self.trust.get(sighting.source, 1.0)
            weight /= alike.get((sighting.source, sighting.kind, sighting.outcome), 1) ** SHARED
            table = watched if _watches(sighting.kind) else told
            table[at[sighting.source]] += weight * _of_sighting(sighting, conditions, engine)
        seldom = np.array([h.mode == SELDOM for h in candidates])
        if seldom.any() and self.sources:
            told[:, :-1][:, seldom] = _now_and_then(told[:, :-1][:, seldom], told[:, -1])
        return told[:, :-1] + watched[:, :-1]


@cache
def _watches(kind: str) -> bool:
    """Whether a test's table says itself what it makes of a fault that comes and goes: it waits for it, or counts."""
    return kind.startswith(WAITED_FOR) or any(name == "seldom" or name.endswith(SELDOM) for name in faults_of(kind))


def _now_and_then(shown: FloatArray, hidden: FloatArray) -> FloatArray:
    """Log likelihood of each source where a fault comes and goes: each source met it or not, how often is unknown.

    Parameters
    ----------
    shown : (sources, faults) float
        With the fault there all the while.
    hidden : (sources,) float
        With nothing wrong.

    Returns
    -------
    (sources, faults) float
        Summing, for each fault, to the likelihood of all sources averaged over how often it is there.
    """
    duty = np.array(DUTIES)[:, None, None]
    each = np.logaddexp(np.log(duty) + shown, np.log(1 - duty) + hidden[:, None])
    total = each.sum(axis=1)
    peak = total.max(axis=0)
    share = np.exp(total - peak)
    averaged = peak + np.log(share.mean(axis=0))
    share /= share.sum(axis=0)
    by_source = (share[:, None, :] * each).sum(axis=0)
    return np.asarray(by_source + (averaged - by_source.sum(axis=0)) / len(hidden))


Condition = tuple[str, ...]
"""What is wrong with one cylinder: fault ids, or the name of the unlisted."""
SOUND_CONDITION: Condition = ()


@dataclass(frozen=True, slots=True)
class _Conditions:
    """Which condition each cylinder is in under each hypothesis.

    Parameters
    ----------
    kinds : tuple of Condition
        The first is sound.
    at : (hypotheses + 1, cylinders) int
        Index into ``kinds``, in firing order; the last row is a sound engine.
    common : (hypotheses + 1,) bool
        Every cylinder has the same fault.
    """

    kinds: tuple[Condition, ...]
    at: IntArray
    common: NDArray[np.bool_]


@lru_cache(maxsize=64)
def _opposite(engine: Engine) -> tuple[tuple[int, ...], ...]:
    """Of each cylinder in firing order, those fired a revolution later: its companion, or both beside that moment."""
    reach = 0.75 * CYCLE_DEG / engine.cylinders
    tdc = {c: engine.tdc_deg(c) for c in engine.firing_order}
    return tuple(
        tuple(d for d in engine.firing_order if abs((tdc[d] - tdc[c]) % CYCLE_DEG - REVOLUTION_DEG) < reach and d != c)
        for c in engine.firing_order
    )


@lru_cache(maxsize=64)
def _conditions(
    placed: tuple[tuple[str, tuple[Placed, ...]], ...],
    firing_order: tuple[int, ...],
    opposite: tuple[tuple[int, ...], ...],
) -> _Conditions:
    kinds: dict[Condition, int] = {SOUND_CONDITION: 0}
    at = np.zeros((len(placed) + 1, len(firing_order)), dtype=np.intp)
    place = {c: i for i, c in enumerate(firing_order)}
    for row, (name, faults) in enumerate(placed):
        if name in (OTHER, OTHER_MECHANICAL):
            at[row] = kinds.setdefault((name,), len(kinds))
            continue
        if len(faults) == 1:  # the usual case, and the quick one
            index = kinds.setdefault((faults[0].name,), len(kinds))
            left = f"{faults[0].name}{OPPOSITE}"
            if left in WAYS_SHOWN:
                mark = kinds.setdefault((left,), len(kinds))
                for c in faults[0].cylinders:
                    at[row, [place[d] for d in opposite[place[c]]]] = mark
            for c in faults[0].cylinders:
                at[row, place[c]] = index
            continue
        for position, cylinder in enumerate(firing_order):
            here = tuple(p.name for p in faults if cylinder in p.cylinders)
            at[row, position] = kinds.setdefault(here, len(kinds))
    alone = np.array([*(len(faults) == 1 for _, faults in placed), False])
    common = alone & (at[:, 0] != 0) & (np.ptp(at, axis=1) == 0)
    return _Conditions(tuple(kinds), at, common)


def _of_line(line: Evidence, conditions: _Conditions) -> FloatArray:
    """Open assignments are averaged over: a capture without sync says how many are low, not which."""
    scores = np.array([_of_shares(line, shares, conditions) for shares in line.alternatives])
    peak = scores.max(axis=0)
    return np.asarray(peak + np.log(np.exp(scores - peak).mean(axis=0)))


def _of_shares(line: Evidence, shares: FloatArray, conditions: _Conditions) -> FloatArray:
    """Log likelihood of one assignment of shares to cylinders under each hypothesis.

    Shares were taken of what most cylinders do. Where most are ill by a hypothesis, its own sound ones are the measure.
    """
    scores = _by_cylinder(line.line, shares, line.sigmas, conditions)
    ill = conditions.at != 0
    counts = 2 * ill.sum(axis=1)
    many = (counts > shares.size) | ((counts == shares.size) & (line.line not in LEVEL_KNOWN))
    many &= ~conditions.common & ~ill.all(axis=1)
    if not many.any():
        return scores
    tried = line.sigmas < UNTRIED
    patterns, which = np.unique(ill[many], axis=0, return_inverse=True)
    for number, pattern in enumerate(patterns):
        sound = ~pattern & tried
        usual = float(np.median(shares[sound])) if sound.any() else 1.0
        if usual < LEAST_USUAL or abs(usual - 1.0) < float(np.median(line.sigmas)):
            continue
        rows = np.flatnonzero(many)[which.ravel() == number]
        own = _Conditions(conditions.kinds, conditions.at[rows], conditions.common[rows])
        measured = np.where(tried, shares / usual, shares)
        sigmas = np.where(tried, line.sigmas / usual, line.sigmas)
        scores[rows] = _by_cylinder(line.line, measured, sigmas, own) - tried.sum() * np.log(usual)
    return scores


def _by_cylinder(column: str, shares: FloatArray, sigmas: FloatArray, conditions: _Conditions) -> FloatArray:
    """Sum over cylinders of the log likelihood of their shares."""
    looked_up: dict[tuple[str, ...], FloatArray] = {}

    def under(symbols: tuple[str, ...]) -> FloatArray:
        if symbols not in looked_up:
            looked_up[symbols] = log_likelihood(shares, sigmas, symbols, column)
        return looked_up[symbols]

    expected = [_expected(kind, column) for kind in conditions.kinds]
    alone = np.array([under(symbols) for symbols in expected])
    in_all = np.array([under(_where_common(symbols)) for symbols in expected])
    spreads = np.array(
        [LEFT_ALONE not in symbols and column in SPREADS_ROUND and kind not in UNLISTED
         for kind, symbols in zip(conditions.kinds, expected, strict=True)]
    )  # fmt: skip
    at, places = conditions.at, np.arange(shares.size)
    scores = alone[at, places]
    if spreads.any():
        disturbs = spreads[at]
        beside = (np.roll(disturbs, 1, axis=1) | np.roll(disturbs, -1, axis=1)) & (at == 0)
        scores = np.where(beside, under((BESIDE,)), scores)
    if conditions.common.any():
        scores = np.where(conditions.common[:, None], in_all[at, places], scores)
    return np.asarray(scores.sum(axis=1))


UNLISTED: tuple[Condition, ...] = ((OTHER,), (OTHER_MECHANICAL,))


def _expected(kind: Condition, column: str) -> tuple[str, ...]:
    if kind == SOUND_CONDITION:
        return (LEFT_ALONE,)
    if kind in UNLISTED:
        return (LEFT_ALONE,) if kind == (OTHER,) and column == "RC" else ANYTHING
    forms = cell(kind, column)
    if kind[0].endswith(SELDOM):  # that it hides is weighed for the whole capture
        forms = tuple(form for form in forms if form != LEFT_ALONE) or forms
    return forms


def _where_common(expected: tuple[str, ...]) -> tuple[str, ...]:
    """A comparison of cylinders is even where all of them are ill alike, but for what comes and goes."""
    if expected and (LEFT_ALONE in expected or not set(expected) & set(SCATTERS)):
        return (LEFT_ALONE,)
    return expected


def _of_sighting(sighting: Sighting, conditions: _Conditions, engine: Engine) -> FloatArray:
    """Of the cylinders it bears on the one counts whose condition changes the outcome most."""
    told = np.log([_chance(sighting.kind, sighting.outcome, kind) for kind in conditions.kinds])
    positions = [engine.position(c) for c in sighting.cylinders if c in engine.firing_order]
    here = told[conditions.at[:, positions or slice(None)]]
    furthest = np.abs(here - told[0]).argmax(axis=1)
    return np.asarray(here[np.arange(here.shape[0]), furthest])


@lru_cache(maxsize=65_536)
def _chance(test: str, outcome: str, kind: Condition) -> float:
    """Chance of an outcome at a cylinder; faults that do not touch the test leave it to those that do."""
    usual = chance(test, outcome, SOUND)
    if kind in UNLISTED:
        known = outcomes_of(test)
        return 0.5 * (usual + (1.0 / len(known) if known else 1.0))
    rows = faults_of(test)
    own = []
    for name in kind:
        fault, seldom = name.rstrip(MODES), name.endswith(SELDOM)
        if name in rows or (seldom and "seldom" in rows):
            own.append(chance(test, outcome, name if name in rows else "seldom"))
        elif fault in rows:
            own.append(chance(test, outcome, fault))
    return sum(own) / len(own) if own else usual


def _two_unrelated(known: tuple[Hypothesis, ...], scores: FloatArray, testimony: FloatArray) -> tuple[Hypothesis, ...]:
    """Pairs worth weighing, where the best single fault leaves something unexplained."""
    best = int(scores.argmax())
    misfit = testimony.max(axis=1, initial=-np.inf) - testimony[:, best] if testimony.size else np.zeros(0)
    doubted = [int(i) for i in np.argsort(-misfit)[:DOUBTED_SOURCES] if misfit[i] > DOUBTED]
    if misfit[misfit > DOUBTED].sum() < UNEXPLAINED:
        return ()
    single = np.array([bool(h.placed) and not h.also for h in known])
    wanted: dict[int, None] = {}
    for told in (scores, *(testimony[i] + 0.5 * scores / max(len(testimony), 1) for i in doubted)):
        ranked = np.argsort(-np.where(single, told, -np.inf))[:PAIRED]
        wanted.update(dict.fromkeys(int(i) for i in ranked))
    ranked_all = sorted(wanted, key=lambda i: -scores[i])
    taken = {frozenset(h.placed) for h in known if h.also}
    pairs: dict[frozenset[object], Hypothesis] = {}
    for n, i in enumerate(ranked_all):
        for j in ranked_all[n + 1 :]:
            both = joined(known[i], known[j])
            if both is not None and frozenset(both.placed) not in taken:
                pairs.setdefault(frozenset(both.placed), both)
    return tuple(pairs.values())
