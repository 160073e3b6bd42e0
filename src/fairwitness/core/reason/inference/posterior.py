"""Weighing the evidence: Bayes over everything that may be wrong.

Every hypothesis says in which condition each cylinder is. A piece of evidence is looked up once per condition and laid
over all hypotheses at a time, so that some thousands of them cost a few milliseconds.
"""

from __future__ import annotations

from collections import Counter
from collections.abc import Collection, Mapping, Sequence
from dataclasses import dataclass, field
from functools import cached_property

import numpy as np
import scipy
from numpy.typing import NDArray

from fairwitness.core.model.engine import Engine
from fairwitness.core.model.measurement import CategoricalEvidence, Evidence
from fairwitness.core.reason.inference.conditions import conditions_of, opposite_of
from fairwitness.core.reason.inference.hypotheses import Hypothesis, Placed, joined
from fairwitness.core.reason.inference.likelihood import now_and_then, of_categorical, of_line, watches
from fairwitness.core.reason.inference.misread import chance_misread, either_way, misread_shows, shares_misread
from fairwitness.core.reason.knowledge.densities import SHIPPED, Densities
from fairwitness.core.reason.knowledge.fault_spec import Cause, Mode

FloatArray = NDArray[np.float64]
IntArray = NDArray[np.intp]

CAPTURED = "capture:"
"""How the source of a capture begins; a reading by hand shares nothing with others."""
SHARED_ERROR = ("valve_events", "fuel_trim")
"""Tests whose cylinders or banks are off together where the reading itself is off."""
SHARED = 0.7
"""[M] each of n alike outcomes of such a test weighs n to the power of minus this: more than one, fewer than n."""
UNEXPLAINED = float(np.log(100.0))
"""[M] how much worse the best single fault fits than each piece of evidence would allow, before two unrelated faults
are thought of."""
NEGLIGIBLE = 1e-9
DOUBTED, PAIRED = 1.0, 8
"""[M] misfit from which a source asks for another fault, and how many of the best for it are paired."""
DOUBTED_SOURCES = 5


@dataclass(frozen=True, slots=True, kw_only=True)
class SourceTrust:
    """How far sources are believed, each mapping by source; one that is not named is as usual.

    Parameters
    ----------
    weight : mapping of str to float
        Beside the others' 1.
    misread : mapping of str to float
        How often it is misread.
    odds_met : mapping of str to float
        Factor on the odds that it met a fault that comes and goes.
    """

    weight: Mapping[str, float] = field(default_factory=dict)
    misread: Mapping[str, float] = field(default_factory=dict)
    odds_met: Mapping[str, float] = field(default_factory=dict)


AS_USUAL = SourceTrust()


@dataclass(frozen=True, kw_only=True)
class Posterior:
    """Hypotheses with what the evidence makes of them, most probable first.

    Parameters
    ----------
    hypotheses : tuple of Hypothesis
    probabilities : (hypotheses,) float
    sources : tuple of str
        What was heard, each capture or table once.
    log_likelihoods : (sources, hypotheses) float, nats
        How well each hypothesis would have foretold what each source says, as it was weighed.
    """

    hypotheses: tuple[Hypothesis, ...]
    probabilities: FloatArray
    sources: tuple[str, ...] = ()
    log_likelihoods: FloatArray | None = None
    misread: FloatArray | None = None
    """(sources,) float: how probably each was misread."""

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
    categorical: Sequence[CategoricalEvidence] = (),
    trust: SourceTrust = AS_USUAL,
    densities: Densities = SHIPPED,
) -> Posterior:
    """Posterior over hypotheses.

    Two unrelated faults are thought of only where no single one explains what is seen.

    Parameters
    ----------
    candidates : sequence of Hypothesis
    evidence : sequence of Evidence
        Lines of one source are tempered together; an unusable capture gives none.
    engine : Engine
    categorical : sequence of CategoricalEvidence
    trust : SourceTrust
    densities : Densities
        What a reading weighs.

    Returns
    -------
    Posterior
        Probabilities sum to 1.
    """
    weighted = _WeightedEvidence(evidence, categorical, trust, densities)
    known = tuple(candidates)
    understood = weighted.by(known, engine)
    shares = shares_misread(weighted.sources, trust.misread)
    best = misread_shows(understood, engine.cylinders)
    log_likelihoods = either_way(understood, shares, best)
    scores = np.log(np.array([h.prior for h in known])) + log_likelihoods.sum(axis=0)
    pairs = _two_unrelated(known, scores, log_likelihoods)
    if pairs:
        known += pairs
        log_likelihoods = np.hstack([log_likelihoods, either_way(weighted.by(pairs, engine), shares, best)])
        scores = np.log(np.array([h.prior for h in known])) + log_likelihoods.sum(axis=0)
    probabilities = scipy.special.softmax(scores)
    order = np.argsort(-probabilities, kind="stable")
    return Posterior(
        hypotheses=tuple(known[i] for i in order),
        probabilities=probabilities[order],
        sources=weighted.sources,
        log_likelihoods=log_likelihoods[:, order],
        misread=chance_misread(log_likelihoods, shares, best, probabilities),
    )


