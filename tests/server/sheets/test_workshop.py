"""The letterhead: described by a lead, its logo checked like any picture, its language one there are words for."""

import io
import json

import pytest
from django.core.exceptions import PermissionDenied
from django.core.files.uploadedfile import SimpleUploadedFile
from PIL import Image

from fairwitness.core.errors import ObservationError, PackageError
from fairwitness.core.messages.rendering import render
from fairwitness.core.reason.report.owner import SURE
from fairwitness.core.reason.verdict import Status
from fairwitness.server.sheets import languages, workshop
from fairwitness.server.sheets.pages import html_of
from tests.server.pictures.samples import PLACE, bomb, moving, photo, sound


def test_only_a_lead_describes_the_shop(technician, lead):
    with pytest.raises(PermissionDenied):
        workshop.describe({"name": "Elsewhere"}, by=technician)
    kept = workshop.describe({"name": " Larkmoor depot ", "currency": "€"}, by=lead)
    assert (kept.name, kept.currency, kept.links_on) == ("Larkmoor depot", "€", False)
    workshop.describe({"address": "Depot Yard 4"}, by=lead)
    assert workshop.workshop().name == "Larkmoor depot"


@pytest.mark.parametrize("changes", [{"name": " "}, {"language": "xx"}, {"language": "../de"}])
def test_what_cannot_be_is_refused(lead, changes):
    with pytest.raises(ObservationError):
        workshop.describe(changes, by=lead)


@pytest.mark.parametrize("file", [b"no picture", bomb(), moving(), sound(), b"x" * 5_000_000])
def test_a_hostile_logo_is_refused(lead, file):
    with pytest.raises(PackageError):
        workshop.set_logo(file, by=lead)
    assert not workshop.workshop().logo


def test_a_logo_is_made_small_and_forgets_where_it_was_taken(lead, as_user, measured_case):
    sent = SimpleUploadedFile("logo.jpg", photo(width=1800, height=900, place=True))
    assert as_user(lead).post("/api/workshop/logo/", {"file": sent}).json()["logo"] is True
    kept = bytes(workshop.workshop().logo)
    assert PLACE not in kept
    with Image.open(io.BytesIO(kept)) as image:
        assert (image.format, image.size) == ("PNG", (600, 300))
    assert as_user(lead).get("/api/workshop/logo/").content == kept
    assert 'class="logo"' in html_of(measured_case, languages.display_in("", {}), whole=False)
    assert as_user(lead).delete("/api/workshop/logo/").json()["logo"] is False
    assert as_user(lead).get("/api/workshop/logo/").status_code == 404


def test_the_currency_is_told_to_whoever_is_logged_in(as_user, lead, shop):
    assert as_user(lead).get("/api/session/").json()["currency"] == "€"


def test_a_shop_adds_a_language_and_what_it_lacks_is_english(tmp_path, settings, measured_case):
    settings.DATA = tmp_path
    (tmp_path / "languages").mkdir()
    words = {
        "owner.established": "Alle Proben stimmen.", "sheet.label.open": "Was offen ist",
        "owner.share": "{who} fehlt{nothing_of_it}", "no.such": "x", "owner.unclear": 3,
    }  # fmt: skip
    (tmp_path / "languages" / "fr.json").write_text(json.dumps(words), "utf-8")
    assert "fr" in languages.offered()
    display = languages.display_in("fr", {})
    assert render(SURE[Status.ESTABLISHED], display) == "Alle Proben stimmen."
    page = html_of(measured_case, display, whole=False, language="fr")
    assert "Was offen ist" in page
    assert '<html lang="fr">' in page
    assert "does not do its share" in page  # its template wanted what is not there
    assert display.decimal == ","


def test_a_word_list_that_is_broken_is_named(tmp_path, settings):
    settings.DATA = tmp_path
    (tmp_path / "languages").mkdir()
    (tmp_path / "languages" / "nl.json").write_text("{", "utf-8")
    with pytest.raises(ObservationError, match="nl"):
        languages.display_in("nl", {})


def test_the_english_words_are_there_to_start_from():
    words = languages.english()
    assert words["sheet.label.open"] == "What is not known"
    assert words["sheet.state.cranking"] == "cranking"
    assert len(words) > 1_000
