"""One person's bench: the vehicle in the bay, the instruments on it, and what may be done when."""

from __future__ import annotations

import threading
import time
from collections.abc import Callable, Collection
from typing import TYPE_CHECKING

from fairwitness.core import thresholds as limit
from fairwitness.core.errors import InstrumentError
from fairwitness.core.messages.rendering import render
from fairwitness.core.model.capture import Capture, CaptureTest
from fairwitness.core.model.case import Observation
from fairwitness.core.procedures.set_up_card import SetUpCard
from fairwitness.core.procedures.specs import CARDS, SPECS
from fairwitness.instruments.bay import Bay, EngineMotion
from fairwitness.instruments.scope_link import Lead, ScopeLink
from fairwitness.instruments.scope_stand_in import CHANNELS, Scope, ScopeStandIn
from fairwitness.server.bench.guided_balance import GuidedBalance, Wait
from fairwitness.server.bench.leads import leads_of
from fairwitness.server.bench.recording import Recording
from fairwitness.server.bench.stage import InBay, Stage
from fairwitness.server.bench.watch import Watch

if TYPE_CHECKING:
    from fairwitness.instruments.control_unit import ControlUnit
    from fairwitness.instruments.scan_link import ScanLink

BATTERY_MIN_V = limit.RESTED_VOLT_MIN.value


