"""The owner's decision: kept with who and how, signed or noted; the plan and the clock follow it."""

import io

import pytest
from django.core.exceptions import PermissionDenied
from django.core.files.uploadedfile import SimpleUploadedFile
from django.utils import timezone
from PIL import Image

from fairwitness.core.errors import ObservationError, PackageError
from fairwitness.core.messages.rendering import spoken
from fairwitness.core.model.decision import DECISION, Agreement, Decision, Way
from fairwitness.server.accounts.models import Role
from fairwitness.server.cases import life
from fairwitness.server.cases.answers import whole_board
from fairwitness.server.cases.models import StoredCase, StoredObservation
from fairwitness.server.cases.services import add_observation, withdraw_observation
from fairwitness.server.cases.standing import CaseStage, stage_of
from fairwitness.server.decisions.services import decide
from fairwitness.server.pictures.models import Picture
from tests.server.cases.test_life import balance
from tests.server.conftest import person
from tests.server.pictures.samples import bomb, photo, sound

NOW = timezone.now()
YES = Decision(who="M. Ferrow", way=Way.PHONE, agreed=frozenset({Agreement.REPAIR}), note="one coil", up_to_minutes=60)
NO = Decision(who="M. Ferrow", way=Way.IN_PERSON, note="not before Friday")


def signature():
    out = io.BytesIO()
    Image.new("RGB", (600, 160), "white").save(out, "PNG")
    return out.getvalue()


def decided(case):
    return spoken(whole_board(case, case.opened_by)["life"]["decided"])


def test_a_yes_is_kept_shown_and_moves_the_case_on(case, technician):
    decide(case, YES, by=technician, at=NOW)
    assert decided(case) == "Agreed, M. Ferrow, by phone, the repair, one coil, up to 60 min of labour"
    assert stage_of(case) is CaseStage.APPROVED
    assert StoredCase.objects.get(pk=case.pk).ceiling_minutes == 60
    assert case.journal.last().detail == "M. Ferrow: the repair"


def test_a_later_no_takes_the_yes_back(case, technician):
    decide(case, YES, by=technician, at=NOW)
    decide(case, NO, by=technician, at=NOW)
    assert decided(case) == "Not agreed, M. Ferrow, in person, not before Friday"
    assert stage_of(case) is CaseStage.MEASURING


def test_a_decision_that_was_withdrawn_holds_no_more(case, technician):
    kept = decide(case, YES, by=technician, at=NOW)
    withdraw_observation(kept, reason="another vehicle", by=technician, at=NOW)
    assert decided(case) == ""


def test_the_plan_holds_back_what_was_not_agreed_until_it_is(case, technician):
    balance(case, {3}, technician)
    assert _held_back(case) == []
    testing = Decision(who="M. Ferrow", agreed=frozenset({Agreement.TESTING}), note="go on")
    decide(case, testing, by=technician, at=NOW)
    assert any("Not before the owner agrees to it" in words and "fuel pressure" in words for words in _held_back(case))
    assert "fuel_pressure" not in _offered(case)
    more = Decision(who="M. Ferrow", agreed=frozenset({Agreement.TESTING, Agreement.OPEN_FUEL}), note="that too")
    decide(case, more, by=technician, at=NOW)
    assert _held_back(case) == []


def _held_back(case):
    return spoken(whole_board(StoredCase.objects.get(pk=case.pk), case.opened_by)["plan"]["held_back"])


def _offered(case):
    return {offer["test"] for offer in whole_board(StoredCase.objects.get(pk=case.pk), case.opened_by)["next_tests"]}


def test_a_yes_written_down_as_it_used_to_be_is_a_yes_to_everything(case, technician):
    add_observation(case, test=DECISION, data={"note": "head off, in writing"}, by=technician, at=NOW)
    case.refresh_from_db()
    assert decided(case) == "Agreed, head off, in writing"
    assert stage_of(case) is CaseStage.APPROVED


def test_a_signature_is_a_picture_of_the_case(case, technician):
    kept = decide(case, Decision(who="M. Ferrow", agreed=frozenset({Agreement.REPAIR})),
                  signature=signature(), by=technician, at=NOW)  # fmt: skip
    decide(case, YES, signature=signature(), by=technician, at=NOW)  # the very same strokes
    picture = Picture.objects.get()
    assert (picture.words, kept.data["signature"]) == ("Signature of M. Ferrow", picture.sha256)


@pytest.mark.parametrize(
    ("decision", "signed", "error"),
    [
        (Decision(who=" ", note="x"), b"", ObservationError),
        (Decision(who="M. Ferrow"), b"", ObservationError),
        (YES, b"no picture", PackageError),
        (YES, bomb(), PackageError),
        (YES, sound(), ObservationError),
        (YES, photo(width=2400, height=64), ObservationError),
        (YES, b"0" * 500_000, ObservationError),
    ],
)
def test_what_is_no_decision_leaves_nothing_behind(case, technician, decision, signed, error):
    with pytest.raises(error):
        decide(case, decision, signature=signed, by=technician, at=NOW)
    assert (StoredObservation.objects.count(), Picture.objects.count()) == (0, 0)


def test_a_reader_decides_nothing_and_a_closed_case_takes_no_decision(case, technician):
    with pytest.raises(PermissionDenied):
        decide(case, YES, by=person("rita", Role.READER), at=NOW)
    life.close_case(case, by=technician, at=NOW)
    with pytest.raises(ObservationError, match="closed"):
        decide(case, YES, by=technician, at=NOW)


def test_a_decision_comes_in_over_http(as_user, case, technician):
    sent = {
        "who": "M. Ferrow",
        "way": "message",
        "agreed": "repair,open_engine",
        "up_to_minutes": "90",
        "signature": SimpleUploadedFile("signature.png", signature()),
    }
    answer = as_user(technician).post(f"/api/cases/{case.pk}/decision/", sent)
    assert answer.status_code == 201
    assert answer.json()["life"]["decided"] == (
        "Agreed, M. Ferrow, by message, taking the engine apart, the repair, up to 90 min of labour"
    )
    wrong = as_user(technician).post(f"/api/cases/{case.pk}/decision/", {**sent, "agreed": "the moon", "signature": ""})
    assert wrong.status_code == 400
