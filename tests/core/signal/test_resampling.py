"""Captures with stamps laid on even steps."""

from dataclasses import fields

import numpy as np
from hypothesis import given
from hypothesis import strategies as st

from fairwitness.core.model.capture import Capture, Channel, Role, TimeBase
from fairwitness.core.signal.resampling import evenly_sampled

WIRE = Channel(
    name="command", role=Role.COIL_CONTROL, unit="V", samples=np.arange(6, dtype=np.float32), cylinder=2, feeds=(1, 4),
    sync=True, measured_at="control_unit", unplugged=True,
)  # fmt: skip


def stamped(stamps, samples=None):
    channel = WIRE if samples is None else Channel(name="a", role=Role.OTHER, unit="1", samples=samples)
    time = TimeBase(samples=len(stamps), rate_hz=1000.0, stamps_s=np.asarray(stamps))
    return Capture(name="x", time=time, channels=(channel,))


def test_even_steps_are_left_as_they_are():
    capture = Capture(name="x", time=TimeBase(samples=6, rate_hz=1000.0), channels=(WIRE,))
    assert evenly_sampled(capture) is capture


def test_everything_that_describes_a_channel_is_kept():
    even = evenly_sampled(stamped([0.0, 0.001, 0.0025, 0.003, 0.004, 0.0052]))
    (channel,) = even.channels
    told = [f.name for f in fields(Channel) if f.name != "samples"]
    assert {n: getattr(channel, n) for n in told} == {n: getattr(WIRE, n) for n in told}
    assert even.time.stamps_s is None
    assert (even.name, even.set_up) == ("x", stamped([0.0] * 6).set_up)


def test_a_value_holds_until_the_next_one_was_taken():
    even = evenly_sampled(stamped([0.0, 0.0035, 0.004], np.array([1, 2, 3], np.float32)))
    assert even.channels[0].samples.tolist() == [1, 1, 1, 1, 3]


@given(st.lists(st.floats(2e-4, 5e-3), min_size=2, max_size=60))
def test_no_value_is_made_up_and_the_ends_stay(steps):
    stamps = np.cumsum(steps)
    values = np.arange(stamps.size, dtype=np.float32)
    even = evenly_sampled(stamped(stamps, values))
    samples = even.channels[0].samples
    assert set(samples.tolist()) <= set(values.tolist())
    assert samples[0] == 0
    assert (np.diff(samples) >= 0).all()
    assert abs(even.time.duration_s - (stamps[-1] - stamps[0])) <= 2e-3
