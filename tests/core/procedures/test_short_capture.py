"""Silence in a capture too short to hold a command says nothing."""

import pytest

from fairwitness.core.procedures.short_capture import silence_tells


@pytest.mark.parametrize(
    ("seconds", "commands", "tells"),
    [(0.1, (0, 0), False), (0.1, (1, 0), False), (0.1, (2, 0), True), (0.5, (0, 0), True), (2.0, (), True),
     (0.2, (), False)],
)  # fmt: skip
def test_two_cycles_or_a_peer_that_shows_two(seconds, commands, tells):
    assert silence_tells(seconds, commands) is tells
