import re

import pytest

from fairwitness.server.captures.models import StoredCapture
from fairwitness.server.imports import services, staging
from fairwitness.server.imports.models import FileImport
from tests.formats.packages import descriptor, package, resource
from tests.server.imports.crank_table import csv, plan
from tests.server.imports.sending import ask, begin, keep, look, send, staged, work_off


@pytest.fixture
def client(as_user, technician):
    return as_user(technician)


def test_a_file_is_looked_at_without_storing_it(client, case):
    seen = look(client, case, csv()).json()
    assert [c["role"] for c in seen["columns"]] == ["time", "starter_current", "coil_control"]
    assert seen["written"] == "semicolon between cells, decimal comma"
    assert len(seen["columns"][1]["preview"]) > 50
    assert not StoredCapture.objects.exists()


def test_a_file_becomes_evidence_and_leaves_the_staging_folder(client, case):
    done = keep(client, case, csv(), plan())
    assert (done["state"], done["problem"]) == ("kept", None)
    about = client.get(f"/api/captures/{done['capture']}/").json()
    assert [c["role"] for c in about["channels"]] == ["starter_current", "coil_control"]
    assert about["file_name"] == "crank.csv"
    assert about["cycle_starts_s"]
    assert client.get(f"/api/cases/{case.pk}/").json()["verdict"]["cylinders"] == [3]
    assert list(staging.numbers()) == []


@pytest.mark.parametrize(
    ("data", "changes", "says"),
    [
        (b"hello\nworld\n", {}, "No rows of numbers"),
        (b"\x00\x01\x02", {}, "not a text table"),
        (csv().replace(b"150;", b"150;oops", 1), {}, "not a number"),
        (csv(), {"columns": []}, "No column|columns"),
        (csv(), {"columns": [{"column": "Clamp", "role": "seance", "unit": "A"}]}, "role"),
        (csv(), {"columns": [{"column": "Clamp", "role": "starter_current", "unit": "A"}]}, "sample rate"),
        (
            csv(),
            {"columns": [{"column": "Sync 1", "role": "coil_control", "unit": "V", "cylinder": 9}]},
            "no cylinder 9",
        ),
    ],
)
def test_bad_files_and_plans_get_a_sentence_and_store_nothing(client, case, data, changes, says):
    told = keep(client, case, data, plan() | changes)
    assert re.search(says, (told.get("problem") or told)["sentence"])
    assert not StoredCapture.objects.exists()


def test_a_plan_that_was_wrong_is_mended_without_sending_the_file_again(client, case):
    number = staged(client, case, csv())
    ask(client, number, plan(columns=[{"column": "Clamp", "role": "starter_current", "unit": "A"}]))
    work_off()
    assert client.get(f"/api/imports/{number}/").json()["state"] == "refused"
    ask(client, number, plan())
    work_off()
    assert client.get(f"/api/imports/{number}/").json()["state"] == "kept"


def test_a_file_comes_in_pieces_and_goes_on_where_it_broke_off(client, case):
    data = csv()
    number = begin(client, case, data, modified=5).json()["id"]
    assert send(client, number, data[:1000]).json()["received"] == 1000
    again = begin(client, case, data, modified=5).json()
    assert (again["id"], again["received"]) == (number, 1000)
    stale = send(client, number, data[:500], offset=0).json()  # the answer of the first one was lost
    assert (stale["received"], stale["state"]) == (1000, "arriving")
    assert send(client, number, data[1000:], offset=1000).json()["state"] == "arrived"
    assert staging.path_of(number).read_bytes() == data
    assert begin(client, case, data, modified=6).json()["id"] != number


def test_a_file_that_does_not_say_when_it_was_changed_is_not_taken_for_an_earlier_one(client, case):
    first = staged(client, case, csv())
    assert staged(client, case, csv()) != first


def test_no_more_is_taken_than_was_announced(client, case):
    number = begin(client, case, b"12345").json()["id"]
    assert "more than was announced" in send(client, number, b"123456").json()["sentence"]
    assert client.get(f"/api/imports/{number}/").json()["received"] == 0


def test_a_piece_is_bounded(client, case):
    from fairwitness.server.imports.api import PIECE_BYTES_MAX

    large = b"1" * (PIECE_BYTES_MAX + 1)
    number = begin(client, case, large).json()["id"]
    assert send(client, number, large).status_code in (400, 413)
    assert client.get(f"/api/imports/{number}/").json()["received"] == 0


