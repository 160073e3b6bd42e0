"""Whether a lead of this shop reads high or low: its captures beside known goods that came through another lead."""

from __future__ import annotations

import math
from collections import defaultdict
from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np
import scipy

from fairwitness.core.messages.message import Message
from fairwitness.core.messages.rendering import render
from fairwitness.core.reason.beside_known_good import FIGURES, judged_beside
from fairwitness.formats.measured_document import read_measured
from fairwitness.server.captures.beside import beside, lead_of
from fairwitness.server.captures.models import CameFrom, StoredCapture

LEVELS = tuple(FIGURES[name] for name in ("peak_a", "level_a", "firing_kv", "kick_v", "peak_bar"))
"""Figures whose level hangs on the calibration of the lead."""
LEAST_CAPTURES = 4
CAPTURES_MOST = 400
CONFIDENCE = 0.95


@dataclass(frozen=True, slots=True, kw_only=True)
class LeadReads:
    """How a lead reads beside others.

    Parameters
    ----------
    words : Message
        The lead.
    share : float
        Of what others read: 0.92 is 8 % low.
    low, high : float
        Interval of that share, by Student's t over the captures.
    captures : int
    """

    words: Message
    share: float
    low: float
    high: float
    captures: int

    @property
    def is_off(self) -> bool:
        """Its interval leaves out reading like the others."""
        return not self.low <= 1.0 <= self.high


def leads_read() -> list[LeadReads]:
    """Every lead that was compared often enough, the most off first.

    A capture counts once; its own cylinders are not independent of each other. Simulated known goods count nothing.
    """
    compared: dict[str, list[float]] = defaultdict(list)
    words: dict[str, Message] = {}
    for lead, ratio in _ratios():
        name = render(lead)
        words[name] = lead
        compared[name].append(ratio)
    told = [_reads(words[name], ratios) for name, ratios in compared.items() if len(ratios) >= LEAST_CAPTURES]
    return sorted(told, key=lambda one: -abs(math.log(one.share)))


def _ratios() -> Iterator[tuple[Message, float]]:
    """Lead, and logarithm of what a capture reads over what known goods of other leads read."""
    rows = (
        StoredCapture.objects.filter(withdrawn_at__isnull=True, changed="", unreadable="", case__shelf=False)
        .filter(known_good__isnull=True, channels__lead__isnull=False)
        .select_related("case")
        .prefetch_related("channels", "measurements")
        .order_by("-kept_at")
        .distinct()
    )
    for stored in rows[:CAPTURES_MOST]:
        lead = lead_of(stored)
        good = [
            read_measured(m.document)
            for held in beside(stored).held
            if held.used and held.good.came_from != CameFrom.PRACTICE and lead_of(held.good.capture) != lead
            for m in held.good.capture.measurements.all()
        ]
        figures = judged_beside([read_measured(m.document) for m in stored.measurements.all()], good)
        logs = [
            math.log(float(np.median(list(f.here.values()))) / f.usual)
            for f in figures
            if f.figure in LEVELS and f.usual > 0 and np.median(list(f.here.values())) > 0
        ]
        if logs:
            yield lead, float(np.mean(logs))


def _reads(words: Message, ratios: list[float]) -> LeadReads:
    values = np.array(ratios)
    middle = float(values.mean())
    sigma = float(values.std(ddof=1)) / math.sqrt(values.size)
    low, high = (
        scipy.stats.t.interval(CONFIDENCE, values.size - 1, loc=middle, scale=sigma) if sigma > 0 else (middle, middle)
    )
    return LeadReads(
        words=words,
        share=math.exp(middle),
        low=math.exp(float(low)),
        high=math.exp(float(high)),
        captures=int(values.size),
    )
