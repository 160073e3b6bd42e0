from fairwitness.study.cranking import Outcome, StudyResult, assess, report, run


def outcome(seed, kind, *, right=True, accused=False):
    return Outcome(
        seed=seed,
        trap="none",
        noise="clean",
        cylinders=4,
        kind=kind,
        called_usable=kind != "unusable",
        right=right,
        accused_healthy=accused,
    )


def test_targets_need_all_three_figures():
    good = [outcome(i, "ill") for i in range(90)] + [outcome(i, "healthy") for i in range(90, 200)]
    good += [outcome(i, "unusable") for i in range(200, 220)]
    assert StudyResult(outcomes=tuple(good)).targets_met
    assert not StudyResult(outcomes=(*good, *(outcome(i, "ill", right=False) for i in range(3)))).targets_met
    assert not StudyResult(outcomes=(*good, *(outcome(i, "unusable", right=False) for i in range(3)))).targets_met
    assert not StudyResult(outcomes=(*good, outcome(9, "healthy", accused=True))).targets_met


def test_a_small_study_runs_end_to_end_and_is_mostly_right():
    result = run(cases=24, seed=40, workers=1)
    assert sum(o.right for o in result.outcomes) >= 23
    assert "24 simulated cranking cases" in report(result)


def test_a_wrong_case_is_named_in_the_report():
    assert "wrong: seed 7" in report(StudyResult(outcomes=(outcome(7, "ill", right=False),)))


def test_a_case_is_assessed_the_same_each_time():
    assert assess(3) == assess(3)
