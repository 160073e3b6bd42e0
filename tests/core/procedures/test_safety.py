"""What may be offered: every kind of engine by every test by every state, and what is said with it."""

from dataclasses import replace
from itertools import product

import pytest

from fairwitness.core.messages.message import NOTHING, verbatim
from fairwitness.core.messages.rendering import render
from fairwitness.core.model.acts import Act
from fairwitness.core.model.engine import Injection, InjectorDrive, even_engine
from fairwitness.core.model.tools import Turning
from fairwitness.core.procedures import cautions as say
from fairwitness.core.procedures import safety
from fairwitness.core.procedures.engine_kinds import KINDS
from fairwitness.core.procedures.specs import OFFERS, SPECS, TEST_OF
from fairwitness.core.reason.inference.hypotheses import hypotheses
from fairwitness.core.reason.inference.posterior import infer
from fairwitness.core.reason.planning.approach import Bay
from fairwitness.core.reason.planning.plan import Standing, next_tests
from fairwitness.core.reason.planning.plan_records import Done
from tests.core.reason.evidence import case

PORT, WASTE, CARBURETTOR, GAS, DIRECT, PIEZO, DIESEL, HYBRID, NEVER, SINGLE = KINDS
STATES = {
    "usual": Bay(),
    "fuel off": Bay(fuel_disabled=True),
    "full": Bay(held=verbatim("A cylinder may be full.")),
    "no start": Bay(runs=False),
    "no compression": Bay(valves_may_have_met=True),
}


@pytest.mark.parametrize(
    ("test", "never_on"),
    [
        ("load_lamp:injector", {CARBURETTOR, DIRECT, PIEZO, DIESEL, HYBRID, SINGLE}),
        ("voltage:injector_feed", {CARBURETTOR, DIRECT, PIEZO, DIESEL, HYBRID, SINGLE}),
        ("voltage:injector_control:part", {CARBURETTOR, DIRECT, PIEZO, DIESEL, HYBRID, SINGLE}),
        ("load_lamp:coil", {PORT, GAS, DIRECT, PIEZO, DIESEL, HYBRID, NEVER}),
        ("swap:injector", {CARBURETTOR, DIRECT, PIEZO, DIESEL, HYBRID, SINGLE}),
        ("injector_command:part_unplugged", {CARBURETTOR, PIEZO, DIESEL, SINGLE}),
        ("swap:lead", {PORT, GAS, DIRECT, PIEZO, DIESEL, HYBRID, NEVER, SINGLE}),
        ("vacuum", {DIESEL}),
        ("fuel_trim", {CARBURETTOR, DIESEL, SINGLE}),
        ("misfire_counts", {CARBURETTOR, SINGLE}),
        ("cranking_speed", {CARBURETTOR, SINGLE}),
        ("relative_compression", {SINGLE}),
        ("power_balance", {SINGLE}),
        ("delivery", {CARBURETTOR, DIRECT, PIEZO, DIESEL, HYBRID, SINGLE}),
        ("command:part_unplugged", {DIESEL, NEVER}),
        ("secondary_voltage", {DIESEL}),
        ("leak_down", set()),
        ("compression_gauge", set()),
    ],
)
def test_where_a_test_is_never_offered(test, never_on):
    assert {kind for kind, engine in KINDS.items() if safety.barred(OFFERS[test], engine) is not None} == never_on


@pytest.mark.parametrize("kind", KINDS)
def test_every_refusal_says_why_in_a_sentence(kind):
    for offer in OFFERS.values():
        why = safety.barred(offer, KINDS[kind])
        if why is not None:
            words = render(why)
            assert words.endswith(".")
            assert len(words) > 20


def planned(engine, bay):
    posterior = infer(hypotheses(case(engine)), [], engine)
    return next_tests(posterior, engine, done=Done(), standing=Standing(accused=engine.firing_order[:1]), bay=bay)


@pytest.mark.parametrize(("kind", "state"), list(product(KINDS, STATES)))
def test_the_plan_offers_nothing_that_must_not_be(kind, state):
    engine, bay = KINDS[kind], STATES[state]
    for offered in planned(engine, bay).offers:
        test = OFFERS[offered.id]
        assert safety.barred(test, engine) is None
        assert not (bay.held and safety.stirs(test)), offered.id
        assert bay.runs or test.turning is not Turning.RUNNING or test.works_cranking, offered.id
        assert set(safety.cautions(test, engine)) <= set(offered.cautions), offered.id
        cranks = test.turning is Turning.CRANKING
        assert (say.VALVES_MET in offered.cautions) is (bay.valves_may_have_met and cranks), offered.id


def test_an_engine_that_may_be_flooded_is_looked_at_and_nothing_else():
    for offered in planned(KINDS[PORT], STATES["full"]).offers:
        assert OFFERS[offered.id].turning is Turning.STILL
        assert not OFFERS[offered.id].acts & {Act.SPARKS, Act.ADDS_FUEL, Act.ADDS_AIR}


def test_what_is_held_back_is_said():
    assert planned(KINDS[PORT], STATES["full"]).held_back
    assert not planned(KINDS[PORT], STATES["usual"]).held_back


