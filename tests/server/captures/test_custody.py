"""A changed byte is found at the next look, named, and the capture is no evidence any more."""

import hashlib
import io
import json
import random
import zipfile

import pytest
import zstandard
from django.core.files.uploadedfile import SimpleUploadedFile
from django.utils import timezone

from fairwitness.core.errors import CustodyError
from fairwitness.core.model.engine import even_engine
from fairwitness.server.captures import looking, samples, services
from fairwitness.server.captures.models import SampleChunk, StoredCapture
from fairwitness.server.captures.packing import HEADER, has_checksum
from fairwitness.server.cases.journal import seal_of
from fairwitness.server.cases.models import JournalEntry, StoredCase
from fairwitness.server.keeping.evidence import check_evidence
from tests.conftest import cranking

FOUR = even_engine((1, 3, 4, 2))
LOOKS = ("window/?from_s=0&to_s=9", "fold/0/?bins=90", "reading/0/?from_s=1&to_s=2", "export/?kind=csv")


@pytest.fixture
def kept(case, technician):
    looking._read.cache_clear()
    looking._cycles.cache_clear()
    stored = services.keep_capture(case, cranking(FOUR, {3: 0.3}), by=technician, at=timezone.now())
    case.refresh_from_db()
    return stored


def change(stored, *, level=0, bit=None, seed=1):
    chunk = SampleChunk.objects.filter(channel__capture=stored, level=level).order_by("id").first()
    data = bytearray(chunk.data)
    place = random.Random(seed).randrange(8 * len(data)) if bit is None else bit
    data[place // 8] ^= 1 << place % 8
    SampleChunk.objects.filter(pk=chunk.pk).update(data=bytes(data))


@pytest.mark.parametrize("look", LOOKS)
def test_whoever_looks_at_a_changed_capture_is_told_and_it_leaves_the_verdict(kept, case, technician, as_user, look):
    assert case.cylinders == [3]
    change(kept)
    answer = as_user(technician).get(f"/api/captures/{kept.pk}/{look}")
    assert (answer.status_code, answer.json()["code"]) == (400, "evidence_changed")
    case.refresh_from_db()
    assert (case.cylinders, case.verdict_status) == ([], "inconclusive")
    assert case.journal.order_by("-id")[0].verb == "capture found changed"
    board = as_user(technician).get(f"/api/cases/{case.pk}/").json()
    (row,) = board["rows"]
    assert "no evidence any more" in row["reasons"][0]["statement"]
    assert (row["usable"], row["capture"]) == (False, None)


@pytest.mark.parametrize("seed", range(40))
def test_no_flipped_bit_gives_other_samples(kept, seed):
    change(kept, seed=seed)
    with pytest.raises(CustodyError):
        samples.read(StoredCapture.objects.get(pk=kept.pk))


@pytest.mark.parametrize("seed", range(10))
def test_nor_does_one_in_a_piece_of_it(kept, seed):
    change(kept, seed=seed, bit=8 * 5 + 8 * 40 + seed * 97)
    with pytest.raises(CustodyError):
        samples.read_spans(kept, 0, 0, 100)


def without_sums(stored):
    """Its pieces as the first version kept them."""
    for chunk in SampleChunk.objects.filter(channel__capture=stored):
        body = zstandard.ZstdDecompressor().decompress(bytes(chunk.data)[HEADER.size :])
        plain = zstandard.ZstdCompressor(level=1, write_checksum=False).compress(body)
        SampleChunk.objects.filter(pk=chunk.pk).update(data=bytes(chunk.data)[: HEADER.size] + plain)


def test_pieces_of_the_first_version_get_their_checksums_at_the_first_check_and_look_the_same(kept):
    before = samples.read(kept)
    without_sums(kept)
    assert check_evidence().changed == ()
    assert all(has_checksum(c.data) for c in SampleChunk.objects.filter(channel__capture=kept))
    assert samples.read(kept).sha256 == before.sha256
    change(kept, bit=8 * 5 + 8 * 40)
    with pytest.raises(CustodyError):
        samples.read_spans(kept, 0, 0, 100)


def test_what_is_not_what_was_kept_gets_no_checksum(kept):
    without_sums(kept)
    StoredCapture.objects.filter(pk=kept.pk).update(sha256="0" * 64)
    assert check_evidence().changed
    assert not any(has_checksum(c.data) for c in SampleChunk.objects.filter(channel__capture=kept))


def test_a_changed_hash_is_no_better_than_changed_samples(kept):
    StoredCapture.objects.filter(pk=kept.pk).update(sha256="0" * 64)
    with pytest.raises(CustodyError):
        samples.read(StoredCapture.objects.get(pk=kept.pk))


def test_what_was_found_is_noted_once(kept):
    change(kept)
    for _ in range(2):
        assert len(check_evidence().changed) == 1
    assert JournalEntry.objects.filter(verb="capture found changed").count() == 1
    assert len(check_evidence().changed) == 1


def test_the_board_says_when_all_was_checked(kept, case, technician, as_user):
    whole = lambda: as_user(technician).get(f"/api/cases/{case.pk}/").json()["case"]["custody"]  # noqa: E731
    assert whole() is None
    check_evidence()
    assert whole()["changed"] == []
    assert whole()["captures"] == 1
    change(kept)
    check_evidence()
    assert whole()["changed"] == [f"capture {kept.name}: a stored piece of its samples was changed"]


def exported(stored):
    archive = zipfile.ZipFile(io.BytesIO(services.export_case(stored)))
    return {name: archive.read(name) for name in archive.namelist()}


def test_an_export_carries_the_chain_and_sums_anybody_can_check(kept, case):
    files = exported(case)
    sums = dict(reversed(line.split("  ")) for line in files["SHA256SUMS"].decode().splitlines())
    assert sums == {n: hashlib.sha256(d).hexdigest() for n, d in files.items() if n != "SHA256SUMS"}
    told = json.loads(files["custody.json"])
    assert told["captures"][0]["samples_sha256"] == kept.sha256
    assert told["captures"][0]["kept_by"] == "Tess Test"
    lines = list(JournalEntry.objects.order_by("id"))
    assert [line["seal"] for line in told["journal"]] == [line.seal for line in lines]
    assert [seal_of(line, t["follows"]) for line, t in zip(lines, told["journal"], strict=True)] == [
        t["seal"] for t in told["journal"]
    ]


def test_a_file_changed_inside_a_package_is_not_taken_for_the_capture(kept, case, technician, as_user):
    files = exported(case)
    table = next(name for name in files if name.endswith(".csv"))
    files[table] = files[table].replace(b"1", b"2", 1)
    packed = io.BytesIO()
    with zipfile.ZipFile(packed, "w") as archive:
        for name, data in files.items():
            archive.writestr(name, data)
    answer = as_user(technician).post("/api/cases/import/", {"file": SimpleUploadedFile("bus.zip", packed.getvalue())})
    assert answer.status_code == 201
    other = StoredCase.objects.exclude(pk=case.pk).get()
    assert "not the one the package was made with" in other.captures.get().unreadable


def test_a_changed_capture_stays_out_of_an_export(kept, case):
    change(kept)
    with pytest.raises(CustodyError):
        services.export_case(case)
    assert not [name for name in exported(case) if name.endswith(".csv")]
