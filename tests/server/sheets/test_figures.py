"""A marked stretch of a trace becomes a figure; two of figures and pictures stand on the sheet."""

import pytest
from django.core.exceptions import PermissionDenied
from django.utils import timezone

from fairwitness.core.errors import ObservationError
from fairwitness.core.model.decision import Decision
from fairwitness.server.captures.services import withdraw_capture
from fairwitness.server.decisions.services import decide
from fairwitness.server.pictures.services import keep_picture
from fairwitness.server.sheets import figures
from fairwitness.server.sheets.traces import stretch_of
from tests.server.pictures.samples import photo

NOW = timezone.now()


@pytest.fixture
def capture(measured_case):
    return measured_case.captures.get()


def test_a_figure_is_kept_within_its_capture_and_told_in_the_journal(capture, technician):
    kept = figures.keep_figure(capture, 3.0, 1.0, words=" The low hump ", by=technician, at=NOW)
    assert (kept.from_s, kept.to_s, kept.words) == (1.0, 3.0, "The low hump")
    assert capture.case.journal.filter(verb="figure kept", detail__contains="The low hump").exists()
    beyond = figures.keep_figure(capture, 5.0, 900.0, words="the end", by=technician, at=NOW)
    assert beyond.to_s == pytest.approx((capture.samples - 1) / capture.rate_hz)


@pytest.mark.parametrize(("begin", "end", "words"), [(1, 3, " "), (2, 2, "nothing"), (500, 600, "outside")])
def test_what_shows_nothing_is_refused(capture, technician, begin, end, words):
    with pytest.raises(ObservationError):
        figures.keep_figure(capture, begin, end, words=words, by=technician, at=NOW)


def test_a_reader_keeps_none(capture, reader):
    with pytest.raises(PermissionDenied):
        figures.keep_figure(capture, 1, 3, words="x", by=reader, at=NOW)


def test_what_is_withdrawn_or_its_capture_is_shown_no_more(capture, technician):
    one = figures.keep_figure(capture, 1, 3, words="one", by=technician, at=NOW)
    two = figures.keep_figure(capture, 2, 4, words="two", by=technician, at=NOW)
    figures.withdraw_figure(one, reason="wrong stretch", by=technician, at=NOW)
    assert figures.offered(capture.case) == [f"figure:{two.pk}"]
    withdraw_capture(capture, reason="wrong clamp", by=technician, at=NOW)
    assert figures.offered(capture.case) == []


def test_the_last_figure_and_picture_stand_on_the_sheet_until_somebody_chooses(capture, technician):
    case = capture.case
    figure = figures.keep_figure(capture, 1, 3, words="hump", by=technician, at=NOW)
    first = keep_picture(case, photo(seed=1), words="plug", by=technician, at=NOW)
    last = keep_picture(case, photo(seed=2), words="boot", by=technician, at=NOW)
    assert figures.shown_on(case) == [f"figure:{figure.pk}", f"picture:{first.pk}"]
    figures.choose(case, [f"picture:{last.pk}"], by=technician, at=NOW)
    assert figures.shown_on(case) == [f"picture:{last.pk}"]
    figures.choose(case, [], by=technician, at=NOW)
    assert len(figures.shown_on(case)) == 2
    with pytest.raises(ObservationError, match="no such"):
        figures.choose(case, ["picture:99999"], by=technician, at=NOW)
    with pytest.raises(ObservationError, match="room"):
        figures.choose(case, figures.offered(case), by=technician, at=NOW)


def test_a_signature_is_no_picture_for_the_sheet(measured_case, technician):
    decide(measured_case, Decision(who="M. Ferrow"), signature=photo("PNG"), by=technician, at=NOW)
    assert measured_case.pictures.count() == 1
    assert figures.offered(measured_case) == []


def test_a_stretch_shows_what_was_recorded_and_whose_turn_it_is(capture):
    stretch, names = stretch_of(capture, from_s=1.0, to_s=2.0)
    assert (stretch.from_s, stretch.to_s) == (1.0, 2.0)
    assert len(names) == len(stretch.lanes) >= 1
    assert all(lane.lows.size == lane.highs.size and (lane.lows <= lane.highs).all() for lane in stretch.lanes)
    by_itself, _ = stretch_of(capture)
    turns = [c for c, _, _ in by_itself.cylinders]
    assert turns == [] or set(turns) == {1, 2, 3, 4}
