"""Estimated densities against the ones that made the readings, and against an uninformed reference.

Readings are drawn from mixtures that are written down here; a general library fits the same readings: scikit-learn,
``GaussianMixture`` (Pedregosa et al., JMLR 12, 2011). Kullback-Leibler divergence: Cover and Thomas, Elements of
Information Theory, ch. 2. Log score, leaving one out: Gneiting and Raftery, JASA 102 (2007).
"""

import numpy as np
import pytest
from scipy.stats import norm

from fairwitness.core.reason.knowledge.densities import read
from fairwitness.core.reason.knowledge.fault_spec import FaultMode
from fairwitness.core.reason.knowledge.outcomes import SOUND
from fairwitness.study.fitting.estimate import fit_column
from fairwitness.study.fitting.labels import Reading
from fairwitness.study.fitting.writing import _cells, _forms

GENERATING = {
    SOUND: [(0.96, 1.0, 0.01), (0.04, 1.0, 0.2)],
    "ring_or_piston_leak": [(0.5, 0.72, 0.1), (0.5, 0.2, 0.12)],
    "injector_leaking": [(0.6, 1.0, 0.01), (0.4, 0.91, 0.04)],
}
"""Weight, centre and width of each part of what three rows of relative compression show in a made-up world."""
SIGMA = 0.02
GRID = np.linspace(-0.5, 2.0, 5001)


def density(row, at):
    return sum(w * norm.pdf(at, c, np.hypot(s, SIGMA)) for w, c, s in GENERATING[row])


def drawn(row, count, seed):
    rng = np.random.default_rng(seed)
    weights, centres, widths = np.array(GENERATING[row]).T
    part = rng.choice(len(weights), size=count, p=weights)
    return rng.normal(centres[part], np.hypot(widths[part], SIGMA))


def as_read(fit):
    return read("\n".join([*_forms({"RC": fit}), *_cells({"RC": fit})]))


def estimated(count, seed=3):
    readings = [Reading("RC", row, float(x), SIGMA) for row in GENERATING for x in drawn(row, count, seed)]
    return as_read(fit_column("RC", readings, at_most=np.inf))


def log_of(densities, row, shares):
    cell = (("=", 1.0),) if row == SOUND else densities.weighed((FaultMode(row),), "RC")
    return densities.log_density(shares, np.full(shares.size, SIGMA), cell, "RC")


def divergence(densities, row):
    """Nats lost by believing the estimate instead of what made the readings."""
    true = density(row, GRID)
    return float(np.sum(true * (np.log(np.maximum(true, 1e-300)) - log_of(densities, row, GRID))) * (GRID[1] - GRID[0]))


@pytest.mark.parametrize("row", sorted(GENERATING))
def test_the_estimate_comes_near_what_made_the_readings(row):
    few, many = divergence(estimated(30), row), divergence(estimated(3000), row)
    assert many < 0.05
    assert many <= few + 0.005


@pytest.mark.parametrize("row", sorted(GENERATING))
def test_no_worse_than_a_general_mixture_of_the_same_readings(row):
    mixture = pytest.importorskip("sklearn.mixture")
    shares = drawn(row, 3000, 3)
    general = mixture.GaussianMixture(2, random_state=1).fit(shares[:, None])
    fresh = drawn(row, 4000, 11)
    ours = log_of(estimated(3000), row, fresh).mean()
    assert ours > general.score(fresh[:, None]) - 0.03


@pytest.mark.parametrize("row", sorted(GENERATING))
def test_leaving_one_out_each_reading_is_foretold_better_than_by_an_uninformed_reference(row):
    shares = drawn(row, 12, 5)
    others = {r: drawn(r, 12, 6) for r in GENERATING if r != row}
    scores = []
    for i, share in enumerate(shares):
        kept = {row: np.delete(shares, i), **others}
        readings = [Reading("RC", r, float(x), SIGMA) for r, values in kept.items() for x in values]
        densities = as_read(fit_column("RC", readings))
        scores.append(log_of(densities, row, np.array([share]))[0])
    assert np.mean(scores) > np.log(1 / 2.0) + 0.3  # any share from 0 to 2 as likely as any other
