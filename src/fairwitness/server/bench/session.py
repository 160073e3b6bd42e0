"""One person's bench: the vehicle in the bay, the instruments on it, and what may be done when."""

from __future__ import annotations

import secrets
import threading
from collections.abc import Callable, Collection

import numpy as np

from fairwitness.core import thresholds as limit
from fairwitness.core.errors import InstrumentError
from fairwitness.core.messages.rendering import render
from fairwitness.core.model.capture import Capture, CaptureTest
from fairwitness.core.model.case import Observation
from fairwitness.core.procedures.set_up_card import SetUpCard
from fairwitness.core.procedures.specs import CARDS, SPECS
from fairwitness.instruments.bay import Bay, EngineMotion
from fairwitness.instruments.control_unit import ControlUnit
from fairwitness.instruments.scan_link import POWER_BALANCE_CUT_S, POWER_BALANCE_SETTLE_S, ScanLink
from fairwitness.instruments.scope_link import Lead, ScopeLink
from fairwitness.instruments.scope_stand_in import CHANNELS, Scope, ScopeStandIn
from fairwitness.server.bench.recording import Recording
from fairwitness.server.bench.stage import Balance, InBay, Stage
from fairwitness.simulate.clips import front_end

BATTERY_MIN_V = limit.RESTED_VOLT_MIN.value
LEVEL = "workshop"


