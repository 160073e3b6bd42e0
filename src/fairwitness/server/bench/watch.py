"""A long watch: stretch after stretch on the same leads, until something is lost or somebody stops.

A fault that comes and goes is not there while one records for five seconds. Between two stretches a scope needs a
moment to start again; how much was seen is therefore told in stretches.
"""

from __future__ import annotations

import threading
from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace

from fairwitness.core.errors import InstrumentError
from fairwitness.core.model.capture import Role, SetUp
from fairwitness.core.signal.event_losses import event_losses
from fairwitness.instruments.scope_link import Lead
from fairwitness.server.bench.recording import Recording

EVENTFUL = (
    Role.INJECTOR_CURRENT,
    Role.INJECTOR_VOLTAGE,
    Role.COIL_CURRENT,
    Role.COIL_CONTROL,
    Role.SECONDARY_VOLTAGE,
)
"""What comes once a cycle or oftener, so that one missing is seen."""
MARKS_MOST = 20
Ended = Callable[[InstrumentError | None], None]


@dataclass(frozen=True, slots=True)
class Loss:
    """One event that did not come: when in its stretch, and on which lead."""

    at_s: float
    lead: str


class Watch:
    """Recordings one after the other.

    Parameters
    ----------
    record : callable
        Makes the next recording, to be told how it ended.
    shown : callable
        Told of each recording before it starts, so that it can be looked at.
    ended : Ended
        Called once, with the fault that ended the watch, or None.
    """

    def __init__(
        self, record: Callable[[Ended], Recording], *, shown: Callable[[Recording], None], ended: Ended
    ) -> None:
        self._record, self._shown, self._ended = record, shown, ended
        self._stopped = threading.Event()
        self._recording: Recording | None = None
        self._before_s = 0.0
        self.losses: tuple[Loss, ...] = ()

    @property
    def watched_s(self) -> float:
        """Seconds seen so far, over all stretches."""
        now = self._recording
        return self._before_s + (now.count / now.rate_hz if now is not None else 0.0)

    def described(self, set_up: SetUp) -> SetUp:
        """What is recorded with the stretch that is kept: how long was watched, and whether and when it was lost."""
        marks = tuple(round(loss.at_s, 4) for loss in self.losses)
        return replace(set_up, happened=bool(marks), watched_s=round(self.watched_s, 1), marks_s=marks)

    def start(self) -> None:
        """Begin with the first stretch.

        Raises
        ------
        InstrumentError
        """
        self._recording = self._record(self._stretch_over)
        self._shown(self._recording)
        self._recording.start()

    def stop(self) -> None:
        """End it; the stretch under way is the one that can be kept.

        Raises
        ------
        InstrumentError
        """
        self._stopped.set()
        if self._recording is not None:
            self._recording.stop()

    def give_up(self) -> None:
        """No further stretch: the scope is taken away."""
        self._stopped.set()

    def _stretch_over(self, fault: InstrumentError | None) -> None:
        recording = self._recording
        if fault is not None or recording is None:
            self._ended(fault)
            return
        self.losses = losses(recording, recording.leads)
        if self.losses or self._stopped.is_set():
            self._ended(None)
            return
        self._before_s += recording.count / recording.rate_hz
        try:
            self.start()
        except InstrumentError as error:
            self._ended(error)


def losses(recording: Recording, leads: Sequence[Lead]) -> tuple[Loss, ...]:
    """What was lost on any lead of a recording, earliest first."""
    found = [
        Loss(float(at_s), lead.clip.label)
        for row, lead in enumerate(leads)
        if lead.clip.role in EVENTFUL
        for at_s in event_losses(recording.samples_of(row), recording.rate_hz)
    ]
    return tuple(sorted(found, key=lambda loss: loss.at_s)[:MARKS_MOST])
