"""A part beside its peers: like them, or bad out of the box."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from fairwitness.core.errors import ObservationError
from fairwitness.core.messages.rendering import render
from fairwitness.core.model.fitted_part import beside_peers, beside_words

ohms = st.floats(0.1, 1e5)


@pytest.mark.parametrize(
    ("value", "peers", "fits"),
    [
        (0.62, [0.6, 0.61, 0.63], True),
        (0.9, [0.6, 0.61, 0.63], False),
        (0.3, [0.6, 0.61, 0.63], False),
        (1e7, [14.2, 14.5], False),
        (9.0, [5.0, 8.0, 12.0], True),  # peers that spread wide allow more
    ],
)
def test_a_part_fits_where_it_is_no_further_off_than_peers_are(value, peers, fits):
    assert beside_peers(value, peers).fits is fits


@given(ohms, st.lists(ohms, min_size=2, max_size=12), st.floats(0.01, 100))
def test_the_unit_does_not_matter(value, peers, factor):
    here, there = beside_peers(value, peers), beside_peers(value * factor, [p * factor for p in peers])
    margin = abs(abs(value - here.middle) - here.allowed)
    if margin > 1e-6 * (value + here.middle):  # on the very edge rounding decides
        assert here.fits is there.fits


@given(st.lists(ohms, min_size=2, max_size=12))
def test_the_middle_peer_fits(peers):
    assert beside_peers(sorted(peers)[len(peers) // 2], peers).fits or len(peers) % 2 == 0


@pytest.mark.parametrize(("value", "peers"), [(1.0, [1.0]), (0.0, [1.0, 1.0]), (1.0, [1.0, float("nan")])])
def test_too_few_peers_or_no_number_is_refused(value, peers):
    with pytest.raises(ObservationError):
        beside_peers(value, peers)


def test_both_values_are_said():
    assert render(beside_words(beside_peers(0.9, [0.6, 0.61, 0.63]), "ohm")) == ("0.9 ohm beside 0.61 ohm of its peers")
