"""Figures of a study, on results made up for the purpose."""

import numpy as np
import pytest
from scipy.stats import binomtest

from fairwitness.study.policies import PLAN, PolicyRun, Result
from fairwitness.study.trust import (
    TARGETS,
    Share,
    calibration,
    per_right,
    report,
    runs_of,
    summary,
    targets_met,
    trusted_from,
)


def run(
    policy=PLAN, *, right=True, minutes=30.0, said=0.95, status="established", accused=False, holds=True, visible=True
):
    return PolicyRun(
        policy=policy, minutes=minutes, tests=("relative_compression",), status=status, probability=said,
        top_probability=said, cylinder_right=right, cause_right=right, fault_right=right, tellable=True,
        visible=visible, claims_hold=holds, accused=accused, top="plug_shorted", lead_probability=said,
        lead_right=right,
    )  # fmt: skip


def vehicle(seed, *policy_runs, faults=("plug_shorted",), left_out=""):
    return Result(
        seed=seed, engine="drover-2.0", level="clean", faults=faults, condition="always", policy_runs=policy_runs,
        left_out=left_out,
    )  # fmt: skip


@pytest.mark.parametrize(("hits", "count"), [(0, 10), (7, 10), (1990, 2000), (2000, 2000)])
def test_intervals_are_wilsons(hits, count):
    exact = binomtest(hits, count).proportion_ci(method="wilson")
    assert Share(hits, count).interval == pytest.approx((exact.low, exact.high), abs=1e-6)


def test_honest_chances_have_no_calibration_error():
    policy_runs = [vehicle(i, run(right=i % 10 < 8, said=0.8)) for i in range(100)]
    _, error = calibration(runs_of(policy_runs, PLAN))
    assert error == pytest.approx(0.0, abs=1e-9)


def test_boasting_shows_as_the_distance_from_the_line():
    policy_runs = [vehicle(i, run(right=i % 2 == 0, said=0.95)) for i in range(100)]
    bins, error = calibration(runs_of(policy_runs, PLAN))
    assert error == pytest.approx(0.45)
    assert (bins[-1].claimed, bins[-1].right) == (0.95, 0.5)


def test_a_policy_pays_for_what_it_gets_wrong():
    policy_runs = [vehicle(1, run(minutes=30)), vehicle(2, run(minutes=90, right=False))]
    assert per_right(runs_of(policy_runs, PLAN)) == 120.0


def test_saved_minutes_compare_with_the_best_fixed_order_on_the_same_vehicles():
    both = [vehicle(i, run(minutes=30), run("slow", minutes=60), run("slower", minutes=90)) for i in range(20)]
    alone = [vehicle(100 + i, run(minutes=500)) for i in range(20)]
    reported = summary([*both, *alone])
    assert reported["saved"]["beside"] == "slow"
    assert reported["saved"]["share"] == pytest.approx(0.5)
    assert reported["policies"][0]["vehicles"] == 20


def test_saving_minutes_by_answering_worse_is_not_a_target_met():
    reported = summary([vehicle(i, run(minutes=10, right=i > 2), run("slow", minutes=60)) for i in range(40)])
    assert reported["saved"]["share"] > 0.3
    assert not targets_met(reported)["saved"]


def test_wrong_calls_and_accused_healthy_ones_are_counted():
    sound = vehicle(1, run(status="suspected", accused=True, right=False), faults=())
    wrong = vehicle(2, run(holds=False, right=False))
    figures = summary([sound, wrong, vehicle(3, run())])["figures"]
    assert (figures["healthy_accused"]["hits"], figures["healthy_accused"]["count"]) == (1, 1)
    assert figures["wrong_established"]["hits"] == 1


def test_the_report_names_the_targets_it_missed():
    text = report(summary([vehicle(i, run(right=i % 2 == 0)) for i in range(20)]))
    assert "targets missed: cylinder, cause, fault" in text
    assert np.isfinite(summary([vehicle(1, run())])["calibration"]["error"])


def test_what_no_test_could_show_is_told_apart_and_never_left_out():
    hidden = [vehicle(i, run(right=i > 0, visible=i > 0)) for i in range(10)]
    reported = summary(hidden)["figures"]
    assert (reported["cylinder"]["hits"], reported["cylinder"]["count"]) == (9, 10)
    assert (reported["cylinder_visible"]["hits"], reported["cylinder_visible"]["count"]) == (9, 9)


def test_chances_are_trusted_from_where_all_above_were_right_often_enough():
    said = [(0.99, True)] * 300 + [(0.9, True)] * 200 + [(0.8, False)] * 10 + [(0.7, True)] * 50
    runs = [(vehicle(i), run(said=chance, holds=holds)) for i, (chance, holds) in enumerate(said)]
    assert trusted_from(runs) == 0.8  # the first two wrong ones leave 500 of 502
    assert trusted_from(runs[500:]) is None
    assert trusted_from([(vehicle(1), run(status="inconclusive", holds=False))]) is None


def test_worlds_left_out_are_judged_by_their_own_targets_and_told_one_by_one():
    names = ("air", "people")
    reported = summary([vehicle(i, run(), left_out=names[i % 2]) for i in range(10)])
    assert reported["worlds"] == "left out"
    assert reported["targets"] == TARGETS["left out"]
    assert {c["name"]: c["vehicles"] for c in reported["combinations"]} == dict.fromkeys(names, 5)
    assert "without air" in report(reported)


def test_a_sound_cylinder_accused_is_counted_over_all_vehicles():
    reported = summary([vehicle(1, run(accused=True, right=False)), *(vehicle(i, run()) for i in range(2, 5))])
    assert (reported["figures"]["sound_accused"]["hits"], reported["figures"]["sound_accused"]["count"]) == (1, 4)
    assert not targets_met(reported)["sound_accused"]
