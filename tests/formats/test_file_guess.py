import numpy as np
import pytest

from fairwitness.core.errors import TableError
from fairwitness.core.model.capture import CaptureTest, EngineState, Role, SetUp
from fairwitness.core.model.engine import even_engine
from fairwitness.formats.columns import ColumnUse
from fairwitness.formats.file_guess import Kept, capture_of_file, guess_file
from fairwitness.formats.recordings import write_recording
from tests.conftest import cranking

FOUR = even_engine((1, 3, 4, 2))
RATE = 2000.0


def starts(*spans, seconds=10.0):
    """A clamp that cranks between the times of each span."""
    t = np.arange(int(seconds * RATE)) / RATE
    amperes = np.random.default_rng(1).normal(0, 0.5, t.size)
    for begin, end in spans:
        on = (t >= begin) & (t < end)
        amperes[on] += 160 + 40 * np.cos(2 * np.pi * 8 * t[on])
    lines = (f"{a:.5f},{b:.2f}" for a, b in zip(t, amperes, strict=True))
    return ("time,clamp (A)\n" + "\n".join(lines) + "\n").encode()


def test_each_attempt_is_found_where_it_is():
    found = guess_file(starts((1, 3), (5, 9)), where="f").attempts
    assert len(found) == 2
    np.testing.assert_allclose(np.array(found) * 10, [[1, 3], [5, 9]], atol=0.15)


def test_a_part_is_kept_and_its_time_goes_on():
    uses = [ColumnUse(column="time", role=Role.TIME, unit="s")]
    uses.append(ColumnUse(column="clamp", role=Role.STARTER_CURRENT, unit="A"))
    kept = capture_of_file(starts((1, 9)), uses, Kept(name="x", set_up=SetUp(), part=(0.5, 0.8)))
    assert kept.time.start_s == pytest.approx(5.0, abs=0.01)
    assert kept.time.duration_s == pytest.approx(3.0, abs=0.01)


def test_a_starter_that_draws_is_cranking_whatever_else_is_there():
    guess = guess_file(write_recording(cranking(FOUR, {}), "parquet"), where="f")
    assert (guess.test, guess.engine_state) == (CaptureTest.RELATIVE_COMPRESSION, EngineState.CRANKING)
    assert guess.written == "Parquet, as written by Fair Witness"
    assert not guess.needs_rate


@pytest.mark.parametrize(("hertz", "state"), [(2.0, EngineState.CRANKING), (7.0, EngineState.RUNNING)])
def test_the_speed_of_events_tells_cranking_from_running(hertz, state):
    t = np.arange(60_000) / 20_000
    inside = t % (1 / hertz)
    amperes = np.where(inside < 0.003, 8 * inside / 0.003, 0.0)
    lines = (f"{a:.5f},{b:.3f}" for a, b in zip(t, amperes, strict=True))
    guess = guess_file(("time,coil current (A)\n" + "\n".join(lines) + "\n").encode(), where="f")
    assert (guess.test, guess.engine_state) == (CaptureTest.COIL_CURRENT, state)


def test_a_broken_recording_says_so():
    with pytest.raises(TableError):
        guess_file(b"PAR1 and nothing else", where="f.parquet")
