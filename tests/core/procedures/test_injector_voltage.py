"""Injector voltage: what rest level, pull and kick prove together."""

import numpy as np
import pytest

from fairwitness.core.messages.rendering import render
from fairwitness.core.model.capture import CaptureTest, Channel, Role
from fairwitness.core.model.engine import even_engine
from fairwitness.core.model.measurement import State
from fairwitness.core.procedures.injector_voltage.measure import measure
from fairwitness.core.procedures.registry import swept
from tests.core.feeds import capture, control_side

FOUR = even_engine((1, 3, 4, 2))
COUNT = control_side().size


def lead(cylinder, volts=None, **about):
    volts = control_side(seed=cylinder) if volts is None else volts
    return Channel(
        name=f"injector {cylinder}", role=Role.INJECTOR_VOLTAGE, unit="V", samples=volts, cylinder=cylinder, **about
    )


def level(volts, noise=0.05):
    return (volts + np.random.default_rng(7).normal(0.0, noise, COUNT)).astype(np.float32)


def reported(volts, **about):
    leads = [lead(c) for c in (1, 3, 4)] + [lead(2, volts, **about)]
    return measure(capture(*leads, test=CaptureTest.INJECTOR_VOLTAGE), FOUR)


def outcomes(measured, cylinder=2):
    return {s.kind: s.outcome for s in measured.categorical if s.cylinders == (cylinder,)}


@pytest.mark.parametrize(
    ("volts", "state", "rest", "command", "words"),
    [
        (control_side(seed=2), State.NORMAL, "battery", "pulses", "electrically it works"),
        (control_side(rest=3.3, kick=0.0), State.ABSENT, "bias", "pulses", "no feed arrives"),
        (control_side(kick=0.0), State.ABSENT, "battery", "pulses", "no current was flowing"),
        (control_side(kick=30.0), State.LOW, "battery", "pulses", "less current was flowing"),
        (control_side(on_s=0.007), State.ABNORMAL, "battery", "pulses", "flooding"),
        (control_side(bump=0.0), State.ABNORMAL, "battery", "pulses", "closing needle"),
        (level(13.8), State.ABSENT, "battery", "absent", "no command comes"),
        (level(3.3), State.ABSENT, "bias", "absent", "between feed and driver"),
        (level(0.5), State.ABNORMAL, "zero", "stuck", "floods"),
    ],
)
def test_each_mixture_of_rest_pull_and_kick_says_its_own(volts, state, rest, command, words):
    measured = reported(volts)
    finding = next(f for f in measured.findings if f.cylinder == 2)
    assert finding.state is state
    assert words in render(finding.statement)
    seen = outcomes(measured)
    assert seen["voltage:injector_control:part"] == rest
    assert seen["injector_command:part"] == command
    assert all(f.state is State.NORMAL for f in measured.findings if f.cylinder != 2)


@pytest.mark.parametrize("noise", [0.02, 0.3, 0.6])
def test_small_pulls_on_the_monitoring_level_are_seen_in_noise(noise):
    measured = reported(control_side(rest=3.3, kick=0.0, noise=noise))
    assert outcomes(measured)["injector_command:part"] == "pulses"


def test_kicks_beyond_the_range_accuse_nobody_and_are_said():
    cut = [np.minimum(control_side(seed=c), np.float32(14.5)) for c in (1, 3, 4, 2)]
    leads = [lead(c, v) for c, v in zip(FOUR.firing_order, cut, strict=True)]
    measured = measure(capture(*leads, test=CaptureTest.INJECTOR_VOLTAGE), FOUR)
    assert {f.state for f in measured.findings} == {State.NORMAL}
    assert "clipped" in {r.code for r in measured.reasons}
    assert not measured.lines


def test_where_along_the_wire_the_lead_sat_is_kept():
    at_unit = reported(control_side(seed=2), measured_at="control_unit", unplugged=True)
    assert "injector_command:control_unit_unplugged" in outcomes(at_unit)
    leads = [lead(1), lead(2, level(13.8)), lead(2, control_side(seed=5), measured_at="control_unit")]
    both = outcomes(measure(capture(*leads, test=CaptureTest.INJECTOR_VOLTAGE), FOUR))
    assert both["injector_command:part"] == "absent"
    assert both["injector_command:control_unit"] == "pulses"


def test_captures_of_single_injectors_are_judged_beside_each_other():
    parts = [
        measure(capture(lead(c, v), test=CaptureTest.INJECTOR_VOLTAGE), FOUR)
        for c, v in ((1, None), (3, None), (4, None), (2, control_side(kick=30.0)))
    ]
    assert {f.state for p in parts for f in p.findings} == {State.NORMAL}
    judged = {f.cylinder: f.state for p in swept(parts, FOUR) for f in p.findings}
    assert judged[2] is State.LOW
    assert judged[1] is State.NORMAL


def test_a_dead_lead_is_refused_with_a_reason():
    empty = Channel(
        name="x", role=Role.INJECTOR_VOLTAGE, unit="V", samples=np.full(COUNT, np.nan, np.float32), cylinder=1
    )
    assert not measure(capture(empty, test=CaptureTest.INJECTOR_VOLTAGE), FOUR).usable


def cut(seconds, *cylinders, **odd):
    """Leads of a capture that ends after so many seconds, each cylinder's command at its own place of the cycle."""
    whole = {c: odd.get(f"c{c}", np.roll(control_side(seed=c), 700 * c)) for c in cylinders}
    count = round(seconds * 50_000)
    leads = [lead(c, volts[:count].copy()) for c, volts in whole.items()]
    return measure(capture(*leads, test=CaptureTest.INJECTOR_VOLTAGE), FOUR)


def test_two_openings_of_each_in_a_short_capture_are_commands():
    measured = cut(0.36, 1, 2, 3, 4)
    assert {f.state for f in measured.findings} == {State.NORMAL}


def test_what_a_short_capture_did_not_catch_is_not_called_missing():
    measured = cut(0.10, 1, 2, 3, 4)
    assert all(f.state is State.NORMAL for f in measured.findings)
    still = cut(0.10, 1, 2, c1=level(13.8), c2=level(13.8))
    assert not still.usable
    assert [r.code for r in still.reasons] == ["too_short"]


def test_an_injector_that_stays_still_while_its_peers_open_twice_is_not_commanded():
    measured = cut(0.36, 1, 3, 4, 2, c2=level(13.8))
    assert outcomes(measured)["injector_command:part"] == "absent"
