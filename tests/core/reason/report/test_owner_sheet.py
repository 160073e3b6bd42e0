"""The sections of the owner's sheet: plain, honest about what is open, and silent about nothing that may hurt."""

import pytest

from fairwitness.core.diagnose import conclude
from fairwitness.core.messages.catalogue import phrase
from fairwitness.core.messages.rendering import render
from fairwitness.core.model.phase import Phase, PhaseKind
from fairwitness.core.procedures.specs import SPECS
from fairwitness.core.reason.phases.repair_proof import Proof, ProofStatus
from fairwitness.core.reason.planning.what_if import imagined
from fairwitness.core.reason.report.owner_sheet import CHECKED_LISTED, MORE_CHECKED, NOT_CERTAIN, owner_sheet
from tests.core.reason.evidence import case, measured

PHASE = Phase(number=1, kind=PhaseKind.AFTER_REPAIR, part="coil", cylinders=(3,))
TRADE_WORDS = ("leak-down", "secondary", "dwell", "kV", "TDC", "primary", "cam ", "scan tool", "waveform")


def told(engine, *reported, starts=True):
    d = conclude(case(engine), reported)
    return owner_sheet(d.verdict, d.statement, d.measured, d.plan, starts=starts)


def words(messages):
    return [render(m) for m in messages]


@pytest.mark.parametrize("spec", SPECS.values(), ids=SPECS)
def test_every_test_is_told_in_words_an_owner_knows(spec):
    said = render(spec.owner)
    assert said[0].islower()
    assert not any(word in said for word in TRADE_WORDS), said


def test_what_was_looked_at_is_listed_once_in_the_order_of_the_board(four):
    sheet = told(four, measured(four, {3: 0.05}), measured(four, {3: 0.05}), imagined("crank_speed", "low", (3,), four))
    assert sheet.checked == (SPECS["relative_compression"].owner, SPECS["crank_speed"].owner)


def test_of_very_many_tests_the_rest_is_counted(four):
    more = "crank_speed exhaust_pulse intake_pulse secondary_voltage coil_current injector_current crankcase_pulse"
    every = [imagined(test, "alike", (), four) for test in [*more.split(), "injector_voltage"]]
    sheet = told(four, measured(four, {}), *every)
    assert len(sheet.checked) == CHECKED_LISTED
    assert sheet.checked[-1] == MORE_CHECKED(count=2)


def test_what_is_not_proven_is_said_with_what_was_not_looked_at(four):
    open_ = words(told(four, measured(four, {3: 0.05})).open)
    assert open_[0].startswith("It is not proven")
    assert any(s.startswith("Not looked at yet: ") for s in open_)


def test_nothing_found_says_that_it_may_hide(four):
    sheet = told(four, measured(four, {}), imagined("crank_speed", "alike", (), four))
    assert any("may have been absent" in s for s in words(sheet.open))


def test_what_follows_if_it_is_left_is_said_of_a_named_fault(four):
    sheet = told(
        four, measured(four, {3: 0.05}), imagined("leak_down", "exhaust", (3,), four),
        imagined("intake_pulse", "alike", (), four),
    )  # fmt: skip
    assert words(sheet.watch)[0].startswith("If it is left as it is: ")
    assert any("lamp blinks" in s for s in words(sheet.watch))


def test_an_engine_that_does_not_start_is_not_to_be_cranked_on(four):
    assert "cranking" in words(told(four, measured(four, {}), starts=False).cautions)[0]
    assert len(told(four, measured(four, {})).cautions) == 1


def test_after_a_proven_repair_the_proof_leads_and_nothing_is_called_open(four):
    d = conclude(case(four), (measured(four, {3: 0.05}),))
    open_ = owner_sheet(d.verdict, d.statement, d.measured, d.plan)
    words_of = {status: phrase(f"test.{status}", f"It is {status}.") for status in ProofStatus}

    def after(status):
        proof = Proof(phase=PHASE, status=status, wanted=(), missing=(), compared=(), words=words_of[status])
        return owner_sheet(d.verdict, d.statement, d.measured, d.plan, repairs=(proof,))

    proven = after(ProofStatus.PROVEN)
    assert words(proven.found)[0] == "It is proven."
    assert words(proven.found)[1].startswith("Before the repair: cylinder 3")
    assert not any(m in proven.open for m in (NOT_CERTAIN,))
    failed = after(ProofStatus.NOT_CURED)
    assert failed.found[1:] == open_.found
    assert NOT_CERTAIN in failed.open
