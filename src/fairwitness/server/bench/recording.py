"""Samples as they come in from a scope: gathered on a thread of their own, read by whoever looks on."""

from __future__ import annotations

import threading
from collections.abc import Callable, Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from fairwitness.core.errors import CaptureError, InstrumentError
from fairwitness.core.model.capture import Capture, Channel, SetUp, TimeBase
from fairwitness.instruments.scope_link import Lead, ScopeLink

POLL_S = 0.02
FETCH_SAMPLES = 400_000
LIVE_COLUMNS_PER_S = 500
"""Pairs of low and high per second of the live picture."""

Float32Array = NDArray[np.float32]


@dataclass(frozen=True, slots=True)
class LivePart:
    """What came in since the last look: lows and highs in turn over ``step`` samples, (channels, 2 * k) float32."""

    first: int
    step: int
    values: Float32Array


class Recording:
    """One acquisition of a scope.

    Parameters
    ----------
    link : ScopeLink
        Set up and ready to start.
    leads : sequence of Lead
    rate_hz, seconds : float
    ended : callable
        Called once from the thread with the fault that ended it, or None.
    """

    def __init__(
        self,
        link: ScopeLink,
        leads: Sequence[Lead],
        *,
        rate_hz: float,
        seconds: float,
        ended: Callable[[InstrumentError | None], None],
    ) -> None:
        self.leads, self.rate_hz = tuple(leads), rate_hz
        self.total = int(rate_hz * seconds)
        self._link, self._ended = link, ended
        self._samples: Float32Array = np.zeros((len(self.leads), self.total), np.float32)
        self._count = 0
        self._thread = threading.Thread(target=self._gather, daemon=True)
        self._wake = threading.Event()

    @property
    def count(self) -> int:
        """Samples per channel so far."""
        return self._count

    def start(self) -> None:
        """Begin.

        Raises
        ------
        InstrumentError
        """
        self._link.start()
        self._thread.start()

    def stop(self) -> None:
        """End early; what is there stays.

        Raises
        ------
        InstrumentError
        """
        self._wake.set()
        self._link.stop()

    def wait(self, seconds: float) -> None:
        """Until the thread is done."""
        self._thread.join(seconds)

    def _gather(self) -> None:
        fault: InstrumentError | None = None
        try:
            more = True
            while more:
                more = self._link.recording
                there = min(self._link.points, self.total)
                while self._count < there:
                    self._fetch(min(there, self._count + FETCH_SAMPLES))
                if more:
                    self._wake.wait(POLL_S)
        except InstrumentError as error:
            fault = error
        self._ended(fault)

    def _fetch(self, until: int) -> None:
        """The next samples of every channel; they count once all channels have them."""
        first = self._count
        for row, lead in enumerate(self.leads):
            part = self._link.fetch(lead.channel, first, until - first)
            if part.size != until - first:
                raise InstrumentError("The scope sent fewer samples than it said.", remedy="Connect it again.")
            self._samples[row, first:until] = part
        self._count = until

    def samples_of(self, row: int) -> Float32Array:
        """What one lead gave so far, (samples,) float32 in its unit."""
        return self._samples[row, : self._count]

    def since(self, first: int) -> LivePart:
        """What came in after a sample, thinned to what a screen shows.

        Parameters
        ----------
        first : int
            A multiple of the step, as the last part ended.

        Returns
        -------
        LivePart
        """
        step = max(1, round(self.rate_hz / LIVE_COLUMNS_PER_S))
        whole = (self._count - first) // step
        part = self._samples[:, first : first + whole * step].reshape(len(self.leads), whole, step)
        values = np.stack((part.min(axis=2), part.max(axis=2)), axis=2) if whole else np.zeros((len(self.leads), 0, 2))
        return LivePart(first=first, step=step, values=values.reshape(len(self.leads), -1).astype(np.float32))

    def capture(self, *, name: str, set_up: SetUp) -> Capture:
        """What was recorded, whole or cut short.

        Raises
        ------
        CaptureError
            Hardly anything.
        """
        if self._count < 2:
            raise CaptureError("Nothing was recorded.", remedy="Connect the scope and take the capture again.")
        channels = tuple(
            Channel(
                name=lead.clip.label,
                role=lead.clip.role,
                unit=lead.unit,
                samples=self._samples[row, : self._count].copy(),
                cylinder=lead.clip.cylinder,
                feeds=lead.clip.feeds,
                sync=lead.clip.sync,
                measured_at="control_unit" if lead.clip.at_unit else None,
                unplugged=True if lead.clip.unplugged else None,
            )
            for row, lead in enumerate(self.leads)
        )
        time = TimeBase(samples=self._count, rate_hz=self.rate_hz)
        return Capture(name=name, time=time, channels=channels, set_up=set_up)
