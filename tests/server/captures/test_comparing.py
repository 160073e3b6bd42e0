"""What a capture may be laid beside, and who may call one known good."""

import pytest
from django.core.exceptions import PermissionDenied
from django.utils import timezone

from fairwitness.core.errors import CaptureError
from fairwitness.core.model.engine import even_engine
from fairwitness.server.captures.comparing import comparable, hold_as_known_good, no_longer_known_good
from fairwitness.server.captures.services import keep_capture, withdraw_capture
from fairwitness.server.cases.models import JournalEntry
from fairwitness.server.cases.services import Intake, open_case
from tests.conftest import cranking

FOUR = even_engine((1, 3, 4, 2))


def kept(case, by, **weak):
    return keep_capture(case, cranking(FOUR, weak.get("shares", {3: 0.1})), by=by, at=timezone.now())


@pytest.fixture
def mine(case, technician):
    return kept(case, technician)


def other_case(technician, engine):
    return open_case(Intake(title="Tram 9", engine=engine), by=technician, at=timezone.now())


def test_known_good_of_the_same_make_up_is_offered_and_says_whose(mine, technician):
    good = kept(other_case(technician, FOUR), technician, shares={})
    assert comparable(mine) == []
    hold_as_known_good(good, why="after the repair", by=technician, at=timezone.now())
    (offered,) = comparable(mine)
    assert offered.id == good.pk
    assert offered.known_good
    assert "Tram 9" in offered.words


def test_another_make_up_is_never_offered(mine, technician):
    engine = even_engine((1, 2, 4, 3))
    good = keep_capture(other_case(technician, engine), cranking(engine, {}), by=technician, at=timezone.now())
    hold_as_known_good(good, why="runs evenly", by=technician, at=timezone.now())
    assert comparable(mine) == []


def test_another_name_is_called_perhaps_another_variant(mine, technician):
    good = kept(other_case(technician, FOUR), technician, shares={})
    good.case.engine = {**good.case.engine, "label": "Hollin 1.6"}
    good.case.save()
    hold_as_known_good(good, why="runs evenly", by=technician, at=timezone.now())
    (offered,) = comparable(mine)
    assert not offered.same_label
    assert "perhaps another variant" in offered.words


def test_captures_of_the_case_come_first_and_withdrawn_ones_say_so(mine, technician, case):
    again = kept(case, technician, shares={3: 0.9})
    assert [c.id for c in comparable(again)] == [mine.pk]
    withdraw_capture(mine, reason="wrong car", by=technician, at=timezone.now())
    assert "withdrawn" in comparable(again)[0].words


def test_the_mark_is_journalled_and_can_be_taken_back(mine, technician, case):
    hold_as_known_good(mine, why="runs evenly", by=technician, at=timezone.now())
    with pytest.raises(CaptureError, match="already"):
        hold_as_known_good(mine, why="again", by=technician, at=timezone.now())
    no_longer_known_good(mine, by=technician, at=timezone.now())
    verbs = set(JournalEntry.objects.filter(case=case).values_list("verb", flat=True))
    assert {"held as known good", "no longer known good"} <= verbs


def test_a_reason_is_needed_a_reader_may_not_and_withdrawn_evidence_is_no_model(mine, technician, reader):
    with pytest.raises(CaptureError, match="Say why"):
        hold_as_known_good(mine, why=" ", by=technician, at=timezone.now())
    with pytest.raises(PermissionDenied):
        hold_as_known_good(mine, why="good", by=reader, at=timezone.now())
    withdraw_capture(mine, reason="wrong car", by=technician, at=timezone.now())
    with pytest.raises(CaptureError, match="not in force"):
        hold_as_known_good(mine, why="good", by=technician, at=timezone.now())


def test_over_the_api(client, technician, mine):
    client.force_login(technician)
    url = f"/api/captures/{mine.pk}/known-good/"
    reported = client.post(url, {"why": "after the repair"}, content_type="application/json").json()
    assert reported["known_good"] == "after the repair"
    assert client.delete(url).json()["known_good"] == ""
    assert client.get(f"/api/captures/{mine.pk}/comparable/").json() == []
