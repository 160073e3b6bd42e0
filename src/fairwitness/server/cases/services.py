"""What may be done to a case. One verb each, in one transaction, with the journal entry beside it."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field, replace
from datetime import datetime
from typing import Any

from django.db import transaction

from fairwitness.core.diagnose import Diagnosis, conclude
from fairwitness.core.errors import ObservationError
from fairwitness.core.model.capture import Capture, UnreadableCapture
from fairwitness.core.model.case import Case, Observation, TroubleCode
from fairwitness.core.model.engine import Engine
from fairwitness.core.model.measurement import Measured
from fairwitness.core.procedures.registry import OBSERVATION_TESTS
from fairwitness.core.reason.planning.approach import USUAL, Bay
from fairwitness.core.reason.planning.bay_tests import BY_ID
from fairwitness.core.reason.planning.what_if import imagined
from fairwitness.formats.approach_block import approach_block, read_approach
from fairwitness.formats.diagnosis_document import diagnosis_document
from fairwitness.formats.engine_block import engine_block, read_engine
from fairwitness.server.accounts.models import User
from fairwitness.server.accounts.permissions import require, require_withdraw
from fairwitness.server.cases.models import (
    CaseStatus,
    EngineAccess,
    FuelState,
    JournalEntry,
    KeptEvidence,
    StoredCase,
    StoredObservation,
)


@dataclass(frozen=True, slots=True, kw_only=True)
class Captured:
    """What the captures of a case say: measurements, and the captures themselves (without samples) for listing."""

    measured: tuple[Measured, ...] = ()
    listed: tuple[Capture | UnreadableCapture, ...] = ()
    known: Mapping[str, Any] = field(default_factory=dict)
    """Further engine data that known good captures give."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Intake:
    """What is asked when a case is opened."""

    title: str
    engine: Engine
    vehicle: str = ""
    complaint: str = ""
    complaint_verified: str = ""
    work_done: Sequence[str] = ()
    codes: Sequence[TroubleCode] = ()
    name: str = ""
    extra: dict[str, Any] = field(default_factory=dict)


@dataclass(frozen=True, slots=True, kw_only=True)
class Imagined:
    """One outcome somebody wants to play through."""

    test: str
    outcome: str
    cylinders: tuple[int, ...] = ()


@transaction.atomic
def open_case(intake: Intake, *, by: User, at: datetime) -> StoredCase:
    """Start a case.

    Raises
    ------
    PermissionDenied
    """
    require(by, "open_case")
    case = StoredCase.objects.create(
        name=(intake.name or intake.title)[:200],
        title=intake.title[:300],
        vehicle=intake.vehicle[:200],
        engine=engine_block(intake.engine),
        complaint=intake.complaint,
        complaint_verified=intake.complaint_verified,
        work_done=list(intake.work_done),
        codes=[{"code": c.code, "status": c.status} for c in intake.codes],
        extra=intake.extra,
        approach=_approach_of(by),
        opened_by=by,
        opened_at=at,
        touched_at=at,
    )
    note(case, "case opened", by=by, at=at)
    refresh_diagnosis(case, Captured())
    return case


def _approach_of(person: User) -> dict[str, Any]:
    """A bay is worked as last time."""
    last = StoredCase.objects.filter(opened_by=person).order_by("-id").values_list("approach", flat=True).first()
    return last or approach_block(USUAL)


@transaction.atomic
def set_fuel_state(
    case: StoredCase, *, state: FuelState, how: str, captured: Captured, by: User, at: datetime
) -> StoredCase:
    """Record that fuel was disabled, and how, or that it was enabled again.

    Raises
    ------
    PermissionDenied
    ObservationError
        Disabling without saying how.
    """
    require(by, "fuel_state")
    if state is FuelState.DISABLED and not how.strip():
        raise ObservationError("How was fuel disabled?", where="how", remedy="Name the fuse, relay, connector or mode.")
    case.fuel_state = state
    case.fuel_note = how.strip()[:200] if state is FuelState.DISABLED else ""
    case.touched_at = at
    case.save(update_fields=["fuel_state", "fuel_note", "touched_at"])
    note(case, f"fuel {state.value}", how, by=by, at=at)
    refresh_diagnosis(case, captured)
    return case


