"""The bench over its API: a real scope stand-in behind TCP, a real control unit behind CAN."""

import threading

import numpy as np
import pytest

from fairwitness.core.procedures.specs import CARDS
from fairwitness.server.bench.session import BENCHES, BenchSession
from fairwitness.server.bench.stage import Stage
from fairwitness.server.captures.models import StoredCapture
from fairwitness.server.cases.models import StoredCase, StoredObservation
from tests.server.imports.sending import begin

CHECKS = [c.id for c in CARDS["relative_compression"].checks]


def post(client, path, **body):
    return client.post(f"/api/bench/{path}/", body, content_type="application/json")


def ready(client, fault="exhaust_valve_leak@3", vehicle="drover-2.0", test="relative_compression"):
    post(client, "vehicle", vehicle=vehicle, fault=fault)
    post(client, "scope", on=True)
    post(client, "fuel", on=False)
    return post(client, "set-up", test=test)


def bench_of(user):
    return BENCHES._sessions[user.pk]


def captured(user):
    bench_of(user).recording.wait(20)
    return bench_of(user)


@pytest.fixture
def at_bench(client, technician):
    client.force_login(technician)
    return client


def test_from_choosing_to_a_named_cylinder(at_bench, technician):
    state = ready(at_bench).json()
    assert state["big"] == "Fuel disabled"
    assert [lead["role"] for lead in state["leads"]] == ["starter_current", "battery_voltage", "coil_control"]
    bench_of(technician).bay.pace = 2.0  # a crank that is still going when the answer is written
    assert post(at_bench, "go", ticked=CHECKS).json()["big"] == "Cranking"
    assert captured(technician).stage is Stage.CAPTURED
    kept = post(at_bench, "keep").json()
    case = StoredCase.objects.get(pk=kept["case"])
    assert case.cylinders == [3]
    assert case.cause == "mechanical"
    assert case.fuel_state == "disabled"
    stored = StoredCapture.objects.get(pk=kept["id"])
    assert stored.set_up["test"] == "relative_compression"
    assert stored.set_up["fuel_disabled"] is True
    assert at_bench.get("/api/bench/").json()["stage"] == "kept"


def test_the_engine_does_not_turn_before_the_card_is_ticked(at_bench, technician):
    ready(at_bench)
    refused = post(at_bench, "go", ticked=[c for c in CHECKS if c != "neutral"])
    assert refused.status_code == 400
    assert "Gear in neutral" in refused.json()["what"]
    assert bench_of(technician).bay.motion == "off"


def test_cranking_with_fuel_on_is_refused(at_bench):
    ready(at_bench)
    post(at_bench, "fuel", on=True)
    refused = post(at_bench, "go", ticked=CHECKS)
    assert refused.status_code == 400
    assert "fuel" in refused.json()["what"].lower()


def test_a_hidden_fault_stays_hidden_until_it_is_asked_for(at_bench):
    state = post(at_bench, "vehicle", vehicle="larder-1.2", fault="hidden").json()
    assert state["vehicle"]["fault"] == ""
    reported = post(at_bench, "reveal").json()["vehicle"]["fault"]
    assert reported
    assert "hidden" not in reported


def test_a_scope_killed_in_mid_crank_loses_nothing(at_bench, technician):
    ready(at_bench)
    seen_some = threading.Event()
    bench = bench_of(technician)
    bench.bay.pace = 2.0
    post(at_bench, "go", ticked=CHECKS)

    def watch():
        while bench.recording.count < 2000:
            seen_some.wait(0.01)
        post(at_bench, "plug")

    watch()
    bench.recording.wait(20)
    state = at_bench.get("/api/bench/").json()
    assert state["stage"] == "broken_off"
    assert state["scope"] == "lost"
    assert "connect again" in state["problem"]
    there = bench.recording.count
    assert 2000 <= there < bench.recording.total
    kept = post(at_bench, "keep").json()
    assert StoredCapture.objects.get(pk=kept["id"]).samples == there
    again = post(at_bench, "scope", on=True).json()
    assert again["scope"] == "connected"
    bench.bay.pace = 25.0
    assert post(at_bench, "set-up", test="relative_compression").json()["stage"] == "set_up"


def test_stopping_early_keeps_what_is_there(at_bench, technician):
    ready(at_bench)
    bench = bench_of(technician)
    bench.bay.pace = 1.0
    post(at_bench, "go", ticked=CHECKS)
    post(at_bench, "stop")
    bench.recording.wait(20)
    assert bench.stage is Stage.CAPTURED
    assert bench.recording.count < bench.recording.total


def test_nothing_can_be_kept_before_it_is_captured(at_bench):
    ready(at_bench)
    refused = post(at_bench, "keep")
    assert refused.status_code == 400
    assert StoredCapture.objects.count() == 0


@pytest.mark.parametrize(
    ("path", "body", "words"),
    [
        ("scope", {"on": True}, "no vehicle"),
        ("set-up", {"test": "crank_speed"}, "no vehicle"),
        ("go", {"ticked": []}, "no vehicle"),
        ("engine", {"on": True}, "no vehicle"),
        ("balance", {"on": True}, "no vehicle"),
        ("vehicle", {"vehicle": "rocket", "fault": ""}, "no such vehicle"),
        ("vehicle", {"vehicle": "drover-2.0", "fault": "gremlins@2"}, "no fault"),
        ("vehicle", {"vehicle": "drover-2.0", "fault": "plug_shorted@7"}, "no cylinder 7"),
    ],
)
def test_what_cannot_be_done_is_said(at_bench, path, body, words):
    refused = post(at_bench, path, **body)
    assert refused.status_code == 400
    assert words in refused.json()["what"]


