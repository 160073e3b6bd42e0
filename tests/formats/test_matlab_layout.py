"""The walk through a MATLAB file agrees with the general library, and stops what would end the process."""

import io

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy.io import savemat, whosmat

from fairwitness.core.errors import TableError
from fairwitness.formats.matlab_layout import plain_variables

HELD = {
    "a": np.arange(5.0),
    "a_rather_long_name": np.arange(12, dtype=np.int16).reshape(3, 4),
    "words": "hällo",
    "single": np.arange(7, dtype=np.float32),
    "flags": np.array([True, False]),
    "record": {"x": 1},
    "complex": np.array([1 + 2j]),
}


def written(compressed=False):
    out = io.BytesIO()
    savemat(out, HELD, do_compression=compressed)
    return out.getvalue()


@pytest.mark.parametrize("compressed", [False, True])
def test_plain_arrays_are_those_the_library_lists(compressed):
    listed = {name for name, _, kind in whosmat(io.BytesIO(written(compressed))) if kind != "struct"}
    assert set(plain_variables(written(compressed))) == listed - {"complex"}


def test_a_class_of_another_kind_over_numbers_is_stopped():
    data = bytearray(written())
    at = data.index(b"\x06\x00\x00\x00\x08\x00\x00\x00") + 8
    assert data[at] == 6  # an array of doubles
    data[at] = 1  # said to be an array of arrays: the library would walk off the end
    assert "a" not in plain_variables(bytes(data))


@given(st.integers(0, 5000), st.binary(min_size=1, max_size=4))
def test_damage_is_refused_or_leaves_names(place, noise):
    data = bytearray(written())
    place %= len(data)
    data[place : place + len(noise)] = noise
    try:
        names = plain_variables(bytes(data))
    except TableError:
        return
    assert len(set(names)) == len(names)


@pytest.mark.parametrize("data", [b"", b"MATLAB 5" * 20, written()[:300], written()[:126] + b"??" + written()[128:]])
def test_what_is_no_such_file_is_refused(data):
    with pytest.raises(TableError, match="broken"):
        plain_variables(data)
