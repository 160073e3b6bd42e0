"""What the shop's outcomes, clocks and codes do to the next case, and how that is switched off again."""

from datetime import timedelta

import pytest
from django.core.exceptions import PermissionDenied
from django.utils import timezone

from fairwitness.core.errors import ObservationError
from fairwitness.core.model.engine import even_engine
from fairwitness.server.cases import life
from fairwitness.server.cases.changing import diagnosis_of
from fairwitness.server.cases.evidence import access_of, concluded
from fairwitness.server.cases.labour import start_clock, stop_clock
from fairwitness.server.cases.models import LabourSpan, StoredObservation
from fairwitness.server.cases.services import Intake, open_case
from fairwitness.server.learning import services
from fairwitness.server.learning.record import own_figures
from fairwitness.server.learning.timings import timings
from tests.server.cases.test_life import balance

COIL = life.Found(found="coil of 3 has no output", seen_by="changed over", fault="coil_output_dead", cylinders=(3,))


def found(case, by, what=COIL):
    return life.record_outcome(case, what, by=by, at=timezone.now())


def prior(case, fault="coil_output_dead"):
    return sum(h.prior for h in concluded(case).posterior.hypotheses if h.fault == fault)


def line(key):
    return next(one for one in services.lines() if one.key == key)


def teach(by, count=3, what=COIL):
    for number in range(count):
        intake = Intake(title=f"Taught {number}", engine=even_engine((1, 3, 4, 2), label="Hollin Drover 2.0"))
        taught = open_case(intake, by=by, at=timezone.now())
        balance(taught, {3}, by)
        found(taught, by, what)


def test_three_outcomes_move_the_prior_of_the_next_case(case, technician):
    before = prior(case)
    teach(technician)
    told = line("prior:coil_output_dead")
    assert prior(case) == pytest.approx(before * told.here / told.shipped, rel=0.1)
    assert told.here > 1.2 * told.shipped


def test_an_outcome_keeps_what_the_evidence_gave_to_it_and_which_tests_spoke_for_it(case, technician):
    balance(case, {3}, technician)
    said = found(case, technician).said
    assert 0 < said["chance_of_found"] < 1
    assert said["tests"] == {"power_balance": True}


def test_a_board_that_is_read_again_says_what_was_learned_since(case, technician):
    balance(case, {3}, technician)
    before = diagnosis_of(case)["learned"]
    teach(technician)
    after = diagnosis_of(case)["learned"]
    assert (before["outcomes"], after["outcomes"]) == (0, 3)
    assert before["mark"] != after["mark"]


def test_a_line_is_switched_off_and_on_by_a_lead_alone(case, technician, lead):
    plain = prior(case)
    teach(technician)
    moved = prior(case)
    with pytest.raises(PermissionDenied):
        services.switch("prior:coil_output_dead", on=False, by=technician, at=timezone.now())
    services.switch("prior:coil_output_dead", on=False, by=lead, at=timezone.now())
    assert not line("prior:coil_output_dead").on
    assert plain <= prior(case) < moved
    services.switch("prior:coil_output_dead", on=True, by=lead, at=timezone.now())
    assert prior(case) == pytest.approx(moved)


def test_what_nobody_learned_cannot_be_switched(lead):
    with pytest.raises(ObservationError, match="Nothing of this name"):
        services.switch("prior:coil_output_dead", on=False, by=lead, at=timezone.now())


def test_a_fresh_start_forgets_and_can_be_taken_back(case, technician, lead):
    plain = prior(case)
    teach(technician)
    moved = prior(case)
    services.start_afresh(by=lead, at=timezone.now())
    assert prior(case) == pytest.approx(plain)
    services.count_again(by=lead)
    assert prior(case) == pytest.approx(moved)
    with pytest.raises(ObservationError):
        services.count_again(by=lead)


def test_the_latest_outcome_of_a_case_is_the_one_that_teaches(case, technician):
    balance(case, {3}, technician)
    found(case, technician)
    found(case, technician, life.Found(found="valve", seen_by="open", fault="exhaust_valve_leak", cylinders=(3,)))
    assert [services.fault_of(o) for o in services.outcomes()] == ["exhaust_valve_leak"]


def test_an_outcome_outside_the_catalogue_teaches_nothing(case, technician):
    found(case, technician, life.Found(found="a rag in the intake", seen_by="open", cylinders=(2,)))
    assert services.known_outcomes(services.outcomes()) == []


def test_a_test_is_weighed_less_once_it_disagreed_often(case, technician):
    weak = life.Found(found="sound after all", seen_by="open", fault="exhaust_valve_leak", cylinders=(2,))
    teach(technician, services.LEAST_AGREEMENTS, weak)
    told = line("agreement:power_balance")
    assert told.here < 1.0
    assert services.learned().knowledge.agreement == {"power_balance": told.here}


def test_minutes_come_from_the_clock_between_two_pieces_of_evidence(case, technician):
    begun = timezone.now() - timedelta(hours=1)
    start_clock(case, by=technician, at=begun)
    for after in (20, 20.2, 55):
        kept = balance(case, {3}, technician)
        StoredObservation.objects.filter(pk=kept.pk).update(kept_at=begun + timedelta(minutes=after))
    stop_clock(case, by=technician, at=begun + timedelta(minutes=60))
    assert timings()["power_balance"] == pytest.approx([34.8])
    told = line("minutes:power_balance")
    assert told.shipped < told.here < 34.8
    assert access_of(case)["power_balance"] == told.here


def test_a_clock_that_still_runs_teaches_nothing(case, technician):
    start_clock(case, by=technician, at=timezone.now() - timedelta(minutes=30))
    balance(case, {3}, technician)
    assert LabourSpan.objects.count() == 1
    assert timings() == {}


def test_own_figures_by_test_and_engine_and_by_person_only_where_the_lead_wants_it(case, technician, lead):
    teach(technician)
    figures = own_figures()
    assert (figures.overall.hits, figures.overall.count, figures.people) == (
        sum(o.agreed for o in services.outcomes()), 3, None,
    )  # fmt: skip
    assert [(t.hits, t.count) for t in figures.tests] == [(3, 3)]
    low, high = figures.engines[0].interval
    assert 0 <= low < high <= 1
    services.switch(services.BY_PERSON, on=True, by=lead, at=timezone.now())
    assert [t.words for t in own_figures().people] == [technician.shown_name]


def test_a_code_of_the_maker_is_written_down_and_nudges(case, technician):
    before = prior(case, "injector_leaking")
    services.add_code("p1234", "injector held too long", fault="injector_leaking", factor=4, by=technician,
                      at=timezone.now())  # fmt: skip
    case.codes = [{"code": "P1234", "status": "stored"}]
    case.save()
    assert prior(case, "injector_leaking") > 2 * before


@pytest.mark.parametrize(
    ("code", "words", "fault", "factor", "said"),
    [
        ("1234", "x", "", 1, "is no code"),
        ("P0303", "x", "", 1, "already"),
        ("P1234", " ", "", 1, "Say what it means"),
        ("P1234", "x", "gremlins", 1, "no fault"),
        ("P1234", "x", "cut_by_ecu", 100, "eight times"),
    ],
)
def test_what_cannot_be_a_code_of_the_shop(technician, code, words, fault, factor, said):
    with pytest.raises(ObservationError, match=said):
        services.add_code(code, words, fault=fault, factor=factor, by=technician, at=timezone.now())
