import pytest
from django.utils import timezone

from fairwitness.core.model.engine import even_engine
from fairwitness.core.model.symptom import Symptom
from fairwitness.server.cases.models import StoredCase
from fairwitness.server.cases.services import Intake, add_observation, open_case

ENGINE = {
    "label": "Marl Bookwain 1.2",
    "cylinders": 3,
    "firing_order": "1 3 2",
    "fuel": "petrol",
    "ignition": "coil_on_plug",
    "injection": "port",
}


def post(client, url, data):
    return client.post(url, data, content_type="application/json")


def test_a_case_is_opened_and_read(as_user, technician):
    client = as_user(technician)
    opened = post(
        client,
        "/api/cases/",
        {
            "title": "Van shakes",
            "vehicle": "Van",
            "engine": ENGINE,
            "complaint": "<b>=1+1</b>",
            "codes": [{"code": "P0302"}],
        },
    )
    assert opened.status_code == 201
    seen = client.get(f"/api/cases/{opened.json()['id']}/").json()
    assert seen["case"]["engine"]["firing_order"] == [1, 3, 2]
    assert seen["case"]["complaint"] == "<b>=1+1</b>"
    assert seen["verdict"]["status"] == "inconclusive"
    assert seen["next_tests"][0]["test"] == "relative_compression"


@pytest.mark.parametrize(
    ("change", "says"),
    [({"firing_order": "1 3 3"}, "more than once"), ({"cylinders": 0}, "0 cylinders"), ({"fuel": "coal"}, "coal")],
)
def test_an_engine_that_cannot_be_is_refused_and_nothing_is_stored(as_user, technician, change, says):
    answer = post(as_user(technician), "/api/cases/", {"title": "x", "engine": ENGINE | change})
    assert answer.status_code == 400
    assert says in answer.json()["sentence"]
    assert not StoredCase.objects.exists()


def test_the_yard_is_searched_and_filtered(as_user, technician, case):
    engine = even_engine((1, 3, 2))
    open_case(Intake(title="Gritter squeals", vehicle="Gritter", engine=engine), by=technician, at=timezone.now())
    client = as_user(technician)
    assert client.get("/api/cases/").json()["count"] == 2
    assert [c["vehicle"] for c in client.get("/api/cases/?search=grit").json()["cases"]] == ["Gritter"]
    assert client.get("/api/cases/?status=closed").json()["count"] == 0
    assert client.get("/api/cases/?cause=none").json()["count"] == 2
    assert client.get("/api/cases/?page=99").json()["page"] == 1


@pytest.mark.parametrize("count", [3, 30])
def test_the_list_needs_a_fixed_number_of_queries(as_user, technician, count, django_assert_num_queries):
    engine = even_engine((1, 3, 2))
    for i in range(count):
        open_case(Intake(title=f"Case {i}", engine=engine), by=technician, at=timezone.now())
    client = as_user(technician)
    with django_assert_num_queries(5):
        assert len(client.get("/api/cases/").json()["cases"]) == count


def test_fuel_order_and_close_answer_with_the_board(as_user, technician, case):
    client = as_user(technician)
    url = f"/api/cases/{case.pk}"
    assert post(client, f"{url}/fuel/", {"state": "disabled", "how": "fuse"}).json()["case"]["fuel_state"] == "disabled"
    refused = post(client, f"{url}/close/", {})
    assert (refused.status_code, "still disabled" in refused.json()["sentence"]) == (400, True)
    post(client, f"{url}/fuel/", {"state": "enabled"})
    assert post(client, f"{url}/approach/", {"order": "codes_first"}).json()["approach"]["order"] == "codes_first"
    assert post(client, f"{url}/close/", {}).json()["case"]["status"] == "closed"


def test_an_observation_is_kept_and_withdrawn(as_user, technician, case):
    client = as_user(technician)
    data = {"cylinder_rpm": {"1": 214, "2": 212, "3": 248, "4": 213}, "seconds": 10}
    seen = post(client, f"/api/cases/{case.pk}/observations/", {"test": "cranking_speed", "data": data}).json()
    assert seen["verdict"]["cylinders"] == [3]
    kept = seen["rows"][0]["observation"]
    after = post(client, f"/api/observations/{kept}/withdraw/", {"reason": "typo"}).json()
    assert after["verdict"]["cylinders"] == []
    assert after["rows"][0]["withdrawn"]


def test_placeholders_are_kept_as_unusable_and_accuse_nobody(as_user, technician, case):
    data = {"cylinder_rpm": {"1": 0, "2": 0, "3": 65535, "4": 0}, "seconds": 10}
    seen = post(as_user(technician), f"/api/cases/{case.pk}/observations/", {"test": "cranking_speed", "data": data})
    assert seen.json()["rows"][0]["usable"] is False
    assert seen.json()["verdict"]["cylinders"] == []


def test_engines_are_checked_while_typed(as_user, technician):
    answer = post(as_user(technician), "/api/engines/check/", {"engine": ENGINE}).json()
    assert (answer["valid"], len(answer["places"])) == (True, 3)


def test_the_yard_says_where_the_whole_engine_is_meant(as_user, technician, case):
    intake = Intake(title="Van", vehicle="Van", symptom=Symptom.NO_START, engine=even_engine((1, 3, 2)))
    opened = open_case(intake, by=technician, at=timezone.now())
    for item, seen in (("spark", "none"), ("injector_pulse", "flashes"), ("coil_ramp", "none")):
        data = {"item": item, "seen": seen}
        add_observation(opened, test="no_start", data=data, by=technician, at=timezone.now())
        opened.refresh_from_db()
    lines = {c["vehicle"]: c for c in as_user(technician).get("/api/cases/").json()["cases"]}
    assert lines["Van"]["whole_engine"] is True
    assert sorted(lines["Van"]["cylinders"]) == [1, 2, 3]
    assert lines[case.vehicle]["whole_engine"] is False


def test_an_open_pair_stands_in_the_list_by_its_numbers(as_user, technician, case):
    case.diagnosis = {**case.diagnosis, "verdict": {**case.diagnosis["verdict"], "rivals": [2, 3]}}
    case.save()
    (line,) = as_user(technician).get("/api/cases/").json()["cases"]
    assert line["rivals"] == [2, 3]
    case.diagnosis["verdict"]["rivals"] = [1, 2, 3, 4]
    case.save()
    assert as_user(technician).get("/api/cases/").json()["cases"][0]["rivals"] == []
