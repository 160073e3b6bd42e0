"""What a case stands on: its evidence in force, read from the database, and what follows from it.

From the kept measurements and observations; the diagnosis goes to the case and, put into words, to whoever asks.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field, replace
from datetime import datetime
from typing import Any

from django.db.models import Q

from fairwitness.core.diagnose import Diagnosis, conclude
from fairwitness.core.messages.message import as_data, storable
from fairwitness.core.messages.rendering import render
from fairwitness.core.model.capture import Capture, TimeBase, UnreadableCapture
from fairwitness.core.model.case import Case, Observation, read_code
from fairwitness.core.model.circumstances import read_circumstances
from fairwitness.core.model.engine import Engine
from fairwitness.core.model.measurement import Measured
from fairwitness.core.model.phase import PartState, Phase, PhaseKind
from fairwitness.core.model.symptom import Symptom
from fairwitness.core.model.work import read_work
from fairwitness.core.procedures.registry import measure_observation, unreadable
from fairwitness.core.procedures.specs import OFFERS
from fairwitness.core.reason.planning.approach import Bay
from fairwitness.formats.approach_block import read_approach
from fairwitness.formats.diagnosis_document import diagnosis_data
from fairwitness.formats.measured_document import read_measured
from fairwitness.formats.set_up import read_set_up
from fairwitness.server.captures.known_good import mark_of, reference_data
from fairwitness.server.captures.models import StoredCapture
from fairwitness.server.cases.models import CaseStatus, EngineAccess, FuelState, StoredCase
from fairwitness.server.cases.vehicles import visits_before
from fairwitness.server.engines.records import engine_of
from fairwitness.server.learning.services import learned

DIAGNOSIS_FORMAT = 3
"""How a kept diagnosis is laid out. It is derived, so one that is laid out otherwise is made again, not translated."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Captured:
    """What the captures of a case say: measurements, and the captures themselves (without samples) for listing."""

    measured: tuple[Measured, ...] = ()
    listed: tuple[Capture | UnreadableCapture, ...] = ()
    known: Mapping[str, Any] = field(default_factory=dict)
    """Further engine data that known good captures give."""


def in_force(at: datetime | None) -> Q:
    """What picks evidence in force: now, or at a moment, also what was withdrawn since."""
    if at is None:
        return Q(withdrawn_at__isnull=True)
    return Q(kept_at__lte=at) & (Q(withdrawn_at__isnull=True) | Q(withdrawn_at__gt=at))


def captured(case: StoredCase, at: datetime | None = None) -> Captured:
    """What the captures in force say, from the measurements kept with them."""
    engine = engine_of(case)
    rows = case.captures.filter(in_force(at)).prefetch_related("measurements")
    measured: list[Measured] = []
    listed: list[Capture | UnreadableCapture] = []
    for row in rows:
        if reason := row.changed or row.unreadable:
            listed.append(UnreadableCapture(name=row.name, set_up=read_set_up(row.set_up), reason=reason))
        else:
            time = TimeBase(samples=row.samples, rate_hz=row.rate_hz, start_s=row.start_s)
            listed.append(Capture(name=row.name, time=time, channels=(), set_up=read_set_up(row.set_up)))
        measured += measured_of(row, engine)
    return Captured(measured=tuple(measured), listed=tuple(listed), known=reference_data(case.engine))


def measured_of(row: StoredCapture, engine: Engine) -> list[Measured]:
    """What was measured of a capture; where its samples are not what was kept, nothing but that reason."""
    if row.changed:
        spoilt = UnreadableCapture(name=row.name, set_up=read_set_up(row.set_up), reason=row.changed)
        refusal = unreadable(spoilt, engine)
        return [refusal] if refusal is not None else []
    return [read_measured(m.document) for m in row.measurements.all()]


def core_case(stored: StoredCase, *, known: Mapping[str, Any] | None = None, at: datetime | None = None) -> Case:
    """The stored case for the core, without captures. Withdrawn observations are left out.

    Parameters
    ----------
    stored : StoredCase
    known : mapping, optional
        Further engine data from elsewhere; the case's own come first.
    at : datetime, optional
        As it stood at a moment.

    Returns
    -------
    Case
    """
    engine = engine_of(stored)
    return Case(
        name=stored.name,
        title=stored.title,
        engine=replace(engine, extra={**known, **engine.extra}) if known else engine,
        complaint=stored.complaint,
        symptom=Symptom(stored.symptom),
        complaint_when=read_circumstances(stored.complaint_when),
        signs=tuple(stored.signs),
        work_done=read_work(stored.work_done),
        codes=tuple(code for c in stored.codes if (code := read_code(c)) is not None),
        visits=visits_before(stored),
        observations=tuple(Observation(test=o.test, data=o.data) for o in stored.observations.filter(in_force(at))),
        phases=phases_of(stored, at),
        extra=stored.extra,
    )


