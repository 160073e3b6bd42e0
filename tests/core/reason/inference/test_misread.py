"""A capture that was misread loses its voice to the others; none speaks without bound."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from fairwitness.core.model.engine import even_engine
from fairwitness.core.model.measurement import CategoricalEvidence
from fairwitness.core.reason.inference.hypotheses import hypotheses
from fairwitness.core.reason.inference.misread import USUALLY, chance_misread, either_way, misread_shows
from fairwitness.core.reason.inference.posterior import infer
from fairwitness.core.reason.planning.approach import USUAL
from tests.core.reason.evidence import case, line, measured

FOUR = even_engine((1, 3, 4, 2))
PLACES = 10  # one or two of four


def from_captures(*lines):
    return infer(hypotheses(case(FOUR)), lines, FOUR)


@given(st.lists(st.floats(-900, 50), min_size=2, max_size=8))
def test_no_source_speaks_beyond_its_bound(nats):
    understood = np.array([nats])
    best = misread_shows(understood, 4)
    heard = either_way(understood, np.array([USUALLY]), best)
    assert np.ptp(heard) <= np.log(PLACES / USUALLY) + 1e-9
    assert (np.diff(heard[0][np.argsort(understood[0], kind="stable")]) >= -1e-9).all()  # what speaks for more stays so


@given(st.lists(st.floats(-40, 0), min_size=3, max_size=3), st.floats(0.001, 0.3))
def test_the_chance_of_misreading_is_what_bayes_says(nats, often):
    understood, prior = np.array([nats]), np.array([0.5, 0.3, 0.2])
    best = misread_shows(understood, 4)
    heard = either_way(understood, np.array([often]), best)
    posterior = prior * np.exp(heard[0])
    posterior /= posterior.sum()
    wrong = often * np.exp(best[0])
    direct = wrong / (wrong + (1 - often) * float(prior @ np.exp(understood[0])))
    assert chance_misread(heard, np.array([often]), best, posterior)[0] == pytest.approx(direct, rel=1e-6)


def test_one_capture_against_two_is_the_misread_one():
    named = [line(FOUR, {at: 0.05}, source=f"capture:{n}") for n, at in enumerate((3, 3, 2))]
    found = from_captures(*named)
    doubt = dict(zip(found.sources, found.misread, strict=True))
    assert doubt["capture:2"] > 0.5
    assert doubt["capture:0"] < 0.1
    assert found.hypotheses[0].cylinders == (3,)


def test_what_fits_is_hardly_ever_misread():
    found = from_captures(line(FOUR, {3: 0.05}))
    assert found.misread is not None
    assert found.misread[0] < 0.1


def test_a_reading_by_hand_never_carries_a_hundred_to_one():
    seen = CategoricalEvidence(kind="swap:injector", outcome="moved", cylinders=(3,), source="observation:0")
    found = infer(hypotheses(case(FOUR)), (), FOUR, (seen,))
    assert np.ptp(found.log_likelihoods) < np.log(100.0)


def test_counts_of_the_control_unit_are_believed_less():
    counts = measured(FOUR, {3: 0.1})
    assert USUAL.misread([counts]) == {}
    reported = type(counts)(**{name: getattr(counts, name) for name in counts.__slots__} | {"test": "misfire_counts"})
    assert set(USUAL.misread([reported]).values()) == {0.05}
