import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from fairwitness.core.errors import CaptureError, TableError
from fairwitness.core.model.capture import Role, SetUp
from fairwitness.formats.columns import ColumnUse
from fairwitness.formats.csv_capture import WHOLE_BYTES, look_at, read_capture

SINE = 120 + 50 * np.sin(np.arange(400) / 7)


def table(delimiter, decimal, *, head, scale=1.0, clock=True):
    def cell(value):
        return f"{value:.4f}".replace(".", decimal)

    rows = [
        delimiter.join(([cell(i * 0.002 * scale)] if clock else []) + [cell(v), cell(5.0 if i % 100 < 4 else 0.1)])
        for i, v in enumerate(SINE)
    ]
    return ("\n".join([*head, *rows]) + "\n").encode()


@pytest.mark.parametrize(
    ("data", "units", "decimal"),
    [
        (table(",", ".", head=["time,clamp,sync 1"]), ["s", "A", "V"], "."),
        (table(";", ",", head=["Time;Clamp;Sync 1", "(ms);(A);(V)"], scale=1000), ["ms", "A", "V"], ","),
        (table("\t", ",", head=["Time [s]\tClamp [A]\tCoil 3 [V]"]), ["s", "A", "V"], ","),
        (table(";", ".", head=["Logger 12", "", "Date: 3.4", "t;clamp (A);sync (V)"]), ["s", "A", "V"], "."),
        (table("\t", ".", head=["time (us)\tcurrent (mA)\ttrigger (V)"], scale=1e6), ["us", "mA", "V"], "."),
    ],
)
def test_dialects_are_found(data, units, decimal):
    guess = look_at(data)
    assert [c.unit for c in guess.columns] == units
    assert guess.dialect.decimal == decimal
    assert [c.role for c in guess.columns] == [Role.TIME, Role.STARTER_CURRENT, Role.COIL_CONTROL]
    assert not guess.needs_rate
    uses = [ColumnUse(column=c.name, role=c.role, unit=c.unit, cylinder=c.cylinder, sync=c.sync) for c in guess.columns]
    capture = read_capture(data, uses, name="x", set_up=SetUp())
    assert capture.time.rate_hz == pytest.approx(500.0)
    np.testing.assert_allclose(capture.channels[0].samples, SINE, atol=1e-3)


def test_a_sync_names_its_cylinder():
    sync = look_at(table("\t", ",", head=["Time [s]\tClamp [A]\tCoil 3 [V]"])).columns[2]
    assert (sync.sync, sync.cylinder) == (True, 3)


def test_a_table_without_time_asks_for_the_rate():
    data = table(",", ".", head=["clamp,sync"], clock=False)
    guess = look_at(data)
    assert guess.needs_rate
    uses = [ColumnUse(column="clamp", role=Role.STARTER_CURRENT, unit="A")]
    with pytest.raises(TableError, match="Name the sample rate"):
        read_capture(data, uses, name="x", set_up=SetUp())
    assert read_capture(data, uses, name="x", set_up=SetUp(), sample_rate_hz=500.0).time.rate_hz == 500.0


def rested_then_cranked(rows, *, cranks_from=0.5, spike_at=None):
    """A clamp that only rustles at first, as a file of no named columns."""
    rng = np.random.default_rng(4)
    amperes = rng.normal(0.0, 0.4, rows)
    first = int(cranks_from * rows)
    amperes[first:] += 140.0 + 40.0 * np.cos(np.arange(rows - first) / 40.0)
    if spike_at is not None:
        amperes[spike_at] = 900.0
    lines = (f"{i / 10_000:.4f},{a:.2f}" for i, a in enumerate(amperes))
    return ("\n".join(["time,channel A", *lines]) + "\n").encode()


@pytest.mark.parametrize("rows", [20_000, 400_000])
def test_what_only_comes_late_is_in_the_picture_and_tells_what_the_column_is(rows):
    data = rested_then_cranked(rows, cranks_from=0.7)
    assert (len(data) > WHOLE_BYTES) is (rows > 100_000)
    time, clamp = look_at(data).columns
    assert time.role is Role.TIME
    assert clamp.role is Role.STARTER_CURRENT
    seen = np.array(clamp.preview)
    assert seen[: seen.size // 2].max() < 5.0
    assert seen[-20:].max() > 170.0
    assert seen[-20:].min() < 110.0


def test_no_extreme_is_missing_from_the_picture_of_a_table_that_is_read_whole():
    assert max(look_at(rested_then_cranked(20_000, spike_at=3_333)).columns[1].preview) == 900.0


def test_a_fault_far_down_a_long_table_is_told_by_its_line_when_it_is_kept():
    lines = rested_then_cranked(400_000).split(b"\n")
    at = 250_000
    lines[at] = b"20.0,broken"
    data = b"\n".join(lines)
    look_at(data)
    uses = [ColumnUse(column="time", role=Role.TIME, unit="s")]
    uses.append(ColumnUse(column="channel A", role=Role.STARTER_CURRENT, unit="A"))
    with pytest.raises(TableError, match=f"Line {at + 1}, column channel A: 'broken'"):
        read_capture(data, uses, name="x", set_up=SetUp())


def test_a_table_without_a_header_is_read():
    guess = look_at(table(",", ".", head=[]))
    assert [c.name for c in guess.columns] == ["column 1", "column 2", "column 3"]
    assert guess.columns[0].role is Role.TIME


def test_twin_names_are_told_apart():
    assert look_at(table(",", ".", head=["time,a,a"])).dialect.names == ("time", "a", "a 2")


def test_a_battery_is_known_by_its_level():
    rows = "\n".join(f"{i * 0.001:.3f},{12.1 - 0.3 * np.sin(i / 9):.3f}" for i in range(300))
    assert look_at(f"time,x\n{rows}\n".encode()).columns[1].role is Role.BATTERY_VOLTAGE


@pytest.mark.parametrize(
    ("data", "says"),
    [
        (b"", "empty"),
        (b"   \n\n", "empty"),
        (b"\x89PNG\x00\x01", "not a text table"),
        (b"hello world\nthis is a letter\n", "No rows of numbers"),
    ],
)
def test_what_is_no_table_is_refused(data, says):
    with pytest.raises(TableError, match=says):
        look_at(data)


@pytest.mark.parametrize(
    ("uses", "says"),
    [
        ([ColumnUse(column="nope", role=Role.STARTER_CURRENT, unit="A")], "no column 'nope'"),
        ([ColumnUse(column="time", role=Role.TIME, unit="s")], "No column was given a role"),
        ([ColumnUse(column="clamp", role=Role.STARTER_CURRENT, unit="furlong")], "unit 'furlong'"),
    ],
)
def test_a_wrong_plan_is_refused(uses, says):
    with pytest.raises(TableError, match=says):
        read_capture(table(",", ".", head=["time,clamp,sync"]), uses, name="x", set_up=SetUp())


def test_time_that_does_not_rise_is_refused_with_its_place():
    data = b"time,a\n0,1\n1,1\n1,1\n2,1\n3,1\n4,1\n5,1\n"
    uses = [ColumnUse(column="time", role=Role.TIME, unit="s"), ColumnUse(column="a", role=Role.OTHER, unit="V")]
    with pytest.raises(CaptureError, match="does not rise at sample 3"):
        read_capture(data, uses, name="x", set_up=SetUp())


@settings(max_examples=150, deadline=None)
@given(st.text(alphabet="0123456789.,;\t\n-eabc() ", max_size=300))
def test_any_text_is_understood_or_refused(text):
    try:
        guess = look_at(text.encode())
    except TableError as error:
        assert error.sentence
    else:
        assert guess.columns
