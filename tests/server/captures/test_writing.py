from datetime import timedelta

import numpy as np
import pytest
from django.utils import timezone

from fairwitness.core.model.capture import Capture, CaptureTest, Channel, Role, SetUp, TimeBase
from fairwitness.server.captures import samples, services, writing
from fairwitness.server.captures.models import SampleChunk, StoredCapture, StoredChannel
from fairwitness.server.captures.packing import CHUNK_SAMPLES

COUNT = 70 * CHUNK_SAMPLES


@pytest.fixture(autouse=True)
def shorter_ones_are_long(monkeypatch):
    monkeypatch.setattr(writing, "AHEAD_FROM", 60)


@pytest.fixture
def long():
    """Long enough to be written ahead; of values that sit on no converter's grid."""
    values = np.random.default_rng(3).normal(size=COUNT).astype(np.float32)
    channel = Channel(name="Clamp", role=Role.STARTER_CURRENT, unit="A", samples=values)
    return Capture(
        name="long",
        time=TimeBase(samples=COUNT, rate_hz=1e5),
        channels=(channel,),
        set_up=SetUp(test=CaptureTest.RELATIVE_COMPRESSION),
    )


@pytest.fixture
def short(long):
    part = Channel(name="Clamp", role=Role.STARTER_CURRENT, unit="A", samples=long.channels[0].samples[:5000])
    return Capture(name="short", time=TimeBase(samples=5000, rate_hz=1e5), channels=(part,), set_up=long.set_up)


def test_a_long_capture_is_written_before_it_is_there_and_comes_back_bit_for_bit(case, technician, long, monkeypatch):
    seen = []
    told = services.Keeping(told=lambda share: seen.append((share, StoredCapture.objects.count())))
    stored = services.keep_capture(case, long, by=technician, at=timezone.now(), keeping=told)
    assert [count for _, count in seen] == [0] * len(seen)
    shares = [share for share, _ in seen]
    assert shares == sorted(shares)
    assert shares[-1] == 1.0
    assert samples.read(stored).sha256 == long.sha256
    assert not StoredChannel.objects.exclude(ahead_since=None).exists()


def test_a_short_one_is_written_with_the_capture(short):
    ahead = writing.write_ahead(short)
    assert not ahead.rows
    assert len(ahead.rest) == 1


@pytest.mark.django_db
def test_what_is_written_ahead_belongs_to_nothing_until_it_is_swept(long):
    writing.write_ahead(long, under="import 7")
    assert StoredChannel.objects.get().capture is None
    assert writing.sweep("import 8") == writing.sweep() == 0
    assert writing.sweep("import 7") == 1
    assert not SampleChunk.objects.exists()


@pytest.mark.django_db
def test_what_nobody_came_back_to_is_swept_after_hours(long):
    writing.write_ahead(long)
    StoredChannel.objects.update(ahead_since=timezone.now() - timedelta(hours=7))
    assert writing.sweep() == 1
    assert not SampleChunk.objects.exists()


def test_what_fails_in_the_end_leaves_nothing(case, technician, long):
    def refuse(_):
        raise RuntimeError("taken back")

    with pytest.raises(RuntimeError):
        services.keep_capture(case, long, by=technician, at=timezone.now(), keeping=services.Keeping(within=refuse))
    assert not StoredChannel.objects.exists()
    assert not SampleChunk.objects.exists()


@pytest.mark.django_db
def test_what_breaks_while_it_is_written_leaves_nothing(long):
    def broken(share):
        raise RuntimeError("disk full")

    with pytest.raises(RuntimeError):
        writing.write_ahead(long, told=broken)
    assert not StoredChannel.objects.exists()