class _WeightedEvidence:
    """All evidence of a case, with its weight."""

    def __init__(
        self,
        evidence: Sequence[Evidence],
        categorical: Sequence[CategoricalEvidence],
        trust: SourceTrust,
        densities: Densities,
    ) -> None:
        self.densities = densities
        self.evidence, self.categorical, self.trust = evidence, categorical, trust.weight
        # Parts of a sweep show other cylinders from the same sides: what counts is the sides, not the parts.
        self.views = Counter(source for source, _ in {(line.source, line.line) for line in evidence})
        self.sources = tuple(dict.fromkeys([*(e.source for e in evidence), *(s.source for s in categorical)]))
        self.odds_met = np.array([trust.odds_met.get(source, 1.0) for source in self.sources])

    def by(self, candidates: tuple[Hypothesis, ...], engine: Engine) -> FloatArray:
        """(sources, candidates) float: weighed log likelihood of each source under each hypothesis."""
        reported = np.zeros((len(self.sources), len(candidates) + 1))  # the last is a sound engine
        watched = np.zeros_like(reported)
        at = {source: i for i, source in enumerate(self.sources)}
        claimed = tuple((h.fault, h.placed) for h in candidates)
        conditions = conditions_of(claimed, engine.firing_order, opposite_of(engine))
        for line in self.evidence:
            views = self.views[line.source] ** (self.densities.views_count_as - 1)
            weight = self.densities.temper * views * self.trust.get(line.source, 1.0)
            reported[at[line.source]] += weight * of_line(line, conditions, self.densities)
        alike = Counter((s.source, s.kind, s.outcome) for s in self.categorical if s.kind in SHARED_ERROR)
        for observed in self.categorical:
            together = self.densities.temper if observed.source.startswith(CAPTURED) else 1.0
            weight = together * self.trust.get(observed.source, 1.0)
            weight /= alike.get((observed.source, observed.kind, observed.outcome), 1) ** SHARED
            table = watched if watches(observed.kind) else reported
            table[at[observed.source]] += weight * of_categorical(observed, conditions, engine, self.densities)
        intermittent = np.array([h.mode is Mode.INTERMITTENT for h in candidates])
        if intermittent.any() and self.sources:
            shown = reported[:, :-1][:, intermittent]
            reported[:, :-1][:, intermittent] = now_and_then(shown, reported[:, -1], self.odds_met)
        return reported[:, :-1] + watched[:, :-1]


def _two_unrelated(
    known: tuple[Hypothesis, ...], scores: FloatArray, log_likelihoods: FloatArray
) -> tuple[Hypothesis, ...]:
    """Pairs worth weighing, where the best single fault leaves something unexplained."""
    best = int(scores.argmax())
    misfit = (
        log_likelihoods.max(axis=1, initial=-np.inf) - log_likelihoods[:, best] if log_likelihoods.size else np.zeros(0)
    )
    doubted = [int(i) for i in np.argsort(-misfit)[:DOUBTED_SOURCES] if misfit[i] > DOUBTED]
    if misfit[misfit > DOUBTED].sum() < UNEXPLAINED:
        return ()
    single = np.array([bool(h.placed) and not h.also for h in known])
    wanted: dict[int, None] = {}
    for reported in (scores, *(log_likelihoods[i] + 0.5 * scores / max(len(log_likelihoods), 1) for i in doubted)):
        ranked = np.argsort(-np.where(single, reported, -np.inf))[:PAIRED]
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
