"""The plan after work: what proves the repair, or shows what moved, and nothing once it is proven."""

from hypothesis import given
from hypothesis import strategies as st

from fairwitness.core.diagnose import conclude
from fairwitness.core.messages.rendering import render
from fairwitness.core.model.engine import even_engine
from fairwitness.core.reason.planning.approach import Bay
from tests.core.reason.phases.states import case_of, put_back, repaired, seen, swapped

FOUR = even_engine((1, 3, 4, 2))
DEAD = seen(FOUR, {3: 0.0})
NO_SPARK = seen(FOUR, {3: 0.0}, test="secondary_voltage")
WORKS = seen(FOUR, {}, phase=1)
SPARKS = seen(FOUR, {}, test="secondary_voltage", phase=1)


def plan(taken, *phases, bay=None, **about):
    case = case_of(FOUR, phases, taken, **about)
    return conclude(case, tuple(taken), bay=bay or Bay()).plan


def test_after_a_repair_the_tests_that_prove_it_are_asked_and_nothing_else():
    asked = plan([DEAD, NO_SPARK], repaired("coil", 3))
    assert {offer.id for offer in asked.offers} == {"crank_speed", "secondary_voltage"}
    assert all("whether the repair cured it" in render(offer.reason) for offer in asked.offers)
    assert all(offer.again and offer.minutes > 0 for offer in asked.offers)
    assert asked.done is False
    assert "the repair is judged" in render(asked.stop)


def test_what_was_taken_again_is_not_asked_once_more():
    asked = plan([DEAD, NO_SPARK, WORKS], repaired("coil", 3))
    assert [offer.id for offer in asked.offers] == ["secondary_voltage"]


def test_that_a_cylinder_works_is_asked_also_where_nobody_saw_that_it_did_not():
    asked = plan([NO_SPARK], repaired("coil", 3))
    reasons = {offer.id: render(offer.reason) for offer in asked.offers}
    assert "every cylinder works now" in reasons["crank_speed"]


def test_nothing_is_asked_once_it_is_proven():
    proven = plan([DEAD, NO_SPARK, WORKS, SPARKS], repaired("coil", 3))
    assert (proven.offers, proven.done) == ((), True)
    assert "repair is proven" in render(proven.stop)


def test_after_a_repair_in_vain_the_trouble_is_asked_on():
    again = plan([DEAD, seen(FOUR, {3: 0.0}, phase=1)], repaired("plug", 3))
    assert again.offers
    assert not any("whether the repair" in render(offer.reason) for offer in again.offers)


def test_after_a_change_over_what_tells_whether_it_moved_is_asked():
    asked = plan([DEAD], swapped("coil", 3, 1))
    assert [offer.id for offer in asked.offers] == ["crank_speed"]
    assert "whether the trouble moved" in render(asked.offers[0].reason)
    moved = plan([DEAD, seen(FOUR, {1: 0.0}, phase=1)], swapped("coil", 3, 1))
    assert not any("whether the trouble moved" in render(offer.reason) for offer in moved.offers)


def test_fuel_is_to_be_enabled_before_the_engine_proves_anything():
    asked = plan([DEAD], repaired("coil", 3), bay=Bay(fuel_disabled=True))
    assert "Fuel is disabled" in render(asked.offers[0].cautions[0])


@given(st.sampled_from(["coil", "plug", "injector", "valves"]), st.booleans())
def test_every_test_that_is_missing_is_on_offer(part, sparked):
    taken = [DEAD, NO_SPARK] if sparked else [DEAD]
    case = case_of(FOUR, (repaired(part, 3),), taken)
    found = conclude(case, tuple(taken))
    assert {offer.id for offer in found.plan.offers} == set(found.repairs[-1].missing)


def test_after_a_look_that_was_put_back_the_repair_still_waits_for_its_proof():
    asked = plan([DEAD], repaired("coil", 3), swapped("plug", 3, 1, number=2), put_back(3))
    assert [offer.id for offer in asked.offers] == ["crank_speed"]
    assert "whether the repair cured it" in render(asked.offers[0].reason)


def test_parts_put_back_leave_the_plan_as_it_was():
    before, after = plan([DEAD]), plan([DEAD], swapped("coil", 3, 1), put_back(2))
    assert [offer.id for offer in after.offers] == [offer.id for offer in before.offers]
