import can
import numpy as np
import pytest

from fairwitness.core.errors import InstrumentError
from fairwitness.instruments.bay import Bay
from fairwitness.instruments.control_unit import RESPONSE, ControlUnit
from fairwitness.instruments.scan_link import ScanLink
from fairwitness.simulate.garage import ENGINES, build
from fairwitness.simulate.health import Fault


@pytest.fixture
def scan(unit):
    link = ScanLink(unit.channel)
    yield link
    link.close()


def test_at_rest_it_reads_a_parked_engine(scan):
    values = scan.live()
    assert values["engine speed"] == 0
    assert values["coolant temperature"] == 88
    assert 12 < values["control unit voltage"] < 13
    assert scan.codes() == {"P0203": "stored"}


def test_running_it_counts_the_misfires_of_the_dead_cylinder(scan, bay, clock):
    bay.run()
    clock.pass_s(12)
    assert 600 < scan.rpm() < 1000
    counts = scan.misfires(4)
    assert counts[3] > 40
    assert max(counts[c] for c in (1, 2, 4)) < 5
    assert {"P0303", "P0203"} <= set(scan.codes())
    assert scan.live()["short term trim bank 1"] > 3


def test_clearing_takes_the_codes_away_until_they_come_back(scan, bay, clock):
    scan.clear_codes()
    assert scan.codes() == {}
    bay.run()
    clock.pass_s(12)
    assert "P0303" in scan.codes()


def test_cutting_a_sound_cylinder_slows_the_engine_at_once_and_a_dead_one_does_not(scan, bay, clock):
    bay.run()
    clock.pass_s(3)
    lowest = {}
    for cylinder in (1, 3):
        scan.cut(cylinder)
        speeds = []
        for _ in range(12):
            clock.pass_s(0.1)
            speeds.append(scan.rpm())
        lowest[cylinder] = min(speeds)
        scan.give_back(cylinder)
        clock.pass_s(2)
    assert lowest[3] - lowest[1] > 40
    assert bay.cut == ()


def test_a_cut_is_refused_while_the_engine_stands_or_has_no_such_cylinder(scan, bay):
    with pytest.raises(InstrumentError, match="not in this state"):
        scan.cut(1)
    bay.run()
    with pytest.raises(InstrumentError, match="does not know this item"):
        scan.cut(9)


def test_cranking_speeds_settle_before_they_are_told(scan, bay, clock):
    bay.fuel_disabled = True
    bay.crank(9)
    clock.pass_s(2)
    assert scan.cranking_speeds() == {}
    clock.pass_s(6)
    table = scan.cranking_speeds()
    assert set(table) == {1, 2, 3, 4}
    assert max(table.values()) - min(table.values()) < 5
    clock.pass_s(3)
    assert scan.cranking_speeds() == {}


def test_a_control_unit_that_falls_silent_is_told(scan, unit):
    unit.close()
    scan._time_out_s = 0.2
    with pytest.raises(InstrumentError, match="does not answer"):
        scan.rpm()


def test_nobody_on_the_bus_is_told():
    with pytest.raises(InstrumentError, match="does not answer"):
        ScanLink("nobody-here", time_out_s=0.2)


def test_an_interface_that_is_not_there_is_told():
    with pytest.raises(InstrumentError, match="no such CAN interface"):
        ScanLink("can9", interface="socketcan")


def test_garbage_frames_do_not_become_values(scan, unit):
    with can.Bus(interface="virtual", channel=unit.channel) as bus:
        for data in (b"\x21\xff\xff", b"\x00", b"\x30\x00\x00", b"\x03\x41\x05", b"\xff" * 8):
            bus.send(can.Message(arbitration_id=RESPONSE, data=data, is_extended_id=False))
        assert scan.rpm() == 0


def test_two_links_on_one_bus_both_get_their_answers(scan, unit):
    other = ScanLink(unit.channel)
    assert [scan.rpm(), other.rpm(), scan.rpm()] == [0, 0, 0]
    other.close()


def test_low_supply_shows_as_fuel_added_and_stores_the_lean_code(clock):
    thirsty = Bay(build(ENGINES["drover-2.0"], (Fault("fuel_supply_low"),), rng=np.random.default_rng(1)), clock=clock)
    unit = ControlUnit(thirsty, channel="thirsty")
    link = ScanLink("thirsty")
    thirsty.run()
    clock.pass_s(3)
    values = link.live()
    assert values["short term trim bank 1"] + values["long term trim bank 1"] > 20
    assert "P0171" in link.codes()
    link.close()
    unit.close()
