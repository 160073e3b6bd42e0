"""The guided power balance: one cylinder after the other cut by the scan link, back to baseline in between."""

from __future__ import annotations

import threading
import time
from collections.abc import Callable
from dataclasses import dataclass, field, replace
from typing import TYPE_CHECKING

import numpy as np

from fairwitness.core.errors import InstrumentError
from fairwitness.core.model.case import Observation
from fairwitness.instruments.bay import Bay, EngineMotion

if TYPE_CHECKING:
    from fairwitness.instruments.scan_link import ScanLink

POWER_BALANCE_SETTLE_S, POWER_BALANCE_CUT_S = 2.5, 1.2
"""[T] back to baseline before each cut; a short cut, the catalyst's sake."""
SLICES = 24
"""Looks at the speed within a baseline or a cut."""
UNSEEN_S = 1.0
"""[M] idle control fills a drop within a second or two: where nobody looked for so long one may have been missed."""
TRIES = 5
TOO_SELDOM = "The engine speed comes too seldom to see a drop."
CLOSE_OTHERS = "Close what else keeps this computer or the scan link busy, then begin again."
Wait = Callable[[threading.Event, float], bool]
"""Waits for an event, so many seconds at most; whether it came."""


@dataclass(frozen=True, slots=True)
class Balance:
    """How far a power balance has come.

    Parameters
    ----------
    cylinder : int or None
        The one that is looked at now.
    phase : str
        baseline, cut or done.
    drops : tuple of dict
        Per cylinder done: its number and the speeds before and after, as an observation holds them.
    running : bool
    """

    cylinder: int | None = None
    phase: str = "done"
    drops: tuple[dict[str, int], ...] = field(default=())
    running: bool = False


@dataclass(frozen=True, slots=True)
class _Watched:
    """Speeds seen over a while, and for how long of the engine's time nobody looked in between."""

    speeds: tuple[float, ...]
    unseen_s: float


class GuidedBalance:
    """Runs a power balance on a thread of its own; ``now`` is always a whole, unchanging picture of it."""

    def __init__(
        self,
        *,
        pace: float,
        changed: Callable[[str], None],
        clock: Callable[[], float] = time.monotonic,
        wait: Wait = threading.Event.wait,
    ) -> None:
        self._pace = pace
        self._clock, self._wait = clock, wait
        self._changed = changed
        """Told after every step, with what went wrong or nothing."""
        self._lock = threading.Lock()
        self._stop = threading.Event()
        self.now = Balance()

    def start(self, bay: Bay, scan: ScanLink) -> None:
        """Begin.

        Raises
        ------
        InstrumentError
            The engine does not run, or a balance is under way.
        """
        with self._lock:
            if bay.motion is not EngineMotion.RUNNING:
                raise InstrumentError("The engine does not run.", remedy="Start it, let it settle, then begin.")
            if self.now.running:
                raise InstrumentError("A power balance is under way.")
            self._stop.clear()
            self.now = Balance(running=True, phase="baseline")
        self._changed("")
        threading.Thread(target=self._run, args=(bay, scan), daemon=True).start()

    def stop(self) -> None:
        """Give the cylinder back and end."""
        self._stop.set()

    def forget(self) -> None:
        """End, and drop what was seen."""
        self.stop()
        with self._lock:
            self.now = Balance()

    def observation(self, cylinders: int) -> Observation:
        """The drops as evidence.

        Raises
        ------
        InstrumentError
            Not all cylinders have been cut.
        """
        seen = self.now
        if seen.running or len(seen.drops) < cylinders:
            raise InstrumentError("The power balance is not complete.", remedy="Let it run through all cylinders.")
        data = {"load": "idle", "idle_control": "active", "drops": list(seen.drops)}
        return Observation(test="power_balance", data=data)

    def _step(self, trouble: str = "", **changes: object) -> None:
        with self._lock:
            self.now = replace(self.now, **changes)  # type: ignore[arg-type]
        self._changed(trouble)

    def _run(self, bay: Bay, scan: ScanLink) -> None:
        trouble = ""
        try:
            for cylinder in bay.vehicle.engine.firing_order:
                if not self._one_drop(cylinder, scan):
                    break
        except InstrumentError as error:
            trouble = f"{error.what} {error.remedy}".strip()
        finally:
            self._step(trouble, running=False, phase="done", cylinder=None)

    def _one_drop(self, cylinder: int, scan: ScanLink) -> bool:
        """Baseline, cut, lowest speed, back; again where nobody looked for too long. False where it was stopped.

        Raises
        ------
        InstrumentError
            The speed came too seldom, however often it was tried.
        """
        for _ in range(TRIES):
            self._step(cylinder=cylinder, phase="baseline")
            baseline = self._watched(scan, POWER_BALANCE_SETTLE_S)
            if not baseline.speeds:
                return False
            self._step(phase="cut")
            scan.cut(cylinder)
            try:
                after = self._watched(scan, POWER_BALANCE_CUT_S)
            finally:
                scan.give_back(cylinder)
            if not after.speeds:
                return False
            if after.unseen_s <= UNSEEN_S:
                before = float(np.mean(baseline.speeds[SLICES // 2 :]))
                drop = {"cylinder": cylinder, "rpm_before": round(before), "rpm_after": round(min(after.speeds))}
                self._step(drops=(*self.now.drops, drop))
                return True
        raise InstrumentError(TOO_SELDOM, where=f"cylinder {cylinder}", remedy=CLOSE_OTHERS)

    def _watched(self, scan: ScanLink, seconds: float) -> _Watched:
        """Speeds over a while; none where the balance was stopped."""
        speeds: list[float] = []
        looked = [self._clock()]
        for _ in range(SLICES):
            if self._wait(self._stop, seconds / SLICES / self._pace):
                return _Watched((), 0.0)
            speeds.append(scan.rpm())
            looked.append(self._clock())
        return _Watched(tuple(speeds), float(np.diff(looked).max()) * self._pace)
