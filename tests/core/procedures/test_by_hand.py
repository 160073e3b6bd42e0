"""Meter, lamp, swap, spark gap and eye: one outcome each, and a reason where there is none."""

import pytest

from fairwitness.core.messages.rendering import render
from fairwitness.core.model.case import Observation
from fairwitness.core.model.engine import Ignition, even_engine
from fairwitness.core.model.measurement import State
from fairwitness.core.procedures import leak_down, load_lamp, resistance, spark_check, swap, visual, voltage
from fairwitness.core.procedures.registry import swept
from fairwitness.core.reason.knowledge.outcomes import OUTCOMES

FOUR = even_engine((1, 3, 4, 2))
PAIRED = even_engine((1, 3, 4, 2), ignition=Ignition.WASTE_SPARK, coil_pairs=((1, 4), (2, 3)))


def seen(module, engine=FOUR, **data):
    return module.measure(Observation(test=module.TEST, data=data), 0, engine)


@pytest.mark.parametrize(
    ("module", "data", "kind", "outcome", "state"),
    [
        (resistance, {"item": "coil_primary", "cylinder": 2, "open": True}, "resistance:coil_primary", "open",
         State.ABSENT),
        (resistance, {"item": "coil_primary", "cylinder": 2, "ohms": 0.7}, "resistance:coil_primary", "normal",
         State.NORMAL),
        (resistance, {"item": "plug_lead", "cylinder": 2, "ohms": 90e3}, "resistance:plug_lead", "high", State.HIGH),
        (resistance, {"item": "injector", "cylinder": 2, "ohms": 2.0}, "resistance:injector", "low", State.LOW),
        (voltage, {"item": "coil_feed", "cylinder": 2, "volts": 0.1}, "voltage:coil_feed", "absent", State.ABSENT),
        (voltage, {"item": "coil_feed", "cylinder": 2, "volts": 8.0}, "voltage:coil_feed", "low", State.LOW),
        (voltage, {"item": "coil_feed", "cylinder": 2, "volts": 8.6, "engine_state": "cranking"}, "voltage:coil_feed",
         "normal", State.NORMAL),
        (voltage, {"item": "coil_earth", "cylinder": 2, "volts": 0.6}, "voltage:coil_earth", "high", State.HIGH),
        (voltage, {"item": "coil_control_low", "cylinder": 2, "volts": 2.3, "unplugged": True},
         "voltage:coil_control_low:part_unplugged", "elevated", State.ABNORMAL),
        (voltage, {"item": "coil_control_high", "cylinder": 2, "volts": 0.1, "measured_at": "control_unit"},
         "voltage:coil_control_high:control_unit", "absent", State.ABSENT),
        (voltage, {"item": "injector_control", "cylinder": 2, "volts": 3.1, "engine_state": "key_on"},
         "voltage:injector_control:part", "bias", State.ABNORMAL),
        (swap, {"part": "coil", "from": 2, "to": 1, "moved": True}, "swap:coil", "moved", State.ABNORMAL),
        (swap, {"part": "coil", "from": 2, "to": 1, "moved": False}, "swap:coil", "stayed", State.NORMAL),
        (spark_check, {"cylinder": 2, "spark": "none", "measured_at": "coil"}, "spark_check:coil", "none",
         State.ABSENT),
        (load_lamp, {"circuit": "feed", "cylinder": 2, "lamp": "bright"}, "load_lamp:feed", "bright", State.NORMAL),
        (load_lamp, {"circuit": "injector", "cylinder": 2, "lamp": "bright"}, "load_lamp:injector", "bright",
         State.ABNORMAL),
        (leak_down, {"cylinder": 2, "percent": 30, "heard_at": ["oil_filler"]}, "leak_down", "oil_filler", State.HIGH),
        (
            leak_down,
            {"cylinder": 2, "percent": 65, "heard_at": ["oil_filler"]},
            "leak_down",
            "oil_filler_blows",
            State.HIGH,
        ),
        (leak_down, {"cylinder": 2, "percent": 8, "heard_at": []}, "leak_down", "tight", State.NORMAL),
        (leak_down, {"cylinder": 2, "percent": 40}, "leak_down", "silent", State.HIGH),
        (visual, {"item": "plug", "cylinder": 2, "seen": "wet"}, "visual:plug", "wet", State.ABNORMAL),
    ],
)  # fmt: skip
def test_each_reading_has_one_outcome(module, data, kind, outcome, state):
    measured = seen(module, **data)
    (observed,) = measured.categorical
    assert (observed.kind, observed.outcome, observed.cylinders) == (kind, outcome, (2,))
    assert measured.findings[0].state is state
    assert "ylinder 2" in render(measured.findings[0].statement) or "cylinders 2" in render(
        measured.findings[0].statement
    )
    assert outcome in {o for row in OUTCOMES[kind].values() for o in row}