@transaction.atomic
def set_approach(
    case: StoredCase, *, changes: Mapping[str, Any], captured: Captured, by: User, at: datetime
) -> StoredCase:
    """Choose how the case is worked: which tests first, what is believed, how parts are proven, which tools there are.

    Raises
    ------
    PermissionDenied
    ObservationError
        A setting or a tool that does not exist.
    """
    require(by, "add_evidence")
    case.approach = approach_block(read_approach({**case.approach, **changes}))
    case.save(update_fields=["approach"])
    reported = ", ".join(
        f"{key.replace('_', ' ')} {value.replace('_', ' ')}" if isinstance(value, str) else f"{len(value)} tools"
        for key, value in changes.items()
    )
    note(case, "tests re-ranked", reported, by=by, at=at)
    refresh_diagnosis(case, captured)
    return case


MINUTES_MOST = 600.0
"""A test that takes longer than a working day is a mistake in typing."""


@transaction.atomic
def set_access(
    case: StoredCase, *, test: str, minutes: float | None, captured: Captured, by: User, at: datetime
) -> StoredCase:
    """Say how long a test takes on this kind of engine; None goes back to the usual minutes.

    Raises
    ------
    PermissionDenied
    ObservationError
        No such test, minutes that cannot be, or an engine without a name.
    """
    require(by, "add_evidence")
    label = str(case.engine.get("label", "")).strip()
    if not label:
        raise ObservationError(
            "This engine has no name.", where="engine", remedy="Minutes are kept for a named engine."
        )
    if test not in BY_ID:
        raise ObservationError(f"There is no test {test!r}.", where="test")
    if minutes is None:
        EngineAccess.objects.filter(engine_label=label, test=test).delete()
    elif not 0 < minutes <= MINUTES_MOST:
        raise ObservationError(f"{minutes:g} minutes cannot be.", where="minutes", remedy="Give 1 to 600.")
    else:
        changes = {"minutes": minutes, "set_by": by, "set_at": at}
        EngineAccess.objects.update_or_create(engine_label=label, test=test, defaults=changes)
    reported = "as usual" if minutes is None else f"{minutes:g} min"
    note(case, "access minutes set", f"{BY_ID[test].title}: {reported}", by=by, at=at)
    refresh_diagnosis(case, captured)
    return case


def access_of(case: StoredCase) -> dict[str, float]:
    """Own minutes of the case's engine, by test."""
    label = str(case.engine.get("label", "")).strip()
    return dict(EngineAccess.objects.filter(engine_label=label).values_list("test", "minutes")) if label else {}


def imagine(case: StoredCase, *, outcomes: Sequence[Imagined], captured: Captured, by: User) -> dict[str, Any]:
    """What the diagnosis would be if some tests came out in some way. Nothing is kept.

    Raises
    ------
    PermissionDenied
    ObservationError
        A test or an outcome that does not exist.
    """
    require(by, "read")
    engine = read_engine(case.engine)
    more = tuple(imagined(o.test, o.outcome, o.cylinders, engine) for o in outcomes)
    return diagnosis_document(_concluded(case, captured, more))


@transaction.atomic
def close_case(case: StoredCase, *, by: User, at: datetime) -> StoredCase:
    """Close a case.

    Raises
    ------
    PermissionDenied
    ObservationError
        Fuel is still disabled, or a question of safety is not answered.
    """
    require(by, "close_case")
    if case.fuel_state == FuelState.DISABLED:
        raise ObservationError(
            "Fuel is still disabled.", where="fuel", remedy="Re-enable it and record that, then close the case."
        )
    still_open = [q["words"] for q in case.diagnosis.get("questions", []) if not q["answer"]]
    if still_open:
        raise ObservationError(
            f"{len(still_open)} questions about flooding are not answered: {still_open[0]}",
            where="questions",
            remedy="Answer them on the board, then close the case.",
        )
    case.status = CaseStatus.CLOSED
    case.touched_at = at
    case.save(update_fields=["status", "touched_at"])
    note(case, "case closed", by=by, at=at)
    return case


@transaction.atomic
def add_observations(
    case: StoredCase, *, test: str, readings: Sequence[dict[str, Any]], captured: Captured, by: User, at: datetime
) -> list[StoredObservation]:
    """Keep hand-entered observations of one test as evidence: all of them or none.

    Parameters
    ----------
    readings : sequence of dict
        The fields of each.
    captured : Captured
        What the case's captures say, for the new diagnosis.

    Raises
    ------
    PermissionDenied
    """
    require(by, "add_evidence")
    kept = [
        StoredObservation.objects.create(case=case, test=test, data={**data, "test": test}, kept_by=by, kept_at=at)
        for data in readings
    ]
    touch(case, at)
    several = f", {len(kept)} readings" if len(kept) > 1 else ""
    note(case, "observation kept", f"{test.replace('_', ' ')}{several}", by=by, at=at)
    refresh_diagnosis(case, captured)
    return kept


