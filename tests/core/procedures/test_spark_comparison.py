"""Sparks beside each other: figures written down by hand, judged as a person reading them would."""

import numpy as np
import pytest

from fairwitness.core.messages.rendering import render
from fairwitness.core.model.engine import Ignition, even_engine
from fairwitness.core.model.measurement import Origin, State
from fairwitness.core.procedures.secondary_voltage.comparison import VIEWS, compare

FOUR = even_engine((1, 3, 4, 2))
ORIGIN = Origin(resource="leads", capture_sha256="0" * 64, code_version="0")
USUAL = {
    "sparks": 40.0, "missed": 0.0, "firing_kv": 10.0, "line_kv": 1.2, "duration_ms": 1.4, "rise": 0.1, "ringing": 0.4,
    "restrikes": 0.0, "odd": 0.0,
}  # fmt: skip


def judged(odd=None, engine=FOUR, **more):
    figures = {c: {**USUAL, **(odd or {}).get(c, {})} for c in engine.firing_order}
    return compare(figures, engine, origin=ORIGIN, source="capture:leads", **more)


def main(findings, cylinder):
    return next(f for f in findings if f.cylinder == cylinder and f.quantity == "firing_voltage")


def share(lines, column, cylinder, engine=FOUR):
    line = next(line for line in lines if line.line == column)
    return float(line.alternatives[0][engine.position(cylinder)])


def test_sparks_alike_accuse_nobody():
    findings, lines, reasons = judged()
    assert {f.state for f in findings} == {State.NORMAL}
    assert reasons == ()
    assert {line.line for line in lines} == {v.line for v in VIEWS}
    for line in lines:
        assert line.alternatives[0] == pytest.approx(np.ones(4), abs=0.01)


@pytest.mark.parametrize(
    ("figures", "state", "column", "low", "high"),
    [
        ({"firing_kv": 19.0}, State.HIGH, "FV", 1.8, 2.0),
        ({"firing_kv": 4.0}, State.LOW, "FV", 0.35, 0.45),
        ({"line_kv": 2.6}, State.ABNORMAL, "SV", 2.0, 2.3),
        ({"line_kv": 0.5}, State.ABNORMAL, "SV", 0.35, 0.5),
        ({"duration_ms": 0.6}, State.ABNORMAL, "SD", 0.35, 0.5),
        ({"rise": 0.9}, State.ABNORMAL, "SL", 1.3, 1.7),
        ({"ringing": 0.02}, State.ABNORMAL, "RG", 0.0, 0.2),
        ({"missed": 0.5}, State.ABNORMAL, "FV", 0.95, 1.05),
        ({"odd": 0.4}, State.ABNORMAL, "FV", 0.95, 1.05),
    ],
)
def test_one_spark_that_differs_is_told_by_its_own_view(figures, state, column, low, high):
    findings, lines, _ = judged({4: figures})
    assert main(findings, 4).state is state
    assert {main(findings, c).state for c in (1, 2, 3)} == {State.NORMAL}
    assert low <= share(lines, column, 4) <= high


def test_no_spark_at_all_is_absent_and_its_views_of_a_line_stay_unknown():
    findings, lines, _ = judged({3: {"sparks": 0.0}})
    assert main(findings, 3).state is State.ABSENT
    assert share(lines, "FV", 3) == 0.0
    sigma = {line.line: float(line.sigmas[FOUR.position(3)]) for line in lines}
    assert sigma["RG"] == sigma["SL"] > 10 * sigma["FV"]


def test_the_partner_on_a_shared_coil_that_sparks_is_named():
    paired = even_engine((1, 3, 4, 2), ignition=Ignition.WASTE_SPARK, coil_pairs=((1, 4), (2, 3)))
    findings, _, _ = judged({3: {"sparks": 0.0}}, engine=paired)
    assert "Cylinder 2 on the same coil sparks" in render(main(findings, 3).statement)
    both, _, _ = judged({3: {"sparks": 0.0}, 2: {"sparks": 0.0}}, engine=paired)
    assert "same coil" not in render(main(both, 3).statement)


def test_a_breakdown_without_a_line_says_that_nothing_burns():
    findings, _, _ = judged({2: {"firing_kv": 25.0, "line_kv": 0.0, "duration_ms": 0.0}})
    assert main(findings, 2).state is State.HIGH
    assert "nothing burns" in render(main(findings, 2).statement)


def test_of_two_halves_the_one_nearer_to_what_plugs_usually_need_is_sound():
    high, _, _ = judged({3: {"firing_kv": 24.0}, 2: {"firing_kv": 25.0}})
    assert {f.cylinder for f in high if f.state is State.HIGH} == {2, 3}
    low, _, _ = judged({3: {"firing_kv": 3.0}, 2: {"firing_kv": 3.1}})
    assert {f.cylinder for f in low if f.state is State.LOW} == {2, 3}


def test_a_lone_lead_is_compared_with_nobody():
    findings, lines, reasons = compare({2: USUAL}, FOUR, origin=ORIGIN, source="s")
    assert lines == ()
    assert [r.code for r in reasons] == ["lone_part"]
    assert "no peer" in render(main(findings, 2).statement)


def test_who_is_spoken_of_may_be_fewer_than_who_is_compared():
    findings, lines, _ = judged({4: {"firing_kv": 19.0}}, only={4: USUAL})
    assert {f.cylinder for f in findings} == {4}
    assert share(lines, "FV", 1) == 1.0


@pytest.mark.parametrize(
    ("all_of_them", "code"),
    [
        ({"firing_kv": 24.0}, "firing_high_all"),
        ({"duration_ms": 0.6}, "duration_short_all"),
        ({"firing_kv": 0.02}, "gain_unknown"),
    ],
)
def test_what_all_share_is_a_sentence_and_accuses_nobody(all_of_them, code):
    findings, _, reasons = judged(dict.fromkeys(FOUR.firing_order, all_of_them))
    assert code in {r.code for r in reasons}
    assert {f.state for f in findings} == {State.NORMAL}


def test_scatter_widens_what_a_share_may_be_off_by():
    _, calm, _ = judged()
    noisy = {c: {"firing_kv_spread": 4.0, "sparks": 5.0} for c in FOUR.firing_order}
    _, rough, _ = judged(noisy)
    assert rough[0].sigmas.min() > calm[0].sigmas.max()


@pytest.mark.parametrize("level", [0.8, 1.6])
def test_one_level_of_a_coarse_converter_is_no_difference_between_plugs(level):
    """Eight bits over 50 kV come in steps of 0.4: a line of 1.2 is 0.8, 1.2 or 1.6."""
    coarse = {c: {"grid_kv": 0.4, "line_kv": level if c == 3 else 1.2} for c in FOUR.firing_order}
    findings, lines, _ = judged(coarse)
    assert {f.state for f in findings} == {State.NORMAL}
    sigmas = next(line.sigmas for line in lines if line.line == "SV")
    assert abs(share(lines, "SV", 3) - 1) < 2.6 * sigmas[FOUR.position(3)]
    fine, _, _ = judged({c: {**own, "grid_kv": 0.02} for c, own in coarse.items()})
    assert main(fine, 3).state is State.ABNORMAL


def test_a_plug_several_levels_away_stands_out_of_a_coarse_converter_too():
    findings, _, _ = judged({c: {"grid_kv": 0.4, "firing_kv": 24.0 if c == 3 else 10.0} for c in FOUR.firing_order})
    assert main(findings, 3).state is State.HIGH