@pytest.mark.parametrize(
    ("module", "data"),
    [
        (resistance, {"item": "coil_primary", "cylinder": 2}),
        (resistance, {"item": "coil_primary", "cylinder": 9, "ohms": 1}),
        (resistance, {"item": "radio", "cylinder": 2, "ohms": 1}),
        (resistance, {"item": "coil_primary", "cylinder": 2, "ohms": float("nan")}),
        (voltage, {"item": "coil_feed", "cylinder": 2, "volts": "twelve"}),
        (voltage, {"item": "injector_control", "cylinder": 2, "volts": 9.0, "engine_state": "running"}),
        (swap, {"part": "coil", "from": 2, "to": 2, "moved": True}),
        (swap, {"part": "coil", "from": 2, "to": 1}),
        (spark_check, {"cylinder": 2, "spark": "blue"}),
        (leak_down, {"cylinder": 2, "percent": 140}),
        (load_lamp, {"circuit": "coil", "cylinder": 2, "lamp": "red"}),
        (visual, {"item": "plug", "cylinder": True, "seen": "wet"}),
    ],
)
def test_what_is_not_understood_says_so_and_weighs_nothing(module, data):
    measured = seen(module, **data)
    assert not measured.usable
    assert not measured.speaks
    assert measured.reasons[0].blocking


def test_a_waste_spark_coil_serves_both_its_cylinders():
    measured = seen(resistance, PAIRED, item="coil_primary", cylinder=2, open=True)
    assert measured.categorical[0].cylinders == (2, 3)


def test_a_battery_below_its_limit_is_told_but_accuses_nobody():
    measured = seen(voltage, item="battery", volts=11.9, engine_state="key_on")
    assert measured.findings[0].state is State.LOW
    assert not measured.categorical


def row(item, readings):
    parts = []
    for i, (cylinder, ohms) in enumerate(readings.items()):
        data = {"item": item, "cylinder": cylinder, **({"open": True} if ohms is None else {"ohms": ohms})}
        parts.append(resistance.measure(Observation(test="resistance", data=data), i, FOUR))
    return {m.findings[0].cylinder: m.categorical[0].outcome for m in swept(parts, FOUR)}


def test_peers_say_more_than_the_range():
    assert row("injector", {1: 14.1, 2: 15.9, 3: 14.0, 4: 14.3}) == {1: "normal", 2: "high", 3: "normal", 4: "normal"}
    assert row("injector", {1: 14.1, 2: 14.9, 3: 14.0, 4: 14.3})[2] == "normal"


def test_coils_that_all_read_open_have_a_diode_inside():
    assert set(row("coil_secondary", dict.fromkeys((1, 2, 3, 4))).values()) == {"normal"}
    assert row("coil_secondary", {1: 9e3, 2: None, 3: 9.2e3, 4: 9.1e3})[2] == "open"


@pytest.mark.parametrize(
    ("percent", "heard", "weighed"), [(22, ["oil_filler"], False), (22, ["exhaust"], True), (28, [], True)]
)
def test_what_a_worn_engine_loses_past_its_rings_accuses_nobody(percent, heard, weighed):
    data = {"cylinder": 2, "percent": percent, "heard_at": heard}
    measured = leak_down.measure(Observation(test="leak_down", data=data), 0, FOUR)
    assert bool(measured.categorical) is weighed
    assert (measured.findings[0].state is State.HIGH) is weighed
