"""What a short capture cannot say: a command that did not fall into it is not missing.

From the commands that were seen; whether silence means anything goes to the tests that read commands.
"""

from __future__ import annotations

from collections.abc import Iterable

from fairwitness.core import thresholds as limit

PEERS_SHOW = 2
"""Commands of a peer in the same capture from which one that shows none was there to be seen and did not come."""


def silence_tells(seconds: float, commands: Iterable[float]) -> bool:
    """Whether a command that was not seen would have been.

    Parameters
    ----------
    seconds : float, s
        Of the capture.
    commands : iterable of float
        How many each lead showed.

    Returns
    -------
    bool
        True where the capture holds two cycles at idle, or a peer shows that it does.
    """
    return seconds >= limit.COMMAND_DUE_S.value or max(commands, default=0) >= PEERS_SHOW
