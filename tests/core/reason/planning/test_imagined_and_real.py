"""An imagined outcome weighs as the same outcome does when it is read: every test, on vehicles of every kind."""

from dataclasses import replace

import numpy as np
import pytest

from fairwitness.core.model.case import Observation
from fairwitness.core.procedures.registry import measure_observation
from fairwitness.core.procedures.specs import OFFERS, SPECS, TEST_OF
from fairwitness.core.reason.inference.hypotheses import hypotheses
from fairwitness.core.reason.inference.posterior import infer
from fairwitness.core.reason.knowledge.outcomes import OUTCOMES, outcomes_of
from fairwitness.core.reason.planning.implications import FORM_IDS
from fairwitness.core.reason.planning.what_if import imagined
from fairwitness.simulate.garage import ENGINES, build
from fairwitness.simulate.gauges import GAUGES, observe
from fairwitness.simulate.health import Fault
from tests.core.reason.evidence import case

ENGINE = ENGINES["drover-2.0"]
FAULTS = ("coil_output_dead", "secondary_open", "injector_open_circuit", "injector_leaking", "injector_restricted",
          "ring_or_piston_leak", "exhaust_valve_leak", "intake_valve_not_opening", "unmetered_air_at_runner",
          "fuel_supply_low", "plug_tracking")  # fmt: skip


def posterior(engine, measured):
    return infer(hypotheses(case(engine)), measured.lines, engine, measured.categorical).probabilities


@pytest.mark.parametrize("offer", OFFERS.values(), ids=lambda o: o.id)
def test_what_can_be_imagined_is_what_the_test_can_say(offer, four):
    spec = SPECS[TEST_OF[offer.id]]
    for outcome in FORM_IDS.values() if offer.columns else outcomes_of(offer.kinds[0]):
        made = imagined(offer.id, outcome, (3,), four)
        assert made.test == spec.id
        assert {line.line for line in made.lines} <= set(spec.columns)
        assert {said.kind for said in made.categorical} <= set(spec.kinds)
        assert posterior(four, made).sum() == pytest.approx(1.0)


@pytest.mark.parametrize("fault", FAULTS)
def test_a_word_that_is_imagined_weighs_as_the_word_that_was_read(fault):
    vehicle = build(ENGINE, (Fault(fault, (2,)),), rng=np.random.default_rng(3))
    engine, compared = vehicle.engine, 0
    for test in GAUGES:
        seen = observe(vehicle, test, hot=True, rng=np.random.default_rng(3), suspects=(2,))
        for i, one in enumerate(seen):
            read = measure_observation(one, i, engine)
            for said in read.categorical if read is not None and read.usable else ():
                offer = OFFERS.get(said.kind)
                if offer is None or offer.kind != said.kind or not offer.fits(engine):
                    continue
                own = infer(hypotheses(case(engine)), (), engine, (said,)).probabilities
                at = said.cylinders if len(said.cylinders) < engine.cylinders else ()
                same = posterior(engine, imagined(said.kind, said.outcome, at, engine))
                assert np.allclose(same, own, atol=1e-9), (said.kind, said.outcome)
                compared += 1
    assert compared > 5


@pytest.mark.parametrize("test", [t for t in GAUGES if t in OFFERS and OFFERS[t].columns])
def test_a_number_that_is_imagined_speaks_in_the_column_that_is_read(test):
    vehicle = build(ENGINE, (Fault("ring_or_piston_leak", (2,)),), rng=np.random.default_rng(3))
    read = measure_observation(
        observe(vehicle, test, hot=False, rng=np.random.default_rng(3), suspects=(2,))[0], 0, vehicle.engine
    )
    made = imagined(test, "low", (2,), vehicle.engine)
    assert made.lines[0].line in {line.line for line in read.lines}


NUMBERS = {
    "compression_gauge": lambda share: {"unit": "bar", "dry": {str(c): 12.0 * (share if c == 2 else 1) for c in ORDER}},
    "delivery": lambda share: {"drops_kpa": {str(c): 40.0 * (share if c == 2 else 1) for c in ORDER}},
    "misfire_counts": lambda share: {
        "counts": {str(c): round(1e5 * (1 - share)) if c == 2 else 0 for c in ORDER}, "revolutions": 200_000,
    },
}  # fmt: skip
ORDER = (1, 3, 4, 2)


@pytest.mark.parametrize("test", NUMBERS)
@pytest.mark.parametrize("outcome", ["low", "absent"])
def test_a_number_that_is_imagined_weighs_as_the_same_number_read(test, outcome, four):
    made = imagined(test, outcome, (2,), four)
    share = float(made.lines[0].alternatives[0][four.position(2)])
    read = measure_observation(Observation(test=test, data=NUMBERS[test](share)), 0, four)
    line = next(one for one in read.lines if one.line == made.lines[0].line)
    assert line.alternatives[0] == pytest.approx(made.lines[0].alternatives[0], abs=0.02)
    assert line.sigmas == pytest.approx(made.lines[0].sigmas, rel=0.05)
    apart = np.abs(posterior(four, replace(read, categorical=())) - posterior(four, made)).sum()
    assert apart < 0.05


@pytest.mark.parametrize("test", ["cranking_speed", "power_balance", "exhaust_temperature"])
def test_a_number_of_a_vehicle_is_as_sure_as_the_imagined_one(test):
    vehicle = build(ENGINE, (), rng=np.random.default_rng(3))
    seen = observe(vehicle, test, hot=False, rng=np.random.default_rng(3), suspects=())
    read = measure_observation(seen[0], 0, vehicle.engine)
    made = imagined(test, "alike", (), vehicle.engine)
    assert np.median(read.lines[0].sigmas) == pytest.approx(np.median(made.lines[0].sigmas), rel=0.6)


def test_every_row_of_outcomes_belongs_to_the_test_it_is_named_for():
    for offer in OFFERS.values():
        if offer.kind:
            assert offer.kind in OUTCOMES
