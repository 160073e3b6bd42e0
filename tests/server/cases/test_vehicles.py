"""Vehicles and their visits: the same one is known again, what was found is told, and packages carry it."""

import io
import zipfile
from datetime import timedelta

import pytest
from django.utils import timezone

from fairwitness.core.errors import ObservationError
from fairwitness.core.model.engine import even_engine
from fairwitness.formats.case_package import read_package
from fairwitness.server.captures.services import export_case, import_case
from fairwitness.server.cases import life
from fairwitness.server.cases.answers import whole_board
from fairwitness.server.cases.evidence import core_case
from fairwitness.server.cases.models import StoredCase, Vehicle
from fairwitness.server.cases.services import Intake, open_case
from tests.server.cases.test_life import balance

NOW = timezone.now()
FOUR, OTHER = even_engine((1, 3, 4, 2)), even_engine((1, 2, 3))
COIL = life.Found(found="Coil dead inside", seen_by="changed over", fault="coil_output_dead", cylinders=(3,))


def visit(by, name="Bus 3", engine=FOUR, days=0, **about):
    intake = Intake(title=name, vehicle=name, engine=engine, **about)
    return open_case(intake, by=by, at=NOW + timedelta(days=days))


def test_the_same_name_and_firing_order_is_the_same_vehicle(technician):
    first, again, other = visit(technician), visit(technician, " bus 3 "), visit(technician, engine=OTHER)
    assert first.visit_of == again.visit_of
    assert other.visit_of != first.visit_of
    assert Vehicle.objects.count() == 2


def test_a_vehicle_that_was_chosen_keeps_its_name(technician):
    first = visit(technician)
    chosen = visit(technician, "typed otherwise", visit_of=first.visit_of_id)
    assert (chosen.vehicle, chosen.visit_of_id) == ("Bus 3", first.visit_of_id)


@pytest.mark.parametrize(("number", "engine"), [(None, FOUR), (0, OTHER)])
def test_no_such_vehicle_or_another_engine_is_refused_whole(technician, number, engine):
    known = visit(technician).visit_of_id
    with pytest.raises(ObservationError):
        visit(technician, engine=engine, visit_of=999 if number is None else known)
    assert StoredCase.objects.count() == 1


def test_the_next_visit_is_told_what_was_found_at_the_last(technician):
    first = visit(technician, odometer_km=120_400)
    balance(first, {3}, technician)
    life.record_outcome(first, COIL, by=technician, at=NOW)
    life.close_case(first, by=technician, at=NOW)
    second = visit(technician, days=40)
    (line,) = whole_board(second, technician)["visit"]["history"]
    assert (line["case"], line["odometer_km"]) == (first.pk, 120_400)
    (past,) = core_case(second).visits
    assert (past.fault, past.cylinders, past.on) == ("coil_output_dead", (3,), NOW.date().isoformat())
    assert whole_board(first, technician)["visit"]["history"] == []
    assert second.cylinders == []  # it tells, and accuses nobody


def test_a_visit_that_is_open_already_thinks_of_what_is_found_later(technician):
    first, second = visit(technician), visit(technician, days=40)
    balance(second, {3}, technician)
    before = _chance(second, "coil_output_dead")
    life.record_outcome(first, COIL, by=technician, at=NOW)
    second.refresh_from_db()
    assert _chance(second, "coil_output_dead") > before


def test_history_does_not_outvote_a_measurement(technician):
    first = visit(technician)
    life.record_outcome(first, COIL, by=technician, at=NOW)
    second, stranger = visit(technician, days=40), visit(technician, "Bus 4", days=40)
    for case in (second, stranger):
        balance(case, {2}, technician)
    assert second.cylinders == stranger.cylinders == [2]


def test_a_package_carries_visits_parts_and_outcome_and_is_of_the_second_version(technician):
    first = visit(technician)
    life.record_outcome(first, COIL, by=technician, at=NOW)
    second = visit(technician, days=40)
    life.record_outcome(second, COIL, by=technician, at=NOW)
    written = export_case(second)
    read = read_package("visits.zip", keep_bytes=written)
    assert [v.fault for v in read.visits] == ["coil_output_dead"]
    assert read.extra["outcomes"][0]["found"] == "Coil dead inside"
    assert b'"version": 2' in _descriptor(written)
    brought = import_case(read, file_name="visits.zip", by=technician, at=NOW)
    assert brought.visit_of is None  # a vehicle of elsewhere is not one of ours because its name is the same
    (line,) = whole_board(brought, technician)["visit"]["history"]
    assert line["case"] is None
    once_more = read_package("again.zip", keep_bytes=export_case(brought))
    assert once_more.visits == read.visits
    assert once_more.extra["outcomes"] == read.extra["outcomes"]


def test_a_case_without_a_life_stays_of_the_first_version(technician):
    assert b'"version": 1' in _descriptor(export_case(visit(technician)))


def test_letters_bring_up_vehicles_with_their_visits(as_user, technician):
    for name in ("Bus 3", "Bus 3", "Minibus 7", "Post van"):
        visit(technician, name)
    found = as_user(technician).get("/api/vehicles/?letters=bus").json()
    assert [(v["name"], v["visits"]) for v in found] == [("Bus 3", 2), ("Minibus 7", 1)]
    assert as_user(technician).get("/api/vehicles/?letters=").json() == []


def test_notes_on_a_vehicle_are_seen_at_every_visit_and_say_who_wrote_them(as_user, technician):
    first, second = visit(technician), visit(technician, days=1)
    kept = as_user(technician).post(
        f"/api/vehicles/{first.visit_of_id}/", {"notes": "Scan port under the seat"}, content_type="application/json"
    )
    assert kept.status_code == 200
    for case in (first, second):
        case = StoredCase.objects.get(pk=case.pk)
        assert whole_board(case, technician)["visit"]["notes"] == "Scan port under the seat"
    assert second.journal.last().verb == "vehicle noted"


def _chance(case, fault):
    said = case.diagnosis["hypotheses"]
    return sum(h["probability"] for h in said if any(f["fault"] == fault and 3 in f["cylinders"] for f in h["faults"]))


def _descriptor(written: bytes) -> bytes:
    return zipfile.ZipFile(io.BytesIO(written)).read("datapackage.json")
