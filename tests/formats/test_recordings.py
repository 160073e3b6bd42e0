import io
import json
import tempfile
import zipfile
from dataclasses import fields
from pathlib import Path

import h5py
import numpy as np
import polars as pl
import pytest
from asammdf import MDF, Signal
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st
from scipy.io import loadmat, savemat, wavfile

from fairwitness.core.errors import CaptureError, TableError
from fairwitness.core.model.capture import Capture, Channel, Role, SetUp, TimeBase
from fairwitness.core.model.engine import even_engine
from fairwitness.formats import recording, recording_datapackage, recording_parquet
from fairwitness.formats.columns import ColumnUse
from fairwitness.formats.recording_formats import FORMATS
from fairwitness.formats.recordings import (
    EXPORTS,
    WRITERS,
    capture_as_written,
    capture_from_recording,
    cut,
    kind_of,
    look_at_recording,
    read_recording,
    write_recording,
)
from tests.conftest import cranking

FOUR = even_engine((1, 3, 4, 2))
BINARY = [kind for kind in WRITERS if kind != "csv"]


@pytest.mark.parametrize("kind", BINARY)
def test_a_round_trip_keeps_samples_bit_for_bit_and_what_they_are(kind):
    capture = cranking(FOUR, missing_share=0.002)
    again = capture_as_written(read_recording(write_recording(capture, kind), where="x"))
    assert again.sha256 == capture.sha256
    assert again.set_up == capture.set_up
    assert [(c.name, c.role, c.cylinder, c.sync) for c in again.channels] == [
        (c.name, c.role, c.cylinder, c.sync) for c in capture.channels
    ]


channels = st.builds(
    Channel,
    name=st.sampled_from(["a", "b", "time", "=x"]),
    role=st.sampled_from([r for r in Role if r not in (Role.TIME, Role.OTHER)]),
    unit=st.sampled_from(["V", "A", "kPa"]),
    samples=st.lists(st.floats(-1e6, 1e6, width=32), min_size=6, max_size=6).map(lambda v: np.array(v, np.float32)),
    cylinder=st.none() | st.integers(1, 4),
    feeds=st.lists(st.integers(1, 4), unique=True, max_size=3).map(tuple),
    sync=st.booleans(),
    measured_at=st.none() | st.sampled_from(["part", "control_unit", "fuse 12"]),
    unplugged=st.none() | st.booleans(),
)


@pytest.mark.parametrize("kind", BINARY)
@settings(max_examples=25, deadline=None)
@given(kept=st.lists(channels, min_size=1, max_size=3))
def test_every_field_of_a_channel_survives_a_round_trip(kind, kept):
    capture = Capture(name="all", time=TimeBase(samples=6, rate_hz=500.0), channels=tuple(kept))
    again = capture_as_written(read_recording(write_recording(capture, kind), where="x"))
    # Twin names are told apart in a file; every other field of the record is compared, whatever is added to it later.
    told = [f.name for f in fields(Channel) if f.name not in ("name", "samples")]
    for before, after in zip(capture.channels, again.channels, strict=True):
        assert {n: getattr(after, n) for n in told} == {n: getattr(before, n) for n in told}
        np.testing.assert_array_equal(after.samples, before.samples)
    assert again.sha256 == capture.sha256


@pytest.mark.parametrize("kind", BINARY)
def test_uneven_time_and_twin_names_survive(kind):
    stamps = np.cumsum(np.random.default_rng(1).uniform(0.5e-3, 2e-3, 400))
    channel = Channel(name="time", role=Role.OTHER, unit="1", samples=np.arange(400, dtype=np.float32))
    twin = Channel(name="time", role=Role.STARTER_CURRENT, unit="A", samples=np.ones(400, np.float32))
    time = TimeBase(samples=400, rate_hz=800.0, stamps_s=stamps)
    capture = Capture(name="odd", time=time, channels=(channel, twin))
    again = capture_as_written(read_recording(write_recording(capture, kind), where="x"))
    np.testing.assert_allclose(again.time.stamps_s, stamps)
    np.testing.assert_array_equal(again.channels[0].samples, channel.samples)


