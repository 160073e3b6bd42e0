"""A shop's database as version 0.1.0 wrote it: it opens, shows its boards, exports, and is measured again on demand."""

from __future__ import annotations

import gzip
import json
import os
import subprocess
import sys
from pathlib import Path

import pytest

ROOT = Path(__file__).resolve().parents[2]
KEPT = ROOT / "tests" / "data" / "shop-0.1.0.sqlite3.gz"
LOOK = """
import io, json, zipfile
from django.test import Client
from fairwitness.server.accounts.models import User
from fairwitness.server.captures.models import StoredCapture
browser = Client(SERVER_NAME="localhost")
browser.force_login(User.objects.exclude(role="reader").first())
ids = [c["id"] for c in browser.get("/api/cases/").json()["cases"]]
boards = {i: browser.get(f"/api/cases/{i}/").json() for i in sorted(ids)}
packages = {i: zipfile.ZipFile(io.BytesIO(browser.get(f"/api/cases/{i}/package/").content)).namelist() for i in ids}
pages = [browser.get(f"/api/captures/{c.pk}/").status_code for c in StoredCapture.objects.all()]
print("SEEN" + json.dumps({"list": browser.get("/api/cases/").json(), "boards": boards, "packages": packages,
                           "pages": pages}))
"""


def manage(folder, *arguments):
    environment = os.environ | {"FAIRWITNESS_DATA": str(folder), "FAIRWITNESS_DEMO": "1"}
    done = subprocess.run(
        [sys.executable, str(ROOT / "manage.py"), *arguments], env=environment, capture_output=True, text=True, cwd=ROOT
    )
    assert done.returncode == 0, done.stderr
    return done.stdout


def look(folder):
    return json.loads(manage(folder, "shell", "-v0", "-c", LOOK).split("SEEN")[1])


@pytest.fixture(scope="module")
def shop(tmp_path_factory):
    folder = tmp_path_factory.mktemp("shop")
    (folder / "fairwitness.sqlite3").write_bytes(gzip.decompress(KEPT.read_bytes()))
    manage(folder, "migrate", "-v0")
    return folder


@pytest.fixture(scope="module")
def seen(shop):
    return look(shop)


def test_every_case_opens_with_what_was_said_of_it(seen):
    by_title = {b["case"]["title"]: b["verdict"] for b in seen["boards"].values()}
    assert {title: (v["status"], v["cylinders"]) for title, v in by_title.items()} == {
        "Minibus 9, dead on three": ("established", [3]),
        "Library van 5, healthy check": ("no_fault_found", []),
        "Minibus 10, open injector on 2": ("supported", [2]),
    }
    assert by_title["Minibus 10, open injector on 2"]["headline"].startswith("Cylinder 2 does no work")


def test_findings_kept_as_sentences_are_still_read_as_they_were_written(seen):
    said = [f["statement"] for b in seen["boards"].values() for f in b["findings"]]
    assert any("cylinder 3" in text.lower() for text in said)
    assert all(isinstance(text, str) and text for text in said)


def test_rows_that_were_withdrawn_stay_so(seen):
    rows = [r for b in seen["boards"].values() for r in b["rows"]]
    assert [r["withdrawn"] for r in rows].count(True) == 1
    assert all(r["title"] for r in rows)


def test_its_cases_are_visits_and_their_evidence_is_as_arrived(seen):
    for board in seen["boards"].values():
        assert {row["phase"] for row in board["rows"]} <= {0}
        assert (board["life"]["phase"], len(board["life"]["phases"])) == (0, 1)
        assert (board["visit"]["vehicle"] is not None) is bool(board["case"]["vehicle"])
        assert (board["visit"]["history"], board["visit"]["labour_minutes"]) == ([], 0)
        assert {code["origin"] for code in board["case"]["codes"]} <= {"as_arrived"}


def test_captures_and_exports_are_whole(seen):
    assert set(seen["pages"]) == {200}
    assert all("datapackage.json" in names for names in seen["packages"].values())
    assert len(seen["list"]["cases"]) == 3


def test_what_was_measured_then_is_measured_again_and_says_the_same(shop, seen):
    told = manage(shop, "remeasure")
    assert "4 of 4 captures measured again with" in told
    assert "0 of 0 captures" in manage(shop, "remeasure")
    again = look(shop)
    for case, board in seen["boards"].items():
        now = again["boards"][case]
        assert (now["verdict"]["status"], now["verdict"]["cylinders"]) == (
            board["verdict"]["status"],
            board["verdict"]["cylinders"],
        )
        assert len(now["findings"]) == len(board["findings"])
