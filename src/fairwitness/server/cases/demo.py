"""The demo's cases: vehicles of the depot, simulated and measured, with what became of them."""

from __future__ import annotations

from collections.abc import Mapping
from datetime import timedelta
from itertools import groupby

from django.db import transaction
from django.utils import timezone

from fairwitness.core.model.case import TroubleCode
from fairwitness.server.accounts.models import User
from fairwitness.server.captures.services import Keeping, keep_capture, withdraw_capture
from fairwitness.server.cases.evidence import refresh_diagnosis
from fairwitness.server.cases.labour import start_clock, stop_clock
from fairwitness.server.cases.life import Found, Work, add_follow_up, begin_phase, close_case, record_outcome
from fairwitness.server.cases.models import FuelState, StoredCase
from fairwitness.server.cases.parts import PartGiven, record_part
from fairwitness.server.cases.services import Intake, add_observations, open_case, set_fuel_state
from fairwitness.server.engines.demo import make_engines
from fairwitness.server.sheets.demo import make_shop
from fairwitness.simulate.depot import JOBS, DepotJob, depot_evidence
from fairwitness.simulate.depot_lives import LIVED, LivedJob, states


def make_cases(people: Mapping[str, User]) -> int:
    """Open, measure and conclude every case of the depot, with its shop and engines.

    Parameters
    ----------
    people : mapping of user name to User
        The demo's accounts.

    Returns
    -------
    int
        How many cases.
    """
    make_shop(people["idris"], timezone.now())
    for seed, job in enumerate(JOBS):
        _load(job, seed=seed, by=people["tamsin" if seed % 3 else "idris"])
    for seed, lived in enumerate(LIVED, start=len(JOBS)):
        _live(lived, _load(lived.job, seed=seed, by=people["tamsin"]), seed=seed, by=people["tamsin"])
    make_engines(people["idris"], timezone.now())
    return len(JOBS) + len(LIVED)


@transaction.atomic
def _live(lived: LivedJob, case: StoredCase, *, seed: int, by: User) -> None:
    """What was done after the case was read, as far as it came."""
    at = case.touched_at
    if lived.agreed_to:
        add_observations(case, test="authorisation", readings=[{"note": lived.agreed_to}], by=by, at=at)
    for part in lived.parts:
        given = PartGiven(part=part.part, cylinder=part.cylinder, fitted=part.fitted, value=part.ohms,
                          peers=part.peers, supplier=part.supplier)  # fmt: skip
        record_part(case, given, by=by, at=at)
    for work, captures in states(lived, seed=seed):
        at += timedelta(minutes=25)
        record = Work(kind=work.kind, part=work.part, cylinders=work.cylinders, fitted=work.fitted, words=work.words)
        begin_phase(case, record, by=by, at=at)
        for capture in captures:
            at += timedelta(minutes=2)
            keep_capture(case, capture, file_name=f"{capture.name}.csv", by=by, at=at)
    if lived.outcome is not None:
        found = lived.outcome
        told = Found(
            found=found.found, fault=found.fault, cylinders=found.cylinders, seen_by=found.seen_by, lesson=found.lesson
        )
        record_outcome(case, told, by=by, at=at)
    if lived.later is not None:
        words, days = lived.later
        add_follow_up(case, words, (timezone.now() + timedelta(days=days)).date(), by=by, at=at)
    if lived.closed:
        close_case(case, codes_cleared=", ".join(lived.job.codes), by=by, at=at)


@transaction.atomic
def _load(job: DepotJob, *, seed: int, by: User) -> StoredCase:
    opened = timezone.now() - timedelta(days=job.days_ago, minutes=job.minutes)
    intake = Intake(
        title=job.title,
        vehicle=job.vehicle,
        engine=job.engine,
        complaint=job.complaint,
        complaint_verified=job.verified,
        symptom=job.symptom,
        signs=job.signs,
        work_done=job.work_done,
        codes=[TroubleCode(code) for code in job.codes],
        odometer_km=job.odometer_km,
        ceiling_minutes=job.agreed_minutes,
        believed=job.believed,
    )
    case = open_case(intake, by=by, at=opened)
    start_clock(case, by=by, at=opened)
    at = opened + timedelta(minutes=job.minutes // 2)
    if job.fuel_how:
        set_fuel_state(case, state=FuelState.DISABLED, how=job.fuel_how, by=by, at=at)
    evidence = depot_evidence(job, seed=seed)
    if evidence.first_try is not None:
        at += timedelta(minutes=2)
        kept = keep_capture(case, evidence.first_try, file_name="cranking-first-try.csv", by=by, at=at)
        withdraw_capture(kept, reason="Sample rate far too low, and synced on the suspect cylinder.", by=by, at=at)
    for capture in evidence.captures:
        at += timedelta(minutes=2)
        keep_capture(case, capture, file_name=f"{capture.name}.csv", by=by, at=at, keeping=Keeping(conclude=False))
    for test, together in groupby(evidence.observations, key=lambda o: o.test):
        at += timedelta(seconds=40)
        readings = [dict(o.data) for o in together]
        add_observations(case, test=test, readings=readings, by=by, at=at)
    refresh_diagnosis(case)
    done = opened + timedelta(minutes=job.minutes)
    if job.fuel_how and not job.fuel_left_off:
        set_fuel_state(case, state=FuelState.ENABLED, how="fuse back in, engine started", by=by, at=done)
    stop_clock(case, by=by, at=done)
    case.touched_at = done
    case.save(update_fields=["touched_at"])
    return case
