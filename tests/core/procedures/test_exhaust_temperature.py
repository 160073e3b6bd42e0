"""Ports after a cold start: the one that stays cold does not burn, and what cannot be is refused."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from fairwitness.core.diagnose import diagnose
from fairwitness.core.messages.rendering import Display, render
from fairwitness.core.model.case import Case, Observation
from fairwitness.core.model.engine import even_engine
from fairwitness.core.model.measurement import State
from fairwitness.core.procedures import exhaust_temperature
from fairwitness.core.procedures.form import Filled
from fairwitness.core.procedures.registry import measure_observation
from fairwitness.core.reason.knowledge.fault_spec import Cause, FaultMode
from fairwitness.core.reason.knowledge.signatures import cell
from fairwitness.simulate.garage import ENGINES, build
from fairwitness.simulate.gauges import observe
from fairwitness.simulate.health import Fault

FOUR = even_engine((1, 3, 4, 2))
SOUND = {"1": 118, "2": 124, "3": 111, "4": 120}


def observed(**changes):
    data = {"ports": SOUND, "air": 14, "seconds": 60} | changes
    return Observation(test="exhaust_temperature", data=data)


def read(engine=FOUR, **changes):
    return exhaust_temperature.measure(observed(**changes), 0, engine)


def states(measured):
    return {f.cylinder: f.state for f in measured.findings}


def test_even_ports_accuse_nobody():
    assert set(states(read()).values()) == {State.NORMAL}


@pytest.mark.parametrize(
    ("port", "state", "words"),
    [
        (31, State.ABSENT, "stays cold, 31 °C: it does not burn"),
        (68, State.LOW, "rises 49 % less"),
        (160, State.HIGH, "it burns late, or lean"),
    ],
)
def test_each_deviation_says_its_own(port, state, words):
    measured = read(ports=SOUND | {"3": port})
    assert states(measured) == {1: State.NORMAL, 2: State.NORMAL, 3: state, 4: State.NORMAL}
    assert words in render(next(f for f in measured.findings if f.cylinder == 3).statement)


def test_fahrenheit_says_the_same_and_each_reads_it_in_his_own_unit():
    in_f = {c: v * 9 / 5 + 32 for c, v in (SOUND | {"3": 31}).items()}
    measured = read(unit="F", ports=in_f, air=14 * 9 / 5 + 32)
    assert np.allclose(measured.evidence.alternatives[0], read(ports=SOUND | {"3": 31}).evidence.alternatives[0])
    said = next(f for f in measured.findings if f.cylinder == 3).statement
    assert "31 °C" in render(said)
    assert "88 °F" in render(said, Display(units={"temperature": "F"}))


@pytest.mark.parametrize(
    ("changes", "words"),
    [
        ({"ports": SOUND | {"3": -40}}, "-40 at cylinder 3 is no temperature of a port"),
        ({"ports": SOUND | {"3": 999.9}}, "is no temperature of a port"),
        ({"ports": SOUND | {"3": 65535}}, "is no temperature of a port"),
        ({"ports": {"1": 120}}, "Fewer than two ports"),
        ({"ports": [120, 130]}, "Fewer than two ports"),
        ({"ports": {"1": "hot", "2": None, "3": float("nan"), "4": True}}, "Fewer than two ports"),
        ({"ports": {"1": 20, "2": 21, "3": 19, "4": 20}}, "did the engine run"),
        ({"seconds": 5}, "5 s after the start says little"),
        ({"seconds": 900}, "let it cool"),
        ({"seconds": None}, "let it cool"),
        ({"air": None}, "The temperature of the air is missing"),
    ],
)
def test_placeholders_and_readings_of_another_moment_are_refused_in_words(changes, words):
    measured = read(**changes)
    assert not measured.usable
    assert measured.evidence is None
    assert words in render(measured.reasons[0].statement)


@given(st.dictionaries(st.sampled_from("12345"), st.floats() | st.text(max_size=3) | st.none()), st.floats())
def test_whatever_is_typed_gets_an_answer(ports, seconds):
    measured = read(ports=ports, seconds=seconds)
    assert measured.usable or render(measured.reasons[0].statement)
    for line in measured.lines:
        assert np.isfinite(line.alternatives[0]).all()


def test_a_filled_form_makes_the_observation_that_is_read():
    values = {"port": {int(c): v for c, v in SOUND.items()}}
    filled = Filled(values=values, entries={"air": 14, "seconds": 60}, choices={"unit": "C"})
    (data,) = exhaust_temperature.SPEC.form.read(filled, FOUR.firing_order)
    assert exhaust_temperature.measure(Observation(test="exhaust_temperature", data=data), 0, FOUR).usable


def test_a_cold_port_with_sound_compression_leaves_the_mechanics():
    even = Observation(
        test="compression_gauge", data={"unit": "bar", "dry": {"1": 12.1, "2": 12.0, "3": 12.2, "4": 11.9}}
    )
    reported = diagnose(Case(name="x", engine=FOUR, observations=(even, observed(ports=SOUND | {"3": 29}))))
    assert reported.verdict.cylinders == (3,)
    assert reported.posterior.of_cylinder(3, Cause.MECHANICAL) < 0.3


@pytest.mark.parametrize("fault", ["injector_open_circuit", "coil_output_dead"])
@pytest.mark.parametrize("seed", range(4))
def test_a_simulated_dead_cylinder_has_the_cold_port(fault, seed):
    vehicle = build(ENGINES["drover-2.0"], (Fault(fault, (2,)),), rng=np.random.default_rng(seed))
    (one,) = observe(vehicle, "exhaust_temperature", hot=False, rng=np.random.default_rng(seed))
    measured = exhaust_temperature.measure(one, 0, vehicle.engine)
    found = states(measured)
    assert found.pop(2) in (State.ABSENT, State.LOW)
    assert State.ABSENT not in found.values()


@pytest.mark.parametrize("seed", range(6))
def test_a_simulated_sound_engine_accuses_nobody(seed):
    vehicle = build(ENGINES["drover-2.0"], (), rng=np.random.default_rng(seed))
    (one,) = observe(vehicle, "exhaust_temperature", hot=False, rng=np.random.default_rng(seed))
    assert State.ABSENT not in states(exhaust_temperature.measure(one, 0, vehicle.engine)).values()


LEAKS = ["ring_or_piston_leak", "intake_valve_leak", "exhaust_valve_leak", "head_gasket_leak"]


@pytest.mark.parametrize("fault", LEAKS)
def test_a_cylinder_that_leaks_too_much_to_burn_stays_cold_and_the_matrix_knows(fault):
    assert "0" in cell((FaultMode(fault),), "XT")
    rng = np.random.default_rng(1)
    vehicle = build(ENGINES["drover-2.0"], (Fault(fault, (2, 3) if "gasket" in fault else (2,), 1.0),), rng=rng)
    seen = observe(vehicle, "exhaust_temperature", hot=False, rng=rng, suspects=(2,))[0]
    line = measure_observation(seen, 0, vehicle.engine).lines[0]
    assert line.alternatives[0][vehicle.engine.position(2)] < 0.5
