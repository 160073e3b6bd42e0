"""Secondary voltage: whose spark is out of line, and what is said of it."""

import numpy as np
import pytest

from fairwitness.core.messages.rendering import render
from fairwitness.core.model.engine import Ignition, even_engine
from fairwitness.core.model.measurement import State
from fairwitness.core.procedures.registry import swept
from fairwitness.core.procedures.secondary_voltage.measure import applies, measure
from tests.core.sparks import leads

FOUR = even_engine((1, 3, 4, 2))
PAIRED = even_engine((1, 3, 4, 2), ignition=Ignition.WASTE_SPARK, coil_pairs=((1, 4), (2, 3)))


def states(measured):
    return {f.cylinder: f.state for f in measured.findings if not f.is_remark}


def share(measured, line, cylinder, engine=FOUR):
    own = next(e for e in measured.lines if e.line == line)
    return float(own.alternatives[0][engine.position(cylinder)])


def test_even_leads_accuse_nobody():
    assert set(states(measure(leads(FOUR), FOUR)).values()) == {State.NORMAL}


@pytest.mark.parametrize(
    ("about", "state", "line", "low", "high"),
    [
        ({"firing": 21.0, "line": 1.6, "length_ms": 0.9}, State.HIGH, "FV", 1.9, 2.3),
        ({"firing": 3.5, "line": 0.5, "length_ms": 2.2}, State.LOW, "FV", 0.3, 0.4),
        ({"line": 3.4, "rise": -0.6, "length_ms": 0.6}, State.ABNORMAL, "SV", 2.4, 2.6),
        ({"rise": 0.7}, State.ABNORMAL, "SL", 1.4, 1.6),
        ({"rings": 0}, State.ABNORMAL, "RG", 0.0, 0.2),
        ({"firing": 30.0, "line": 0.0}, State.HIGH, "SV", 0.0, 0.0),
        ({"firing": 0}, State.ABSENT, "FV", 0.0, 0.0),
    ],
)
def test_one_cylinder_out_of_line(about, state, line, low, high):
    measured = measure(leads(FOUR, {3: about}), FOUR)
    assert states(measured)[3] is state
    assert {s for c, s in states(measured).items() if c != 3} == {State.NORMAL}
    assert low <= share(measured, line, 3) <= high


def test_views_of_one_spark_are_one_source():
    assert {line.source for line in measure(leads(FOUR), FOUR).lines} == {"capture:secondary"}


def test_a_pick_up_of_another_gain_is_not_the_coil():
    measured = measure(leads(FOUR, gain={2: 0.5}), FOUR)
    assert states(measured)[2] is State.NORMAL
    assert "pick_up_gain" in {r.code for r in measured.reasons}


def test_a_turn_on_read_differently_alone_is_no_gain():
    measured = measure(leads(FOUR, {2: {"step": 1.0}}), FOUR)
    assert "pick_up_gain" not in {r.code for r in measured.reasons}
    assert measured.figures[2]["firing_kv"] == pytest.approx(10.0, rel=0.08)


def test_a_gain_common_to_all_takes_the_limits_away_not_the_comparison():
    measured = measure(leads(FOUR, {3: {"firing": 20.0}}, gain=dict.fromkeys(FOUR.firing_order, 0.1)), FOUR)
    assert states(measured)[3] is State.HIGH
    assert "gain_unknown" in {r.code for r in measured.reasons}


def test_waste_sparks_are_told_from_compression_and_the_companion_speaks():
    measured = measure(leads(PAIRED, {2: {"firing": 0}}, waste=4.0, gain={4: -1.0, 3: -1.0}), PAIRED)
    assert states(measured)[2] is State.ABSENT
    assert measured.figures[1]["firing_kv"] == pytest.approx(10.0, rel=0.1)
    reported = next(f.statement for f in measured.findings if f.cylinder == 2)
    assert "Cylinder 3 on the same coil sparks" in render(reported)


def test_one_pick_up_over_all_leads_needs_a_sync():
    named = leads(FOUR, {4: {"firing": 20.0}}, sync=1)
    one = named.channels[0]
    over_all = type(one)(
        name="all", role=one.role, unit="kV", samples=np.sum([c.samples for c in named.channels[:4]], axis=0)
    )
    both = type(named)(name="king", time=named.time, channels=(over_all, named.channels[-1]), set_up=named.set_up)
    assert states(measure(both, FOUR))[4] is State.HIGH
    alone = type(named)(name="king", time=named.time, channels=(over_all,), set_up=named.set_up)
    assert not measure(alone, FOUR).usable


def test_leads_in_another_order_than_the_engine_are_noticed():
    crossed = leads(even_engine((1, 2, 4, 3)))
    assert "order_differs" in {r.code for r in measure(crossed, FOUR).reasons}


