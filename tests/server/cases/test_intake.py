"""The intake mended afterwards, the complaint tried, codes read and cleared: kept, and journaled with its name."""

import pytest
from django.core.exceptions import PermissionDenied
from django.utils import timezone

from fairwitness.core.errors import ObservationError
from fairwitness.core.messages.rendering import render, spoken
from fairwitness.core.model.case import CodeOrigin
from fairwitness.server.accounts.models import Role
from fairwitness.server.cases import intake, life
from fairwitness.server.cases.answers import whole_board
from fairwitness.server.cases.evidence import core_case
from fairwitness.server.cases.models import StoredCase
from tests.server.conftest import person

NOW = timezone.now()
OLD_PLUG = {"part": "plug", "cylinders": [3], "fitted": "new", "by": "", "when": "", "helped": False, "words": ""}


def amend(case, by, **changes):
    intake.amend(case, changes, by=by, at=timezone.now())
    return whole_board(case, by)["visit"]["said"]


def lines(case):
    return list(case.journal.values_list("verb", "detail"))


def test_what_was_said_is_mended_and_the_journal_keeps_what_stood_there(case, technician):
    said = amend(case, technician, complaint="Shakes when cold", believed="The head gasket", odometer_km=88_120)
    assert (said["complaint"], said["believed"], said["odometer_km"]) == ("Shakes when cold", "The head gasket", 88_120)
    amend(case, technician, complaint="Shakes when hot")
    assert lines(case)[-1] == ("intake amended", "complaint: “Shakes when cold” → “Shakes when hot”")
    assert ("intake amended", "odometer km: nothing → “88120”") in lines(case)


def test_what_is_left_out_or_the_same_stays_and_makes_no_line(case, technician):
    amend(case, technician, complaint="Shakes")
    before = len(lines(case))
    said = amend(case, technician, complaint="Shakes", signs=[])
    assert said["complaint"] == "Shakes"
    assert len(lines(case)) == before


def test_signs_and_work_that_are_added_later_move_the_reasoning(case, technician):
    amend(case, technician, signs=["damp"], work_done=[OLD_PLUG], complaint_when={"temperature": "cold"})
    told = core_case(case)
    assert told.signs == ("damp",)
    assert told.work_done[0].cylinders == (3,)
    assert [render(word) for word in told.complaint_when.words] == ["cold"]
    assert any("worse in the wet" in detail for _, detail in lines(case))


def test_who_tried_the_complaint_and_how_it_went_is_kept(case, technician, lead):
    intake.verify_complaint(case, provoked=False, under="warm, 10 min idle", by=technician, at=NOW)
    told = whole_board(StoredCase.objects.get(pk=case.pk), technician)["visit"]
    assert told["provoked"] is False
    assert spoken(told["tried"]) == f"Could not be provoked by {technician.shown_name}: warm, 10 min idle"
    intake.verify_complaint(case, provoked=True, under="cold start", by=lead, at=NOW)
    told = whole_board(StoredCase.objects.get(pk=case.pk), technician)["visit"]
    assert spoken(told["tried"]) == f"Seen by {lead.shown_name}: cold start"
    assert [verb for verb, _ in lines(case)][-2:] == ["complaint could not be provoked", "complaint seen"]


def test_trying_needs_the_conditions(case, technician):
    with pytest.raises(ObservationError, match="How was it tried"):
        intake.verify_complaint(case, provoked=True, under=" ", by=technician, at=NOW)


def test_codes_keep_where_they_come_from_and_ours_accuse_nobody(case, technician):
    intake.record_codes(case, [("p0303", "stored")], CodeOrigin.AS_ARRIVED, by=technician, at=NOW)
    intake.record_codes(case, [("P0201", "stored")], CodeOrigin.OWN_TESTING, by=technician, at=NOW)
    intake.record_codes(case, [("P0303", "stored")], CodeOrigin.AS_ARRIVED, by=technician, at=NOW)
    rows = whole_board(case, technician)["case"]["codes"]
    assert [(r["code"], r["origin"]) for r in rows] == [("P0303", "as_arrived"), ("P0201", "own_testing")]
    assert [c.origin for c in core_case(case).codes] == [CodeOrigin.AS_ARRIVED, CodeOrigin.OWN_TESTING]
    assert lines(case)[-1] == ("codes read", "P0303, as arrived")


def test_a_scan_without_codes_is_kept_as_such(case, technician):
    intake.record_codes(case, [], CodeOrigin.AS_ARRIVED, by=technician, at=NOW)
    (row,) = whole_board(case, technician)["visit"]["code_reads"]
    assert (row["kind"], row["codes"], row["by"]) == ("read", [], technician.shown_name)
    assert lines(case)[-1] == ("codes read", "none stored, as arrived")


def test_after_clearing_codes_are_those_that_came_back(as_user, case, technician):
    browser, address = as_user(technician), f"/api/cases/{case.pk}/codes/"
    read = {"codes": [{"code": "P0303", "status": "stored"}]}
    assert browser.post(address, read, content_type="application/json").json()["case"]["codes"][0]["origin"] == (
        "as_arrived"
    )
    cleared = browser.post(f"{address}cleared/", {"words": "P0303"}, content_type="application/json")
    assert cleared.json()["visit"]["next_origin"] == "after_clearing"
    again = browser.post(address, read, content_type="application/json").json()["case"]["codes"]
    assert [row["origin"] for row in again] == ["as_arrived", "after_clearing"]


def test_nothing_is_mended_in_a_closed_case_nor_by_a_reader(case, technician):
    reader = person("rita", Role.READER)
    with pytest.raises(PermissionDenied):
        intake.amend(case, {"complaint": "x"}, by=reader, at=NOW)
    life.close_case(case, by=technician, at=NOW)
    for act in (
        lambda: intake.amend(case, {"complaint": "x"}, by=technician, at=NOW),
        lambda: intake.record_clearing(case, by=technician, at=NOW),
        lambda: intake.record_codes(case, [], CodeOrigin.AS_ARRIVED, by=technician, at=NOW),
        lambda: intake.verify_complaint(case, provoked=True, under="idle", by=technician, at=NOW),
    ):
        with pytest.raises(ObservationError, match="closed"):
            act()


def test_fields_that_nobody_mends_change_nothing_over_http(as_user, case, technician):
    answer = as_user(technician).post(
        f"/api/cases/{case.pk}/said/", {"engine": {"cylinders": 6}}, content_type="application/json"
    )
    lines_before = len(lines(case))
    case.refresh_from_db()
    assert (answer.status_code, case.engine["cylinders"]) == (200, 4)
    assert lines_before == 1  # that it was opened
