"""From complaint to proof: states, repairs, outcome, follow-ups, closing, reopening; result, database and journal."""

from datetime import date, timedelta

import pytest
from django.core.exceptions import PermissionDenied
from django.utils import timezone

from fairwitness.core.errors import ObservationError
from fairwitness.core.messages.rendering import render
from fairwitness.core.model.engine import even_engine
from fairwitness.core.model.phase import PartState, PhaseKind
from fairwitness.formats.case_package import read_package
from fairwitness.server.captures.services import export_case, import_case, keep_capture
from fairwitness.server.cases import changing, life
from fairwitness.server.cases.answers import whole_board
from fairwitness.server.cases.models import FollowUp, StoredOutcome, StoredPhase
from fairwitness.server.cases.services import add_observation
from fairwitness.server.cases.standing import CaseStage, stage_of
from tests.conftest import cranking

NOW = timezone.now()
SWAP = life.Work(kind=PhaseKind.CHANGED_OVER, part="coil", cylinders=(3, 1))
BACK = life.Work(kind=PhaseKind.PUT_BACK)
VALVES = life.Work(kind=PhaseKind.AFTER_REPAIR, part="valves", cylinders=(3,), fitted=PartState.NEW, words="seat cut")


def balance(case, low, by):
    """Each cylinder cut in turn; a cylinder that does no work is not missed."""
    drops = [{"cylinder": c, "rpm_before": 800, "rpm_after": 800 if c in low else 690} for c in (1, 2, 3, 4)]
    data = {"load": "idle", "idle_control": "fixed", "drops": drops}
    kept = add_observation(case, test="power_balance", data=data, by=by, at=timezone.now())
    case.refresh_from_db()
    return kept


def do(case, work, by):
    stored = life.begin_phase(case, work, by=by, at=timezone.now())
    case.refresh_from_db()
    return stored


def of(case):
    return whole_board(case, case.opened_by)["life"]


def test_evidence_belongs_to_the_state_it_was_taken_in(case, technician):
    first = balance(case, {3}, technician)
    do(case, SWAP, technician)
    second = balance(case, {1}, technician)
    kept = keep_capture(case, cranking(even_engine((1, 3, 4, 2))), by=technician, at=NOW)
    assert ("phase" in first.data, second.data["phase"], kept.set_up["phase"]) == (False, 1, 1)
    board = whole_board(case, technician)
    assert [row["phase"] for row in board["rows"] if row["test"] == "power_balance"] == [0, 1]


def test_looking_again_after_a_change_over_says_what_moved(case, technician):
    balance(case, {3}, technician)
    do(case, SWAP, technician)
    balance(case, {1}, technician)
    (looked,) = of(case)["changed_over"]
    assert looked["went"] == "moved"
    assert case.cylinders == [3]
    assert "contradict" not in case.headline


def test_a_repair_is_proven_by_the_same_test(case, technician):
    balance(case, {3}, technician)
    do(case, VALVES, technician)
    assert [render(title) for title in of(case)["repairs"][0]["missing"]] == ["Power balance"]
    assert stage_of(case) is CaseStage.REPAIRED
    before = case.headline
    balance(case, (), technician)
    assert of(case)["repairs"][0]["status"] == "proven"
    assert stage_of(case) is CaseStage.PROVEN
    assert case.headline == before
    assert list(case.journal.values_list("verb", "detail"))[2] == (
        "work recorded", "After repair: valves, cylinder 3, new: seat cut",
    )  # fmt: skip


@pytest.mark.parametrize(
    ("work", "says"),
    [
        (life.Work(kind=PhaseKind.CHANGED_OVER, part="valves", cylinders=(1, 3)), "cannot be changed over"),
        (life.Work(kind=PhaseKind.CHANGED_OVER, part="coil", cylinders=(3, 3)), "two different"),
        (life.Work(kind=PhaseKind.AFTER_REPAIR, part="coil", cylinders=(9,), fitted=PartState.NEW), "no such cylinder"),
        (life.Work(kind=PhaseKind.AFTER_REPAIR, part="coil", cylinders=(3,)), "what was fitted"),
        (BACK, "where it belongs"),
    ],
)
def test_work_that_cannot_be_is_refused_and_nothing_is_kept(case, technician, work, says):
    with pytest.raises(ObservationError, match=says):
        do(case, work, technician)
    case.refresh_from_db()
    assert (StoredPhase.objects.count(), case.phase) == (0, 0)


def test_a_reader_records_nothing(case, reader):
    for verb in (
        lambda: life.begin_phase(case, SWAP, by=reader, at=NOW),
        lambda: life.record_outcome(case, life.Found(found="x", seen_by="y"), by=reader, at=NOW),
        lambda: life.add_follow_up(case, "x", date(2030, 1, 1), by=reader, at=NOW),
        lambda: life.reopen_case(case, reason="x", by=reader, at=NOW),
    ):
        with pytest.raises(PermissionDenied):
            verb()


def test_a_case_closes_only_with_every_part_back(case, technician):
    do(case, SWAP, technician)
    with pytest.raises(ObservationError, match="that of 3 is in 1, that of 1 is in 3"):
        life.close_case(case, by=technician, at=NOW)
    assert of(case)["misplaced"][0]["places"] == [{"cylinder": 1, "of": 3}, {"cylinder": 3, "of": 1}]
    do(case, BACK, technician)
    life.close_case(case, codes_cleared="P0303", by=technician, at=NOW)
    assert case.journal.last().detail == "measuring, codes: P0303"


