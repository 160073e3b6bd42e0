"""What may be done on the bench, and what of it goes into the case."""

from __future__ import annotations

import secrets
from datetime import datetime

import numpy as np
from django.conf import settings

from fairwitness.core.errors import InstrumentError, SimulationError
from fairwitness.core.model.engine import Engine
from fairwitness.core.model.symptom import Symptom
from fairwitness.formats.engine_block import read_engine
from fairwitness.instruments.inbox import Inbox
from fairwitness.server.accounts.models import User
from fairwitness.server.accounts.permissions import require
from fairwitness.server.bench.session import BENCHES, BenchSession
from fairwitness.server.bench.stage import InBay
from fairwitness.server.bench.words import fault_words
from fairwitness.server.captures.models import StoredCapture
from fairwitness.server.captures.services import keep_capture
from fairwitness.server.cases.intake import next_origin, record_clearing, record_codes
from fairwitness.server.cases.models import CaseStatus, FuelState, StoredCase, StoredObservation
from fairwitness.server.cases.services import Intake, add_observation, open_case, set_fuel_state
from fairwitness.simulate.garage import ENGINES, build, fault_named, random_fault
from fairwitness.simulate.health import DOES_NOT_START, Fault

HIDDEN = {
    "hidden": "",
    "hidden_dead_hole": "dead_hole",
    "hidden_mechanical": "mechanical",
    "hidden_ignition": "ignition",
    "hidden_fuel": "fuel",
}
FUEL_HOW = "fuel pump relay pulled at the bench"


def bench_of(user: User) -> BenchSession:
    """A person's bench.

    Raises
    ------
    PermissionDenied
    """
    require(user, "add_evidence")
    return BENCHES.of(
        user.pk,
        pace=settings.BENCH_PACE,
        scope_address=settings.SCOPE_ADDRESS,
        can_interface=settings.CAN_INTERFACE,
        can_channel=settings.CAN_CHANNEL,
    )


def put_in_bay(user: User, *, case: StoredCase | None, engine: str, fault: str, hot: bool, at: datetime) -> StoredCase:
    """Choose a simulated vehicle: that of a case, or one of the garage with a new case.

    Parameters
    ----------
    case : StoredCase or None
    engine : str
        A name of the garage; used where there is no case.
    fault : str
        Empty for none, one of ``HIDDEN``, or written as ``id@cylinder:severity!condition``.

    Returns
    -------
    StoredCase

    Raises
    ------
    PermissionDenied
    SimulationError
    """
    bench = bench_of(user)
    if case is None and engine not in ENGINES:
        raise SimulationError("There is no such vehicle.", where="vehicle", remedy="Choose one of the list.")
    model = read_engine(case.engine) if case is not None else ENGINES[engine]
    seed = secrets.randbits(31)
    rng = np.random.default_rng(seed)
    vehicle = build(model, _faults(model, fault, rng), rng=rng)
    if case is None:
        complaint = "Shakes. On the bench to find out why." if fault else "On the bench for a check."
        starts = not any(f.fault in DOES_NOT_START for f in vehicle.faults)
        intake = Intake(
            title=f"Bench: {model.label}",
            vehicle=model.label,
            engine=vehicle.engine,
            complaint=complaint if starts else "Cranks and does not start. On the bench to find out why.",
            symptom=Symptom.RUNS_BADLY if starts else Symptom.NO_START,
        )
        case = open_case(intake, by=user, at=at)
    bench.put_in_bay(InBay(vehicle=vehicle, case_id=case.pk, hidden=fault in HIDDEN, hot=hot), seed=seed)
    return case


def _faults(engine: Engine, fault: str, rng: np.random.Generator) -> tuple[Fault, ...]:
    if not fault:
        return ()
    if fault in HIDDEN:
        return (random_fault(engine, rng, kind=HIDDEN[fault]),)
    chosen = fault_named(fault)
    for cylinder in chosen.cylinders:
        engine.position(cylinder)
    return (chosen,)


def set_fuel(user: User, *, disabled: bool, at: datetime) -> None:
    """Disable or enable the fuel on the bench, and record it in the case."""
    bench = bench_of(user)
    bench.set_fuel(disabled=disabled)
    case = case_of(bench)
    state = FuelState.DISABLED if disabled else FuelState.ENABLED
    if case is not None and case.fuel_state != state:
        set_fuel_state(case, state=state, how=FUEL_HOW, by=user, at=at)


def case_of(bench: BenchSession) -> StoredCase | None:
    """The case the vehicle in the bay belongs to."""
    return StoredCase.objects.filter(pk=bench.in_bay.case_id).first() if bench.in_bay else None


def _open_case(bench: BenchSession) -> StoredCase:
    case = case_of(bench)
    if case is None or bench.in_bay is None:
        raise InstrumentError("The case of this vehicle is gone.", remedy="Choose the vehicle again.")
    held, now = read_engine(case.engine), bench.in_bay.vehicle.engine
    if (held.firing_order, held.firing_intervals_deg) != (now.firing_order, now.firing_intervals_deg):
        raise InstrumentError("The case has another engine than the vehicle in the bay.", remedy="Choose it again.")
    return case


def keep(user: User, *, at: datetime) -> StoredCapture:
    """Keep the capture of the bench in the case, with its set-up.

    Raises
    ------
    PermissionDenied
    InstrumentError, CaptureError
    """
    bench = bench_of(user)
    stored = keep_capture(_open_case(bench), bench.capture(), file_name="bench", by=user, at=at)
    bench.was_kept(stored.pk)
    return stored


def keep_balance(user: User, *, at: datetime) -> StoredObservation:
    """Keep the power balance in the case."""
    bench = bench_of(user)
    observation = bench.balance_observation()
    case = _open_case(bench)
    return add_observation(case, test=observation.test, data=dict(observation.data), by=user, at=at)


def keep_counts(user: User, *, at: datetime) -> StoredObservation:
    """Read the misfire counts and keep them in the case."""
    bench = bench_of(user)
    case = _open_case(bench)
    counts = bench.scan_link().misfires(read_engine(case.engine).cylinders)
    data = {"counts": {str(c): n for c, n in counts.items()}}
    return add_observation(case, test="misfire_counts", data=data, by=user, at=at)


def keep_codes(user: User, *, at: datetime) -> StoredCase:
    """Read the codes and keep them in the case, also that there are none."""
    bench = bench_of(user)
    case = _open_case(bench)
    codes = list(bench.scan_link().codes().items())
    return record_codes(case, codes, next_origin(case), by=user, at=at)


def clear_codes(user: User, *, at: datetime) -> BenchSession:
    """Clear the codes, also those the testing set; recorded in the case, where the bench has an open one."""
    bench = bench_of(user)
    link = bench.scan_link()
    before = " ".join(link.codes()) or "none stored"
    link.clear_codes()
    case = case_of(bench)
    if case is not None and case.status == CaseStatus.OPEN:
        record_clearing(case, words=before, by=user, at=at)
    return bench


def reveal(user: User) -> None:
    """Give up, or check: say what was hidden."""
    bench = bench_of(user)
    bench.revealed = fault_words(bench)
    bench.changed()


def inbox() -> Inbox | None:
    """The watched folder, where one is set."""
    return Inbox(settings.INBOX, bytes_max=settings.UPLOAD_BYTES_MAX) if settings.INBOX else None


def garage() -> list[dict[str, object]]:
    """Vehicles to choose from."""
    return [{"name": name, "model": e.label} for name, e in ENGINES.items()]