class BenchSession:
    """Verbs of the bench. Each either happens or says why not; every change raises ``version``."""

    def __init__(
        self,
        *,
        pace: float,
        scope_address: str = "",
        can_interface: str = "",
        can_channel: str = "",
        clock: Callable[[], float] = time.monotonic,
        wait: Wait = threading.Event.wait,
    ) -> None:
        self.lock = threading.RLock()
        self.version = 0
        self._pace, self._clock = pace, clock
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
        self.watching: Watch | None = None
        """The watch under way, or the one that ended with what waits to be kept."""
        self.problem = ""
        self.revealed = ""
        self.kept_id: int | None = None
        self.guided = GuidedBalance(pace=pace, changed=self._balance_changed, clock=clock, wait=wait)

    def changed(self) -> None:
        """Something a looker-on should know."""
        self.version += 1

    # The vehicle

    def put_in_bay(self, what: InBay, *, seed: int) -> None:
        """Another vehicle; the instruments come off the old one."""
        with self.lock:
            self.clear()
            self.in_bay = what
            self.bay = Bay(what.vehicle, seed=seed, hot=what.hot, pace=self._pace, clock=self._clock)
            self.changed()

    def clear(self) -> None:
        """Everything off and out."""
        with self.lock:
            self.guided.forget()
            self.disconnect_scope()
            self.disconnect_scan()
            self.in_bay = self.bay = self.card = self.recording = self.watching = None
            self.stage, self.problem, self.revealed, self.kept_id, self.leads = Stage.IDLE, "", "", None, ()
            self.changed()

    def _vehicle(self) -> Bay:
        if self.bay is None:
            raise InstrumentError("There is no vehicle in the bay.", remedy="Choose one first.")
        return self.bay

    def set_fuel(self, *, disabled: bool) -> None:
        """Pull the relay, or put it back."""
        with self.lock:
            bay = self._vehicle()
            bay.fuel_disabled = disabled
            if disabled and bay.motion is EngineMotion.RUNNING:
                bay.stop()
            self.changed()

    def start_engine(self, *, load: str = "idle") -> None:
        """Key on, engine running."""
        with self.lock:
            self._vehicle().run(load=load)
            self.changed()

    def stop_engine(self) -> None:
        """Key off."""
        self.guided.stop()
        with self.lock:
            self._vehicle().stop()
            self.changed()

    def _records(self) -> bool:
        return self.stage in (Stage.RECORDING, Stage.WATCHING)

    # The instruments

    def connect_scope(self) -> None:
        """Connect the scope; the stand-in is switched on where no real one is named."""
        with self.lock:
            bay = self._vehicle()
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
            watching = self.watching
        if watching is not None:
            watching.give_up()
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
        from fairwitness.server.bench.scan_plug import plug_in

        with self.lock:
            bay = self._vehicle()
            self.disconnect_scan()
            self.scan, self.unit = plug_in(bay, interface=self._can_interface, channel=self._can_channel)
            self.changed()

    def disconnect_scan(self) -> None:
        """Pull the scan link out."""
        self.guided.stop()
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
        with self.lock:
            bay, scope = self._vehicle(), self.scope
            if scope is None:
                raise InstrumentError("The scope is not connected.", remedy="Connect it first.")
            if self._records():
                raise InstrumentError("A capture is being recorded.", remedy="Stop it first.")
        engine = bay.vehicle.engine
        if not SPECS[test.value].possible(engine):
            raise InstrumentError("This engine has no coils to measure.")
        card = CARDS[test]
        clips = card.clips(engine, suspects, bay.vehicle.injector_feeds)
        if len(clips) > CHANNELS:
            remedy = "Take a test on the common feed."
            raise InstrumentError(f"This needs {len(clips)} leads, the scope has {CHANNELS}.", remedy=remedy)
        leads = leads_of(clips)
        self._scoped(lambda: scope.set_up(leads, rate_hz=card.rate_hz, seconds=card.seconds))
        with self.lock:
            if self.scope is not scope or self._records():
                raise InstrumentError("The bench was changed meanwhile.", remedy="Set the test up again.")
            self.card, self.leads, self.recording, self.watching = card, leads, None, None
            self.stage, self.problem, self.kept_id = Stage.SET_UP, "", None
            self.changed()

    def _ready(self, ticked: Collection[str]) -> tuple[Bay, ScopeLink, SetUpCard]:
        """What a capture is taken with.

        Raises
        ------
        InstrumentError
            No test is set up, or something on its card is not ticked.
        """
        bay, scope, card = self._vehicle(), self.scope, self.card
        if scope is None or card is None or self.stage not in (Stage.SET_UP, Stage.CAPTURED, Stage.KEPT):
            raise InstrumentError("No test is set up.", remedy="Open a set-up card first.")
        missing = [render(c.words) for c in card.checks if c.id not in ticked]
        if missing:
            raise InstrumentError(f"Not ticked: {missing[0]}.", remedy="Tick the whole card before the engine turns.")
        return bay, scope, card

    def go(self, ticked: Collection[str]) -> None:
        """Crank or run, and record.

        Raises
        ------
        InstrumentError
            Something on the card is not ticked, the battery is low, the starter hot, the scope gone.
        """
        with self.lock:
            bay, scope, card = self._ready(ticked)
            if card.cranking and bay.battery_v < BATTERY_MIN_V:
                raise InstrumentError(f"The battery rests at {bay.battery_v:.1f} V.", remedy="Charge it first.")
            if card.cranking:
                bay.stop()
                bay.crank(card.seconds)
            else:
                bay.run(load=card.load)
            recording = Recording(scope, self.leads, rate_hz=card.rate_hz, seconds=card.seconds, ended=self._ended)
            self.recording, self.watching = recording, None
            self.stage, self.problem, self.kept_id = Stage.RECORDING, "", None
            self.changed()
        self._scoped(recording.start)

    def watch(self, ticked: Collection[str]) -> None:
        """Run the engine and watch until something is lost, or until it is stopped.

        Raises
        ------
        InstrumentError
            As ``go``; or the test is taken while cranking.
        """
        with self.lock:
            bay, scope, card = self._ready(ticked)
            if card.cranking:
                raise InstrumentError("A starter cannot be watched for long.", remedy="Watch a running test.")
            bay.run(load=card.load)
            leads = self.leads
            watching = Watch(
                lambda over: Recording(scope, leads, rate_hz=card.rate_hz, seconds=card.seconds, ended=over),
                shown=self._show,
                ended=self._ended,
            )
            self.watching = watching
            self.stage, self.problem, self.kept_id = Stage.WATCHING, "", None
            self.changed()
        self._scoped(watching.start)

    def _show(self, recording: Recording) -> None:
        with self.lock:
            self.recording = recording
            self.changed()

    def stop(self) -> None:
        """End a recording early; what is there can be kept."""
        with self.lock:
            under_way = (self.watching or self.recording) if self._records() else None
        if under_way is not None:
            self._scoped(under_way.stop)

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
            set_up = self.card.recorded(hot=hot)
            if self.watching is not None:
                set_up = self.watching.described(set_up)
            return self.recording.capture(name=self.card.test.value, set_up=set_up)

    def was_kept(self, kept_id: int) -> None:
        """Note that the capture is in the case now."""
        with self.lock:
            self.stage, self.kept_id = Stage.KEPT, kept_id
            self.changed()

    # Power balance

    def start_balance(self) -> None:
        """Begin the guided power balance.

        Raises
        ------
        InstrumentError
            No scan link, the engine does not run, or a balance is under way.
        """
        with self.lock:
            self.guided.start(self._vehicle(), self.scan_link())
            self.problem = ""

    def balance_observation(self) -> Observation:
        """The drops as evidence.

        Raises
        ------
        InstrumentError
            Not all cylinders have been cut.
        """
        return self.guided.observation(self._vehicle().vehicle.engine.cylinders)

    def _balance_changed(self, trouble: str) -> None:
        with self.lock:
            if trouble:
                self.problem = trouble
            self.changed()


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
