"""A stretch of a kept capture, as it is drawn: what the technician marked, or two cycles out of the middle."""

from __future__ import annotations

from dataclasses import replace
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

from fairwitness.core.errors import CaptureError
from fairwitness.core.messages.message import Message, verbatim
from fairwitness.core.model.capture import Role
from fairwitness.core.model.engine import CYCLE_DEG
from fairwitness.core.model.role_words import ROLE_WORDS
from fairwitness.core.signal.cycle_folding import CycleView
from fairwitness.server.captures import looking, samples
from fairwitness.server.captures.models import StoredCapture
from fairwitness.server.sheets.drawing import Lane, Stretch

FloatArray = NDArray[np.float64]
COLUMNS = 260
"""Of a drawing as wide as a page: a finer one shows nothing more on paper."""
CYCLES_SHOWN = 2
WITHOUT_CYCLES_S = 0.5
SCALED = {"V": (2_000.0, 1e-3, "kV"), "Pa": (1_000.0, 1e-3, "kPa"), "A": (0.0, 1.0, "A")}
"""Unit, from which size on another is read more easily, its factor and name."""
HELD = 64


def stretch_of(
    stored: StoredCapture, *, from_s: float | None = None, to_s: float | None = None
) -> tuple[Stretch, tuple[Message, ...]]:
    """A stretch with its scales and the turns of the cylinders, and what its channels are called.

    Parameters
    ----------
    stored : StoredCapture
        Readable and in force.
    from_s, to_s : float or None, s
        From the first sample; None for a few cycles out of the middle.

    Returns
    -------
    (Stretch, words of each lane)

    Raises
    ------
    CaptureError, CustodyError
    """
    return _stretch(stored.pk, stored.sha256, from_s, to_s)


@lru_cache(maxsize=HELD)
def _stretch(
    capture_id: int, _sha256: str, from_s: float | None, to_s: float | None
) -> tuple[Stretch, tuple[Message, ...]]:
    """Nothing of a kept capture changes, so what is drawn of it does not either."""
    stored = StoredCapture.objects.select_related("case").prefetch_related("channels").get(pk=capture_id)
    view = _cycles(stored)
    begin, end = (from_s, to_s) if from_s is not None and to_s is not None else _middle(stored, view)
    first, last = int(begin * stored.rate_hz), int(end * stored.rate_hz) + 1
    rows, step = samples.envelopes(stored, first, last, COLUMNS)
    channels = [c for c in stored.channels.all() if c.role != Role.TIME.value]
    shown = sorted(channels, key=lambda c: (c.sync, c.position))
    names = tuple(_name(c.role, c.name, c.cylinder) for c in shown)
    drawn = (_lane(str(c.name), c.unit, rows[c.position], step) for c in shown)
    lanes = tuple(replace(lane, cylinder=c.cylinder) for lane, c in zip(drawn, shown, strict=True))
    return Stretch(from_s=begin, to_s=end, lanes=lanes, cylinders=_turns(stored, view, begin, end)), names


def _cycles(stored: StoredCapture) -> CycleView | None:
    if stored.samples > looking.HELD_SAMPLES:
        return None  # reading it whole for a drawing would keep everybody waiting
    try:
        return looking.cycles_of(stored)
    except CaptureError:
        return None


def _middle(stored: StoredCapture, view: CycleView | None) -> tuple[float, float]:
    """A few cycles out of the middle, s from the first sample."""
    whole = max(stored.samples - 1, 1) / max(stored.rate_hz, 1e-9)
    if view is None or view.cycles.count < 1:
        middle = whole / 2
        return max(middle - WITHOUT_CYCLES_S / 2, 0.0), min(middle + WITHOUT_CYCLES_S / 2, whole)
    k = max((view.cycles.count - CYCLES_SHOWN) // 2, 0)
    last = min(k + CYCLES_SHOWN, view.cycles.count) - 1
    starts, ends = view.cycles.starts_s, view.cycles.ends_s
    lead = view.from_deg / CYCLE_DEG * float(ends[k] - starts[k])
    begin = float(starts[k]) + lead - stored.start_s
    end = float(ends[last]) + lead - stored.start_s
    return max(begin, 0.0), min(end, whole)


def _turns(
    stored: StoredCapture, view: CycleView | None, begin: float, end: float
) -> tuple[tuple[int, float, float], ...]:
    if view is None or not view.certain:
        return ()
    turns = []
    for start, stop in zip(view.cycles.starts_s.tolist(), view.cycles.ends_s.tolist(), strict=True):
        length = stop - start
        for w in view.windows:
            left = start + w.from_deg / CYCLE_DEG * length - stored.start_s
            right = start + w.to_deg / CYCLE_DEG * length - stored.start_s
            if right > begin and left < end:
                turns.append((w.cylinder, left, right))
    return tuple(turns)


def _name(role: str, name: str, cylinder: int | None) -> Message:
    known = ROLE_WORDS.get(Role(role)) if role in list(Role) else None
    return known if known is not None and cylinder is None else verbatim(name)


def _lane(name: str, unit: str, values: NDArray[np.float32], step: int) -> Lane:
    wide: FloatArray = values.astype(np.float64)
    lows, highs = (wide, wide) if step == 1 else (wide[0::2], wide[1::2])
    if step == 1 and wide.size > 2 * COLUMNS:
        thin, _ = samples.thinned(values, COLUMNS)
        lows, highs = thin[0::2].astype(np.float64), thin[1::2].astype(np.float64)
    most = float(np.nanmax(np.abs(wide))) if wide.size and np.isfinite(wide).any() else 0.0
    from_size, factor, shown = SCALED.get(unit, (0.0, 1.0, unit))
    if most >= from_size:
        return Lane(name=name, unit=shown, lows=lows * factor, highs=highs * factor)
    return Lane(name=name, unit=unit, lows=lows, highs=highs)