def parquet_from_elsewhere(seconds, amps):
    out = io.BytesIO()
    pl.DataFrame({"time": seconds, "starter clamp": amps, "comment": ["x"] * amps.size}).write_parquet(out)
    return out.getvalue()


def matlab_from_elsewhere(seconds, amps):
    out = io.BytesIO()
    savemat(out, {"time": seconds, "starter_clamp": amps, "who": "nobody"})
    return out.getvalue()


def matlab73_from_elsewhere(seconds, amps):
    """As MATLAB writes it: two-dimensional datasets behind a head of 512 bytes."""
    out = io.BytesIO()
    with h5py.File(out, "w", userblock_size=512) as file:
        file["time"] = seconds[None, :]
        file["starter_clamp"] = amps[None, :]
        file.create_group("#refs#")["a"] = np.arange(9000.0)
    data = bytearray(out.getvalue())
    head = b"MATLAB 7.3 MAT-file, Platform: none"
    data[: len(head)] = head
    return bytes(data)


def hdf5_from_elsewhere(seconds, amps):
    out = io.BytesIO()
    with h5py.File(out, "w") as file:
        run = file.create_group("run 1")
        run["time"] = seconds
        run["starter clamp"] = amps
        run["starter clamp"].attrs["units"] = "A"
        file["settings"] = np.arange(3)
    return out.getvalue()


def mdf_from_elsewhere(seconds, amps, version="4.11"):
    with MDF(version=version) as mdf, tempfile.TemporaryDirectory() as folder:
        mdf.append([Signal(samples=amps, timestamps=seconds, name="starter clamp", unit="A")])
        return Path(mdf.save(Path(folder) / "out")).read_bytes()


def wav_from_elsewhere(seconds, amps):
    out = io.BytesIO()
    wavfile.write(out, round(1 / float(np.median(np.diff(seconds)))), amps)
    return out.getvalue()


def datapackage_from_elsewhere(seconds, amps):
    out = io.BytesIO()
    fields = [{"name": "time", "type": "number"}, {"name": "starter clamp", "type": "number", "unit": "A"}]
    fields.append({"name": "who", "type": "string"})
    table = {"name": "bench", "path": "data/bench.csv", "dialect": {"delimiter": ";"}, "schema": {"fields": fields}}
    with zipfile.ZipFile(out, "w") as archive:
        archive.writestr("datapackage.json", json.dumps({"name": "x", "resources": [{"path": "readme.md"}, table]}))
        frame = pl.DataFrame({"time": seconds, "starter clamp": amps, "who": ["nobody"] * amps.size})
        archive.writestr("data/bench.csv", frame.write_csv(separator=";"))
    return out.getvalue()


ELSEWHERE = {
    "datapackage": datapackage_from_elsewhere,
    "parquet": parquet_from_elsewhere,
    "matlab": matlab_from_elsewhere,
    "matlab73": matlab73_from_elsewhere,
    "hdf5": hdf5_from_elsewhere,
    "mdf": mdf_from_elsewhere,
    "wav": wav_from_elsewhere,
}


def test_every_format_has_a_file_from_elsewhere():
    assert set(ELSEWHERE) == {f.kind for f in FORMATS}


@pytest.mark.parametrize("kind", list(ELSEWHERE))
def test_files_of_the_general_libraries_are_read_and_guessed_at(kind):
    seconds = np.arange(2000) / 1000.0
    amps = (100 + 80 * np.sin(20 * seconds)).astype(np.float32)
    data = ELSEWHERE[kind](seconds, amps)
    assert kind_of(data) == kind
    recording = read_recording(data, where="x")
    columns, timed = look_at_recording(recording)
    assert timed
    times = [ColumnUse(column=c.name, role=Role.TIME, unit="s") for c in columns if c.role is Role.TIME]
    signal = next(c for c in columns if c.role is not Role.TIME)
    if signal.name.endswith("clamp"):
        assert signal.role is Role.STARTER_CURRENT
    uses = [*times, ColumnUse(column=signal.name, role=Role.STARTER_CURRENT, unit="A")]
    capture = capture_from_recording(recording, uses, name="x", set_up=SetUp())
    np.testing.assert_array_equal(capture.channels[0].samples, amps)
    assert capture.time.rate_hz == pytest.approx(1000.0)
    with pytest.raises(CaptureError, match="does not say"):
        capture_as_written(recording)


