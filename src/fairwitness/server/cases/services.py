"""What may be done to a case. One verb each, in one transaction, with the journal entry beside it."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from datetime import datetime
from typing import Any

from django.db import transaction

from fairwitness.core.errors import ObservationError
from fairwitness.core.messages.rendering import render
from fairwitness.core.model.case import TroubleCode, code_block
from fairwitness.core.model.circumstances import UNKNOWN, Circumstances, circumstances_block
from fairwitness.core.model.engine import Engine
from fairwitness.core.model.symptom import Symptom
from fairwitness.core.model.work import WorkDone, work_block
from fairwitness.core.procedures import safety
from fairwitness.core.procedures.form import Filled
from fairwitness.core.procedures.specs import FORMS, OFFERS, SPECS
from fairwitness.core.reason.planning.approach import USUAL
from fairwitness.core.reason.planning.what_if import imagined
from fairwitness.formats.approach_block import approach_block, read_approach
from fairwitness.formats.diagnosis_document import diagnosis_data
from fairwitness.formats.engine_block import engine_block
from fairwitness.server.accounts.models import User
from fairwitness.server.accounts.permissions import require, require_withdraw
from fairwitness.server.cases.changing import changing, note, refuse_closed, touch
from fairwitness.server.cases.evidence import concluded, refresh_diagnosis
from fairwitness.server.cases.journal import digest_of
from fairwitness.server.cases.models import (
    FuelState,
    KeptEvidence,
    StoredCase,
    StoredObservation,
)
from fairwitness.server.cases.vehicles import vehicle_for
from fairwitness.server.engines.minutes import keep_minutes
from fairwitness.server.engines.records import engine_of

AS_IT_STOOD: Mapping[str, Any] = {}
"""A test that takes longer than a working day is a mistake in typing."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Intake:
    """What is asked when a case is opened."""

    title: str
    engine: Engine
    vehicle: str = ""
    complaint: str = ""
    complaint_verified: str = ""
    symptom: Symptom = Symptom.RUNS_BADLY
    complaint_when: Circumstances = UNKNOWN
    signs: Sequence[str] = ()
    work_done: Sequence[WorkDone] = ()
    codes: Sequence[TroubleCode] = ()
    believed: str = ""
    asked_for: str = ""
    odometer_km: int | None = None
    ceiling_minutes: int | None = None
    visit_of: int | None = None
    """Number of a vehicle the shop knows."""
    name: str = ""
    extra: dict[str, Any] = field(default_factory=dict)
    known_by_name: bool = True
    """A vehicle of the same name and firing order is the same; not so of what comes from elsewhere."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Imagined:
    """One outcome somebody wants to play through."""

    test: str
    outcome: str
    cylinders: tuple[int, ...] = ()


@transaction.atomic
def open_case(intake: Intake, *, by: User, at: datetime) -> StoredCase:
    """Start a case, as a visit of its vehicle.

    Raises
    ------
    PermissionDenied
    ObservationError
        The vehicle chosen is not known, or has another engine.
    """
    require(by, "open_case")
    engine = engine_block(intake.engine)
    vehicle = vehicle_for(intake.vehicle, engine, intake.visit_of) if intake.known_by_name else None
    seen = bool(intake.complaint_verified.strip())
    case = StoredCase.objects.create(
        name=(intake.name or intake.title)[:200],
        title=intake.title[:300],
        vehicle=(vehicle.name if intake.visit_of and vehicle else intake.vehicle)[:200],
        visit_of=vehicle,
        odometer_km=intake.odometer_km,
        believed=intake.believed[:300],
        asked_for=intake.asked_for[:300],
        ceiling_minutes=intake.ceiling_minutes,
        provoked=True if seen else None,
        verified_by=by if seen else None,
        verified_at=at if seen else None,
        engine=engine,
        complaint=intake.complaint,
        complaint_verified=intake.complaint_verified,
        symptom=intake.symptom.value,
        complaint_when=circumstances_block(intake.complaint_when),
        signs=list(intake.signs),
        work_done=[work_block(work) for work in intake.work_done],
        codes=[code_block(c) for c in intake.codes],
        extra=intake.extra,
        approach=_approach_of(by),
        opened_by=by,
        opened_at=at,
        touched_at=at,
    )
    note(case, "case opened", by=by, at=at)
    refresh_diagnosis(case)
    return case


def _approach_of(person: User) -> dict[str, Any]:
    """A bay is worked as last time."""
    last = StoredCase.objects.filter(opened_by=person).order_by("-id").values_list("approach", flat=True).first()
    return last or approach_block(USUAL)


def set_fuel_state(case: StoredCase, *, state: FuelState, how: str, by: User, at: datetime) -> StoredCase:
    """Record that fuel was disabled, and how, or that it was enabled again.

    Raises
    ------
    PermissionDenied
    ObservationError
        Disabling without saying how, or the case is closed.
    """
    require(by, "fuel_state")
    if state is FuelState.DISABLED and not how.strip():
        raise ObservationError("How was fuel disabled?", where="how", remedy="Name the fuse, relay, connector or mode.")
    with changing(case) as held:
        refuse_closed(held)
        held.fuel_state = state
        held.fuel_note = how.strip()[:200] if state is FuelState.DISABLED else ""
        held.touched_at = at
        held.save(update_fields=["fuel_state", "fuel_note", "touched_at"])
        note(held, f"fuel {state.value}", how, by=by, at=at)
    return case


def set_happening(case: StoredCase, *, happening: bool, by: User, at: datetime) -> StoredCase:
    """Record that the complaint is there now, or that it has gone again; the tests are ranked anew.

    Raises
    ------
    PermissionDenied
    ObservationError
        The case is closed.
    """
    require(by, "add_evidence")
    with changing(case) as held:
        refuse_closed(held)
        held.happening = happening
        held.save(update_fields=["happening"])
        touch(held, at)
        note(held, "it does it now" if happening else "it does it no more", by=by, at=at)
    return case


def set_approach(case: StoredCase, *, changes: Mapping[str, Any], by: User, at: datetime) -> StoredCase:
    """Choose how the case is worked: which tests first, what is believed, how parts are proven, which tools there are.

    Raises
    ------
    PermissionDenied
    ObservationError
        A setting or a tool that does not exist, or the case is closed.
    """
    require(by, "add_evidence")
    said = ", ".join(
        f"{key.replace('_', ' ')} {value.replace('_', ' ')}" if isinstance(value, str) else f"{len(value)} tools"
        for key, value in changes.items()
    )
    with changing(case) as held:
        refuse_closed(held)
        held.approach = approach_block(read_approach({**held.approach, **changes}))
        held.save(update_fields=["approach"])
        note(held, "tests re-ranked", said, by=by, at=at)
    return case


def set_access(case: StoredCase, *, test: str, minutes: float | None, by: User, at: datetime) -> StoredCase:
    """Say how long a test takes on this kind of engine; None goes back to the usual minutes.

    Raises
    ------
    PermissionDenied
    ObservationError
        No such test, minutes that cannot be, or an engine without a name.
    """
    require(by, "add_evidence")
    label = str(case.engine.get("label", "")).strip()
    with changing(case) as held:
        keep_minutes(label, test, minutes, by=by, at=at)
        said = "as usual" if minutes is None else f"{minutes:g} min"
        note(held, "access minutes set", f"{render(OFFERS[test].title)}: {said}", by=by, at=at)
    return case


def imagine(case: StoredCase, *, outcomes: Sequence[Imagined], by: User) -> dict[str, Any]:
    """What the diagnosis would be if some tests came out in some way. Nothing is kept.

    Raises
    ------
    PermissionDenied
    ObservationError
        A test or an outcome that does not exist.
    """
    require(by, "read")
    engine = engine_of(case)
    more = tuple(imagined(o.test, o.outcome, o.cylinders, engine) for o in outcomes)
    return diagnosis_data(concluded(case, more))


def add_observations(
    case: StoredCase, *, test: str, readings: Sequence[dict[str, Any]], by: User, at: datetime
) -> list[StoredObservation]:
    """Keep hand-entered observations of one test as evidence: all of them or none.

    Parameters
    ----------
    readings : sequence of dict
        The fields of each.

    Raises
    ------
    PermissionDenied
    ObservationError
        The case is closed.
    """
    require(by, "add_evidence")
    with changing(case) as held:
        refuse_closed(held)
        kept = [
            StoredObservation.objects.create(case=held, test=test, data=_data(held, test, data), kept_by=by, kept_at=at)
            for data in readings
        ]
        touch(held, at)
        several = f", {len(kept)} readings" if len(kept) > 1 else ""
        about = digest_of([o.data for o in kept])
        note(held, "observation kept", f"{test.replace('_', ' ')}{several}", by=by, at=at, about=about)
    return kept


def _data(case: StoredCase, test: str, data: Mapping[str, Any]) -> dict[str, Any]:
    """What is kept of a reading: its fields, its test, and the state of the vehicle it was taken in."""
    state = {} if "phase" in data or not case.phase else {"phase": case.phase}
    return {**data, "test": test, **state}


def add_observation(case: StoredCase, *, test: str, data: dict[str, Any], by: User, at: datetime) -> StoredObservation:
    """Keep one observation; as ``add_observations``."""
    return add_observations(case, test=test, readings=[data], by=by, at=at)[0]


def fill_form(
    case: StoredCase, *, test: str, filled: Filled, under: Mapping[str, Any] = AS_IT_STOOD, by: User, at: datetime
) -> list[StoredObservation]:
    """Keep the observations that a filled form makes, with the conditions they were taken under.

    Raises
    ------
    PermissionDenied
    ObservationError
        There is no such form, too little was filled in, or the case is closed.
    """
    require(by, "add_evidence")
    if test not in FORMS:
        raise ObservationError(f"There is no form {test!r}.", where="test")
    engine = engine_of(case)
    readings = [{**under, **reading} for reading in FORMS[test].read(filled, engine.firing_order)]
    for reading in readings:
        refused = safety.why_not(SPECS[test], engine, reading) if test in SPECS else None
        if refused is not None:
            raise ObservationError(
                render(refused), where=test, remedy="If it was done all the same, write it down as a note."
            )
    return add_observations(case, test=test, readings=readings, by=by, at=at)


def withdraw_observation(kept: StoredObservation, *, reason: str, by: User, at: datetime) -> StoredObservation:
    """Withdraw an observation, with the readings of the row it was written down in; it stays visible with the reason.

    Raises
    ------
    PermissionDenied
    ObservationError
        No reason given, or withdrawn before.
    """
    with changing(kept.case) as held:
        for one in _row_of(kept) or [kept]:
            withdraw(one, reason=reason, by=by, at=at)
        touch(held, at)
        note(held, "observation withdrawn", f"{kept.test.replace('_', ' ')}: {reason.strip()}", by=by, at=at)
    kept.refresh_from_db()
    return kept


def _row_of(kept: StoredObservation) -> list[StoredObservation]:
    """Observations in force of the same kind that were written down in the same moment by the same person."""
    alike = StoredObservation.objects.filter(
        case=kept.case, test=kept.test, kept_at=kept.kept_at, kept_by=kept.kept_by, withdrawn_at__isnull=True
    )
    keys = ("item", "part", "circuit", "measured_at", "unplugged", "temperature")
    kind = [kept.data.get(key) for key in keys]
    return [o for o in alike if [o.data.get(key) for key in keys] == kind]


def withdraw(kept: KeptEvidence, *, reason: str, by: User, at: datetime) -> None:
    """Mark evidence as withdrawn; it needs a reason and happens once.

    Raises
    ------
    PermissionDenied
    ObservationError
    """
    require_withdraw(by, kept.kept_by_id)
    kept.refresh_from_db(fields=["withdrawn_at"])  # somebody else may have withdrawn it before the case was held
    if kept.withdrawn_at is not None:
        raise ObservationError("This was withdrawn before.")
    if not reason.strip():
        raise ObservationError("Why is it withdrawn?", where="reason", remedy="A few words are enough.")
    kept.withdrawn_by, kept.withdrawn_at, kept.withdrawn_reason = by, at, reason.strip()[:300]
    kept.save(update_fields=["withdrawn_by", "withdrawn_at", "withdrawn_reason"])
