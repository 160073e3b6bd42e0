"""Engine records over HTTP."""

import pytest

from tests.server.engines.test_records import BLOCK, NAME, WIRING

JSON = "application/json"


@pytest.fixture
def client(as_user, technician):
    return as_user(technician)


def write(client, label=NAME, address="/api/engine-records/", **more):
    return client.post(address, {"label": label, "engine": {**BLOCK, "firing_order": "1 3 4 2"}, **more}, JSON)


def test_an_engine_is_written_read_and_changed(client):
    made = write(client, engine={**BLOCK, "wiring": WIRING}, usual=[{"words": "idle", "value": "750"}]).json()
    address = f"/api/engine-records/{made['id']}/"
    told = client.get(address).json()
    assert told["wiring"][0]["places"][1]["colour"] == "white-red"
    assert (told["changes"], told["may"]) == (0, True)
    changed = write(client, address=address, notes="starts badly in the wet").json()
    assert (changed["notes"], changed["changes"], changed["engine"]["firing_order"]) == (
        "starts badly in the wet", 1, [1, 3, 4, 2],
    )  # fmt: skip
    (line,) = client.get("/api/engine-records/?letters=drov").json()
    assert line["words"] == "4 cylinders, fires 1 3 4 2, petrol, port, coil on plug"
    assert client.get("/api/engine-records/?letters=nothing").json() == []


def test_a_variant_says_its_differences_in_words(client):
    write(client, engine={**BLOCK, "injector_ohms": 14.0})
    late = write(client, "late", variant_of=NAME, engine={"wiring": WIRING, "injector_ohms": 12.0}).json()
    said = {d["key"]: (d["here"], d["there"]) for d in late["differences"]}
    assert said == {"wiring": ("one circuit", "not said"), "injector ohms": ("12.0", "14.0")}


def test_minutes_are_those_of_this_shop(client):
    made = write(client).json()
    told = client.post(
        f"/api/engine-records/{made['id']}/minutes/", {"test": "relative_compression", "minutes": 25}, JSON
    ).json()
    assert next(m for m in told["minutes"] if m["test"] == "relative_compression")["minutes"] == 25


def test_the_package_goes_out_and_comes_in(client):
    write(client)
    sent = client.get("/api/engine-records/package/")
    assert "datapackage.json" in sent["Content-Disposition"]
    lines = client.post("/api/engine-records/package/", {"descriptor": sent.json()}, JSON).json()
    assert [line["label"] for line in lines] == [NAME]
    refused = client.post("/api/engine-records/package/", {"descriptor": {"resources": []}}, JSON)
    assert refused.status_code >= 400
    assert "no package of engines" in refused.json()["what"]


def test_a_firing_order_that_cannot_be_is_refused(client):
    refused = write(client, engine={**BLOCK, "firing_order": "1 3 4 4"})
    assert refused.status_code >= 400
    assert "more than once" in refused.json()["what"]