class BenchSession:
    """Verbs of the bench. Each either happens or says why not; every change raises ``version``."""

    def __init__(self, *, pace: float, scope_address: str = "", can_interface: str = "", can_channel: str = "") -> None:
        self.lock = threading.RLock()
        self.version = 0
        self._pace = pace
        self._scope_address, self._can_interface, self._can_channel = scope_address, can_interface, can_channel
        self.in_bay: InBay | None = None
        self.bay: Bay | None = None
        self.stand_in: ScopeStandIn | None = None
        self.unit: ControlUnit | None = None
        self.scope: ScopeLink | None = None
        self.scan: ScanLink | None = None
        self.card: SetUpCard | None = None
        self.leads: tuple[Lead, ...] = ()
        self.stage = Stage.IDLE
        self.recording: Recording | None = None
        self.problem = ""
        self.revealed = ""
        self.kept_id: int | None = None
        self.balance = Balance()
        self._balance_stop = threading.Event()

    def changed(self) -> None:
        """Something a looker-on should know."""
        self.version += 1

    # The vehicle

    def put_in_bay(self, what: InBay, *, seed: int) -> None:
        """Another vehicle; the instruments come off the old one."""
        with self.lock:
            self.clear()
            self.in_bay = what
            self.bay = Bay(what.vehicle, seed=seed, hot=what.hot, pace=self._pace)
            self.changed()

    def clear(self) -> None:
        """Everything off and out."""
        with self.lock:
            self._balance_stop.set()
            self.disconnect_scope()
            self.disconnect_scan()
            self.in_bay = self.bay = self.card = self.recording = None
            self.stage, self.problem, self.revealed, self.kept_id, self.leads = Stage.IDLE, "", "", None, ()
            self.balance = Balance()
            self.changed()

    def _vehicle(self) -> Bay:
        if self.bay is None:
            raise InstrumentError("There is no vehicle in the bay.", remedy="Choose one first.")
        return self.bay

    def set_fuel(self, *, disabled: bool) -> None:
        """Pull the relay, or put it back."""
        bay = self._vehicle()
        with self.lock:
            bay.fuel_disabled = disabled
            if disabled and bay.motion is EngineMotion.RUNNING:
                bay.stop()
            self.changed()

    def start_engine(self, *, load: str = "idle") -> None:
        """Key on, engine running."""
        self._vehicle().run(load=load)
        self.changed()

    def stop_engine(self) -> None:
        """Key off."""
        self._balance_stop.set()
        self._vehicle().stop()
        self.changed()

    # The instruments

    def connect_scope(self) -> None:
        """Connect the scope; the stand-in is switched on where no real one is named."""
        bay = self._vehicle()
        with self.lock:
            self.disconnect_scope()
            address = self._scope_address
            if not address:
                self.stand_in = ScopeStandIn(Scope(bay))
                address = self.stand_in.address
            self.scope = ScopeLink(address)
            self.problem = ""
            if self.stage is not Stage.BROKEN_OFF:
                self.stage = Stage.IDLE
            self.changed()

    def disconnect_scope(self) -> None:
        """Let go of the scope."""
        with self.lock:
            link, self.scope = self.scope, None
            stand_in, self.stand_in = self.stand_in, None
        if link is not None:
            link.close()
        if stand_in is not None:
            stand_in.close()
        self.changed()

    def pull_plug(self) -> None:
        """For teaching: the stand-in loses its power in mid-word."""
        stand_in = self.stand_in
        if stand_in is None:
            raise InstrumentError("Only the stand-in's plug can be pulled from here.")
        stand_in.close()

    def connect_scan(self) -> None:
        """Plug the scan link in."""
        bay = self._vehicle()
        with self.lock:
            self.disconnect_scan()
            channel, interface = self._can_channel, self._can_interface or "virtual"
            if not self._can_interface:
                channel = f"bay-{secrets.token_hex(6)}"
                self.unit = ControlUnit(bay, channel=channel)
            self.scan = ScanLink(channel, interface=interface)
            self.changed()

    def disconnect_scan(self) -> None:
        """Pull the scan link out."""
        self._balance_stop.set()
        with self.lock:
            link, self.scan = self.scan, None
            unit, self.unit = self.unit, None
        if link is not None:
            link.close()
        if unit is not None:
            unit.close()
        self.changed()

    def scan_link(self) -> ScanLink:
        """The connected scan link.

        Raises
        ------
        InstrumentError
            There is none.
        """
        if self.scan is None:
            raise InstrumentError("The scan link is not connected.", remedy="Connect it first.")
        return self.scan

    # A capture

    def set_up(self, test: CaptureTest, suspects: tuple[int, ...]) -> None:
        """Clip the leads on and set the scope for a test.

        Raises
        ------
        InstrumentError
        """
        bay, scope = self._vehicle(), self.scope
        if scope is None:
            raise InstrumentError("The scope is not connected.", remedy="Connect it first.")
        if self.stage is Stage.RECORDING:
            raise InstrumentError("A capture is being recorded.", remedy="Stop it first.")
        engine = bay.vehicle.engine
        if not SPECS[test.value].possible(engine):
            raise InstrumentError("This engine has no coils to measure.")
        card = CARDS[test]
        rng = np.random.default_rng(secrets.randbits(32))
        clips = card.clips(engine, suspects, bay.vehicle.injector_feeds)
        if len(clips) > CHANNELS:
            remedy = "Take a test on the common feed."
            raise InstrumentError(f"This needs {len(clips)} leads, the scope has {CHANNELS}.", remedy=remedy)
        leads = []
        for channel, clip in enumerate(clips, start=1):
            end = front_end(clip.role, LEVEL, rng)
            usual = clip.usual
            leads.append(
                Lead(
                    channel=channel, clip=clip, unit=usual.unit, reach=usual.reach, probe=usual.probe,
                    zero=end.zero, noise=end.noise,
                )
            )  # fmt: skip
        self._scoped(lambda: scope.set_up(leads, rate_hz=card.rate_hz, seconds=card.seconds))
        with self.lock:
            self.card, self.leads, self.recording = card, tuple(leads), None
            self.stage, self.problem, self.kept_id = Stage.SET_UP, "", None
            self.changed()

    def go(self, ticked: Collection[str]) -> None:
        """Crank or run, and record.

        Raises
        ------
        InstrumentError
            Something on the card is not ticked, the battery is low, the starter hot, the scope gone.
        """
        bay, scope, card = self._vehicle(), self.scope, self.card
        if scope is None or card is None or self.stage not in (Stage.SET_UP, Stage.CAPTURED, Stage.KEPT):
            raise InstrumentError("No test is set up.", remedy="Open a set-up card first.")
        missing = [render(c.words) for c in card.checks if c.id not in ticked]
        if missing:
            raise InstrumentError(f"Not ticked: {missing[0]}.", remedy="Tick the whole card before the engine turns.")
        if card.cranking and bay.battery_v < BATTERY_MIN_V:
            raise InstrumentError(f"The battery rests at {bay.battery_v:.1f} V.", remedy="Charge it first.")
        with self.lock:
            if card.cranking:
                bay.stop()
                bay.crank(card.seconds)
            else:
                bay.run(load=card.load)
            self.recording = Recording(scope, self.leads, rate_hz=card.rate_hz, seconds=card.seconds, ended=self._ended)
            self.stage, self.problem, self.kept_id = Stage.RECORDING, "", None
            self.changed()
        self._scoped(self.recording.start)

    def stop(self) -> None:
        """End a recording early; what is there can be kept."""
        recording = self.recording
        if recording is not None and self.stage is Stage.RECORDING:
            self._scoped(recording.stop)

    def _scoped(self, verb: Callable[[], None]) -> None:
        try:
            verb()
        except InstrumentError as error:
            self._lost(error)
            raise

    def _ended(self, fault: InstrumentError | None) -> None:
        with self.lock:
            if fault is None:
                self.stage = Stage.CAPTURED
                self.changed()
        if fault is not None:
            self._lost(fault)
        if self.bay is not None and self.bay.motion is EngineMotion.CRANKING:
            self.bay.stop()

    def _lost(self, error: InstrumentError) -> None:
        with self.lock:
            link, self.scope = self.scope, None
            self.problem = f"{error.what} {error.remedy}".strip()
            there = self.recording is not None and self.recording.count > 1
            self.stage = Stage.BROKEN_OFF if there else Stage.IDLE
            self.changed()
        if link is not None:
            link.close()

    def capture(self) -> Capture:
        """What was recorded, to be kept.

        Raises
        ------
        InstrumentError
            Nothing waits to be kept.
        """
        with self.lock:
            if self.recording is None or self.card is None or self.stage not in (Stage.CAPTURED, Stage.BROKEN_OFF):
                raise InstrumentError("Nothing waits to be kept.", remedy="Take a capture first.")
            hot = self.in_bay.hot if self.in_bay else True
            return self.recording.capture(name=self.card.test.value, set_up=self.card.recorded(hot=hot))

    def was_kept(self, kept_id: int) -> None:
        """Note that the capture is in the case now."""
        with self.lock:
            self.stage, self.kept_id = Stage.KEPT, kept_id
            self.changed()

    # Power balance

    def start_balance(self) -> None:
        """Cut one cylinder after the other, back to baseline in between, on a thread of its own.

        Raises
        ------
        InstrumentError
            No scan link, the engine does not run, or a balance is under way.
        """
        bay, scan = self._vehicle(), self.scan_link()
        if bay.motion is not EngineMotion.RUNNING:
            raise InstrumentError("The engine does not run.", remedy="Start it, let it settle, then begin.")
        if self.balance.running:
            raise InstrumentError("A power balance is under way.")
        self._balance_stop.clear()
        self.balance = Balance(running=True, phase="baseline")
        self.changed()
        threading.Thread(target=self._balance, args=(bay, scan), daemon=True).start()

    def stop_balance(self) -> None:
        """Give the cylinder back and end."""
        self._balance_stop.set()

    def _balance(self, bay: Bay, scan: ScanLink) -> None:
        try:
            for cylinder in bay.vehicle.engine.firing_order:
                if not self._one_drop(cylinder, scan):
                    break
        except InstrumentError as error:
            self.problem = f"{error.what} {error.remedy}".strip()
        finally:
            self.balance.running, self.balance.phase, self.balance.cylinder = False, "done", None
            self.changed()

    def _one_drop(self, cylinder: int, scan: ScanLink) -> bool:
        """Baseline, cut, lowest speed, back. False where it was stopped."""
        self.balance.cylinder, self.balance.phase = cylinder, "baseline"
        self.changed()
        baseline = self._watched(scan, POWER_BALANCE_SETTLE_S)
        if not baseline:
            return False
        self.balance.phase = "cut"
        self.changed()
        scan.cut(cylinder)
        try:
            after = self._watched(scan, POWER_BALANCE_CUT_S)
        finally:
            scan.give_back(cylinder)
        if after:
            before = float(np.mean(baseline[len(baseline) // 2 :]))
            drop = {"cylinder": cylinder, "rpm_before": round(before), "rpm_after": round(min(after))}
            self.balance.drops = [*self.balance.drops, drop]
            self.changed()
        return bool(after)

    def _watched(self, scan: ScanLink, seconds: float) -> list[float]:
        """Speeds over a while; empty where the balance was stopped."""
        seen: list[float] = []
        slices = 24
        for _ in range(slices):
            if self._balance_stop.wait(seconds / slices / self._pace):
                return []
            seen.append(scan.rpm())
        return seen

    def balance_observation(self) -> Observation:
        """The drops as evidence.

        Raises
        ------
        InstrumentError
            Not all cylinders have been cut.
        """
        bay = self._vehicle()
        if self.balance.running or len(self.balance.drops) < bay.vehicle.engine.cylinders:
            raise InstrumentError("The power balance is not complete.", remedy="Let it run through all cylinders.")
        data = {"load": "idle", "idle_control": "active", "drops": self.balance.drops}
        return Observation(test="power_balance", data=data)


class Benches:
    """The benches of this process, one per person."""

    def __init__(self) -> None:
        self._lock = threading.Lock()
        self._sessions: dict[int, BenchSession] = {}

    def of(self, person_id: int, **settings: object) -> BenchSession:
        """A person's bench, made on first use."""
        with self._lock:
            if person_id not in self._sessions:
                self._sessions[person_id] = BenchSession(**settings)  # type: ignore[arg-type]
            return self._sessions[person_id]


BENCHES = Benches()
