"""Contributions from a sensor's trace: the angle of top dead centre is fitted, a wheel out of true accuses nobody."""

from dataclasses import replace

import numpy as np
import pytest

from fairwitness.core.model.engine import even_engine
from fairwitness.core.procedures.crank_speed.measure import measure
from fairwitness.core.reason.accusations import deviates
from tests.independent.crank_sensor import Sensor, crank_capture
from tests.independent.entries import RUNNING, SENSORS
from tests.independent.running import Running
from tests.independent.work import ORDERS

TEETH = {"60-2": "x" * 58 + "..", "36-1": "x" * 35 + ".", "24": "x" * 24}


def read(run, by):
    return measure(crank_capture(run, by), even_engine(run.order))


def odd_ones(measured):
    return {f.cylinder for f in measured.findings if deviates(f)}


@pytest.mark.parametrize("cylinders", [4, 6, 8])
@pytest.mark.parametrize("sensor", SENSORS)
def test_nobody_healthy_is_accused(sensor, cylinders):
    found = read(Running(order=ORDERS[cylinders]), SENSORS[sensor])
    assert found.usable
    assert odd_ones(found) == set()


@pytest.mark.parametrize("cylinders", [4, 6, 8])
@pytest.mark.parametrize("odd", RUNNING)
def test_nobody_is_accused_whatever_the_healthy_engine_is_like(odd, cylinders):
    found = read(Running(order=ORDERS[cylinders], **RUNNING[odd]), Sensor())
    assert found.usable
    assert odd_ones(found) == set()


@pytest.mark.parametrize("blips", [0.1, 0.15, 0.3, 0.6, 1.0])
@pytest.mark.parametrize("cylinders", list(ORDERS))
def test_a_blipped_throttle_accuses_nobody_and_hides_nobody(cylinders, blips):
    order = ORDERS[cylinders]
    by = Sensor(seconds=8.0)
    assert odd_ones(read(Running(order=order, blips=blips), by)) == set()
    sick = read(Running(order=order, blips=blips, shares={order[1]: 0.0}), by)
    assert odd_ones(sick) == ({order[1]} if sick.usable else set())
    assert sick.usable or {r.code for r in sick.reasons} >= {"unsteady"}


@pytest.mark.parametrize("teeth", TEETH)
@pytest.mark.parametrize("cylinders", [4, 6])
def test_a_dead_cylinder_is_found_on_any_wheel(teeth, cylinders):
    order = ORDERS[cylinders]
    found = read(Running(order=order, teeth=TEETH[teeth], shares={order[1]: 0.0}), Sensor())
    assert odd_ones(found) == {order[1]}


@pytest.mark.parametrize("cylinders", [4, 6, 8])
def test_two_companions_that_are_dead_are_no_wheel_out_of_true(cylinders):
    order = ORDERS[cylinders]
    pair = {order[1]: 0.0, order[1 + cylinders // 2]: 0.0}
    assert odd_ones(read(Running(order=order, shares=pair), Sensor())) == set(pair)


@pytest.mark.parametrize("advance", [4.0, 8.0, 14.0])
@pytest.mark.parametrize("cylinders", list(ORDERS))
def test_a_small_loss_is_not_read_as_a_dead_cylinder_however_early_it_sparks(cylinders, advance):
    order = ORDERS[cylinders]
    found = read(Running(order=order, shares={order[1]: 0.85}), Sensor(advance_deg=advance))
    shares = {f.cylinder: f.value for f in found.findings if not f.is_remark}
    assert shares[order[1]] == pytest.approx(0.85, abs=0.16)
    assert np.delete([shares[c] for c in order], 1) == pytest.approx(1.0, abs=0.1)


def test_without_a_sync_somebody_is_ill_and_who_is_open():
    order = ORDERS[4]
    found = read(replace(Running(order=order), shares={order[1]: 0.0}), Sensor(sync=False))
    assert found.usable
    assert [f.cylinder for f in found.findings if f.state.value in ("low", "absent")] == [None]