def test_an_older_mdf_is_read_too():
    seconds = np.arange(500) / 250.0
    data = mdf_from_elsewhere(seconds, np.sin(seconds), version="3.30")
    recording = read_recording(data, where="x")
    np.testing.assert_allclose(recording.columns["starter clamp"], np.sin(seconds))
    np.testing.assert_allclose(recording.columns["time"], seconds)


@pytest.mark.parametrize(
    ("samples", "shares"),
    [
        (np.array([-32768, 0, 16384], np.int16), [-1.0, 0.0, 0.5]),
        (np.array([0, 128, 192], np.uint8), [-1.0, 0.0, 0.5]),
        (np.array([-(2**31), 0, 2**30], np.int32), [-1.0, 0.0, 0.5]),
    ],
)
def test_whole_numbers_of_a_wav_are_shares_of_its_scale(samples, shares):
    out = io.BytesIO()
    wavfile.write(out, 8000, samples)
    recording = read_recording(out.getvalue(), where="x")
    assert recording.rate_hz == 8000.0
    np.testing.assert_allclose(recording.columns["channel 1"], shares)


def test_the_rate_of_a_hdf5_file_is_an_attribute():
    out = io.BytesIO()
    with h5py.File(out, "w") as file:
        file.attrs["sample_rate"] = 4000
        file["scope"] = np.arange(60.0).reshape(30, 2)
    recording = read_recording(out.getvalue(), where="x")
    assert recording.rate_hz == 4000.0
    assert recording.names == ["scope 1", "scope 2"]
    np.testing.assert_array_equal(recording.columns["scope 2"], np.arange(1.0, 60.0, 2.0))


def test_files_written_here_are_read_by_the_general_libraries():
    capture = cranking(FOUR)
    amps = capture.channels[0].samples
    frame = pl.read_parquet(io.BytesIO(write_recording(capture, "parquet")))
    np.testing.assert_array_equal(frame["clamp"].to_numpy(), amps)
    held = loadmat(io.BytesIO(write_recording(capture, "matlab")), squeeze_me=True)
    np.testing.assert_array_equal(held["ch1"], amps)
    with MDF(io.BytesIO(write_recording(capture, "mdf"))) as mdf:
        signal = mdf.get("clamp")
        np.testing.assert_array_equal(signal.samples, amps)
        assert signal.unit == "A"
        np.testing.assert_allclose(signal.timestamps, capture.time.at(np.arange(amps.size)))
    text = pl.read_csv(write_recording(capture, "csv"))
    assert text.columns[0] == "time (s)"
    np.testing.assert_array_equal(text["clamp (A)"].cast(pl.Float32).to_numpy(), amps)


def test_a_stretch_is_the_slice():
    capture = cranking(FOUR)
    part = cut(capture, 1.0, 2.0)
    begin = round(1.0 * capture.time.rate_hz)
    np.testing.assert_array_equal(
        part.channels[0].samples, capture.channels[0].samples[begin : begin + part.time.samples]
    )
    assert part.time.start_s == pytest.approx(1.0)
    with pytest.raises(CaptureError, match="no samples in that stretch"):
        cut(capture, 50.0, 60.0)


@pytest.mark.parametrize(
    ("data", "words"),
    [
        (b"", "none of ASAM MDF"),
        (b"\x89HDF\r\n\x1a\n" + bytes(100), "broken or cut off"),
        (b"MATLAB 7.3 MAT-file" + bytes(700), "broken or cut off"),
        (b"RIFF" + bytes(100), "broken or cut off"),
        (b"PK\x03\x04" + bytes(100), "broken or cut off"),
        (b"PAR1" + bytes(50), "broken or cut off"),
        (b"MDF     4.10    " + bytes(200), "broken or cut off"),
        (b"MATLAB 5.0 MAT-file" + bytes(200), "broken or cut off|no columns"),
    ],
)
def test_broken_files_get_a_sentence(data, words):
    with pytest.raises(TableError, match=words):
        read_recording(data, where="x")


