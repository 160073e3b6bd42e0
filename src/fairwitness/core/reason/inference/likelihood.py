"""What one piece of evidence says under every hypothesis, looked up once per condition."""

from __future__ import annotations

from functools import cache, lru_cache

import numpy as np
import scipy
from numpy.typing import NDArray

from fairwitness.core.model.engine import Engine
from fairwitness.core.model.measurement import CategoricalEvidence, Evidence
from fairwitness.core.procedures.specs import OFFERS
from fairwitness.core.reason.inference.conditions import SOUND_CONDITION, UNLISTED, Condition, Conditions
from fairwitness.core.reason.knowledge.densities import SHIPPED, SOUND_CELL, Densities, WeighedCell, evenly
from fairwitness.core.reason.knowledge.fault_spec import FaultMode, Mode
from fairwitness.core.reason.knowledge.faults import OTHER
from fairwitness.core.reason.knowledge.outcomes import ANY_INTERMITTENT, SOUND, faults_of, of_all, outcomes_of
from fairwitness.core.reason.knowledge.signatures import LEFT_ALONE

FloatArray = NDArray[np.float64]

BESIDE = "beside"
BESIDE_CELL: WeighedCell = ((BESIDE, 1.0),)
ANYTHING = ("=", "-", "0", "+", "~")
SELDOM = 0.1
"""[M] a cell that leaves no mark less often than this leaves one as a rule."""
SCATTERS = ("~", "0")
"""Forms that stay visible where every cylinder is ill."""
SPREADS_ROUND = ("RC", "CON", "EX", "CK", "IN")
"""Lines in which an ill cylinder disturbs those fired beside it; coils and injectors do not hear each other."""
BESIDE_REACH = {4: 2, 5: 2, 6: 2}
"""[T] how many places on it still disturbs: with few cylinders the hole it leaves is a large part of the turn."""
LEVEL_KNOWN = ("FV", "SV", "SD", "SL", "RG")
"""Lines in which, of two halves, the one nearer to what plugs usually need was taken as sound already."""
UNTRIED, LEAST_USUAL = 1.0, 0.05
"""[M] sigma from which a cylinder was not tried, and share below which sound cylinders are no measure."""
SHOWS_INTERMITTENT = 0.35
"""[M] how often a test that is being planned is expected to meet a fault that comes and goes."""
DUTIES = (0.1, 0.3, 0.6, 0.9)
"""[M] how often a fault that comes and goes may be there, equally likely: tests that did not meet it say how seldom."""
WAITS = frozenset(o.id for o in OFFERS.values() if o.swaps)
"""A part changed over is judged once the misfire came back: it meets the fault however seldom that is."""


def of_line(line: Evidence, conditions: Conditions, densities: Densities = SHIPPED) -> FloatArray:
    """Log likelihood of a line of shares under each hypothesis.

    Open assignments are averaged over: a capture without sync says how many are low, not which.

    Parameters
    ----------
    line : Evidence
    conditions : Conditions
    densities : Densities

    Returns
    -------
    (hypotheses + 1,) float
    """
    scores = np.array([_of_shares(line, shares, conditions, densities) for shares in line.alternatives])
    peak = scores.max(axis=0)
    return np.asarray(peak + np.log(np.exp(scores - peak).mean(axis=0)))


def _of_shares(line: Evidence, shares: FloatArray, conditions: Conditions, densities: Densities) -> FloatArray:
    """Log likelihood of one assignment of shares to cylinders under each hypothesis.

    Shares were taken of what most cylinders do. Where most are ill by a hypothesis, its own sound ones are the measure.
    Of cylinders that were not tried nothing was said.
    """
    tried = line.sigmas < UNTRIED
    scores: FloatArray = _by_cylinder(line.line, shares, line.sigmas, conditions, densities)[:, tried].sum(axis=1)
    ill = conditions.at != 0
    counts = 2 * ill.sum(axis=1)
    many = (counts > shares.size) | ((counts == shares.size) & (line.line not in LEVEL_KNOWN))
    many &= ~conditions.common & ~ill.all(axis=1)
    if not many.any():
        return scores
    patterns, which = np.unique(ill[many], axis=0, return_inverse=True)
    for number, pattern in enumerate(patterns):
        sound = ~pattern & tried
        usual = float(np.median(shares[sound])) if sound.any() else 1.0
        if usual < LEAST_USUAL or abs(usual - 1.0) < float(np.median(line.sigmas)):
            continue
        rows = np.flatnonzero(many)[which.ravel() == number]
        own = Conditions(conditions.kinds, conditions.at[rows], conditions.common[rows])
        measured = np.where(tried, shares / usual, shares)
        sigmas = np.where(tried, line.sigmas / usual, line.sigmas)
        again = _by_cylinder(line.line, measured, sigmas, own, densities)[:, tried].sum(axis=1)
        scores[rows] = again - tried.sum() * np.log(usual)
    return scores


