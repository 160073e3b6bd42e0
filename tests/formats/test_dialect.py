import numpy as np
import pytest

from fairwitness.core.errors import TableError
from fairwitness.core.model.capture import Role, SetUp
from fairwitness.formats.columns import ColumnUse
from fairwitness.formats.csv_capture import WHOLE_BYTES, look_at, read_capture
from fairwitness.formats.dialect import cells_of, decoded, find_dialect, names_and_units, rate_told
from fairwitness.formats.mending import late_thousands, mended

ROWS = 60


def text(lines, ends="\n"):
    return (ends.join(lines) + ends).encode()


def numbered(delimiter=",", decimal="."):
    return [f"{i / 500:.4f}{delimiter}{100 + i:.2f}".replace(".", decimal) for i in range(ROWS)]


def read(data, **more):
    """The second column of a table, as a capture of one channel."""
    guess = look_at(data)
    uses = [ColumnUse(column=c.name, role=c.role, unit=c.unit or "V") for c in guess.columns if c.role is Role.TIME]
    last = guess.columns[-1].name
    uses.append(ColumnUse(column=last, role=Role.BATTERY_VOLTAGE, unit="V"))
    return read_capture(data, uses, name="x", set_up=SetUp(), **more)


@pytest.mark.parametrize(
    ("line", "decimal", "hertz"),
    [
        ("Sample Interval,2e-3,s", ".", 500.0),
        ("Sample interval: 0.5 ms", ".", 2000.0),
        ('"Sampling period";"20";"µs"', ".", 50_000.0),
        ("X Increment: 4.0E-6", ".", 250_000.0),
        ("# dt = 0.002 s", ".", 500.0),
        ("Abtastrate;10 kHz", ",", 10_000.0),
        ("Abtastintervall;0,1 ms", ",", 10_000.0),
        ("Sample rate: 1,000,000 S/s", ".", 1e6),
        ("fs = 48000 Hz", ".", 48_000.0),
        ("Rate: 2.5 MSa/s", ".", 2.5e6),
        ("Fréquence : 5 kHz", ",", 5_000.0),
    ],
)
def test_the_rate_is_read_beside_the_samples(line, decimal, hertz):
    assert rate_told(["Logger 3", line, "1,2"], decimal) == pytest.approx(hertz)


@pytest.mark.parametrize("line", ["", "Rate: unknown", "Sample interval: 0 s", "Operator: Rate", "Date: 30.11.2026"])
def test_no_rate_is_made_up(line):
    assert rate_told([line], ".") is None


@pytest.mark.parametrize(
    ("delimiter", "decimal", "said"),
    [
        (",", ".", "comma between cells, decimal point"),
        (";", ",", "semicolon between cells, decimal comma"),
        ("\t", ",", "tab between cells, decimal comma"),
        ("|", ".", "bar between cells, decimal point"),
        ("   ", ".", "spaces between cells, decimal point"),
    ],
)
def test_how_it_is_written_is_said(delimiter, decimal, said):
    data = text([f"time{delimiter}volts", *numbered(delimiter, decimal)])
    assert look_at(data).dialect.said == said
    assert read(data).channels[0].samples[:3].tolist() == [100.0, 101.0, 102.0]


@pytest.mark.parametrize("encoding", ["utf-8", "utf-8-sig", "utf-16", "utf-16-le", "utf-16-be", "cp1252"])
def test_any_encoding_of_text_is_read(encoding):
    data = "\r\n".join(["Gerät;läuft", "Zeit;Spannung", *numbered(";", ",")]).encode(encoding)
    assert read(data).time.rate_hz == pytest.approx(500.0)
    assert decoded(data, "x")[0].decode().startswith(("Gerät", "\ufeffGerät"))


def test_half_a_character_at_the_end_of_the_head_is_no_other_encoding():
    head = "é" * 131_071 + "x"
    assert decoded((head + "é\n1,2\n").encode(), "x")[1] == "utf-8"


@pytest.mark.parametrize("data", [b"", b"  \n ", b"\x00\x01\x02\x03\x00\x00\x05" * 9, b"words\nand words\n"])
def test_what_is_no_table_is_refused_in_words(data):
    with pytest.raises(TableError) as refused:
        look_at(data, where="file.csv")
    assert refused.value.remedy


def test_units_stand_in_the_header_below_it_or_above_the_names():
    assert names_and_units([["t (ms)", "A [V]"]], 2) == (["t", "A"], ["ms", "V"])
    assert names_and_units([["t", "A"], ["s", "mV"]], 2) == (["t", "A"], ["s", "mV"])
    assert names_and_units([["s", "mV"], ["t", "A 1"]], 2) == (["t", "A 1"], ["s", "mV"])
    assert names_and_units([["a", "a", "a"]], 3)[0] == ["a", "a 2", "a 3"]
    assert names_and_units([], 2)[0] == ["column 1", "column 2"]


def test_cells_keep_a_delimiter_inside_quotes():
    assert cells_of('"1,5","2"', ",") == ["1,5", "2"]
    assert cells_of("  1.5   2 ", " ") == ["1.5", "2"]


def test_a_word_among_numbers_is_told_by_its_line_in_the_file():
    rows = numbered(";", ",")
    rows[40] = "0,08;broken"
    with pytest.raises(TableError, match="Line 42, column volts: 'broken'"):
        read(text(["time;volts", *rows]))


def test_a_row_of_another_width_is_told_by_its_line():
    rows = numbered()
    rows[30] = "0.06,1,2"
    with pytest.raises(TableError, match=r"Line 32 has 3 cells"):
        read(text(["time,volts", *rows]))