def phases_of(stored: StoredCase, at: datetime | None = None) -> tuple[Phase, ...]:
    """The states the vehicle of a case was brought into, in their order; up to a moment, where one is given."""
    rows = stored.phases.all() if at is None else stored.phases.filter(begun_at__lte=at)
    return tuple(
        Phase(
            number=p.number,
            kind=PhaseKind(p.kind),
            part=p.part,
            cylinders=tuple(p.cylinders),
            fitted=PartState(p.fitted) if p.fitted else None,
            words=p.words,
        )
        for p in rows
    )


def access_of(case: StoredCase) -> dict[str, float]:
    """Minutes by test: of the case's engine as somebody wrote them down, else as this shop's clocks taught them."""
    label = str(case.engine.get("label", "")).strip()
    own = dict(EngineAccess.objects.filter(engine_label=label).values_list("test", "minutes")) if label else {}
    return {**learned().minutes, **own}


def concluded(stored: StoredCase, more: tuple[Measured, ...] = (), *, at: datetime | None = None) -> Diagnosis:
    """Reason over all evidence in force, and over imagined measurements beside it.

    Parameters
    ----------
    stored : StoredCase
    more : tuple of Measured
        Never evidence: somebody plays an outcome through.
    at : datetime, optional
        Over what was in force at a moment, as this version reads it.

    Returns
    -------
    Diagnosis
    """
    own = captured(stored, at)
    case = replace(core_case(stored, known=own.known, at=at), captures=own.listed)
    read = (measure_observation(o, i, case.engine) for i, o in enumerate(case.observations))
    by_hand = tuple(m for m in read if m is not None)
    approach = read_approach(stored.approach, access_of(stored))
    return conclude(
        case,
        (*own.measured, *by_hand, *more),
        approach=approach,
        bay=_bay(stored, own),
        shop=learned().knowledge,
    )


def is_current(stored: StoredCase) -> bool:
    """Whether the kept diagnosis is what this version says by what the shop has learned by now.

    What a closed case was closed with stays as it was said.
    """
    kept = stored.diagnosis
    if kept.get("format") != DIAGNOSIS_FORMAT:
        return False
    return stored.status == CaseStatus.CLOSED or kept.get("learned", {}).get("mark") == _mark(stored)


def _mark(stored: StoredCase) -> str:
    """Of everything beside its own evidence that a diagnosis hangs on: what was learned, what is held as known good."""
    return f"{learned().mark} {mark_of(stored.engine)}".strip()


def refresh_diagnosis(stored: StoredCase) -> dict[str, Any]:
    """Reason again over all evidence and keep the result with the case; call it where nobody else changes the case.

    Parameters
    ----------
    stored : StoredCase

    Returns
    -------
    dict
        The diagnosis as data, its messages not yet put into words.
    """
    diagnosis = concluded(stored)
    verdict, offers = diagnosis.verdict, diagnosis.plan.offers
    stored.diagnosis = {
        "format": DIAGNOSIS_FORMAT,
        "learned": {"mark": _mark(stored), "outcomes": learned().knowledge.outcomes},
        **storable(diagnosis_data(diagnosis)),
    }
    stored.headline_said = as_data(diagnosis.statement.headline)
    stored.headline = render(diagnosis.statement.headline)[:300]
    stored.verdict_status = verdict.status.value
    stored.cause = verdict.cause.value
    stored.cylinders = list(verdict.cylinders)
    stored.waits_for = offers[0].id if offers else ""
    stored.save(
        update_fields=[
            "diagnosis", "headline", "headline_said", "verdict_status", "cause", "cylinders", "waits_for",
        ]
    )  # fmt: skip
    document: dict[str, Any] = stored.diagnosis
    return document


def _bay(stored: StoredCase, own: Captured) -> Bay:
    """What hangs on the vehicle since the last test, and whether fuel is disabled."""
    last = own.measured[-1].test if own.measured else ""
    connected = frozenset(OFFERS[last].needs) if last in OFFERS else frozenset()
    return Bay(fuel_disabled=stored.fuel_state == FuelState.DISABLED, connected=connected, happening=stored.happening)
