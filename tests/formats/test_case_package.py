import io
import json
import zipfile
from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from fairwitness.core.errors import EngineError, FairWitnessError, PackageError
from fairwitness.core.model.capture import Capture, UnreadableCapture
from fairwitness.core.model.case import Case, Observation, TroubleCode
from fairwitness.core.model.phase import PartState, Phase, PhaseKind
from fairwitness.core.model.work import WorkDone
from fairwitness.formats.case_package import read_package
from fairwitness.formats.case_package_writing import write_package
from tests.conftest import cranking
from tests.formats.packages import ENGINE, TABLE, descriptor, package, resource


def read(described, files=None):
    return read_package("bus.zip", keep_bytes=package(described, files))


def only(case):
    (capture,) = case.captures
    return capture


def test_a_whole_case_is_read():
    case = read(
        descriptor(
            resource(),
            complaint="=SHAKE()",
            work_done=["plugs"],
            dtcs=[{"code": "P0303"}],
            observations=[{"test": "vacuum", "kpa_below_atmosphere": 60}],
            shop_note="kept",
        )
    )
    assert case.complaint == "=SHAKE()"
    assert case.codes == (TroubleCode("P0303", "stored"),)
    assert case.observations[0].data["kpa_below_atmosphere"] == 60
    assert case.extra == {"shop_note": "kept"}
    capture = only(case)
    assert isinstance(capture, Capture)
    assert capture.time.rate_hz == pytest.approx(100.0)
    assert [c.sync for c in capture.channels] == [False, True]


def test_a_folder_is_read_like_a_zip(tmp_path):
    (tmp_path / "captures").mkdir()
    (tmp_path / "datapackage.json").write_text(json.dumps(descriptor(resource())))
    (tmp_path / "captures" / "cranking.csv").write_text(TABLE)
    assert isinstance(only(read_package(tmp_path)), Capture)


@pytest.mark.parametrize(
    ("data", "says"),
    [
        (b"not a zip", "not a ZIP file"),
        (package(descriptor(resource()))[:-40], "not a ZIP file"),
        (package(None), "no datapackage.json"),
        (package("{"), "not JSON at line 1"),
        (package(b"\xff\xfe{}"), "not UTF-8"),
        (package("[]"), "not a JSON object"),
        (package('{"a":' * 5000 + "1" + "}" * 5000), "nested too deeply"),
        (package({"a": 1}), "no fair_witness block"),
        (package(descriptor(version=3)), "Version 3 cannot be read"),
        (package(descriptor(resource(path="../../etc/passwd"))), "leads out of the package"),
        (package(descriptor(resource(path="/etc/passwd"))), "leads out of the package"),
        (package(descriptor(resource(path="C:\\x.csv"))), "leads out of the package"),
        (package(descriptor(observations=["x"])), "names its test"),
        (package(descriptor(observations={"a": 1})), "list was expected"),
    ],
)
def test_what_cannot_be_a_package_is_refused_whole(data, says):
    with pytest.raises(PackageError, match=says):
        read_package("bus.zip", keep_bytes=data)


@pytest.mark.parametrize(
    ("engine", "says"),
    [
        (None, "not described"),
        ({k: v for k, v in ENGINE.items() if k != "fuel"}, "does not state its fuel"),
        (ENGINE | {"firing_order": [1, 3, 4, 4]}, "more than once"),
        (ENGINE | {"cylinders": 17, "firing_order": list(range(1, 18))}, "17 cylinders"),
        (ENGINE | {"fuel": "coal"}, "'coal' is not known"),
        (ENGINE | {"firing_intervals_deg": [100, 100, 100, 100]}, "sum to 400"),
    ],
)
def test_an_engine_that_cannot_be_is_refused_whole(engine, says):
    with pytest.raises(EngineError, match=says):
        read(descriptor(resource(), engine=engine))


def with_field(**changes):
    described = resource()
    described["schema"]["fields"][2] |= changes
    return described