@pytest.mark.parametrize(("kind", "test"), list(product(KINDS, OFFERS)))
def test_cautions_follow_from_what_a_test_does(kind, test):
    engine, offer = KINDS[kind], OFFERS[test]
    if safety.barred(offer, engine) is not None:
        return
    said = set(safety.cautions(offer, engine))
    diesel, boosted = kind == DIESEL, safety.is_boosted(engine)
    cranks, runs = offer.turning is Turning.CRANKING, offer.turning is Turning.RUNNING
    assert (say.HYDRAULIC_LOCK in said) is cranks
    assert (say.STARTER in said) is cranks
    assert (say.ROTATING in said) is (cranks or runs)
    assert (say.ITSELF_STARTS in said) is (kind == HYBRID and (cranks or runs))
    assert (say.BOOSTED in said) is (boosted and Act.TOUCHES_INJECTOR in offer.acts)
    assert (say.HIGH_VOLTAGE in said) >= bool(offer.acts & {Act.TOUCHES_COIL, Act.SPARKS})
    assert (say.HOT_SPRAY in said) is (Act.OPENS_PLUG_HOLES in offer.acts)
    assert not (diesel and say.PLUG_HOLES in said)
    assert (say.NO_OIL in said) is (diesel and Act.ADDS_OIL in offer.acts)
    assert (say.BATTERY_OFF in said) is (Act.AT_UNIT_PLUG in offer.acts)


def test_the_starters_caution_has_a_figure():
    assert any(c.isdigit() for c in render(say.STARTER))


def test_no_caution_is_said_twice():
    for engine, spec in product(KINDS.values(), SPECS.values()):
        said = [render(words) for words in safety.cautions_of(spec, engine)]
        assert len(said) == len(set(said))


@pytest.mark.parametrize(
    ("drive", "injection", "boosted"),
    [
        (InjectorDrive.SATURATED, Injection.PORT, False),
        (InjectorDrive.PEAK_AND_HOLD, Injection.THROTTLE_BODY, False),
        (None, Injection.DIRECT, True),
        (None, Injection.COMMON_RAIL, True),
        (InjectorDrive.PIEZO, Injection.DIRECT, True),
    ],
)
def test_boosted_is_what_carries_more_than_the_battery(drive, injection, boosted):
    assert safety.is_boosted(even_engine((1, 3, 4, 2), injection=injection, injector_drive=drive)) is boosted


def test_what_a_maker_forbids_is_engine_data():
    forbidden = even_engine((1, 3, 4, 2), extra={safety.PROHIBITED: ["needs_idle"]})
    left_out = {o.id for o in OFFERS.values() if safety.barred(o, forbidden) is not None}
    assert {"crank_speed", "vacuum", "power_balance"} <= left_out
    assert "relative_compression" not in left_out


@pytest.mark.parametrize("strange", ["needs_idle", [1, 2], None, {"needs_idle": True}])
def test_engine_data_that_are_no_list_of_acts_forbid_nothing(strange):
    engine = even_engine((1, 3, 4, 2), extra={safety.PROHIBITED: strange})
    assert safety.barred(OFFERS["crank_speed"], engine) is None


@pytest.mark.parametrize(
    ("test", "about", "kind", "refused"),
    [
        ("load_lamp", {"circuit": "injector"}, DIESEL, True),
        ("load_lamp", {"circuit": "injector"}, PORT, False),
        ("load_lamp", {"circuit": "feed"}, DIESEL, False),
        ("load_lamp", {}, PORT, False),
        ("swap", {"part": "injector"}, DIRECT, True),
        ("swap", {"part": "coil"}, DIRECT, False),
        ("misfire_counts", {}, CARBURETTOR, True),
        ("voltage", {"item": "injector_feed"}, PIEZO, True),
    ],
)
def test_asked_for_by_hand_it_says_why_not(test, about, kind, refused):
    assert (safety.why_not(SPECS[test], KINDS[kind], about) is not None) is refused


def test_minutes_are_honest():
    four = KINDS[PORT]
    minutes = {o.id: o.minutes + (0 if o.per_cylinder else o.each * (four.cylinders - 1)) for o in OFFERS.values()}
    assert 9 <= minutes["relative_compression"] <= 12
    assert 9 <= minutes["crank_speed"] <= 12
    assert 15 <= minutes["secondary_voltage"] <= 20
    assert 8 <= minutes["injector_current"] <= 10
    assert 12 <= minutes["cam_timing"] <= 18
    assert 25 <= minutes["leak_down"] <= 35
    assert 15 <= minutes["fuel_pressure"] <= 20
    assert 12 <= minutes["runner_check:runner"] <= 18
    assert 15 <= minutes["resistance:control_wire"] <= 25


def test_a_gauge_takes_longer_on_more_cylinders():
    offer = OFFERS["compression_gauge"]
    assert offer.each > 0
    assert not offer.per_cylinder


def test_a_predicate_without_a_reason_still_refuses_in_words():
    offer = replace(OFFERS["vacuum"], fits=lambda _: False)
    assert safety.barred(offer, KINDS[PORT]) not in (None, NOTHING)


def test_every_offer_belongs_to_a_record_with_its_acts_known():
    for offer in OFFERS.values():
        assert TEST_OF[offer.id] in SPECS
        assert offer.acts <= set(Act)


@pytest.mark.parametrize("kind", KINDS)
def test_no_caution_is_lost_where_it_is_shown_with_what_is_chosen(kind):
    engine = KINDS[kind]
    for spec in SPECS.values():
        always = safety.cautions_always(spec, engine)
        for offer in spec.offers:
            if safety.barred(offer, engine) is not None:
                continue
            chosen = [w for key, value in offer.asks.items() for w in safety.cautions_where(spec, engine, {key: value})]
            if offer.asks:
                assert set(safety.cautions(offer, engine)) <= {*always, *chosen}
        unknown = safety.cautions_where(spec, engine, {"item": "something new"})
        assert {*always, *unknown} == set(safety.cautions_of(spec, engine))
