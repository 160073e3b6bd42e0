"""Bytes on the vehicle network against the published encodings, carried by the general libraries."""

import can
import isotp
import numpy as np
import pytest

from fairwitness.instruments import j1979
from fairwitness.instruments.bay import Bay
from fairwitness.instruments.control_unit import ControlUnit
from fairwitness.simulate.garage import ENGINES, build


@pytest.mark.parametrize(
    ("raw", "code"),
    # SAE J2012 / ISO 15031-6: two bits system, two bits first digit, then three digits of four bits.
    [("0143", "P0143"), ("0303", "P0303"), ("4123", "C0123"), ("8234", "B0234"), ("C158", "U0158"), ("1000", "P1000")],
)
def test_trouble_codes_are_packed_as_published(raw, code):
    assert j1979.encode_code(code) == bytes.fromhex(raw)
    assert j1979.decode_code(bytes.fromhex(raw)) == code


@pytest.mark.parametrize(
    ("pid", "raw", "value"),
    # SAE J1979 / ISO 15031-5, table of PIDs: A-40; (A-128)*100/128; A; (256A+B)/4; (256A+B)/1000.
    [
        (0x05, "7B", 83.0),
        (0x06, "80", 0.0),
        (0x06, "FF", 99.21875),
        (0x07, "00", -100.0),
        (0x0B, "21", 33.0),
        (0x0C, "1AF8", 1726.0),
        (0x42, "3716", 14.102),
    ],
)
def test_live_values_are_scaled_as_published(pid, raw, value):
    assert j1979.decode_value(j1979.PIDS[pid], bytes.fromhex(raw)) == pytest.approx(value)


def test_supported_values_are_told_most_significant_bit_first():
    # SAE J1979: bit 7 of the first byte is PID 01, bit 0 of the fourth is PID 20.
    assert j1979.decode_supported(0x00, bytes.fromhex("80000001")) == (0x01, 0x20)
    assert j1979.supported(0x00)[0] == 0b0000_1111  # 05, 06, 07, 08


def test_misfire_monitors_begin_at_a2_with_test_0c_and_counts_scaling():
    # SAE J1979 appendix D: OBDMID A2 misfire cylinder 1, TID 0B mean of ten cycles, 0C this cycle; scaling 24 counts.
    answer = j1979.encode_misfires(3, 189, 95)
    assert answer[0] == 0x46
    assert answer[1:4] == bytes((0xA4, 0x0B, 0x24))
    assert answer[10:13] == bytes((0xA4, 0x0C, 0x24))
    assert int.from_bytes(answer[13:15], "big") == 189


@pytest.fixture
def bus():
    unit = ControlUnit(Bay(build(ENGINES["drover-2.0"], rng=np.random.default_rng(1))), channel="reference")
    with can.Bus(interface="virtual", channel="reference") as tester:
        yield tester
    unit.close()


def test_a_raw_single_frame_is_answered_in_a_single_frame(bus):
    # ISO 15765-2: high nibble 0, low nibble the length. Engine speed of an engine at rest is 0.
    bus.send(can.Message(arbitration_id=0x7E0, data=bytes.fromhex("02010C"), is_extended_id=False))
    seen = next(m for _ in range(5) if (m := bus.recv(2.0)) and m.arbitration_id == 0x7E8)
    assert bytes(seen.data[:5]) == bytes.fromhex("04410C0000")


def test_the_functional_address_is_heard_too(bus):
    bus.send(can.Message(arbitration_id=0x7DF, data=bytes.fromhex("020105"), is_extended_id=False))
    seen = next(m for _ in range(5) if (m := bus.recv(2.0)) and m.arbitration_id == 0x7E8)
    assert bytes(seen.data[:4]) == bytes((0x03, 0x41, 0x05, 88 + 40))


def test_a_long_answer_comes_in_frames_the_general_library_joins(bus):
    notifier = can.Notifier(bus, [])
    address = isotp.Address(isotp.AddressingMode.Normal_11bits, txid=0x7E0, rxid=0x7E8)
    stack = isotp.NotifierBasedCanStack(bus, notifier, address=address)
    stack.start()
    stack.send(bytes((0x06, 0xA2)))
    answer = stack.recv(block=True, timeout=2.0)
    stack.stop()
    notifier.stop()
    assert len(answer) == 1 + 2 * 9  # more than the seven bytes of a single frame
    assert answer[:2] == bytes((0x46, 0xA2))


def test_an_unknown_service_is_refused_as_iso_14229_has_it(bus):
    bus.send(can.Message(arbitration_id=0x7E0, data=bytes.fromhex("013E"), is_extended_id=False))
    seen = next(m for _ in range(5) if (m := bus.recv(2.0)) and m.arbitration_id == 0x7E8)
    assert bytes(seen.data[:4]) == bytes.fromhex("037F3E11")  # 7F, service, serviceNotSupported
