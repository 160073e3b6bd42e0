"""The ways to look at a kept capture, over the API, against the core on the same samples."""

import numpy as np
import pytest
from django.utils import timezone

from fairwitness.core.model.capture import Capture, Channel, Role, TimeBase
from fairwitness.core.model.engine import even_engine
from fairwitness.core.signal.conditioning import low_pass
from fairwitness.core.signal.cycle_folding import averaged, cycle_view, fold, read_between
from fairwitness.formats.recordings import capture_as_written, read_recording
from fairwitness.server.captures.services import keep_capture
from tests.conftest import cranking

FOUR = even_engine((1, 3, 4, 2))


@pytest.fixture
def kept(case, technician):
    capture = cranking(FOUR, {3: 0.1})
    return capture, keep_capture(case, capture, by=technician, at=timezone.now())


@pytest.fixture
def looking(client, reader):
    client.force_login(reader)
    return client


def test_cycles_and_windows_are_those_of_the_core(looking, kept):
    capture, row = kept
    view = cycle_view(capture, FOUR)
    reported = looking.get(f"/api/captures/{row.pk}/cycles/").json()
    assert reported["available"]
    assert reported["starts_s"] == pytest.approx(view.cycles.starts_s.tolist())
    assert [w["cylinder"] for w in reported["windows"]] == [w.cylinder for w in view.windows]
    assert sorted(reported["odd_first"]) == list(range(view.cycles.count))
    assert reported["oddness"][reported["odd_first"][0]] == max(reported["oddness"])


@pytest.mark.parametrize("average", [False, True])
def test_a_fold_is_that_of_the_core(looking, kept, average):
    capture, row = kept
    answer = looking.get(f"/api/captures/{row.pk}/fold/0/?bins=180&average={int(average)}")
    values = np.frombuffer(answer.content, "<f4").reshape(int(answer["X-Rows"]), -1)
    expected = fold(capture.channels[0].samples, capture.time, cycle_view(capture, FOUR), 180)
    np.testing.assert_array_equal(values, averaged(expected) if average else expected)


def test_a_reading_is_that_of_the_core(looking, kept):
    capture, row = kept
    reported = looking.get(f"/api/captures/{row.pk}/reading/0/?from_s=2&to_s=2.5").json()
    expected = read_between(capture.channels[0].samples, capture.time, 2.0, 2.5)
    assert reported["mean"] == pytest.approx(expected.mean)
    assert reported["area"] == pytest.approx(expected.area)
    assert reported["hertz"] == pytest.approx(2.0)


def test_a_cursor_snaps(looking, kept):
    _, row = kept
    at = looking.get(f"/api/captures/{row.pk}/snap/0/?at_s=2&reach_s=0.1&kind=peak").json()["at_s"]
    assert 1.9 <= at <= 2.1


def test_a_filtered_window_is_thinned_from_the_filtered_trace(looking, kept):
    capture, row = kept
    answer = looking.get(f"/api/captures/{row.pk}/window/?from_s=2&to_s=2.2&points=2000&corner_hz=40")
    values = np.frombuffer(answer.content, "<f4").reshape(int(answer["X-Channels"]), -1)[0]
    begin = int(2.0 * capture.time.rate_hz)
    expected = low_pass(capture.channels[0].samples, capture.time.rate_hz, 40.0)[begin : begin + values.size]
    np.testing.assert_allclose(values, expected, atol=0.02 * np.ptp(expected))


@pytest.mark.parametrize("kind", ["mdf", "matlab", "parquet"])
def test_an_export_comes_back_bit_for_bit(looking, kept, kind):
    capture, row = kept
    answer = looking.get(f"/api/captures/{row.pk}/export/?kind={kind}")
    assert "attachment" in answer["Content-Disposition"]
    assert capture_as_written(read_recording(answer.content, where="x")).sha256 == capture.sha256


@pytest.mark.parametrize(
    ("path", "words"),
    [
        ("reading/0/?from_s=x&to_s=1", "not a number"),
        ("reading/0/?from_s=1", "not a number"),
        ("reading/9/?from_s=1&to_s=2", "no such channel"),
        ("reading/0/?from_s=900&to_s=901", "no samples between"),
        ("snap/0/?at_s=nan&reach_s=1", "not a number"),
        ("fold/9/", "no such channel"),
        ("export/?kind=docx", "no format"),
        ("export/?kind=csv&from_s=900&to_s=901", "no samples in that stretch"),
    ],
)
def test_what_cannot_be_looked_at_is_said(looking, kept, path, words):
    refused = looking.get(f"/api/captures/{kept[1].pk}/{path}")
    assert refused.status_code == 400
    assert words in refused.json()["what"]


def test_a_capture_without_a_mark_says_why_it_has_no_cycles(looking, case, technician):
    bare = Capture(
        name="bare",
        time=TimeBase(samples=5000, rate_hz=1000.0),
        channels=(Channel(name="a", role=Role.EXHAUST_PRESSURE, unit="kPa", samples=np.ones(5000, np.float32)),),
    )
    row = keep_capture(case, bare, by=technician, at=timezone.now())
    reported = looking.get(f"/api/captures/{row.pk}/cycles/").json()
    assert not reported["available"]
    assert "marks a cylinder" in reported["why_not"]
    assert looking.get(f"/api/captures/{row.pk}/fold/0/").status_code == 400
