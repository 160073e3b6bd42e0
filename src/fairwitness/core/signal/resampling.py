"""Captures laid on other steps of time: what every measurement does before it looks at a fast trace.

From captures with stamps; even ones go to the measurements. All that describes a channel is kept.
"""

from __future__ import annotations

from dataclasses import replace

import numpy as np

from fairwitness.core.model.capture import Capture, TimeBase


def evenly_sampled(capture: Capture) -> Capture:
    """A capture with stamps laid on even steps, for the slow work.

    Parameters
    ----------
    capture : Capture

    Returns
    -------
    Capture
        The same one where its steps are even already.
    """
    time = capture.time
    if time.stamps_s is None:
        return capture
    count = int(time.duration_s * time.rate_hz) + 1
    grid = time.start_s + np.arange(count) / time.rate_hz
    index = np.clip(np.searchsorted(time.stamps_s, grid, side="right") - 1, 0, time.samples - 1)
    return replace(
        capture,
        time=TimeBase(samples=count, rate_hz=time.rate_hz, start_s=time.start_s),
        channels=tuple(replace(c, samples=c.samples[index]) for c in capture.channels),
    )