def test_coils_of_a_diesel_are_not_measured(at_bench):
    refused = ready(at_bench, vehicle="slipway-3.1", fault="", test="coil_current")
    assert refused.status_code == 400
    tests = {t["test"] for t in at_bench.get("/api/bench/choices/").json()["tests"]}
    assert "relative_compression" in tests
    assert "coil_current" not in tests


def test_the_case_keeps_its_own_engine(at_bench, technician, case):
    state = post(at_bench, "vehicle", case=case.pk, fault="").json()
    assert state["vehicle"]["case"] == case.pk
    assert state["vehicle"]["cylinders"] == len(case.engine["firing_order"])


def test_every_test_of_the_bench_can_be_captured(at_bench, technician):
    post(at_bench, "vehicle", vehicle="drover-2.0", fault="")
    post(at_bench, "scope", on=True)
    for test, card in CARDS.items():
        post(at_bench, "fuel", on=not card.cranking)
        post(at_bench, "set-up", test=test.value)
        bench_of(technician).bay._heat_s = 0.0
        assert post(at_bench, "go", ticked=[c.id for c in card.checks]).status_code == 200
        assert captured(technician).stage is Stage.CAPTURED
        capture = bench_of(technician).capture()
        assert capture.set_up == card.recorded(hot=True)
        assert all(np.isfinite(c.samples).all() for c in capture.channels)
        assert any(np.ptp(c.samples) > 0 for c in capture.channels)


def test_the_scan_link_reads_codes_counts_and_values(at_bench):
    post(at_bench, "vehicle", vehicle="drover-2.0", fault="injector_open_circuit@2")
    assert post(at_bench, "scan", on=True).json()["scan_connected"]
    seen = at_bench.get("/api/bench/scan/").json()
    assert {c["code"] for c in seen["codes"]} == {"P0202"}
    at_bench.delete("/api/bench/scan/codes/")
    assert at_bench.get("/api/bench/scan/").json()["codes"] == []
    post(at_bench, "engine", on=True)
    kept = post(at_bench, "scan/counts")
    assert kept.status_code == 201
    assert StoredObservation.objects.get(pk=kept.json()["id"]).test == "misfire_counts"


class Metronome:
    """A clock that only goes on while somebody waits: no busy machine makes a look late."""

    def __init__(self):
        self.s = 0.0

    def __call__(self):
        return self.s

    def wait(self, stop, seconds):
        self.s += seconds
        return stop.is_set()


def test_a_power_balance_names_the_cylinder_that_does_nothing(at_bench, technician, monkeypatch):
    time = Metronome()
    session = BenchSession(pace=1.0, clock=time, wait=time.wait)
    monkeypatch.setitem(BENCHES._sessions, technician.pk, session)
    post(at_bench, "vehicle", vehicle="drover-2.0", fault="injector_open_circuit@2")
    post(at_bench, "scan", on=True)
    assert post(at_bench, "balance", on=True).status_code == 400  # the engine does not run
    post(at_bench, "engine", on=True)
    bench = bench_of(technician)
    assert post(at_bench, "balance/keep").status_code == 400
    assert post(at_bench, "balance", on=True).json()["balance"]["running"]
    done = threading.Event()
    while bench.guided.now.running:
        done.wait(0.05)
    assert bench.problem == ""
    drops = {d["cylinder"]: d["rpm_before"] - d["rpm_after"] for d in bench.guided.now.drops}
    assert min(drops, key=drops.get) == 2
    assert bench.bay.cut == ()
    kept = post(at_bench, "balance/keep").json()
    assert StoredObservation.objects.get(pk=kept["id"]).data["drops"] == list(bench.guided.now.drops)


def test_a_reader_has_no_bench(client, reader):
    client.force_login(reader)
    assert client.get("/api/bench/").status_code == 403
    assert post(client, "vehicle", vehicle="drover-2.0", fault="").status_code == 403


def test_everybody_has_a_bench_of_their_own(client, technician, lead):
    client.force_login(technician)
    post(client, "vehicle", vehicle="drover-2.0", fault="")
    client.force_login(lead)
    assert client.get("/api/bench/").json()["vehicle"] is None


def test_files_of_the_inbox_are_offered_and_mapped(at_bench, case, settings, tmp_path):
    assert at_bench.get("/api/bench/inbox/").json() == {"on": False, "files": []}
    settings.INBOX = tmp_path
    (tmp_path / "scope.csv").write_text("time,amps\n" + "".join(f"{i / 100},{i % 7}\n" for i in range(50)))
    import os

    os.utime(tmp_path / "scope.csv", (1000, 1000))
    files = at_bench.get("/api/bench/inbox/").json()["files"]
    assert [f["name"] for f in files] == ["scope.csv"]
    taken = begin(at_bench, case, b"", "scope.csv", inbox=True).json()
    assert (taken["state"], taken["received"]) == ("arrived", taken["size"])
    looked = at_bench.post(f"/api/imports/{taken['id']}/look/")
    assert [c["name"] for c in looked.json()["columns"]] == ["time", "amps"]
    refused = begin(at_bench, case, b"", "../../etc/passwd", inbox=True)
    assert refused.status_code == 400
    assert (tmp_path / "scope.csv").exists()
