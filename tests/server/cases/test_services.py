import pytest
from django.core.exceptions import PermissionDenied
from django.utils import timezone

from fairwitness.core.errors import ObservationError
from fairwitness.server.cases import life, services
from fairwitness.server.cases.models import FuelState, StoredObservation

SPEEDS = {"cylinder_rpm": {"1": 214, "2": 212, "3": 248, "4": 213}, "seconds": 10}


def verbs(case):
    return list(case.journal.values_list("verb", flat=True))


def test_a_new_case_has_a_statement_and_a_next_test(case):
    assert case.headline == "Nothing was measured yet."
    assert case.waits_for == "relative_compression"
    assert verbs(case) == ["case opened"]


def test_fuel_stays_disabled_until_said_otherwise(case, technician):
    now = timezone.now()
    with pytest.raises(ObservationError, match="How was fuel disabled"):
        services.set_fuel_state(case, state=FuelState.DISABLED, how=" ", by=technician, at=now)
    services.set_fuel_state(case, state=FuelState.DISABLED, how="fuse 14", by=technician, at=now)
    with pytest.raises(ObservationError, match="still disabled"):
        life.close_case(case, by=technician, at=now)
    services.set_fuel_state(case, state=FuelState.ENABLED, how="", by=technician, at=now)
    life.close_case(case, by=technician, at=now)
    case.refresh_from_db()
    assert (case.status, case.fuel_note) == ("closed", "")
    assert verbs(case) == ["case opened", "fuel disabled", "fuel enabled", "case closed"]


def test_an_observation_moves_the_statement_and_withdrawing_moves_it_back(case, technician):
    now = timezone.now()
    kept = services.add_observation(case, test="cranking_speed", data=SPEEDS, by=technician, at=now)
    case.refresh_from_db()
    assert (case.cylinders, case.cause) == ([3], "mechanical")
    services.withdraw_observation(kept, reason="wrong car", by=technician, at=now)
    case.refresh_from_db()
    assert case.cylinders == []
    kept.refresh_from_db()
    assert (kept.withdrawn_reason, kept.withdrawn_by, kept.data["cylinder_rpm"]["3"]) == ("wrong car", technician, 248)


def test_withdrawing_needs_a_reason_and_happens_once(case, technician):
    now = timezone.now()
    kept = services.add_observation(case, test="note", data={}, by=technician, at=now)
    with pytest.raises(ObservationError, match="Why"):
        services.withdraw_observation(kept, reason=" ", by=technician, at=now)
    services.withdraw_observation(kept, reason="typo", by=technician, at=now)
    with pytest.raises(ObservationError, match="before"):
        services.withdraw_observation(kept, reason="again", by=technician, at=now)


def test_who_looked_before_somebody_else_withdrew_it_is_told(case, technician, lead):
    now = timezone.now()
    kept = services.add_observation(case, test="note", data={}, by=technician, at=now)
    stale = StoredObservation.objects.get(pk=kept.pk)
    services.withdraw_observation(kept, reason="typo", by=technician, at=now)
    with pytest.raises(ObservationError, match="before"):
        services.withdraw_observation(stale, reason="mine", by=lead, at=now)
    kept.refresh_from_db()
    assert (kept.withdrawn_reason, kept.withdrawn_by) == ("typo", technician)


@pytest.mark.parametrize(
    "change",
    [
        lambda case, by, now: life.close_case(case, by=by, at=now),
        lambda case, by, now: services.set_fuel_state(case, state=FuelState.DISABLED, how="fuse 14", by=by, at=now),
        lambda case, by, now: services.set_approach(case, changes={"order": "codes_first"}, by=by, at=now),
        lambda case, by, now: services.add_observation(case, test="note", data={}, by=by, at=now),
    ],
)
def test_a_closed_case_takes_nothing_more(case, technician, change):
    now = timezone.now()
    life.close_case(case, by=technician, at=now)
    before = verbs(case)
    with pytest.raises(ObservationError, match="closed"):
        change(case, technician, now)
    case.refresh_from_db()
    assert (verbs(case), case.fuel_state) == (before, "enabled")


def test_readers_change_nothing(case, reader):
    now = timezone.now()
    with pytest.raises(PermissionDenied):
        services.add_observation(case, test="note", data={}, by=reader, at=now)
    with pytest.raises(PermissionDenied):
        services.set_fuel_state(case, state=FuelState.DISABLED, how="x", by=reader, at=now)
    assert verbs(case) == ["case opened"]


def test_another_school_ranks_otherwise(case, technician):
    services.set_approach(case, changes={"order": "codes_first"}, by=technician, at=timezone.now())
    assert case.waits_for != "Relative compression from starter current"


def test_a_flooded_engine_is_not_closed_before_every_question_is_answered(case, technician):
    now = timezone.now()
    stuck = {"circuit": "injector", "cylinder": 2, "lamp": "bright"}
    services.add_observation(case, test="load_lamp", data=stuck, by=technician, at=now)
    for question in ("plugs_out", "no_sparks", "hydraulic_lock", "oil_dilution", "flood_cleared"):
        case.refresh_from_db()
        with pytest.raises(ObservationError, match="flooding") as refusal:
            life.close_case(case, by=technician, at=now)
        assert refusal.value.where == "questions"
        answer = {"question": question, "note": "seen to"}
        services.add_observation(case, test="note", data=answer, by=technician, at=now)
    case.refresh_from_db()
    assert life.close_case(case, by=technician, at=now).status == "closed"


def test_withdrawing_an_answer_opens_its_question_again(case, technician):
    now = timezone.now()
    stuck = {"circuit": "injector", "cylinder": 2, "lamp": "bright"}
    services.add_observation(case, test="load_lamp", data=stuck, by=technician, at=now)
    answer = {"question": "oil_dilution", "note": "oil changed"}
    kept = services.add_observation(case, test="note", data=answer, by=technician, at=now)
    case.refresh_from_db()
    assert [q["answer"] for q in case.diagnosis["questions"]] == ["", "", "", "oil changed", ""]
    services.withdraw_observation(kept, reason="other van", by=technician, at=now)
    case.refresh_from_db()
    assert not any(q["answer"] for q in case.diagnosis["questions"])