def test_a_sweep_from_coil_to_coil_is_compared_as_one():
    odd = {2: {"firing": 22.0, "line": 1.7, "length_ms": 0.9}}
    parts = [measure(leads(FOUR, odd, cylinders=(c,), sync=1, seed=c), FOUR) for c in (1, 2, 3, 4)]
    assert all("lone_part" in {r.code for r in p.reasons} for p in parts)
    assert not any(p.lines for p in parts)
    judged = swept(parts, FOUR)
    assert [states(m) for m in judged] == [
        {1: State.NORMAL}, {2: State.HIGH}, {3: State.NORMAL}, {4: State.NORMAL},
    ]  # fmt: skip
    assert {line.source for m in judged for line in m.lines} == {"sweep:secondary_voltage"}
    assert all(f.origin.capture_sha256 for m in judged for f in m.findings)
    assert share(judged[1], "FV", 2) == pytest.approx(2.2, abs=0.15)
    assert next(e for e in judged[1].lines).sigmas[FOUR.position(1)] > 1  # another cylinder's part says nothing of 1


def test_a_snapped_throttle_names_who_does_not_react():
    calm, snapped = leads(FOUR, cycles=8), leads(FOUR, {c: {"firing": 18.0} for c in (1, 3, 4)}, cycles=8, load="snap")
    joined = type(calm)(
        name="snap",
        time=type(calm.time)(samples=2 * calm.time.samples, rate_hz=calm.time.rate_hz),
        channels=tuple(
            type(a)(
                name=a.name, role=a.role, unit="kV", samples=np.concatenate((a.samples, b.samples)), cylinder=a.cylinder
            )
            for a, b in zip(calm.channels, snapped.channels, strict=True)
        ),
        set_up=snapped.set_up,
    )
    snaps = [s for s in measure(joined, FOUR).categorical if s.kind == "snap_reaction"]
    assert {s.cylinders[0]: s.outcome for s in snaps} == {
        1: "rises", 2: "none", 3: "rises", 4: "rises",
    }  # fmt: skip


def test_a_sync_alone_is_no_secondary_capture():
    capture = leads(FOUR, cylinders=(1,))
    lead = capture.channels[0]
    sync = type(lead)(name="s", role=lead.role, unit="kV", samples=lead.samples, cylinder=1, sync=True)
    unsaid = type(capture.set_up)()
    assert not applies(type(capture)(name="x", time=capture.time, channels=(sync,), set_up=unsaid))
    assert applies(type(capture)(name="x", time=capture.time, channels=(lead,), set_up=unsaid))


def test_absolute_limits_are_said_where_the_level_is_one_plugs_have():
    high = measure(leads(FOUR, {4: {"firing": 14.0, "line": 6.8, "length_ms": 0.6}}), FOUR)
    assert "line_high" in {r.code for r in high.reasons}
    worn = measure(leads(FOUR, {c: {"firing": 24.0, "length_ms": 0.7} for c in FOUR.firing_order}), FOUR)
    assert {"firing_high_all", "duration_short_all"} <= {r.code for r in worn.reasons}
    assert set(states(worn).values()) == {State.NORMAL}


def test_no_sparks_anywhere_is_no_evidence():
    measured = measure(leads(FOUR, {c: {"firing": 0} for c in FOUR.firing_order}), FOUR)
    assert not measured.usable
    assert "pick-ups on" in render(measured.reasons[0].statement)


@pytest.mark.parametrize(
    ("about", "ill"),
    [({"firing": 22.0, "line": 1.7, "length_ms": 0.8}, State.HIGH), ({"firing": 3.2, "line": 0.5}, State.LOW)],
)
def test_of_two_equal_halves_the_one_that_plugs_usually_need_is_sound(about, ill):
    found = states(measure(leads(FOUR, {1: about, 2: about}), FOUR))
    assert found == {1: ill, 2: ill, 3: State.NORMAL, 4: State.NORMAL}


def test_single_lost_sparks_are_seen_though_the_median_is_sound():
    calm, open_lead = leads(FOUR, cycles=12), leads(FOUR, {3: {"firing": 30.0, "line": 0.0}}, cycles=4)
    joined = type(calm)(
        name="now and then",
        time=type(calm.time)(samples=calm.time.samples + open_lead.time.samples, rate_hz=calm.time.rate_hz),
        channels=tuple(
            type(a)(
                name=a.name, role=a.role, unit="kV", samples=np.concatenate((a.samples, b.samples)), cylinder=a.cylinder
            )
            for a, b in zip(calm.channels, open_lead.channels, strict=True)
        ),
        set_up=calm.set_up,
    )
    reported = measure(joined, FOUR)
    gaps = {s.cylinders[0]: s.outcome for s in reported.categorical if s.kind == "spark_gaps"}
    assert gaps == {1: "none", 2: "none", 3: "some", 4: "none"}
    assert states(reported)[3] is State.ABNORMAL