@pytest.mark.parametrize(
    ("described", "files", "says"),
    [
        (resource(), {}, "missing from the package"),
        (resource(), {"captures/cranking.csv": ""}, "empty"),
        (resource(), {"captures/cranking.csv": "time,a,b\n"}, "no rows"),
        (resource(), {"captures/cranking.csv": "time,a,b\n0,1,1\n0.1,x,1\n"}, "Line 3, column a"),
        (resource(), {"captures/cranking.csv": "time,a,b\n0,1,1\n0.1,1\n"}, "Line 3 has 2 cells"),
        (resource(), {"captures/cranking.csv": b"\x00\x01\x02\x03"}, "not a text table|Column 'time'"),
        (resource(), {"captures/cranking.csv": "time,a,b\n0,1,1\n"}, "One sample"),
        (resource(), {"captures/cranking.csv": "time,a,b\n0,nan,nan\n1,nan,nan\n"}, "not one number"),
        (resource(), {"captures/cranking.csv": "time,a,b\n0,1,1\n2,1,1\n1,1,1\n"}, "does not rise"),
        (with_field(cylinder=9), None, "cylinder 9"),
        (with_field(unit="parsec"), None, "'parsec'"),
        (resource(schema={"fields": [{"name": "a", "role": "horoscope", "unit": "A"}]}), None, "neither a time column"),
        (
            resource(
                schema={"fields": [{"name": "a", "role": "starter_current", "unit": "A"}]},
                fair_witness={"sample_rate_hz": -5},
            ),
            None,
            "sample rate of -5",
        ),
        (resource(schema={}), None, "names no fields"),
    ],
)
def test_a_broken_capture_is_kept_as_unreadable_and_the_rest_is_read(described, files, says):
    case = read(descriptor(described, complaint="still here"), files)
    capture = only(case)
    assert isinstance(capture, UnreadableCapture)
    assert case.complaint == "still here"
    import re

    assert re.search(says, capture.reason)


def test_a_few_missing_or_infinite_samples_are_gaps():
    rows = TABLE.replace("0.05,105,0", "0.05,,0").replace("0.06,106,0", "0.06,inf,0")
    capture = only(read(descriptor(resource()), {"captures/cranking.csv": rows}))
    assert isinstance(capture, Capture)
    assert np.isnan(capture.channels[0].samples[5])


def test_a_zip_bomb_is_refused_unread():
    with pytest.raises(PackageError, match="unpacks to"):
        read(descriptor(resource()), {"captures/cranking.csv": b"0" * 60_000_000})


def test_captures_too_large_together_are_refused(monkeypatch):
    monkeypatch.setattr("fairwitness.formats.case_package.SAMPLES_MAX", 300)
    with pytest.raises(PackageError, match="million samples together"):
        read(descriptor(resource()))


def test_a_damaged_member_is_refused():
    data = bytearray(package(descriptor(resource())))
    at = data.find(b"captures/cranking.csv") + 60
    data[at : at + 40] = b"\x00" * 40
    with pytest.raises(PackageError, match="damaged"):
        read_package("bus.zip", keep_bytes=bytes(data))


def test_what_is_written_reads_back_the_same(four):
    capture = cranking(four, {3: 0.1}, missing_share=0.01)
    case = Case(
        name="bus-3",
        title="Bus 3",
        engine=four,
        complaint="Shakes.",
        signs=("damp",),
        work_done=(
            WorkDone(words="plugs"),
            WorkDone(part="coil", cylinders=(3,), fitted=PartState.USED, by="a neighbour", helped=False),
        ),
        phases=(Phase(number=1, kind=PhaseKind.CHANGED_OVER, part="coil", cylinders=(1, 3), words="=1+1"),),
        codes=(TroubleCode("P0303"),),
        observations=(Observation(test="vacuum", data={"test": "vacuum", "kpa_below_atmosphere": 60}),),
        captures=(capture,),
        extra={"vehicle": "Bus"},
    )
    written = write_package(case)
    again = read_package("bus.zip", keep_bytes=written)
    assert write_package(again) == written
    back = only(again)
    assert isinstance(back, Capture)
    assert (back.set_up, back.time.rate_hz) == (capture.set_up, capture.time.rate_hz)
    for was, now in zip(capture.channels, back.channels, strict=True):
        np.testing.assert_array_equal(was.samples, now.samples)
        assert (was.role, was.unit, was.cylinder, was.sync) == (now.role, now.unit, now.cylinder, now.sync)
    assert (again.engine, again.codes, again.work_done, again.extra) == (four, case.codes, case.work_done, case.extra)
    assert (again.signs, again.phases) == (case.signs, case.phases)


