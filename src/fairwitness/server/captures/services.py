"""What may be done with captures: keep, withdraw, import and export a package."""

from __future__ import annotations

import json
from collections.abc import Callable, Collection, Iterable, Iterator, Sequence
from concurrent.futures import ThreadPoolExecutor
from contextlib import contextmanager
from dataclasses import dataclass, replace
from datetime import datetime
from typing import Any

from django.db import transaction

from fairwitness import __version__
from fairwitness.core.diagnose import measure_capture
from fairwitness.core.errors import CaptureError
from fairwitness.core.model.capture import Capture, UnreadableCapture
from fairwitness.core.model.case import Case
from fairwitness.core.model.measurement import Measured
from fairwitness.core.model.visit import visit_block
from fairwitness.core.procedures.registry import unreadable
from fairwitness.formats.case_package_writing import write_package
from fairwitness.formats.engine_block import engine_block
from fairwitness.formats.measured_document import measured_document
from fairwitness.formats.package_pictures import BLOCK, PackedPicture
from fairwitness.formats.set_up import read_set_up, set_up_block
from fairwitness.server.accounts.models import User
from fairwitness.server.accounts.permissions import require
from fairwitness.server.captures import samples
from fairwitness.server.captures.custody import watched
from fairwitness.server.captures.known_good import reference_data
from fairwitness.server.captures.models import StoredCapture, StoredMeasurement
from fairwitness.server.captures.packing import pack
from fairwitness.server.captures.writing import Told, WrittenAhead, attach, forget, write_ahead
from fairwitness.server.cases.changing import changing, note, refuse_closed, touch
from fairwitness.server.cases.evidence import core_case, refresh_diagnosis
from fairwitness.server.cases.journal import digest_of, exported
from fairwitness.server.cases.life import restore_phases
from fairwitness.server.cases.models import JournalEntry, StoredCase, StoredObservation
from fairwitness.server.cases.services import Intake, open_case, withdraw
from fairwitness.server.cases.visit_answers import record_blocks
from fairwitness.server.pictures.packing import checked_pictures, packed
from fairwitness.server.pictures.packing import restore as restore_pictures
from fairwitness.server.sheets.packing import BLOCK as FIGURES
from fairwitness.server.sheets.packing import packed_figures, restore_figures

CUSTODY = "custody.json"