def zipped(**files):
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w") as archive:
        for name, text in files.items():
            archive.writestr(name.replace("_", "."), text)
    return out.getvalue()


@pytest.mark.parametrize(
    ("data", "words"),
    [
        (zipped(workbook_xml="<x/>"), "no Data Package"),
        (zipped(datapackage_json="[]"), "describes nothing"),
        (zipped(datapackage_json='{"resources": []}'), "0 tables"),
        (zipped(datapackage_json='{"fair_witness": {"engine": {}}}'), "list of cases"),
        (zipped(datapackage_json='{"resources": [{"path": "../a.csv", "schema": {"fields": []}}]}'), "broken"),
    ],
)
def test_a_zip_that_is_no_recording_says_what_it_is(data, words):
    with pytest.raises(TableError, match=words):
        read_recording(data, where="x")


def test_a_package_is_read_within_bounds(monkeypatch):
    data = write_recording(cranking(FOUR), "datapackage")
    monkeypatch.setattr(recording_datapackage, "TABLE_BYTES_MAX", 1000)
    with pytest.raises(TableError, match="too much"):
        read_recording(data, where="x")


def test_each_export_says_whether_it_holds_everything():
    assert {e.kind for e in EXPORTS if e.whole} == set(BINARY)
    assert [e.kind for e in EXPORTS if not e.whole] == ["csv"]


def test_columns_of_unlike_length_are_refused():
    out = io.BytesIO()
    savemat(out, {"a": np.arange(10.0), "b": np.arange(20.0)})
    with pytest.raises(TableError, match="different lengths"):
        read_recording(out.getvalue(), where="x")


@pytest.mark.parametrize("kind", BINARY)
@settings(max_examples=60, deadline=None, suppress_health_check=[HealthCheck.function_scoped_fixture])
@given(st.data())
def test_a_damaged_file_is_read_or_refused_never_worse(kind, data):
    whole = write_recording(cut(cranking(FOUR), 1.0, 1.2), kind)
    damaged = bytearray(whole[: data.draw(st.integers(0, len(whole)))])
    for _ in range(data.draw(st.integers(0, 4))):
        if damaged:
            damaged[data.draw(st.integers(0, len(damaged) - 1))] = data.draw(st.integers(0, 255))
    try:
        recording = read_recording(bytes(damaged), where="x")
    except TableError as error:
        assert error.what
        return
    assert recording.columns


def test_a_reader_that_panics_is_a_broken_file():
    data = bytearray(write_recording(cranking(FOUR, {}, rate_hz=200.0), "parquet"))
    refused = 0
    for place in range(60, len(data) - 60, 97):  # lengths inside a page made wrong; some end in a panic of the library
        broken = bytes(data[:place]) + b"\xff\x7f" + bytes(data[place + 2 :])
        try:
            read_recording(broken, where="x")
        except TableError:
            refused += 1
    assert refused


@pytest.mark.parametrize("kind", ["mdf", "matlab", "parquet"])
def test_long_columns_lie_in_files_and_read_the_same(kind, tmp_path, monkeypatch):
    capture = cranking(FOUR, {3: 0.1})
    path = tmp_path / "long"
    path.write_bytes(write_recording(capture, kind))
    monkeypatch.setattr(recording, "IN_MEMORY_MAX", 10)
    monkeypatch.setattr(recording_parquet, "BLOCK_ROWS", 777)
    held = read_recording(path, where="long")
    assert capture_as_written(held).sha256 == capture.sha256
    if kind != "matlab":
        assert all(isinstance(c, np.memmap) for c in held.columns.values())
    monkeypatch.setattr(recording, "SAMPLES_MAX", 10)
    with pytest.raises(TableError, match="too large"):
        read_recording(path, where="long")
