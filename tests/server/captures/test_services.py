import io
import zipfile

import pytest
from django.core.exceptions import PermissionDenied
from django.utils import timezone

from fairwitness.core.errors import CaptureError
from fairwitness.core.model.capture import CaptureTest, SetUp, UnreadableCapture
from fairwitness.core.model.case import Case, Observation
from fairwitness.core.model.engine import even_engine
from fairwitness.formats.case_package import read_package
from fairwitness.server.captures import services
from fairwitness.server.captures.models import SampleChunk, StoredCapture
from fairwitness.server.cases.models import StoredCase
from tests.conftest import cranking

FOUR = even_engine((1, 3, 4, 2))


def keep(case, by, **about):
    return services.keep_capture(case, cranking(FOUR, {3: 0.05}, **about), by=by, at=timezone.now())


def test_keeping_stores_samples_measurement_journal_and_statement(case, technician):
    stored = keep(case, technician)
    case.refresh_from_db()
    assert (case.cylinders, case.cause, case.verdict_status) == ([3], "mechanical", "suspected")
    assert stored.measurements.get().document["usable"]
    assert stored.channels.count() == 2
    assert case.journal.last().verb == "capture kept"


def test_a_failure_on_the_way_leaves_nothing(case, technician, monkeypatch):
    def broken(*_):
        raise RuntimeError("disk full")

    monkeypatch.setattr(services, "touch", broken)
    with pytest.raises(RuntimeError):
        keep(case, technician)
    assert not StoredCapture.objects.exists()
    assert not SampleChunk.objects.exists()
    assert case.journal.count() == 1


def test_the_same_samples_are_kept_once(case, technician):
    keep(case, technician)
    with pytest.raises(CaptureError, match="kept already"):
        keep(case, technician)


def test_two_kept_at_once_under_one_name_are_told_apart(case, technician, monkeypatch):
    real, first = services.write_ahead, []

    def another_comes_first(capture, **how):
        if not first:
            first.append(capture)
            keep(case, technician, seed=6)
        return real(capture, **how)

    monkeypatch.setattr(services, "write_ahead", another_comes_first)
    kept = keep(case, technician)
    other = StoredCapture.objects.exclude(pk=kept.pk).get()
    assert kept.name == f"{other.name}-2"
    assert kept.measurements.get().document["resource"] == kept.name


def test_a_withdrawn_capture_stays_but_says_nothing(case, technician):
    stored = keep(case, technician)
    services.withdraw_capture(stored, reason="clamp fell off", by=technician, at=timezone.now())
    case.refresh_from_db()
    assert case.cylinders == []
    assert StoredCapture.objects.get().channels.count() == 2
    keep(case, technician)
    assert StoredCapture.objects.count() == 2


def test_only_a_lead_withdraws_what_others_kept(case, technician, other_technician, lead):
    stored = keep(case, technician)
    with pytest.raises(PermissionDenied):
        services.withdraw_capture(stored, reason="x", by=other_technician, at=timezone.now())
    services.withdraw_capture(stored, reason="x", by=lead, at=timezone.now())


def test_readers_keep_nothing(case, reader):
    with pytest.raises(PermissionDenied):
        keep(case, reader)


def test_export_and_import_give_the_same_diagnosis(case, technician):
    keep(case, technician)
    keep(case, technician, seed=6)
    package = services.export_case(case)
    again = services.import_case(
        read_package("x.zip", keep_bytes=package), file_name="x.zip", by=technician, at=timezone.now()
    )
    case.refresh_from_db()
    assert again.diagnosis == case.diagnosis
    assert evidence_in(services.export_case(again)) == evidence_in(package)


def evidence_in(package):
    """What a package says of the case; who kept it, and the sums over that, are of each workshop's own."""
    with zipfile.ZipFile(io.BytesIO(package)) as opened:
        return {name: opened.read(name) for name in opened.namelist() if name not in ("custody.json", "SHA256SUMS")}


def test_a_package_with_a_broken_capture_is_imported_with_its_reason(technician):
    broken = UnreadableCapture(
        name="crank", set_up=SetUp(test=CaptureTest.RELATIVE_COMPRESSION), reason="Line 3 is not text."
    )
    odd = Observation(test="tea_leaves", data={"test": "tea_leaves"})
    package = Case(name="x", engine=FOUR, captures=(broken, cranking(FOUR, {3: 0.05})), observations=(odd,))
    stored = services.import_case(package, file_name="x.zip", by=technician, at=timezone.now())
    assert stored.captures.get(name="crank").unreadable == "Line 3 is not text."
    assert stored.cylinders == [3]


def test_an_import_is_whole_or_not_at_all(technician, monkeypatch):
    package = Case(name="x", engine=FOUR, captures=(cranking(FOUR), cranking(FOUR, seed=6)))
    calls = []

    def second_fails(*args):
        calls.append(args)
        if len(calls) == 2:
            raise RuntimeError("disk full")

    monkeypatch.setattr(services, "attach", second_fails)
    with pytest.raises(RuntimeError):
        services.import_case(package, file_name="x.zip", by=technician, at=timezone.now())
    assert not StoredCase.objects.exists()
