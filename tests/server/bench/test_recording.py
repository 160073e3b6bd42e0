import numpy as np
import pytest

from fairwitness.core.errors import CaptureError, InstrumentError
from fairwitness.core.model.capture import Role, SetUp
from fairwitness.core.procedures.set_up_card import Clip
from fairwitness.instruments.scope_link import Lead
from fairwitness.server.bench.live import HEAD, frame
from fairwitness.server.bench.recording import Recording

LEADS = [
    Lead(channel=n, clip=Clip(role=role), unit="A", reach=10.0)
    for n, role in ((1, Role.STARTER_CURRENT), (2, Role.BATTERY_VOLTAGE))
]


class PlayedScope:
    """Gives samples in the steps it is told, then falls silent or ends."""

    def __init__(self, steps, *, total, fails_at=None, short=False):
        self.steps, self.total, self.fails_at, self.short = list(steps), total, fails_at, short
        self.there = 0
        rng = np.random.default_rng(0)
        self.samples = {1: rng.normal(size=total).astype(np.float32), 2: np.arange(total, dtype=np.float32)}

    def start(self):
        pass

    def stop(self):
        self.steps = []

    @property
    def recording(self):
        if self.fails_at is not None and self.there >= self.fails_at:
            raise InstrumentError("The scope does not answer.")
        self.there = min(self.total, self.there + (self.steps.pop(0) if self.steps else self.total))
        return self.there < self.total

    @property
    def points(self):
        return self.there

    def fetch(self, channel, first, count):
        return self.samples[channel][first : first + count - (1 if self.short else 0)]


def played(scope, rate_hz=1000.0):
    ended = []
    recording = Recording(scope, LEADS, rate_hz=rate_hz, seconds=scope.total / rate_hz, ended=ended.append)
    recording.start()
    recording.wait(10)
    return recording, ended


def test_everything_that_comes_is_in_the_capture():
    scope = PlayedScope([100, 700, 3, 900], total=4000)
    recording, ended = played(scope)
    assert ended == [None]
    capture = recording.capture(name="x", set_up=SetUp())
    assert capture.time.samples == 4000
    for row, lead in enumerate(LEADS):
        np.testing.assert_array_equal(capture.channels[row].samples, scope.samples[lead.channel])


def test_what_came_before_the_silence_is_kept():
    recording, ended = played(PlayedScope([500, 500, 500, 500], total=4000, fails_at=1000))
    assert isinstance(ended[0], InstrumentError)
    assert recording.capture(name="x", set_up=SetUp()).time.samples == 1000


def test_fewer_samples_than_said_end_the_recording():
    recording, ended = played(PlayedScope([500], total=1000, short=True))
    assert "fewer samples" in ended[0].what
    with pytest.raises(CaptureError, match="Nothing was recorded"):
        recording.capture(name="x", set_up=SetUp())


def test_live_parts_join_without_a_gap_and_miss_no_extreme():
    scope = PlayedScope([1000, 1000, 1000, 1000], total=4000)
    recording, _ = played(scope, rate_hz=4000.0)
    first = recording.since(0)
    assert first.step == 8
    assert first.values.shape == (2, 2 * 500)
    assert first.values[0].max() == scope.samples[1].max()
    assert first.values[0].min() == scope.samples[1].min()
    later = recording.since(1600)
    np.testing.assert_array_equal(later.values, first.values[:, 2 * 200 :])
    data = frame(7, later)
    assert HEAD.unpack_from(data) == (7, 1600, 8, 2)
    np.testing.assert_array_equal(np.frombuffer(data[HEAD.size :], "<f4").reshape(2, -1), later.values)