def _by_cylinder(
    column: str, shares: FloatArray, sigmas: FloatArray, conditions: Conditions, densities: Densities
) -> FloatArray:
    """(hypotheses, cylinders) float: log likelihood of each cylinder's share."""
    looked_up: dict[WeighedCell, FloatArray] = {}

    def under(weighed: WeighedCell) -> FloatArray:
        if weighed not in looked_up:
            looked_up[weighed] = densities.log_density(shares, sigmas, weighed, column)
        return looked_up[weighed]

    expected = [_expected(kind, column, densities) for kind in conditions.kinds]
    alone = np.array([under(weighed) for weighed in expected])
    in_all = np.array([under(_where_common(weighed)) for weighed in expected])
    spreads = np.array(
        [column in SPREADS_ROUND and kind not in UNLISTED and not _leaves_alone(weighed)
         for kind, weighed in zip(conditions.kinds, expected, strict=True)]
    )  # fmt: skip
    at, places = conditions.at, np.arange(shares.size)
    scores = alone[at, places]
    if spreads.any():
        disturbs = spreads[at]
        reach = BESIDE_REACH.get(shares.size, 1)
        beside = np.any([np.roll(disturbs, n, axis=1) for n in range(-reach, reach + 1) if n], axis=0) & (at == 0)
        scores = np.where(beside, under(BESIDE_CELL), scores)
    if conditions.common.any():
        scores = np.where(conditions.common[:, None], in_all[at, places], scores)
    return np.asarray(scores)


def _expected(kind: Condition, column: str, densities: Densities) -> WeighedCell:
    if kind == SOUND_CONDITION:
        return SOUND_CELL
    if kind in UNLISTED:
        return SOUND_CELL if kind == (FaultMode(OTHER),) and column == "RC" else evenly(ANYTHING)
    weighed = densities.weighed(kind, column)
    if kind[0].mode is Mode.INTERMITTENT:  # that it hides is weighed for the whole capture
        marks = tuple(form for form, _ in weighed if form != LEFT_ALONE)
        return evenly(marks) if marks else weighed
    return weighed


def _leaves_alone(weighed: WeighedCell) -> bool:
    """Whether a cell needs to leave no mark."""
    return sum(often for form, often in weighed if form == LEFT_ALONE) > SELDOM


def _where_common(expected: WeighedCell) -> WeighedCell:
    """A comparison of cylinders is even where all of them are ill alike, but for what comes and goes."""
    if expected and (_leaves_alone(expected) or not {form for form, _ in expected} & set(SCATTERS)):
        return SOUND_CELL
    return expected


def of_categorical(
    observed: CategoricalEvidence, conditions: Conditions, engine: Engine, densities: Densities = SHIPPED
) -> FloatArray:
    """Log likelihood of an outcome without a scale under each hypothesis.

    Of the cylinders it bears on the one counts whose condition changes the outcome most.

    Parameters
    ----------
    observed : CategoricalEvidence
    conditions : Conditions
    engine : Engine
    densities : Densities

    Returns
    -------
    (hypotheses + 1,) float
    """
    reported, alike = (
        np.log([_chance(observed.kind, observed.outcome, kind, densities, common=common) for kind in conditions.kinds])
        for common in (False, True)
    )
    positions = [engine.position(c) for c in observed.cylinders if c in engine.firing_order]
    at = conditions.at[:, positions or slice(None)]
    here = np.where(conditions.common[:, None], alike[at], reported[at])
    furthest = np.abs(here - reported[0]).argmax(axis=1)
    return np.asarray(here[np.arange(here.shape[0]), furthest])


@lru_cache(maxsize=65_536)
def _chance(test: str, outcome: str, kind: Condition, densities: Densities, *, common: bool) -> float:
    """Chance of an outcome at a cylinder; faults that do not touch the test leave it to those that do.

    ``common`` says that all cylinders are ill alike: what asks the whole engine may have a row for that.
    """
    usual = densities.chance(test, outcome, SOUND)
    if kind in UNLISTED:
        known = outcomes_of(test)
        return 0.5 * (usual + (1.0 / len(known) if known else 1.0))
    rows = faults_of(test)
    own = []
    for fault in kind:
        row = next((r for r in (*((of_all(fault.fault),) if common else ()), *_rows_of(fault)) if r in rows), None)
        if row is not None:
            own.append(densities.chance(test, outcome, row))
    return sum(own) / len(own) if own else usual


@cache
def _rows_of(fault: FaultMode) -> tuple[str, ...]:
    """Rows of a table of outcomes that speak of a fault, the closest first; its mark elsewhere has only its own."""
    if fault.mode is Mode.OPPOSITE:
        return (fault.row,)
    return (fault.row, *((ANY_INTERMITTENT,) if fault.mode is Mode.INTERMITTENT else ()), fault.fault)


@cache
def watches(kind: str) -> bool:
    """Whether a test's table says itself what it makes of a fault that comes and goes: it waits for it, or counts."""
    return kind in WAITS or any(name.endswith(ANY_INTERMITTENT) for name in faults_of(kind))


def now_and_then(shown: FloatArray, hidden: FloatArray, odds: FloatArray) -> FloatArray:
    """Log likelihood of each source where a fault comes and goes: each source met it or not, how often is unknown.

    Parameters
    ----------
    shown : (sources, faults) float
        With the fault there all the while.
    hidden : (sources,) float
        With nothing wrong.
    odds : (sources,) float
        How much likelier than the others each source met it: what its odds are multiplied by.

    Returns
    -------
    (sources, faults) float
        Summing, for each fault, to the likelihood of all sources averaged over how often it is there.
    """
    usual = np.array(DUTIES)[:, None, None]
    duty = usual * odds[:, None] / (1 - usual + usual * odds[:, None])
    each = np.logaddexp(np.log(duty) + shown, np.log(1 - duty) + hidden[:, None])
    total = each.sum(axis=1)
    averaged = scipy.special.logsumexp(total, axis=0) - np.log(len(DUTIES))
    share = scipy.special.softmax(total, axis=0)
    by_source = (share[:, None, :] * each).sum(axis=0)
    return np.asarray(by_source + (averaged - by_source.sum(axis=0)) / len(hidden))
