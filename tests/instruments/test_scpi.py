import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from fairwitness.core.errors import InstrumentError
from fairwitness.instruments.scpi import Status, block, block_length, parse, short_form


@pytest.mark.parametrize(
    ("text", "words", "suffix", "asks", "arguments"),
    [
        ("*IDN?", ("*IDN",), 0, True, ()),
        ("CHANnel3:RANGe 20", ("CHAN", "RANG"), 3, False, ("20",)),
        (":chan3:rang?", ("CHAN", "RANG"), 3, True, ()),
        ('CHAN1:LAB "starter; current, A"', ("CHAN", "LAB"), 1, False, ("starter; current, A",)),
        ("WAV:DATA? 2,100,50", ("WAV", "DATA"), 0, True, ("2", "100", "50")),
        ('CHAN1:LAB "say ""go"""', ("CHAN", "LAB"), 1, False, ('say "go"',)),
        ('CHAN2:CLIP "coil_control","1","",""', ("CHAN", "CLIP"), 2, False, ("coil_control", "1", "", "")),
    ],
)
def test_a_message_is_read(text, words, suffix, asks, arguments):
    message = parse(text)
    assert (message.words, message.suffix, message.asks, message.arguments) == (words, suffix, asks, arguments)


@pytest.mark.parametrize("text", ["", "?", "1234", "!!", "\x00\x01"])
def test_what_is_no_message_is_refused(text):
    with pytest.raises(InstrumentError):
        parse(text)


@pytest.mark.parametrize(
    ("word", "short"),
    [
        ("CHANnel", "CHAN"),
        ("RANGe", "RANG"),
        ("TIMebase", "TIM"),
        ("ACQuire", "ACQ"),
        ("WAVeform", "WAV"),
        ("*RST", "*RST"),
    ],
)
def test_mnemonics_have_their_short_form(word, short):
    assert short_form(word) == short


@given(st.lists(st.integers(-2048, 2047), max_size=3000))
def test_a_block_says_how_long_it_is(samples):
    data = block(np.array(samples, np.int16))
    head, length = block_length(data)
    assert head + length == len(data)
    np.testing.assert_array_equal(np.frombuffer(data[head:], "<i2"), samples)


@given(st.binary(max_size=40))
def test_garbage_in_place_of_a_block_is_refused_or_read(data):
    try:
        head, length = block_length(data)
    except InstrumentError:
        return
    assert data[:1] == b"#"
    assert head >= 3
    assert length >= 0


def test_errors_wait_in_a_queue_and_show_in_the_status_byte():
    status = Status()
    status.clear()
    assert status.next_error() == '0,"No error"'
    status.fail(-113, "Undefined header")
    status.fail(-224, "Illegal parameter value")
    assert status.byte & 4
    assert status.next_error() == '-113,"Undefined header"'
    assert status.next_error().startswith("-224,")
    assert not status.byte & 4
    assert status.read_event() == 32 | 16  # command and execution error
    assert status.read_event() == 0