@pytest.mark.parametrize("offset", ["-1", "x", "9" * 40, "1.5"])
def test_an_offset_that_is_none_takes_nothing(client, case, offset):
    number = begin(client, case, b"12345").json()["id"]
    assert send(client, number, b"123", offset=offset).json()["received"] == 0


def test_what_is_not_whole_is_neither_looked_at_nor_kept(client, case):
    number = begin(client, case, csv()).json()["id"]
    send(client, number, csv()[:1000])
    assert "not here" in client.post(f"/api/imports/{number}/look/").json()["sentence"]
    assert ask(client, number, plan()).status_code == 400


def test_a_file_taken_back_is_gone_and_is_not_kept(client, case):
    number = staged(client, case, csv())
    ask(client, number, plan())
    assert client.delete(f"/api/imports/{number}/").json()["state"] == "cancelled"
    work_off()
    assert not StoredCapture.objects.exists()
    assert list(staging.numbers()) == []
    assert client.get(f"/api/cases/{case.pk}/imports/").json() == []


def test_what_is_kept_cannot_be_taken_back(client, case):
    done = keep(client, case, csv(), plan())
    assert "kept already" in client.delete(f"/api/imports/{done['id']}/").json()["sentence"]
    assert StoredCapture.objects.exists()


def test_asked_twice_it_is_kept_once(client, case):
    number = staged(client, case, csv())
    assert ask(client, number, plan()).status_code == 202
    assert "being kept already" in ask(client, number, plan()).json()["sentence"]
    work_off()
    assert StoredCapture.objects.count() == 1
    assert ask(client, number, plan()).status_code == 400


def test_who_waits_sees_how_many_are_before_him(client, case):
    numbers = []
    for seed in range(3):
        numbers.append(staged(client, case, csv({seed + 1: 0.05}), f"{seed}.csv"))
        ask(client, numbers[-1], plan())
    assert [client.get(f"/api/imports/{n}/").json()["before"] for n in numbers] == [0, 1, 2]


def test_others_see_a_file_and_a_lead_ends_it_but_nobody_goes_on_with_it(client, case, as_user, other_technician, lead):
    number = staged(client, case, csv())
    other = as_user(other_technician)
    (seen,) = other.get(f"/api/cases/{case.pk}/imports/").json()
    assert (seen["by"], seen["own"], seen["may_cancel"]) == ("Tess Test", False, False)
    for answer in (
        other.post(f"/api/imports/{number}/look/"),
        send(other, number, b"x"),
        ask(other, number, plan()),
        other.delete(f"/api/imports/{number}/"),
    ):
        assert answer.status_code == 403
    assert as_user(lead).delete(f"/api/imports/{number}/").json()["state"] == "cancelled"


def test_files_over_the_limit_are_refused_before_they_are_sent(client, case, settings):
    settings.RECORDING_BYTES_MAX = 100
    assert "larger than" in begin(client, case, csv()).json()["sentence"]
    assert not FileImport.objects.exists()


def test_a_long_table_of_text_is_told_what_to_be_instead(client, case, monkeypatch):
    monkeypatch.setattr(services, "TABLE_BYTES_MAX", 100)
    assert "HDF5" in look(client, case, csv()).json()["sentence"]


def test_a_package_is_told_where_it_belongs(client, case):
    told = look(client, case, package(descriptor(resource())), "bus.zip").json()
    assert "list of cases" in told["sentence"]


def test_without_room_nothing_is_taken(client, case, monkeypatch):
    class Full:
        free = 10

    monkeypatch.setattr(staging.shutil, "disk_usage", lambda _: Full)
    assert "no room" in begin(client, case, csv()).json()["sentence"]
    assert not FileImport.objects.exists()


def test_one_person_has_only_so_many_in_hand(client, case):
    for number in range(20):
        assert begin(client, case, b"12345", f"{number}.csv").status_code == 201
    assert "not kept yet" in begin(client, case, b"12345", "one-more.csv").json()["sentence"]


def test_a_closed_case_takes_no_file(client, case):
    case.status = "closed"
    case.save()
    assert "closed" in begin(client, case, csv()).json()["sentence"]