class _NameTakenError(Exception):
    """Another capture took a name while this one was measured."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Prepared:
    """A capture measured and packed, ready to be kept in one short transaction."""

    capture: Capture
    ahead: WrittenAhead
    measured: tuple[Measured, ...]


@dataclass(frozen=True, slots=True, kw_only=True)
class Keeping:
    """How a capture is kept.

    Parameters
    ----------
    told : callable, optional
        Of the share of the samples that is written.
    within : callable, optional
        Called with the kept capture inside the transaction that keeps it; what it raises keeps nothing.
    under : str
        The name samples are written ahead under, for who sweeps after a process that ended.
    conclude : bool
        Whether the verdict is made anew with it; not where more evidence follows at once.
    """

    told: Told | None = None
    within: Callable[[StoredCapture], None] | None = None
    under: str = ""
    conclude: bool = True


USUALLY = Keeping()


def keep_capture(
    case: StoredCase,
    capture: Capture,
    *,
    file_name: str = "",
    by: User,
    at: datetime,
    keeping: Keeping = USUALLY,
) -> StoredCapture:
    """Keep a capture as evidence, with its samples, pyramid and measurements, or nothing of it.

    Measuring, packing and the writing of long captures come first: the database is held only while the result is put
    in its place.

    Raises
    ------
    PermissionDenied
    CaptureError
        The same samples are kept in this case already.
    ObservationError
        The case is closed.
    """
    require(by, "add_evidence")
    refuse_closed(case)
    _refuse_twin(case, capture)
    known = core_case(case, known=reference_data(case.engine))
    set_up = replace(capture.set_up, phase=StoredCase.objects.values_list("phase", flat=True).get(pk=case.pk))
    capture = replace(capture, set_up=set_up)
    prepared = _prepared(replace(capture, name=_free_name(case, capture.name)), known, keeping)

    def put_in_place() -> StoredCapture:
        with changing(case, conclude=keeping.conclude) as held:
            refuse_closed(held)
            _refuse_twin(held, capture)
            stored = _write(held, prepared, file_name=file_name, by=by, at=at)
            note(held, "capture kept", stored.name, by=by, at=at, about=stored.sha256)
            touch(held, at)
            if keeping.within is not None:
                keeping.within(stored)
        return stored

    with _or_forgotten([prepared]):
        while True:
            try:
                return put_in_place()
            except _NameTakenError:
                prepared = _renamed(prepared, _free_name(case, capture.name), known)


def _renamed(prepared: Prepared, name: str, case: Case) -> Prepared:
    """Measured once more under another name, which its findings carry; what is packed stays."""
    capture = replace(prepared.capture, name=name)
    return replace(prepared, capture=capture, measured=tuple(measure_capture(capture, case)))


@contextmanager
def _or_forgotten(prepared: Iterable[Prepared]) -> Iterator[None]:
    """What was written ahead goes where keeping it fails."""
    try:
        yield
    except BaseException:
        for one in prepared:
            forget(one.ahead)
        raise


def _prepared(capture: Capture, case: Case, keeping: Keeping = USUALLY) -> Prepared:
    """Measured while it is packed and, where it is long, written: nobody waits for that with the database held."""
    with ThreadPoolExecutor(1) as aside:
        measuring = aside.submit(lambda: tuple(measure_capture(capture, case)))
        ahead = write_ahead(capture, told=keeping.told, under=keeping.under)
        try:
            return Prepared(capture=capture, measured=measuring.result(), ahead=ahead)
        except BaseException:
            forget(ahead)
            raise


def _write(case: StoredCase, prepared: Prepared, *, file_name: str, by: User, at: datetime) -> StoredCapture:
    """The rows of a prepared capture; call it inside a transaction."""
    if case.captures.filter(name=prepared.capture.name).exists():
        raise _NameTakenError
    stored = _row(case, prepared.capture, file_name=file_name, by=by, at=at)
    attach(stored, prepared.capture, prepared.ahead)
    _keep_measured(stored, prepared.measured, at=at)
    return stored


def _keep_measured(stored: StoredCapture, measured: Iterable[Measured], *, at: datetime) -> None:
    StoredMeasurement.objects.bulk_create(
        StoredMeasurement(
            capture=stored,
            test=m.test,
            code_version=__version__,
            document=measured_document(m),
            made_at=at,
        )
        for m in measured
    )


def _refuse_twin(case: StoredCase, capture: Capture) -> None:
    twin = case.captures.filter(sha256=capture.sha256, withdrawn_at__isnull=True).first()
    if twin is not None:
        raise CaptureError(
            "The same samples are kept already.",
            where=twin.name,
            remedy="Withdraw that capture first if it was wrong.",
        )


def measure_again(stored: StoredCapture, *, at: datetime) -> None:
    """Measure a kept capture anew with the present code; what an earlier version measured gives way to it.

    Raises
    ------
    CaptureError
        Its samples cannot be read.
    """
    case = stored.case
    known = core_case(case, known=reference_data(case.engine))
    if stored.unreadable:
        unread = UnreadableCapture(name=stored.name, set_up=read_set_up(stored.set_up), reason=stored.unreadable)
        refusal = unreadable(unread, known.engine)
        measured: tuple[Measured, ...] = (refusal,) if refusal is not None else ()
    else:
        measured = tuple(measure_capture(samples.read(stored), known))
    with changing(case):
        stored.measurements.all().delete()
        _keep_measured(stored, measured, at=at)


def _row(case: StoredCase, capture: Capture, *, file_name: str, by: User, at: datetime) -> StoredCapture:
    stamps = capture.time.stamps_s
    return StoredCapture.objects.create(
        case=case,
        name=capture.name,
        file_name=file_name[:200],
        sha256=capture.sha256,
        set_up=set_up_block(capture.set_up),
        samples=capture.time.samples,
        rate_hz=capture.time.rate_hz,
        start_s=capture.time.start_s,
        stamps=pack(stamps) if stamps is not None else None,
        kept_by=by,
        kept_at=at,
    )


def withdraw_capture(stored: StoredCapture, *, reason: str, by: User, at: datetime) -> StoredCapture:
    """Withdraw a capture; it stays visible, struck through, with the reason.

    Raises
    ------
    PermissionDenied
    ObservationError
        No reason given, or withdrawn before.
    """
    with changing(stored.case) as held:
        withdraw(stored, reason=reason, by=by, at=at)
        note(held, "capture withdrawn", f"{stored.name}: {reason.strip()}", by=by, at=at)
        touch(held, at)
    return stored


def import_case(
    case: Case,
    *,
    file_name: str,
    pictures: Sequence[PackedPicture] = (),
    by: User,
    at: datetime,
    within: Callable[[StoredCase], None] | None = None,
) -> StoredCase:
    """Make a case of a package: everything of it or nothing. Its captures are measured before anything is written.

    ``within`` is called with the case inside the transaction that makes it; what it raises keeps nothing.

    Raises
    ------
    PermissionDenied
    PackageError
        A picture of it is none that is kept.
    """
    require(by, "open_case")
    intake = Intake(
        title=case.title or case.name,
        name=case.name,
        engine=case.engine,
        vehicle=str(case.extra.get("vehicle", "")),
        complaint=case.complaint,
        symptom=case.symptom,
        complaint_when=case.complaint_when,
        signs=case.signs,
        work_done=case.work_done,
        codes=case.codes,
        extra=_carried(case),
        known_by_name=False,
    )
    known = reference_data(engine_block(case.engine))
    beside = replace(case, engine=replace(case.engine, extra={**known, **case.engine.extra}))
    seen = checked_pictures(pictures)
    prepared: list[Prepared] = []
    with _or_forgotten(prepared):
        for capture in _named_apart(case):
            prepared.append(_prepared(capture, beside))
        with transaction.atomic():
            stored = _import_prepared(case, intake, prepared, file_name=file_name, by=by, at=at)
            restore_pictures(stored, seen, by=by, at=at)
            restore_figures(stored, case.extra.get(FIGURES), by=by, at=at)
            if within is not None:
                within(stored)
        return stored


def _carried(case: Case) -> dict[str, Any]:
    """What a package brings that has no field of its own here, and its earlier visits."""
    carried = {k: v for k, v in case.extra.items() if k not in ("vehicle", BLOCK, FIGURES)}
    return {**carried, "visits": [visit_block(v) for v in case.visits]} if case.visits else carried


def _import_prepared(
    case: Case, intake: Intake, prepared: Sequence[Prepared], *, file_name: str, by: User, at: datetime
) -> StoredCase:
    with transaction.atomic():
        stored = open_case(intake, by=by, at=at)
        restore_phases(stored, case.phases, by=by, at=at)
        about = digest_of([dict(o.data) for o in case.observations])
        note(stored, "package imported", file_name, by=by, at=at, about=about)
        StoredObservation.objects.bulk_create(
            StoredObservation(case=stored, test=o.test, data=dict(o.data), kept_by=by, kept_at=at)
            for o in case.observations
        )
        for one in prepared:
            row = _write(stored, one, file_name=file_name, by=by, at=at)
            note(stored, "capture kept", one.capture.name, by=by, at=at, about=row.sha256)
        for capture in case.captures:
            if isinstance(capture, UnreadableCapture):
                _keep_unreadable(stored, capture, by=by, at=at)
        refresh_diagnosis(stored)
    return stored


def _named_apart(case: Case) -> list[Capture]:
    """Captures of a package, the same samples once, each under a name of its own."""
    once = {c.sha256: c for c in reversed(case.captures) if isinstance(c, Capture)}
    kept: list[Capture] = []
    for capture in reversed(once.values()):
        kept.append(replace(capture, name=_free_of({c.name for c in kept}, capture.name)))
    return kept


def export_case(stored: StoredCase) -> bytes:
    """The case as a package with its chain of custody; evidence that is withdrawn or no evidence any more is left out.

    Raises
    ------
    CustodyError
        A capture turned out not to be what was kept; it is out of the verdict now.
    """
    in_force = stored.captures.filter(withdrawn_at__isnull=True, unreadable="", changed="")
    kept = in_force.select_related("kept_by").prefetch_related("channels")
    read = []
    for row in kept:
        with watched(row):
            read.append(samples.read(row))
    case = core_case(stored)
    block, files = packed(stored)
    extra = {**case.extra, **record_blocks(stored), **block, **packed_figures(stored)}
    whole = replace(case, captures=tuple(read), extra=extra)
    return write_package(whole, {CUSTODY: _custody(stored, kept), **files})


def _custody(stored: StoredCase, kept: Iterable[StoredCapture]) -> bytes:
    """Who kept what, when, under which hash, and the lines of the journal with their seals."""
    lines = JournalEntry.objects.select_related("by").order_by("id")
    told = {
        "captures": [
            {"name": c.name, "file_name": c.file_name, "samples_sha256": c.sha256, "kept_by": c.kept_by.shown_name,
             "kept_at": c.kept_at.isoformat()}
            for c in kept
        ],
        "journal": [line for line in exported(lines.iterator(500)) if line["case"] == stored.pk],
    }  # fmt: skip
    return json.dumps(told, indent=1).encode()


def _free_name(case: StoredCase, name: str) -> str:
    return _free_of(set(case.captures.values_list("name", flat=True)), name)


def _free_of(taken: Collection[str], name: str) -> str:
    base, count = name[:180] or "capture", 1
    name = base
    while name in taken:
        count += 1
        name = f"{base}-{count}"
    return name


def _keep_unreadable(case: StoredCase, capture: UnreadableCapture, *, by: User, at: datetime) -> None:
    stored = StoredCapture.objects.create(
        case=case,
        name=_free_name(case, capture.name),
        set_up=set_up_block(capture.set_up),
        unreadable=capture.reason[:500],
        kept_by=by,
        kept_at=at,
    )
    measured = unreadable(capture, core_case(case).engine)
    if measured is not None:
        _keep_measured(stored, (measured,), at=at)
