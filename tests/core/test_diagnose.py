from dataclasses import replace

import numpy as np
import pytest

from fairwitness.core.diagnose import diagnose
from fairwitness.core.messages.rendering import render
from fairwitness.core.model.capture import CaptureTest, Channel, Role, SetUp, UnreadableCapture
from fairwitness.core.model.case import Case, Observation
from fairwitness.core.procedures.registry import CAPTURE_TESTS
from fairwitness.core.reason.bearing import doubted
from fairwitness.core.reason.verdict import Status
from fairwitness.formats.diagnosis_document import diagnosis_document
from tests.conftest import cranking


def test_from_samples_to_a_named_cylinder(four):
    result = diagnose(Case(name="x", engine=four, captures=(cranking(four, {3: 0.05}),)))
    assert result.verdict.cylinders == (3,)
    assert [c.contribution for c in result.cylinders] == ["unknown", "unknown", "none", "unknown"]
    assert result.cylinders[2].causes["mechanical"] > 0.8
    assert all(sum(c.causes.values()) == pytest.approx(1.0, abs=1e-3) for c in result.cylinders)
    assert [f.id for f in result.findings] == ["f1", "f2", "f3", "f4"]


def test_a_speed_table_that_agrees_makes_it_supported(four):
    speeds = Observation(
        test="cranking_speed", data={"cylinder_rpm": {"1": 214, "2": 212, "3": 248, "4": 213}, "seconds": 10}
    )
    result = diagnose(Case(name="x", engine=four, captures=(cranking(four, {3: 0.05}),), observations=(speeds,)))
    assert result.verdict.status is Status.SUPPORTED


def test_what_no_test_reads_is_listed_not_refused(four):
    odd = Observation(test="tea_leaves", data={})
    result = diagnose(Case(name="x", engine=four, captures=(cranking(four),), observations=(odd,)))
    assert "observation of tea leaves" in render(result.statement.not_seen[-1].text)


def test_an_unreadable_capture_is_unusable_evidence(four):
    broken = UnreadableCapture(
        name="crank", set_up=SetUp(test=CaptureTest.RELATIVE_COMPRESSION), reason="Line 3 is not text."
    )
    result = diagnose(Case(name="x", engine=four, captures=(broken,)))
    assert [(c.usable, [render(r) for r in c.reasons]) for c in result.captures] == [(False, ["Line 3 is not text."])]
    assert {f.state.value for f in result.findings} == {"unusable"}
    assert result.verdict.status is Status.INCONCLUSIVE


def test_an_unusable_capture_moves_no_probability(four):
    nothing = diagnose(Case(name="x", engine=four))
    unusable = diagnose(Case(name="x", engine=four, captures=(cranking(four, {3: 0.05}, fuel_disabled=False),)))
    assert unusable.posterior.probabilities.tolist() == nothing.posterior.probabilities.tolist()


def test_an_empty_case_is_told_where_to_begin(four):
    assert diagnose(Case(name="x", engine=four)).plan.offers[0].test == "relative_compression"


def test_an_engine_is_opened_with_the_owners_yes_only(four):
    found = [
        Observation(test="leak_down", data={"cylinder": 3, "percent": 60, "heard_at": ["oil_filler"]}),
        Observation(test="compression_gauge", data={"unit": "bar", "dry": {"1": 12, "2": 12, "3": 5, "4": 12.2}}),
    ]
    asked = diagnose(Case(name="x", engine=four, observations=tuple(found)))
    assert any("owner's yes" in render(s.text) for s in asked.statement.follows)
    agreed = Observation(test="authorisation", data={"who": "M. Ferrow", "amount": "900", "note": "head off"})
    settled = diagnose(Case(name="x", engine=four, observations=(*found, agreed)))
    assert not any("owner's yes" in render(s.text) for s in settled.statement.follows)


def of_a_hose(engine, capture):
    """The same cranking, taken for another test, with a hose sensor beside the clamp that shows nothing."""
    hose = Channel(
        name="hose", role=Role.CRANKCASE_PRESSURE, unit="Pa", samples=np.zeros(capture.time.samples, np.float32)
    )
    set_up = replace(capture.set_up, test=CaptureTest.CRANKCASE_PULSE)
    return replace(capture, channels=(*capture.channels, hose), set_up=set_up)


def test_a_clamp_beside_another_tests_sensor_is_read_too_and_is_a_witness_of_its_own(four):
    result = diagnose(Case(name="x", engine=four, captures=(of_a_hose(four, cranking(four, {3: 0.05})),)))
    assert result.verdict.cylinders == (3,)
    assert [m.test for m in result.measured if m.usable] == ["relative_compression"]
    assert all("relative_compression" in source for m in result.measured if m.usable for source in m.sources)


def test_what_a_bystander_cannot_tell_is_not_held_against_the_capture(four):
    short = of_a_hose(four, cranking(four, {3: 0.05}, fuel_disabled=False))
    assert [m.test for m in diagnose(Case(name="x", engine=four, captures=(short,))).measured] == ["crankcase_pulse"]


def test_an_error_nobody_foresaw_makes_one_capture_unusable_and_the_rest_is_judged(four, monkeypatch, caplog):
    def broken(capture, engine):
        raise ZeroDivisionError("no cycles")

    spoilt = replace(cranking(four, {3: 0.05}), name="spoilt", set_up=SetUp(test=CaptureTest.CRANK_SPEED))
    monkeypatch.setattr(CAPTURE_TESTS["crank_speed"], "applies", lambda c: c.name == "spoilt")
    monkeypatch.setattr(CAPTURE_TESTS["crank_speed"], "measure", broken)
    result = diagnose(Case(name="x", engine=four, captures=(spoilt, cranking(four, {3: 0.05}))))
    assert result.verdict.cylinders == (3,)
    refused = [m for m in result.measured if not m.usable]
    assert [(m.test, m.resource, [r.code for r in m.reasons]) for m in refused] == [
        ("crank_speed", "spoilt", ["unexpected"])
    ]
    assert "ZeroDivisionError" in caplog.text


def test_what_does_not_fit_the_others_is_named_to_be_taken_again(four):
    agree = [replace(cranking(four, {3: 0.05}), name=f"agree-{n}") for n in range(3)]
    odd = replace(cranking(four, {2: 0.05}), name="odd")
    result = diagnose(Case(name="x", engine=four, captures=(*agree, odd)))
    words = [render(s.text) for s in result.statement.follows]
    assert [w for w in words if "(capture odd)" in w and "probably misread" in w]
    assert result.verdict.cylinders == (3,)
    assert list(doubted(result.posterior)) == ["capture:odd"]
    assert diagnosis_document(result)["doubted"][0]["source"] == "capture:odd"


def test_where_all_fits_nothing_is_doubted(four):
    result = diagnose(Case(name="x", engine=four, captures=(cranking(four, {3: 0.05}),)))
    assert diagnosis_document(result)["doubted"] == []
    assert "misread" not in " ".join(render(s.text) for s in result.statement.follows)


def test_of_two_that_contradict_each_other_neither_is_set_aside(four):
    one, other = cranking(four, {3: 0.05}), replace(cranking(four, {2: 0.05}), name="other")
    assert diagnose(Case(name="x", engine=four, captures=(one, other))).verdict.contradiction
