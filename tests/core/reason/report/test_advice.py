"""Advice that goes with the likeliest faults of whoever is accused."""

import numpy as np
import pytest

from fairwitness.core.diagnose import conclude
from fairwitness.core.messages.message import verbatim
from fairwitness.core.messages.rendering import render
from fairwitness.core.model.case import Observation
from fairwitness.core.model.engine import even_engine
from fairwitness.core.model.measurement import Evidence, Finding, Measured, Origin, State
from fairwitness.core.procedures.voltage import measure as measure_voltage
from fairwitness.core.reason.inference.hypotheses import Hypothesis
from fairwitness.core.reason.inference.posterior import Posterior
from fairwitness.core.reason.knowledge.faults import FAULTS
from fairwitness.core.reason.report.advice import advice
from fairwitness.core.reason.verdict import Verdict
from tests.core.reason.evidence import case, measured

FOUR = even_engine((1, 3, 4, 2))


def verdict_of(cylinders) -> Verdict:
    made = conclude(case(FOUR), (measured(FOUR, {3: 0.05}),)).verdict
    return type(made)(**{name: getattr(made, name) for name in made.__slots__} | {"cylinders": cylinders})


def said(fault, *evidence, cylinders=(3,), chance=1.0, engine=FOUR):
    known = (
        Hypothesis(fault, FAULTS[fault].cause, cylinders, 0.5),
        Hypothesis("no_fault", FAULTS[fault].cause, (), 0.5),
    )
    posterior = Posterior(hypotheses=known, probabilities=np.array([chance, 1 - chance]))
    return " ".join(render(m) for m in advice(verdict_of(cylinders), posterior, evidence, engine))


def column(name, state):
    found = Finding(
        test="secondary_voltage", cylinder=3, quantity="q", value=1.0, unit="1", spread=None, events=1, state=state,
        statement=verbatim("-"), origin=Origin(resource=name),
    )  # fmt: skip
    line = Evidence(line=name, source=name, alternatives=(np.ones(4),), sigmas=np.full(4, 0.1))
    return Measured(test="secondary_voltage", resource=name, findings=(found,), lines=(line,))


@pytest.mark.parametrize(
    ("fault", "words"),
    [
        ("coil_output_dead", "ask why it died"),
        ("coil_driver_failed", "coil driver is called last. Still open: feed under load, earth under load"),
        ("injector_driver_failed", "injector driver is called last. Still open: feed under load"),
        ("secondary_open", "the plug is wet and may keep missing"),
        ("injector_leaking", "says nothing of the spray"),
    ],
)
def test_each_fault_brings_its_own(fault, words):
    assert words in said(fault)


def test_what_is_hardly_likely_brings_nothing():
    assert said("coil_output_dead", chance=0.05) == ""


def test_nobody_accused_nothing_advised():
    assert said("coil_output_dead", cylinders=()) == ""


@pytest.mark.parametrize(
    ("spark", "fuel", "words"),
    [
        (State.ABSENT, State.ABSENT, "Both spark and injection are missing"),
        (State.NORMAL, State.ABSENT, "It sparks and is not injected"),
        (State.ABSENT, State.NORMAL, "It is injected and does not spark"),
    ],
)
def test_spark_and_fuel_are_read_together(spark, fuel, words):
    assert words in said("plug_gap_wide", column("FV", spark), column("IC", fuel))


def test_one_of_them_alone_says_nothing_of_the_other():
    assert "injected" not in said("plug_gap_wide", column("FV", State.ABSENT))


def test_a_feed_that_is_accused_whole_comes_before_its_injectors():
    fed = even_engine((1, 3, 4, 2), injector_feeds=((1, 4), (2, 3)))
    assert "They hang on one feed" in said("injector_feed_lost", cylinders=(1, 4), engine=fed)
    assert "They hang on one feed" not in said("injector_feed_lost", cylinders=(1, 3), engine=fed)


def test_what_was_excluded_already_is_not_asked_for_again():
    fed = {"item": "coil_feed", "cylinder": 3, "volts": 12.4, "engine_state": "key_on"}
    words = said("coil_driver_failed", measure_voltage(Observation(test="voltage", data=fed), 0, FOUR))
    assert "Done: feed under load. Still open: earth under load" in words
