import pytest
from hypothesis import given
from hypothesis import strategies as st

from fairwitness.core.errors import InstrumentError
from fairwitness.instruments import j1979


@given(st.sampled_from("PCBU"), st.integers(0, 0x3FFF))
def test_codes_survive_their_two_bytes(system, digits):
    code = f"{system}{digits:04X}"
    assert j1979.decode_code(j1979.encode_code(code)) == code


@pytest.mark.parametrize("text", ["", "P", "X0300", "P9300", "P03", "P0300x", "P-300"])
def test_what_is_no_code_is_refused(text):
    with pytest.raises(InstrumentError):
        j1979.encode_code(text)


def test_a_list_of_codes_that_is_cut_off_is_refused():
    whole = j1979.encode_codes(j1979.STORED, ["P0303", "P0171"])
    assert j1979.decode_codes(whole) == ("P0303", "P0171")
    with pytest.raises(InstrumentError, match="cut off"):
        j1979.decode_codes(whole[:-1])


@given(st.sampled_from(sorted(j1979.PIDS)), st.floats(-200, 20_000))
def test_live_values_come_back_within_a_step(number, value):
    pid = j1979.PIDS[number]
    low, high = pid.read(0), pid.read(256**pid.size - 1)
    again = j1979.decode_value(pid, j1979.encode_value(pid, value))
    assert again == pytest.approx(min(max(value, low), high), abs=abs(pid.read(1) - pid.read(0)))


def test_supported_values_are_told_in_bit_masks():
    known = [n for first in (0, 0x20, 0x40) for n in j1979.decode_supported(first, j1979.supported(first))]
    assert set(j1979.PIDS) <= set(known)


@given(st.integers(1, 16), st.integers(0, 0xFFFF))
def test_misfire_monitors_carry_the_counts(cylinder, count):
    assert j1979.decode_misfires(j1979.encode_misfires(cylinder, count, 0)) == {cylinder: count}


def test_speeds_leave_placeholders_out():
    answer = j1979.encode_speeds({1: 229.25, 3: 240.0}, 4)
    assert j1979.decode_speeds(answer) == {1: 229.25, 3: 240.0}


@given(st.binary(max_size=60))
def test_garbage_never_breaks_a_reader(data):
    j1979.decode_misfires(data)
    j1979.decode_speeds(data)
    if len(data) >= 2:
        try:
            j1979.decode_codes(data)
        except InstrumentError:
            assert len(data) < 2 + 2 * data[1]
