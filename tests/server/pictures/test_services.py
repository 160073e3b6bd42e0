"""Pictures of a case: kept, marked, withdrawn, handed out, and carried in its package."""

import io
import zipfile

import pytest
from django.core.exceptions import PermissionDenied
from django.core.files.uploadedfile import SimpleUploadedFile
from django.utils import timezone

from fairwitness.core.errors import ObservationError, PackageError
from fairwitness.core.model.phase import PartState
from fairwitness.formats.case_package import read_package
from fairwitness.formats.package_pictures import read_pictures
from fairwitness.server.accounts.models import Role
from fairwitness.server.captures.services import export_case, import_case
from fairwitness.server.cases import life
from fairwitness.server.cases.models import StoredCase
from fairwitness.server.cases.parts import PartGiven, record_part
from fairwitness.server.pictures import services
from fairwitness.server.pictures.models import Picture, PictureBytes
from fairwitness.server.pictures.services import About, keep_picture, mark_picture, withdraw_picture
from tests.server.conftest import person
from tests.server.pictures.samples import bomb, photo, sound

NOW = timezone.now()
RING = {"kind": "ring", "x": 0.5, "y": 0.5, "to_x": 0.6, "to_y": 0.7}
SAYS = {"kind": "words", "x": 0.1, "y": 0.1, "words": "crack"}


def lines(case):
    return list(case.journal.values_list("verb", "detail", "about"))


def test_a_picture_is_kept_with_its_hash_in_the_journal(case, technician):
    kept = keep_picture(case, photo(), words=" Plug of 3 ", by=technician, at=NOW)
    assert lines(case)[-1] == ("photo kept", "Plug of 3", kept.sha256)
    assert services.whole_file(kept)[:3] == b"\xff\xd8\xff"


def test_what_is_refused_leaves_nothing_behind(case, technician):
    before = len(lines(case))
    with pytest.raises(PackageError):
        keep_picture(case, bomb(), by=technician, at=NOW)
    with pytest.raises(ObservationError, match="not of this case"):
        keep_picture(case, photo(), about=About(part=999), by=technician, at=NOW)
    with pytest.raises(PermissionDenied):
        keep_picture(case, photo(), by=person("rita", Role.READER), at=NOW)
    assert (Picture.objects.count(), PictureBytes.objects.count(), len(lines(case))) == (0, 0, before)


def test_a_picture_belongs_to_a_part_of_its_own_case_only(case, technician):
    part = record_part(case, PartGiven(part="coil", cylinder=3, fitted=PartState.NEW), by=technician, at=NOW)
    kept = keep_picture(case, photo(), about=About(part=part.pk), by=technician, at=NOW)
    assert kept.part == part


def test_the_same_picture_is_kept_once_and_no_more_than_there_is_room_for(case, technician, monkeypatch):
    keep_picture(case, photo(), by=technician, at=NOW)
    with pytest.raises(ObservationError, match="kept already"):
        keep_picture(case, photo(), by=technician, at=NOW)
    monkeypatch.setattr(services, "PICTURES_MAX", 1)
    with pytest.raises(ObservationError, match="keeps 1 pictures"):
        keep_picture(case, photo(seed=2), by=technician, at=NOW)


def test_marks_stand_beside_the_picture_and_never_touch_it(case, technician):
    kept = keep_picture(case, photo(), by=technician, at=NOW)
    before = services.whole_file(kept)
    mark_picture(kept, [RING, SAYS], by=technician, at=NOW)
    mark_picture(kept, [SAYS], by=technician, at=NOW)
    kept = Picture.objects.get(pk=kept.pk)
    assert (kept.marks, services.whole_file(kept)) == ([SAYS], before)
    assert lines(case)[-1] == ("picture marked", "1 marks", kept.sha256)


def test_nothing_is_drawn_on_a_sound_nor_in_a_closed_case(case, technician):
    heard = keep_picture(case, sound(), by=technician, at=NOW)
    with pytest.raises(ObservationError, match="sound"):
        mark_picture(heard, [SAYS], by=technician, at=NOW)
    seen = keep_picture(case, photo(), by=technician, at=NOW)
    life.close_case(case, by=technician, at=NOW)
    for act in (
        lambda: mark_picture(seen, [SAYS], by=technician, at=NOW),
        lambda: keep_picture(case, photo(seed=3), by=technician, at=NOW),
    ):
        with pytest.raises(ObservationError, match="closed"):
            act()