JSON = st.recursive(
    st.none() | st.booleans() | st.integers(-3, 20) | st.floats(allow_nan=False) | st.text(max_size=6),
    lambda inner: (
        st.lists(inner, max_size=3) | st.dictionaries(st.sampled_from([*ENGINE, "name", "path"]), inner, max_size=4)
    ),
    max_leaves=8,
)


@settings(max_examples=200, deadline=None)
@given(
    st.sampled_from(
        ["engine", "observations", "dtcs", "work_done", "signs", "phases", "resources", "schema", "set_up"]
    ),
    JSON,
)
def test_any_value_anywhere_is_read_or_refused_in_words(place, value):
    described = descriptor(resource())
    if place == "resources":
        described["resources"] = value
    elif place in ("schema", "set_up"):
        described["resources"][0]["schema" if place == "schema" else "fair_witness"] = value
    else:
        described["fair_witness"][place] = value
    try:
        read(described)
    except FairWitnessError as error:
        assert error.sentence


@settings(max_examples=60, deadline=None)
@given(st.data())
def test_a_zip_with_flipped_bytes_is_read_or_refused_in_words(data):
    broken = bytearray(package(descriptor(resource())))
    for _ in range(data.draw(st.integers(1, 5))):
        broken[data.draw(st.integers(0, len(broken) - 1))] = data.draw(st.integers(0, 255))
    try:
        read_package("bus.zip", keep_bytes=bytes(broken))
    except FairWitnessError as error:
        assert error.sentence


@pytest.mark.parametrize("start", ["=HYPERLINK(A1)", "+1", "-1", "@SUM(A1)"])
def test_no_name_of_a_channel_is_a_formula_of_a_spreadsheet_and_none_is_lost(four, start):
    capture = cranking(four)
    named = replace(capture, channels=tuple(replace(c, name=f"{start} {i}") for i, c in enumerate(capture.channels)))
    written = write_package(Case(name="bus-3", engine=four, captures=(named,)))
    with zipfile.ZipFile(io.BytesIO(written)) as opened:
        table = next(name for name in opened.namelist() if name.endswith(".csv"))
        header = opened.read(table).split(b"\n", 1)[0]
    assert all(cell[:1].isalpha() for cell in header.decode().split(","))
    again = read_package("bus.zip", keep_bytes=written).captures[0]
    assert [c.name for c in again.channels] == [c.name for c in named.channels]


def test_the_zip_opens_with_any_tool(four):
    archive = zipfile.ZipFile(io.BytesIO(write_package(Case(name="x", engine=four, captures=(cranking(four),)))))
    assert sorted(archive.namelist()) == ["SHA256SUMS", "captures/cranking.csv", "datapackage.json"]


@pytest.mark.parametrize(
    ("table", "way"),
    [
        (TABLE.replace(",", ";").replace(".", ","), "semicolon between cells, decimal comma"),
        ("Logger 7\n\n" + TABLE, "and 3 lines above"),
    ],
)
def test_a_table_as_instruments_write_it_is_told_how_to_come_in(table, way):
    capture = only(read(descriptor(resource()), {"captures/cranking.csv": table}))
    assert way in capture.reason
    assert capture.reason.endswith("Import that file by itself.")


def test_what_a_channel_came_through_stays_with_it():
    field = {"name": "a", "type": "number", "unit": "A", "role": "starter_current"}
    lead = {"kind": "clamp", "unit": "A", "per_volt": 1000.0}
    schema = {"fields": [{"name": "time", "unit": "s", "role": "time"}, field | {"lead": lead}]}
    capture = only(read(descriptor(resource(schema=schema))))
    assert capture.channels[0].lead.per_volt == 1000.0
    assert capture.channels[0].unit == "A"
    plain = only(read(descriptor(resource(schema={"fields": [schema["fields"][0], field | {"lead": "a clamp"}]}))))
    assert plain.channels[0].lead is None
    assert plain.sha256 != capture.sha256
