"""Of powers that serve alike the most cautious is taken; one that serves clearly better is."""

import numpy as np
import pytest

from fairwitness.core.reason.inference.hypotheses import Placed
from fairwitness.core.reason.knowledge.densities import SHIPPED
from fairwitness.simulate.garage import ENGINES
from fairwitness.simulate.worlds.choices import KNOWN_WORLD
from fairwitness.study.fitting import dependence
from fairwitness.study.fitting.readings import KnownVehicle
from tests.core.reason.evidence import line

RNG = np.random.default_rng(3)
USUAL = RNG.normal(-3.0, 1.0, 400)


@pytest.mark.parametrize(
    ("gain", "wobble", "taken"),
    [(0.5, 0.1, 0.8), (0.001, 0.5, 0.4), (0.005, 0.0, 0.8), (-0.5, 0.1, 0.4)],
)
def test_a_higher_power_is_taken_where_it_gains_more_than_chance(gain, wobble, taken):
    scores = {0.8: USUAL + gain + RNG.normal(0, wobble, USUAL.size), 0.4: USUAL}
    power, score = dependence._best(scores)
    assert power == taken
    assert score == scores[taken].mean()


def test_of_equal_ones_the_lowest():
    assert dependence._best({1.0: USUAL, 0.3: USUAL, 0.6: USUAL})[0] == 0.3


def leaking(cylinder, share):
    """A vehicle whose third cylinder leaks, and whose capture accuses one."""
    engine = ENGINES["drover-2.0"]
    fault = Placed("ring_or_piston_leak", (3,))
    read = line(engine, {cylinder: share})
    return KnownVehicle(
        seed=1, world=KNOWN_WORLD, engine="drover-2.0", fault=fault, everywhere=False, lines=(read,), outcomes=()
    )


def test_the_score_is_the_chance_of_what_is_wrong():
    right, wrong = leaking(3, 0.4), leaking(2, 0.4)
    assert dependence.chance_of_truth(SHIPPED, right) > 0.1 > dependence.chance_of_truth(SHIPPED, wrong)
    scores = dependence.log_scores(SHIPPED, [right, wrong])
    assert scores.tolist() == pytest.approx(
        [np.log(dependence.chance_of_truth(SHIPPED, v)) for v in (right, wrong)], abs=1e-9
    )


def test_evidence_that_is_right_asks_for_more_weight_than_evidence_that_misleads():
    sure = dependence.best_powers(SHIPPED, [leaking(3, 0.4)] * 30)
    misled = dependence.best_powers(SHIPPED, [leaking(2, 0.4)] * 30)
    assert sure.temper > misled.temper
    assert sure.score > misled.score