def test_a_changed_byte_is_found_when_it_is_handed_out(case, technician):
    kept = keep_picture(case, photo(), by=technician, at=NOW)
    PictureBytes.objects.filter(pk=kept.pk).update(data=photo(seed=9))
    with pytest.raises(ObservationError, match="not what was kept"):
        services.whole_file(Picture.objects.get(pk=kept.pk))


def test_over_http_a_file_comes_back_as_what_it_is(as_user, case, technician):
    browser = as_user(technician)
    sent = {"file": SimpleUploadedFile("holiday.exe", photo("PNG")), "words": "Plug"}
    added = browser.post(f"/api/cases/{case.pk}/pictures/", sent)
    assert (added.status_code, added.json()["mime"]) == (201, "image/png")
    number = added.json()["id"]
    file = browser.get(f"/api/pictures/{number}/file/")
    assert (file["Content-Type"], file["X-Content-Type-Options"]) == ("image/png", "nosniff")
    assert file["Cache-Control"] == "no-store"
    assert browser.get(f"/api/pictures/{number}/thumb/").content[:3] == b"\xff\xd8\xff"
    marks = browser.post(f"/api/pictures/{number}/marks/", {"marks": [RING]}, content_type="application/json")
    assert marks.json()["marks"] == [RING]
    gone = browser.post(f"/api/pictures/{number}/withdraw/", {"reason": "blurred"}, content_type="application/json")
    assert gone.json()["withdrawn_reason"] == "blurred"
    assert browser.get(f"/api/pictures/{number}/file/").status_code == 404
    (listed,) = browser.get(f"/api/cases/{case.pk}/pictures/").json()["pictures"]
    assert listed["withdrawn"] is True


def test_nobody_sees_a_picture_without_logging_in(as_user, case, technician):
    kept = keep_picture(case, photo(), by=technician, at=NOW)
    assert as_user(None).get(f"/api/pictures/{kept.pk}/file/").status_code in (401, 403)


def test_no_file_or_a_wrong_one_is_told_over_http(as_user, case, technician):
    address, browser = f"/api/cases/{case.pk}/pictures/", as_user(technician)
    assert "No file" in browser.post(address, {"words": "x"}).json()["what"]
    refused = browser.post(address, {"file": SimpleUploadedFile("a.jpg", b"MZ not a picture")})
    assert (refused.status_code, refused.json()["what"]) == (400, "This is no picture and no sound that is kept.")


def test_pictures_travel_in_the_package_with_their_marks(case, technician):
    seen = keep_picture(case, photo(), words="Plug of 3", by=technician, at=NOW)
    mark_picture(seen, [RING, SAYS], by=technician, at=NOW)
    keep_picture(case, sound(), by=technician, at=NOW)
    withdraw_picture(keep_picture(case, photo(seed=5), by=technician, at=NOW), reason="blurred", by=technician, at=NOW)
    written = export_case(StoredCase.objects.get(pk=case.pk))
    names = zipfile.ZipFile(io.BytesIO(written)).namelist()
    assert {"pictures/001.jpg", "pictures/002.wav"} <= set(names)
    assert "pictures/003.jpg" not in names
    read = read_package("with.zip", keep_bytes=written)
    brought = import_case(
        read, file_name="with.zip", pictures=read_pictures(read.extra, "with.zip", written), by=technician, at=NOW
    )
    first, second = brought.pictures.all()
    assert (first.words, first.marks, first.kind) == ("Plug of 3", [RING, SAYS], "photo")
    assert second.kind == "sound"
    assert "pictures" not in brought.extra


def test_a_package_whose_picture_was_changed_is_refused_whole(as_user, case, technician):
    keep_picture(case, photo(), by=technician, at=NOW)
    source, out = zipfile.ZipFile(io.BytesIO(export_case(case))), io.BytesIO()
    with zipfile.ZipFile(out, "w") as target:
        for name in source.namelist():
            target.writestr(name, photo(seed=7) if name.startswith("pictures/") else source.read(name))
    before = StoredCase.objects.count()
    answer = as_user(technician).post("/api/cases/import/", {"file": SimpleUploadedFile("p.zip", out.getvalue())})
    assert (answer.status_code, answer.json()["what"]) == (400, "The picture is not what its hash says.")
    assert StoredCase.objects.count() == before


def test_withdrawing_is_ones_own_or_a_leads(case, technician, lead):
    other = person("una", Role.TECHNICIAN)
    kept = keep_picture(case, photo(), by=technician, at=NOW)
    with pytest.raises(PermissionDenied):
        withdraw_picture(kept, reason="x", by=other, at=NOW)
    withdraw_picture(kept, reason="blurred", by=lead, at=NOW)
    assert lines(case)[-1][:2] == ("picture withdrawn", "blurred")
