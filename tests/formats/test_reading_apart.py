"""Recordings read in a process of their own: the same samples, and nothing a file does reaches the caller."""

import io
import struct

import numpy as np
import polars as pl
import pytest

from fairwitness.core.errors import TableError
from fairwitness.core.model.engine import even_engine
from fairwitness.formats import reading_apart, recording
from fairwitness.formats.reading_apart import MEGABYTE, Limits, read_apart
from fairwitness.formats.recordings import WRITERS, capture_as_written, read_recording, write_recording
from tests.conftest import cranking

FOUR = even_engine((1, 3, 4, 2))
BINARY = [kind for kind in WRITERS if kind != "csv"]


@pytest.mark.parametrize("kind", BINARY)
@pytest.mark.parametrize("mapped", [False, True])
def test_it_reads_what_is_read_here(kind, mapped, tmp_path, monkeypatch):
    if mapped:
        monkeypatch.setattr(reading_apart, "IN_MEMORY_MAX", 10)
    capture = cranking(FOUR, missing_share=0.002)
    data = write_recording(capture, kind)
    path = tmp_path / "x"
    path.write_bytes(data)
    here, there = read_recording(data, where="x"), read_apart(path, where="x")
    assert there.names == here.names
    assert (there.units, there.about) == (here.units, here.about)
    for name, values in here.columns.items():
        assert np.array_equal(there.columns[name], values, equal_nan=True)
        assert isinstance(there.columns[name], np.memmap) is mapped
    assert capture_as_written(read_apart(data, where="x")).sha256 == capture.sha256


def test_a_refusal_is_the_same_in_words():
    for data in (b"nothing", b"PAR1" + bytes(40), b"MDF     4.10" + bytes(200)):
        with pytest.raises(TableError) as here:
            read_recording(data, where="run 7.mf4")
        with pytest.raises(TableError) as there:
            read_apart(data, where="run 7.mf4")
        assert there.value.sentence == here.value.sentence


def beyond_its_record(offset):
    """A MDF file one of whose channels says that it lies far outside its record."""
    data = bytearray(write_recording(cranking(FOUR), "mdf"))
    places = [i for i in range(len(data)) if data[i : i + 4] == b"##CN"]
    for at in places[1:]:
        links = struct.unpack_from("<Q", data, at + 16)[0]
        struct.pack_into("<I", data, at + 24 + 8 * links + 4, offset)
    return bytes(data)


@pytest.mark.parametrize("offset", [4_096, 1_000_000, 0x7FFF_FFF0])
def test_a_channel_beyond_its_record_ends_the_child_at_most(offset):
    try:
        read = read_apart(beyond_its_record(offset), where="x.mf4")
    except TableError as refused:
        assert refused.where
        assert refused.remedy
    else:
        assert read.columns


def test_what_takes_too_long_is_broken_off():
    capture = write_recording(cranking(FOUR), "matlab")
    with pytest.raises(TableError, match="too long"):
        read_apart(capture, where="x.mat", limits=Limits(seconds=0.02, seconds_per_megabyte=0.0))


def test_a_small_file_that_holds_much_is_read_within_its_memory():
    out = io.BytesIO()
    pl.DataFrame({"t": pl.zeros(60_000_000, dtype=pl.Int8, eager=True)}).write_parquet(out)
    assert out.tell() < 1_000_000
    read = read_apart(out.getvalue(), where="x.parquet", limits=Limits(memory=600 * MEGABYTE))
    assert read.columns["t"].shape == (60_000_000,)
    assert not np.asarray(read.columns["t"][::100_000]).any()


def test_what_leaves_too_much_behind_is_broken_off():
    with pytest.raises(TableError, match=r"room|breaks off"):
        read_apart(write_recording(cranking(FOUR), "parquet"), where="x", limits=Limits(output=10_000))


def test_nothing_is_left_behind(tmp_path, monkeypatch):
    monkeypatch.setattr(reading_apart.tempfile, "tempdir", str(tmp_path))
    read_apart(write_recording(cranking(FOUR), "matlab"), where="x")
    with pytest.raises(TableError):
        read_apart(b"MATLAB 5" + bytes(300), where="x")
    assert list(tmp_path.iterdir()) == []


def test_the_usual_limits_let_the_longest_recording_through():
    limits = Limits()
    assert limits.output >= 8 * recording.SAMPLES_MAX
    assert limits.seconds_for(2**30) > limits.seconds_for(0) >= 10