@transaction.atomic
def add_observation(
    case: StoredCase, *, test: str, data: dict[str, Any], captured: Captured, by: User, at: datetime
) -> StoredObservation:
    """Keep one observation; as ``add_observations``."""
    return add_observations(case, test=test, readings=[data], captured=captured, by=by, at=at)[0]


@transaction.atomic
def withdraw_observation(
    kept: StoredObservation, *, reason: str, captured: Captured, by: User, at: datetime
) -> StoredObservation:
    """Withdraw an observation, with the readings of the row it was written down in; it stays visible with the reason.

    Raises
    ------
    PermissionDenied
    ObservationError
        No reason given, or withdrawn before.
    """
    row = _row_of(kept)
    for one in row or [kept]:
        withdraw(one, reason=reason, by=by, at=at)
    kept.refresh_from_db()
    touch(kept.case, at)
    note(kept.case, "observation withdrawn", f"{kept.test.replace('_', ' ')}: {reason.strip()}", by=by, at=at)
    refresh_diagnosis(kept.case, captured)
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
    if kept.withdrawn_at is not None:
        raise ObservationError("This was withdrawn before.")
    if not reason.strip():
        raise ObservationError("Why is it withdrawn?", where="reason", remedy="A few words are enough.")
    kept.withdrawn_by, kept.withdrawn_at, kept.withdrawn_reason = by, at, reason.strip()[:300]
    kept.save(update_fields=["withdrawn_by", "withdrawn_at", "withdrawn_reason"])


def touch(case: StoredCase, at: datetime) -> None:
    """Move the case to the top of the list."""
    case.touched_at = at
    case.save(update_fields=["touched_at"])


def note(case: StoredCase, verb: str, detail: str = "", *, by: User, at: datetime) -> None:
    """Add a line to the journal."""
    JournalEntry.objects.create(case=case, verb=verb, detail=detail[:500], by=by, at=at)


def core_case(stored: StoredCase, *, known: Mapping[str, Any] | None = None) -> Case:
    """The stored case for the core, without captures. Withdrawn observations are left out.

    Parameters
    ----------
    stored : StoredCase
    known : mapping, optional
        Further engine data from elsewhere; the case's own come first.

    Returns
    -------
    Case
    """
    engine = read_engine(stored.engine)
    return Case(
        name=stored.name,
        title=stored.title,
        engine=replace(engine, extra={**known, **engine.extra}) if known else engine,
        complaint=stored.complaint,
        work_done=tuple(stored.work_done),
        codes=tuple(TroubleCode(c["code"], c.get("status", "stored")) for c in stored.codes),
        observations=tuple(
            Observation(test=o.test, data=o.data) for o in stored.observations.filter(withdrawn_at__isnull=True)
        ),
        extra=stored.extra,
    )


def refresh_diagnosis(stored: StoredCase, captured: Captured) -> dict[str, Any]:
    """Reason again over all evidence and keep the result with the case.

    Parameters
    ----------
    stored : StoredCase
    captured : Captured
        What the captures in force say; observations are measured here.

    Returns
    -------
    dict
        The diagnosis document.
    """
    document = diagnosis_document(_concluded(stored, captured))
    verdict = document["verdict"]
    stored.diagnosis = document
    stored.headline = verdict["headline"][:300]
    stored.verdict_status = verdict["status"]
    stored.cause = verdict["cause"]
    stored.cylinders = verdict["cylinders"]
    stored.waits_for = document["next_tests"][0]["title"] if document["next_tests"] else ""
    stored.save(update_fields=["diagnosis", "headline", "verdict_status", "cause", "cylinders", "waits_for"])
    return document


def _concluded(stored: StoredCase, captured: Captured, more: tuple[Measured, ...] = ()) -> Diagnosis:
    case = replace(core_case(stored, known=captured.known), captures=captured.listed)
    known = {t.TEST: t for t in OBSERVATION_TESTS}
    by_hand = tuple(
        known[o.test].measure(o, i, case.engine) for i, o in enumerate(case.observations) if o.test in known
    )
    approach = read_approach(stored.approach, access_of(stored))
    return conclude(case, (*captured.measured, *by_hand, *more), approach=approach, bay=_bay(stored, captured))


def _bay(stored: StoredCase, captured: Captured) -> Bay:
    """What hangs on the vehicle since the last test, and whether fuel is disabled."""
    last = captured.measured[-1].test if captured.measured else ""
    connected = frozenset(BY_ID[last].needs) if last in BY_ID else frozenset()
    return Bay(fuel_disabled=stored.fuel_state == FuelState.DISABLED, connected=connected)
