import socket
import threading

import numpy as np
import pytest

from fairwitness.core.errors import InstrumentError
from fairwitness.core.model.capture import Role
from fairwitness.core.procedures.set_up_card import Clip
from fairwitness.instruments.scope_link import Lead, ScopeLink
from fairwitness.instruments.scope_stand_in import Scope, ScopeStandIn

STARTER = Lead(channel=1, clip=Clip(role=Role.STARTER_CURRENT), unit="A", reach=1000.0)
SYNC = Lead(channel=2, clip=Clip(role=Role.COIL_CONTROL, cylinder=1, sync=True), unit="V", reach=20.0)


def cranked(bay, link, *leads, seconds=4.0, rate_hz=2000.0):
    bay.fuel_disabled = True
    link.set_up(leads or (STARTER, SYNC), rate_hz=rate_hz, seconds=seconds)
    bay.crank(seconds)
    link.start()


def test_it_says_who_it_is_and_answers_the_common_commands(link):
    assert "STAND-IN" in link.identity
    assert link.ask("*OPC?") == "1"
    assert link.ask("*TST?") == "0"
    link.tell("*ESE 36", "*SRE 32")
    assert (link.ask("*ESE?"), link.ask("*SRE?")) == ("36", "32")


def test_settings_are_kept_and_a_reset_forgets_them(link):
    link.set_up([STARTER], rate_hz=2500, seconds=3)
    assert float(link.ask("CHAN1:RANG?")) == 1000.0
    assert link.ask("CHANnel1:LABel?") == '"starter current"'
    assert (float(link.ask("TIM:RATE?")), float(link.ask("TIM:LENG?"))) == (2500.0, 3.0)
    assert link.ask("CHAN1:STAT?") == "1"
    link.tell("*RST")
    assert link.ask("CHAN1:STAT?") == "0"


def test_samples_appear_as_time_passes(bay, link, clock):
    cranked(bay, link)
    assert link.points == 0
    clock.pass_s(1.0)
    assert link.points == 2000
    assert link.recording
    clock.pass_s(9.0)
    assert link.points == 8000
    assert not link.recording
    amps = link.fetch(1, 0, 8000)
    assert amps.dtype == np.float32
    assert amps.max() > 300
    assert (link.fetch(2, 0, 8000) > 2.5).any()
    np.testing.assert_array_equal(link.fetch(1, 4000, 100), amps[4000:4100])
    assert link.fetch(1, 7990, 500).size == 10


def test_an_input_clips_at_its_range(bay, link, clock):
    cranked(bay, link, Lead(channel=1, clip=Clip(role=Role.STARTER_CURRENT), unit="A", reach=100.0))
    clock.pass_s(10)
    amps = link.fetch(1, 0, 8000)
    assert amps.max() == pytest.approx(100.0, abs=0.1)
    assert (amps > 99.9).sum() > 20


def test_a_clamp_has_its_zero_error(bay, link, clock):
    cranked(bay, link, Lead(channel=1, clip=Clip(role=Role.STARTER_CURRENT), unit="A", reach=1000.0, zero=25.0))
    clock.pass_s(10)
    assert np.median(link.fetch(1, 0, 800)) == pytest.approx(25.0, abs=0.5)


def test_a_kick_without_an_attenuator_is_told(bay, link):
    bay.run()
    high = Clip(role=Role.INJECTOR_VOLTAGE, cylinder=1)
    link.set_up([Lead(channel=1, clip=high, unit="V", reach=100.0)], rate_hz=20_000, seconds=1)
    link.start()
    assert link.ask("SYST:ERR?").startswith("0,")
    link.tell("CHAN1:PROB 0.5")
    with pytest.raises(InstrumentError, match="overloaded"):
        restarted(link)


def restarted(link):
    link.tell("ACQ:STOP")
    link.start()


def test_a_trigger_moves_the_beginning_to_the_edge(bay, link, clock):
    bay.fuel_disabled = True
    link.set_up([STARTER, SYNC], rate_hz=2000, seconds=4)
    link.tell("TRIG:SOUR CHAN1", "TRIG:LEV 150")
    bay.crank(4.0)
    link.start()
    clock.pass_s(10)
    assert link.fetch(1, 0, 5).max() >= 150 > np.median(link.fetch(1, 0, 1)) - 200
    assert link.points < 8000


def test_a_refused_command_names_what_is_wrong(link):
    with pytest.raises(InstrumentError, match="Undefined header"):
        link.tell("CHAN1:COLOUR red")
    with pytest.raises(InstrumentError, match="Illegal parameter"):
        link.tell("TIM:RATE -5")
    with pytest.raises(InstrumentError, match="Illegal parameter"):
        link.tell("CHAN77:STAT ON")
    assert link.ask("SYST:ERR?").startswith("0,")


def test_a_second_start_while_recording_is_refused(bay, link, clock):
    cranked(bay, link)
    clock.pass_s(1)
    with pytest.raises(InstrumentError, match="under way"):
        link.start()
    assert link.recording


def test_stopping_keeps_what_is_there(bay, link, clock):
    cranked(bay, link)
    clock.pass_s(1.5)
    link.stop()
    clock.pass_s(5)
    assert link.points == 3000
    assert not link.recording
    assert link.fetch(1, 0, 9000).size == 3000


def test_two_clients_see_one_instrument(bay, link, stand_in, clock):
    other = ScopeLink(stand_in.address)
    cranked(bay, link)
    clock.pass_s(10)
    done = []

    def read(client):
        done.append(sum(client.fetch(1, at, 500).size for at in range(0, 8000, 500)))

    other._scales = link._scales
    threads = [threading.Thread(target=read, args=(client,)) for client in (link, other)]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
    assert done == [8000, 8000]
    other.close()


def test_a_scope_that_loses_its_power_says_so_and_can_be_connected_again(bay, link, stand_in, clock):
    cranked(bay, link)
    clock.pass_s(1)
    held = link.fetch(1, 0, 2000)
    stand_in.close()
    with pytest.raises(InstrumentError, match=r"does not answer\. Check its power"):
        link.ask("ACQ:STAT?")
    assert held.size == 2000
    again = ScopeStandIn(Scope(bay, clock=clock))
    back = ScopeLink(again.address)
    assert "STAND-IN" in back.identity
    back.close()
    again.close()


def test_nobody_at_the_address_is_told():
    with socket.socket() as probe:
        probe.bind(("127.0.0.1", 0))
        port = probe.getsockname()[1]
    with pytest.raises(InstrumentError, match="does not answer"):
        ScopeLink(f"TCPIP::127.0.0.1::{port}::SOCKET", time_out_ms=500)


@pytest.mark.parametrize("said", [b"\xff\xfe\x00garbage\n", b"#9banana\n", b"hello\n"])
def test_garbage_answers_are_refused(said):
    with socket.create_server(("127.0.0.1", 0)) as listening:
        port = listening.getsockname()[1]

        def babble():
            client, _ = listening.accept()
            with client:
                try:
                    while client.recv(1000):
                        client.sendall(said)
                except OSError:
                    return

        thread = threading.Thread(target=babble, daemon=True)
        thread.start()
        try:
            link = ScopeLink(f"TCPIP::127.0.0.1::{port}::SOCKET", time_out_ms=700)
        except InstrumentError:
            return
        with pytest.raises(InstrumentError):
            assert link.points
        with pytest.raises(InstrumentError):
            link.fetch(1, 0, 100)
        link.close()
