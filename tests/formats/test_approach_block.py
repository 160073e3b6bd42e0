"""Settings of a case as plain data."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from fairwitness.core.errors import ObservationError
from fairwitness.core.reason.planning.approach import USUAL, Approach, ByHand, Proof, Repair, ScanData, School, Tool
from fairwitness.formats.approach_block import approach_block, read_approach


@given(
    st.sampled_from(School), st.sampled_from(ScanData), st.sampled_from(ByHand), st.sampled_from(Proof),
    st.sampled_from(Repair), st.frozensets(st.sampled_from(Tool)),
)  # fmt: skip
def test_what_is_written_is_read_again(order, scan_data, by_hand, proof, repair, tools):
    given_one = Approach(order=order, scan_data=scan_data, by_hand=by_hand, proof=proof, repair=repair, tools=tools)
    assert read_approach(approach_block(given_one)) == given_one


def test_what_is_left_out_is_as_usual():
    assert read_approach({}) == USUAL


@pytest.mark.parametrize("block", [{"order": "x"}, {"tools": ["x"]}, {"tools": 3}, {"proof": None}])
def test_what_does_not_exist_is_refused(block):
    with pytest.raises(ObservationError):
        read_approach(block)
