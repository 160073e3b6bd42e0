"""Calculators over HTTP: the shelf, one sum, what a case fills, and what is refused."""

import pytest
from django.utils import timezone

from fairwitness.core.calculators import CALCULATORS
from fairwitness.server.captures.services import keep_capture
from tests.conftest import cranking

JSON = "application/json"


@pytest.fixture
def reads(as_user, reader):
    return as_user(reader)


def use(client, name, **given):
    rows = [{"key": key, "value": value} for key, value in given.items()]
    return client.post(f"/api/calculators/{name}/", {"given": rows}, JSON)


def test_the_shelf_tells_formula_source_and_example(reads):
    told = {row["id"]: row for row in reads.get("/api/calculators/").json()}
    assert set(told) == set(CALCULATORS)
    rise = told["current_rise"]
    assert "e^" in rise["formula"]
    assert "Nilsson" in rise["came_from"]
    assert [q["example"] for q in rise["given"]] == [12.0, 0.6, 4.8, 8.0]
    assert [q["from_case"] for q in rise["given"]] == [None] * 4


def test_a_case_fills_what_its_engine_says_and_the_last_speed(reads, case, technician, four):
    case.engine |= {"compression_ratio": 10.5, "injector_ohms": 14.2, "crank_wheel": {"teeth": 60, "missing": 2}}
    case.save()
    keep_capture(case, cranking(four), by=technician, at=timezone.now())
    told = {row["id"]: row for row in reads.get(f"/api/calculators/?case={case.pk}").json()}
    filled = {q["key"]: q["from_case"] for row in told.values() for q in row["given"] if q["from_case"] is not None}
    assert filled == pytest.approx({**filled, "cylinders": 4, "ohms": 14.2, "teeth": 60, "missing": 2, "ratio": 10.5})
    assert 100 < filled["rpm"] < 400


def test_a_sum_is_done_and_nothing_kept(reads):
    found = {row["key"]: row["value"] for row in use(reads, "event_interval", cylinders=4, rpm=750).json()["found"]}
    assert found["milliseconds"] == pytest.approx(40.0)


def test_what_is_missing_is_named(reads):
    refused = use(reads, "event_interval", cylinders=4)
    assert refused.status_code == 400
    assert refused.json()["where"] == "rpm"


@pytest.mark.parametrize("address", ["/api/calculators/?case=no", "/api/calculators/?case=99999"])
def test_no_such_case(reads, address):
    assert reads.get(address).status_code == 404


def test_no_such_calculator(reads):
    assert use(reads, "alchemy", lead=1).status_code == 404


@pytest.mark.parametrize(
    ("name", "given", "key", "value"),
    [
        ("expected_current", {"ohms": 14.5}, "amps", 0.917),
        ("ohms_from_amps", {"amps": 0.917}, "ohms", 14.5),
    ],
)
def test_an_injector_is_reckoned_both_ways_with_the_span_of_sound_ones(reads, name, given, key, value):
    rows = use(reads, name, volts=13.8, celsius=20, **given).json()["found"]
    found = {row["key"]: row["value"] for row in rows}
    assert found[key] == pytest.approx(value, rel=0.01)
    assert found[f"low_{key}"] < found[key] < found[f"high_{key}"]
