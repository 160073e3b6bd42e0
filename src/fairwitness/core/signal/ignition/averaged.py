"""The averaged spark of each cylinder, drawn in the column of its cylinder on the shared axis."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from fairwitness.core.model.capture import Capture, Role
from fairwitness.core.model.engine import CYCLE_DEG, Engine
from fairwitness.core.model.measurement import AveragedCycle
from fairwitness.core.signal.ignition.leads import Leads

POINTS = 720
FROM_S, TO_S = -3.0e-3, 3.5e-3
"""What of each spark is drawn: the end of the dwell, breakdown, line and ringing."""
PEAK_HALF = 1
"""Points to each side that a breakdown is drawn wide, so that it is not lost when the strip is thinned out."""
DRAWN = 0.9
"""Share of a column that its spark fills."""


def averaged_sparks(capture: Capture, leads: Leads, engine: Engine) -> AveragedCycle:
    """Median and quartiles of the sparks of every cylinder, one after the other in firing order.

    Parameters
    ----------
    capture : Capture
        Evenly sampled.
    leads : Leads
    engine : Engine

    Returns
    -------
    AveragedCycle
        kV, breakdown upwards; a column is a stretch of milliseconds there, not of crank angle.
    """
    rate = capture.time.rate_hz
    channels = {c.cylinder: c for c in capture.with_role(Role.SECONDARY_VOLTAGE)}
    across = POINTS // engine.cylinders
    drawn = max(2, int(DRAWN * across))
    strip = np.zeros((3, POINTS))
    edges = np.linspace(FROM_S, TO_S, drawn + 1, dtype=np.float64)
    for place, cylinder in enumerate(engine.firing_order):
        sparks = leads.sparks.get(cylinder)
        channel = channels.get(cylinder) or channels.get(None)
        if sparks is None or not sparks.count or channel is None:
            continue
        samples, scale = channel.samples, channel.si_factor / 1e3 * (-1.0 if sparks.inverted else 1.0)
        quiet = float(np.nanmedian(samples[:: max(1, samples.size // 5_000)]))
        rows = []
        for at in sparks.at_s[:60]:
            at_edges = np.round((at + edges) * rate).astype(np.intp)
            if at_edges[0] < 0 or at_edges[-1] >= samples.size:
                continue
            stretch = np.asarray(samples[at_edges[0] : at_edges[-1]], dtype=np.float64)
            piece = scale * (np.nan_to_num(stretch, nan=quiet) - quiet)
            cuts = np.minimum(at_edges[:-1] - at_edges[0], piece.size - 1)
            row = np.add.reduceat(piece, cuts) / np.maximum(np.diff(np.append(cuts, piece.size)), 1)
            broke = _breakdown(edges)
            row[broke - PEAK_HALF : broke + PEAK_HALF + 1] = np.maximum.reduceat(piece, cuts)[broke]
            rows.append(row)
        if rows:
            begin = place * across + (across - drawn) // 2
            strip[:, begin : begin + drawn] = np.percentile(np.array(rows), (25, 50, 75), axis=0)
    low, middle, high = strip
    return AveragedCycle(angle_deg=np.arange(POINTS) * CYCLE_DEG / POINTS, middle=middle, low=low, high=high, unit="kV")


def _breakdown(edges: NDArray[np.float64]) -> int:
    """The step that holds the breakdown: its peak is drawn, not its mean."""
    return int(np.searchsorted(edges, 0.0, side="right")) - 1