def test_words_between_recordings_part_them_and_the_longest_is_taken():
    rows = numbered()
    data = text(["time,volts", *rows[:20], "", "Segment 2", "time,volts", *rows[:50], "END"])
    assert look_at(data).segments == (20, 50)
    assert read(data).time.samples == 50
    assert read(data, segment=0).time.samples == 20
    with pytest.raises(TableError, match="no recording 3"):
        read(data, segment=2)


def test_time_that_starts_anew_parts_recordings():
    rows = numbered()
    assert look_at(text(["time,volts", *rows[:25], *rows])).segments == (25, ROWS)


@pytest.fixture(scope="module")
def many():
    return [f"{i / 50_000:.6f},{i % 97 / 7:.5f}" for i in range(400_000)]


@pytest.mark.parametrize(
    "between", [[], ["Segment 2", "time,volts"], ["", "Buffer", "time,volts"]], ids=["time", "words", "blank and words"]
)
def test_recordings_deep_in_a_large_file_are_told_before_it_is_kept(many, between):
    data = text(["time,volts", *many[:310_000], *between, *many])
    assert len(data) > WHOLE_BYTES
    assert look_at(data).segments == (310_000, 400_000)


def test_recordings_deep_in_a_large_file_without_time_are_told_by_their_headings(many):
    bare = [row.split(",")[1] + ",1.25" for row in many]
    assert look_at(text(["volts,amps", *bare, "Segment 2", "volts,amps", *bare[:350_000]])).segments == (
        400_000,
        350_000,
    )


def test_a_large_file_of_one_recording_is_told_as_one(many):
    assert look_at(text(["time,volts", *many])).segments == ()
    assert look_at(text(["time,volts", *many, "END"])).segments == ()


def test_a_fault_deep_in_a_large_file_leaves_the_look_and_is_told_when_it_is_kept(many):
    data = text(["time,volts", *many[:300_000], "0.1,broken", *many])
    assert look_at(data).segments == ()
    with pytest.raises(TableError, match="Line 300002, column volts: 'broken'"):
        read(data)


def test_a_column_that_counts_them_parts_recordings():
    rows = [f"{i // 30 + 1},{i % 30 / 500:.4f},{i}" for i in range(90)]
    assert look_at(text(["Segment,time,volts", *rows])).segments == (30, 30, 30)


def test_midnight_is_no_new_recording():
    rows = [f"{'23:59:59' if i < 25 else '00:00:00'}.{(i * 20 + 500) % 1000:03d},{i}" for i in range(50)]
    data = text(["Time,volts", *rows])
    assert look_at(data).segments == ()
    assert read(data).time.rate_hz == pytest.approx(50.0)


def test_clocks_of_their_own_are_brought_to_the_first():
    rows = [f"{i / 100:.4f},{i},{i / 100 + 0.005:.4f},{10 * i}" for i in range(80)]
    capture = read(text(["T1 (s),a,T2 (s),b", *rows]))
    np.testing.assert_allclose(capture.channels[0].samples[1:60], 10 * (np.arange(1, 60) - 0.5), atol=1e-3)


def test_a_shorter_clock_ends_in_gaps():
    rows = [f"{i / 100:.4f},{i}," + (f"{i / 100:.4f},{i}" if i < 40 else ",") for i in range(80)]
    samples = read(text(["T1 (s),a,T2 (s),b", *rows])).channels[0].samples
    assert np.isfinite(samples[:40]).all()
    assert np.isnan(samples[41:]).all()


def test_a_count_of_samples_is_not_time():
    data = text(["No.,volts", *(f"{i},{i % 7}" for i in range(1, 60))])
    guess = look_at(data)
    assert guess.needs_rate
    assert guess.columns[0].role is Role.OTHER
    told = text(["Rate: 250 Hz", "No.,volts", *(f"{i},{i % 7}" for i in range(1, 60))])
    assert (look_at(told).needs_rate, look_at(told).rate_hz) == (False, 250.0)
    assert read(told).time.rate_hz == 250.0


def test_thousands_that_come_late_are_found_too():
    rows = [f"{i * 20},0;{i * 2.5:.1f}".replace(".", ",") for i in range(50)]
    rows += [
        f"{i * 20:,}.0;{i * 2.5:.1f}".replace(",", "_").replace(".", ",").replace("_", ".") for i in range(50, 900)
    ]
    data = text(["t (us);volts", *rows])
    assert read(data).time.samples == 900
    assert read(data).time.rate_hz == pytest.approx(50_000.0)


def test_what_only_looks_like_thousands_is_left_alone():
    data = text(["time;volts", *(f"{i / 500:.4f};1.{i:03d}" for i in range(ROWS))])
    assert read(data).channels[0].samples[5] == pytest.approx(1.005)
    dialect = find_dialect(*decoded(data, "x"), "x")
    assert late_thousands(data, dialect) == ""


def test_facts_beside_the_samples_are_cut_off():
    left = ["Record Length,60,", "Sample Interval,0.002,", "Probe,10,"] + [",,"] * (ROWS - 3)
    data = text([a + b + "," for a, b in zip(left, numbered(), strict=True)])
    guess = look_at(data)
    assert (guess.dialect.cut_cells, guess.rate_hz) == (2, 500.0)
    assert read(data).channels[0].samples[0] == 100.0


def test_a_plain_table_is_handed_on_as_it_is():
    data = text(["time,volts", *numbered()])
    dialect = find_dialect(*decoded(data, "x"), "x")
    assert dialect.plain
    assert mended(data, dialect)[0] is data
