"""What may be done to the life of a case: states of the vehicle, what was found, what follows, closing, reopening."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import date, datetime
from typing import Any

from fairwitness import __version__
from fairwitness.core.errors import ObservationError
from fairwitness.core.messages.rendering import render, spoken
from fairwitness.core.model.phase import PARTS, PHASES_MOST, SWAPPED_PARTS, PartState, Phase, PhaseKind, misplaced
from fairwitness.core.model.phase_words import phase_words
from fairwitness.core.reason.agreement import chance_of, spoke_for
from fairwitness.core.reason.knowledge.faults import FAULTS, NO_FAULT
from fairwitness.formats.engine_block import read_engine
from fairwitness.server.accounts.models import User
from fairwitness.server.accounts.permissions import require
from fairwitness.server.cases.changing import changing, diagnosis_of, note, refuse_closed, touch
from fairwitness.server.cases.evidence import concluded, phases_of
from fairwitness.server.cases.labour import stop_all
from fairwitness.server.cases.models import CaseStatus, FollowUp, FuelState, StoredCase, StoredOutcome, StoredPhase
from fairwitness.server.cases.standing import stage_of
from fairwitness.server.cases.vehicles import open_visits_after


@dataclass(frozen=True, slots=True, kw_only=True)
class Work:
    """Something done to the vehicle that begins another state of it.

    Parameters
    ----------
    kind : PhaseKind
    part : str
        One of ``PARTS``; empty where everything is put back.
    cylinders : sequence of int
        Two of a change-over; where the part sits, of a repair.
    fitted : PartState or None
        Of a repair.
    words : str
    """

    kind: PhaseKind
    part: str = ""
    cylinders: Sequence[int] = ()
    fitted: PartState | None = None
    words: str = ""


@dataclass(frozen=True, slots=True, kw_only=True)
class Found:
    """What was really found when it was open.

    Parameters
    ----------
    found : str
        In words.
    fault : str
        Of the catalogue; empty where none of it was found.
    cylinders : sequence of int
    seen_by : str
        By which sight or measurement.
    lesson : str
        What misled, where the statement was wrong.
    """

    found: str
    seen_by: str
    fault: str = ""
    cylinders: Sequence[int] = ()
    lesson: str = ""


def begin_phase(case: StoredCase, work: Work, *, by: User, at: datetime) -> StoredPhase:
    """Record a change-over, that everything was put back, or a repair; evidence kept from now on belongs to it.

    Raises
    ------
    PermissionDenied
    ObservationError
        What was done cannot be, or the case is closed.
    """
    require(by, "add_evidence")
    with changing(case) as held:
        refuse_closed(held)
        phase = _checked(held, work)
        stored = _row(held, phase, by=by, at=at)
        stored.save()
        held.phase = phase.number
        held.save(update_fields=["phase"])
        touch(held, at)
        said = f"{render(phase_words(phase))}{': ' if phase.words else ''}{phase.words}"
        note(held, "work recorded", said, by=by, at=at)
    return stored


def restore_phases(case: StoredCase, phases: Sequence[Phase], *, by: User, at: datetime) -> None:
    """The states of a vehicle as a package brings them; call it inside the transaction that makes the case."""
    StoredPhase.objects.bulk_create(_row(case, phase, by=by, at=at) for phase in phases)
    case.phase = max((phase.number for phase in phases), default=0)
    case.save(update_fields=["phase"])


def _row(case: StoredCase, phase: Phase, *, by: User, at: datetime) -> StoredPhase:
    return StoredPhase(
        case=case,
        number=phase.number,
        kind=phase.kind.value,
        part=phase.part,
        cylinders=list(phase.cylinders),
        fitted=phase.fitted.value if phase.fitted else "",
        words=phase.words,
        begun_by=by,
        begun_at=at,
    )


def _checked(case: StoredCase, work: Work) -> Phase:
    """The work as the next phase of a case.

    Raises
    ------
    ObservationError
    """
    engine, before = read_engine(case.engine), phases_of(case)
    if len(before) >= PHASES_MOST:
        raise ObservationError(f"{PHASES_MOST} states of one vehicle are enough.", remedy="Open another case.")
    if any(c not in engine.firing_order for c in work.cylinders):
        raise ObservationError("The engine has no such cylinder.", where="cylinders")
    if work.kind is PhaseKind.CHANGED_OVER:
        if work.part not in SWAPPED_PARTS:
            raise ObservationError(
                "This part cannot be changed over.", where="part", remedy="Choose a coil, plug, lead or injector."
            )
        if len(set(work.cylinders)) != 2:
            raise ObservationError("A change-over needs two different cylinders.", where="cylinders")
    elif work.kind is PhaseKind.AFTER_REPAIR:
        if work.part not in PARTS or work.fitted is None:
            raise ObservationError("Say which part, and what was fitted.", where="part")
    elif not misplaced(before):
        raise ObservationError("Every part is where it belongs.", where="kind")
    back = work.kind is PhaseKind.PUT_BACK
    return Phase(
        number=max((p.number for p in before), default=0) + 1,
        kind=work.kind,
        part="" if back else work.part,
        cylinders=() if back else tuple(work.cylinders),
        fitted=work.fitted if work.kind is PhaseKind.AFTER_REPAIR else None,
        words=work.words.strip()[:300],
    )


def record_outcome(case: StoredCase, found: Found, *, by: User, at: datetime) -> StoredOutcome:
    """Keep what was really found, beside what the program says at this moment. Closed cases take it too.

    Raises
    ------
    PermissionDenied
    ObservationError
        No words, no such fault, or no such cylinder.
    """
    require(by, "close_case")
    engine = read_engine(case.engine)
    if not found.found.strip() or not found.seen_by.strip():
        raise ObservationError("Say what was found, and how it was seen.", where="found")
    if found.fault and found.fault not in FAULTS:
        raise ObservationError(f"There is no fault {found.fault!r}.", where="fault")
    if any(c not in engine.firing_order for c in found.cylinders):
        raise ObservationError("The engine has no such cylinder.", where="cylinders")
    with changing(case, conclude=False) as held:
        said = {**_said(held), **bearing_on(held, found.fault, found.cylinders)}
        outcome = StoredOutcome.objects.create(
            case=held,
            fault=found.fault,
            found=found.found.strip()[:300],
            cylinders=sorted(set(found.cylinders)),
            seen_by=found.seen_by.strip()[:200],
            said=said,
            agreed=_agrees(said, found),
            lesson=found.lesson.strip()[:500],
            by=by,
            at=at,
        )
        touch(held, at)
        agreed = "as stated" if outcome.agreed else "not as stated"
        note(held, "outcome recorded", f"{outcome.found}, {agreed}", by=by, at=at)
    for later in open_visits_after(case):
        with changing(later):  # they think of it from now on
            pass
    return outcome


def _said(case: StoredCase) -> dict[str, Any]:
    """The statement of this moment, in plain words, with its chances and who says it."""
    document = diagnosis_of(case)
    verdict = document["verdict"]
    return {
        "headline": spoken(verdict["headline"]),
        "status": verdict["status"],
        "cause": verdict["cause"],
        "cylinders": verdict["cylinders"],
        "faults": verdict["faults"],
        "probability": verdict["probability"],
        "hypotheses": document["hypotheses"][:5],
        "version": __version__,
    }


def bearing_on(case: StoredCase, fault: str, cylinders: Sequence[int]) -> dict[str, Any]:
    """What the evidence gave to what was found, and which tests spoke for it or against it.

    Returns
    -------
    dict
        ``chance_of_found``; ``tests``, each test that moved its odds with whether upwards. Empty where nothing of the
        catalogue was found.
    """
    name = fault or ("" if cylinders else NO_FAULT)
    if not name:
        return {}
    diagnosis = concluded(case)
    moved = spoke_for(diagnosis.posterior, name, tuple(cylinders))
    tests = {m.test: moved[source] for m in diagnosis.measured if m.usable for source in m.sources if source in moved}
    return {"chance_of_found": chance_of(diagnosis.posterior, name), "tests": tests}


def _agrees(said: dict[str, Any], found: Found) -> bool:
    """Whether the statement named what was found: the cylinders, and the fault, or at least its cause."""
    if not found.fault:
        return not said["cylinders"] and not found.cylinders
    cause = FAULTS[found.fault].cause.value
    where = not found.cylinders or set(said["cylinders"]) == set(found.cylinders)
    return where and (found.fault in said["faults"] if said["faults"] else said["cause"] == cause)


def add_follow_up(case: StoredCase, words: str, due: date, *, by: User, at: datetime) -> FollowUp:
    """Something to be done later; it comes back as due.

    Raises
    ------
    PermissionDenied
    ObservationError
        No words.
    """
    require(by, "add_evidence")
    if not words.strip():
        raise ObservationError("Say what is to be done.", where="words")
    with changing(case, conclude=False) as held:
        made = FollowUp.objects.create(case=held, words=words.strip()[:200], due=due, by=by, at=at)
        note(held, "follow-up set", f"{made.words}, {due.isoformat()}", by=by, at=at)
    return made


def finish_follow_up(follow_up: FollowUp, *, by: User, at: datetime) -> FollowUp:
    """Say that it is done.

    Raises
    ------
    PermissionDenied
    ObservationError
        It was done before.
    """
    require(by, "add_evidence")
    with changing(follow_up.case, conclude=False) as held:
        done = FollowUp.objects.filter(pk=follow_up.pk, done_at=None).update(done_by=by, done_at=at)
        if not done:
            raise ObservationError("It was done before.", where=follow_up.words)
        note(held, "follow-up done", follow_up.words, by=by, at=at)
    follow_up.refresh_from_db()
    return follow_up


def left_to_do(case: StoredCase, document: Mapping[str, Any] | None = None) -> dict[str, str]:
    """What keeps a case from being closed: fuel, parts out of place, questions of safety; each in words."""
    left = {}
    if case.fuel_state == FuelState.DISABLED:
        left["fuel"] = "Fuel is still disabled: re-enable it and record that."
    for part, where in misplaced(phases_of(case)).items():
        places = ", ".join(f"that of {of} is in {c}" for c, of in sorted(where.items()))
        left[part] = f"The {part}s are not where they belong ({places}): put them back and record that."
    asked = (document or diagnosis_of(case)).get("questions", [])
    missing = [spoken(q["words"]) for q in asked if not q["answer"]]
    if missing:
        left["questions"] = f"{len(missing)} questions about flooding are not answered: {missing[0]}"
    return left


def close_case(case: StoredCase, *, codes_cleared: str = "", by: User, at: datetime) -> StoredCase:
    """Close a case; how far it was stays written on it.

    Parameters
    ----------
    codes_cleared : str
        Which codes were cleared, also those that the testing set, or why none were; in words.

    Raises
    ------
    PermissionDenied
    ObservationError
        Something is left to do, or it was closed before.
    """
    require(by, "close_case")
    with changing(case, conclude=False) as held:
        refuse_closed(held)
        for where, what in left_to_do(held).items():
            raise ObservationError(what, where=where, remedy="Then close the case.")
        stop_all(held, at)
        held.happening = False
        held.closed_as = stage_of(held).value
        held.status = CaseStatus.CLOSED
        held.touched_at = at
        held.save(update_fields=["status", "touched_at", "happening", "closed_as"])
        said = f"{held.closed_as}{', codes: ' if codes_cleared.strip() else ''}{codes_cleared.strip()[:200]}"
        note(held, "case closed", said, by=by, at=at)
    return case


def reopen_case(case: StoredCase, *, reason: str, by: User, at: datetime) -> StoredCase:
    """Take a closed case up again.

    Raises
    ------
    PermissionDenied
    ObservationError
        It is open, or no reason was given.
    """
    require(by, "close_case")
    if not reason.strip():
        raise ObservationError("Why is it opened again?", where="reason", remedy="A few words are enough.")
    with changing(case) as held:
        if held.status != CaseStatus.CLOSED:
            raise ObservationError("This case is open.", where=held.title or held.name)
        held.status, held.closed_as = CaseStatus.OPEN, ""
        held.save(update_fields=["status", "closed_as"])
        touch(held, at)
        note(held, "case reopened", reason.strip(), by=by, at=at)
    return case