def test_how_far_it_was_stays_on_a_closed_case_and_it_is_opened_again_with_a_reason(case, technician):
    balance(case, {3}, technician)
    do(case, VALVES, technician)
    life.close_case(case, by=technician, at=NOW)
    assert (case.closed_as, stage_of(case)) == ("repaired", CaseStage.REPAIRED)
    with pytest.raises(ObservationError, match="closed"):
        do(case, VALVES, technician)
    with pytest.raises(ObservationError, match="Why"):
        life.reopen_case(case, reason=" ", by=technician, at=NOW)
    life.reopen_case(case, reason="came back", by=technician, at=NOW)
    assert (case.status, case.closed_as) == ("open", "")
    assert case.journal.last().detail == "came back"
    with pytest.raises(ObservationError, match="is open"):
        life.reopen_case(case, reason="again", by=technician, at=NOW)


def test_what_was_found_is_kept_with_what_was_said_at_that_moment(case, technician):
    balance(case, {3}, technician)
    found = life.Found(found="burnt valve", fault="exhaust_valve_leak", cylinders=(4,), seen_by="head off")
    wrong = life.record_outcome(case, found, by=technician, at=NOW)
    assert (wrong.agreed, wrong.said["cylinders"]) == (False, [3])
    balance(case, {3}, technician)
    wrong.refresh_from_db()
    assert wrong.said["headline"].startswith("Cylinder 3")
    assert sum(h["probability"] for h in wrong.said["hypotheses"]) <= 1.0
    assert wrong.said["version"]


@pytest.mark.parametrize(
    ("found", "says"),
    [
        (life.Found(found=" ", seen_by="x"), "what was found"),
        (life.Found(found="x", seen_by=" "), "how it was seen"),
        (life.Found(found="x", seen_by="y", fault="gremlins"), "no fault 'gremlins'"),
        (life.Found(found="x", seen_by="y", cylinders=(12,)), "no such cylinder"),
    ],
)
def test_an_outcome_that_says_nothing_is_refused(case, technician, found, says):
    with pytest.raises(ObservationError, match=says):
        life.record_outcome(case, found, by=technician, at=NOW)
    assert not StoredOutcome.objects.exists()


def test_a_follow_up_comes_back_when_its_day_has_come(case, technician, as_user):
    today = date.today()
    due = life.add_follow_up(case, "Oil change", today - timedelta(days=1), by=technician, at=NOW)
    life.add_follow_up(case, "Plugs", today + timedelta(days=30), by=technician, at=NOW)
    client = as_user(technician)
    assert [f["words"] for f in client.get("/api/follow-ups/").json()] == ["Oil change"]
    assert [f["overdue"] for f in of(case)["follow_ups"]] == [True, False]
    life.finish_follow_up(due, by=technician, at=NOW)
    assert client.get("/api/follow-ups/").json() == []
    with pytest.raises(ObservationError, match="done before"):
        life.finish_follow_up(FollowUp.objects.get(pk=due.pk), by=technician, at=NOW)


def test_a_life_goes_out_in_a_package_and_comes_in_again(case, technician, tmp_path):
    balance(case, {3}, technician)
    do(case, SWAP, technician)
    balance(case, {1}, technician)
    do(case, BACK, technician)
    do(case, VALVES, technician)
    balance(case, (), technician)
    package = tmp_path / "life.zip"
    package.write_bytes(export_case(case))
    copy = import_case(read_package(package), file_name="life.zip", by=technician, at=NOW)
    assert of(copy)["repairs"] == of(case)["repairs"]
    assert of(copy)["changed_over"] == of(case)["changed_over"]
    assert copy.phase == case.phase == 3


def test_a_package_without_a_life_stays_one_of_the_first_version(case, technician):
    import io
    import json
    import zipfile

    balance(case, {3}, technician)
    first = json.loads(zipfile.ZipFile(io.BytesIO(export_case(case))).read("datapackage.json"))
    do(case, SWAP, technician)
    second = json.loads(zipfile.ZipFile(io.BytesIO(export_case(case))).read("datapackage.json"))
    assert (first["fair_witness"]["version"], second["fair_witness"]["version"]) == (1, 2)


def test_over_http_a_life_is_lived_and_answered_with_the_board(case, technician, as_user):
    client = as_user(technician)

    def post(path, **body):
        return client.post(f"/api/cases/{case.pk}/{path}/", body, content_type="application/json")

    balance(case, {3}, technician)
    swap = post("work", kind="changed_over", part="coil", cylinders=[3, 1])
    assert swap.status_code == 201
    assert swap.json()["life"]["phases"][-1]["words"] == "Coils 3 and 1 changed over"
    assert post("work", kind="changed_over", part="coil", cylinders=[3]).status_code == 400
    assert post("work", kind="put_back").status_code == 201
    assert post("outcome", found="coil dead", seen_by="changed over").json()["life"]["outcomes"][0]["agreed"] is False
    assert post("follow-ups", words="Look again", due="2031-02-03").json()["life"]["follow_ups"][0]["overdue"] is False
    assert post("close", codes_cleared="none").json()["life"]["stage"] == "measuring"
    assert post("reopen", reason="came back").json()["case"]["status"] == "open"


def test_one_board_asks_once_whether_its_diagnosis_still_holds(case, technician, monkeypatch):
    asked = []
    held = changing.is_current
    monkeypatch.setattr(changing, "is_current", lambda stored: asked.append(stored.pk) or held(stored))
    whole_board(case, technician)
    assert asked == [case.pk]
