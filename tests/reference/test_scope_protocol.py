"""The scope stand-in against IEEE 488.2, exercised by the general VISA library itself."""

import numpy as np
import pytest
import pyvisa

from fairwitness.instruments.bay import Bay
from fairwitness.instruments.scope_stand_in import Scope, ScopeStandIn
from fairwitness.simulate.garage import ENGINES, build
from tests.instruments.conftest import Clock


@pytest.fixture
def wire():
    clock = Clock()
    bay = Bay(build(ENGINES["drover-2.0"], rng=np.random.default_rng(1)), clock=clock)
    bay.fuel_disabled = True
    stand_in = ScopeStandIn(Scope(bay, clock=clock))
    manager = pyvisa.ResourceManager("@py")
    opened = manager.open_resource(stand_in.address, read_termination="\n", write_termination="\n")
    opened.timeout = 3000
    opened.bay, opened.clock = bay, clock
    yield opened
    opened.close()
    stand_in.close()


def test_identification_has_four_fields(wire):
    # IEEE 488.2, 10.14: manufacturer, model, serial number, firmware.
    assert len(wire.query("*IDN?").split(",")) == 4


def test_event_status_and_error_queue_work_together(wire):
    # IEEE 488.2, 11.5.1.1: power-on bit 7, command error bit 5; SCPI-99: queue answers number, then quoted text.
    assert int(wire.query("*ESR?")) & 128
    wire.write("NONSENSE:HEADER 1")
    assert int(wire.query("*STB?")) & 4
    assert wire.query("SYST:ERR?").startswith("-113,")
    assert int(wire.query("*ESR?")) & 32
    assert wire.query("SYSTem:ERRor?") == '0,"No error"'


def test_compound_messages_answer_with_semicolons(wire):
    # IEEE 488.2, 8.4.1: response message units are separated by semicolons.
    assert wire.query("*OPC?;*TST?") == "1;0"


def test_the_librarys_own_block_reader_gets_the_samples(wire):
    wire.write('*RST;:CHAN1:STAT ON;:CHAN1:RANG 1000;:CHAN1:CLIP "starter_current","0","",""')
    wire.write(":TIM:RATE 2000;:TIM:LENG 3")
    assert wire.query("*OPC?") == "1"
    wire.bay.crank(6.0)
    wire.write("ACQ:STAR")
    assert wire.query("ACQ:STAT?") == "RUN"
    wire.clock.pass_s(4.0)
    assert wire.query("ACQ:STAT?") == "DONE"
    codes = wire.query_binary_values(
        "WAV:DATA? 1,0,6000", datatype="h", is_big_endian=False, container=np.array, expect_termination=True
    )
    assert codes.size == 6000
    assert (codes.astype(float) * 2000 / 4096).max() > 200  # inrush of a starter, A
