"""Sheets over HTTP: as a page of its own that runs nothing, as a PDF, with figures chosen and withdrawn."""

import pytest


@pytest.fixture
def asked(measured_case, as_user, technician):
    browser = as_user(technician)

    def ask(what, body=None, verb="get"):
        url = f"/api/cases/{measured_case.pk}/{what}"
        return getattr(browser, verb)(url, body, content_type="application/json") if body else browser.get(url)

    return ask


def test_the_page_carries_all_it_needs_and_may_run_nothing(asked):
    answer = asked("sheet/")
    page = answer.content.decode()
    assert answer["Content-Type"].startswith("text/html")
    assert "script-src" not in answer["Content-Security-Policy"]
    assert "default-src 'none'" in answer["Content-Security-Policy"]
    assert answer["X-Frame-Options"] == "SAMEORIGIN"
    assert "no-store" in answer["Cache-Control"]
    assert page.count("<article") == 1
    assert asked("sheet/?whole=1").content.decode().count("<article") == 2


def test_the_paper_is_a_pdf_under_a_plain_name(asked, measured_case):
    answer = asked("sheet.pdf?whole=1")
    assert answer["Content-Type"] == "application/pdf"
    assert answer["Content-Disposition"] == f'inline; filename="sheet-{measured_case.pk}.pdf"'
    assert answer.content.startswith(b"%PDF-")


def test_a_figure_is_kept_listed_chosen_and_withdrawn(asked, measured_case, as_user, technician):
    browser, capture = as_user(technician), measured_case.captures.get()
    sent = {"from_s": 1.0, "to_s": 2.0, "words": "The low hump"}
    kept = browser.post(f"/api/captures/{capture.pk}/figures/", sent, content_type="application/json")
    assert kept.status_code == 201
    reference = f"figure:{kept.json()['id']}"
    assert asked("sheet/about/").json()["offered"] == [{"reference": reference, "words": "The low hump", "shown": True}]
    assert asked("sheet/shown/", {"shown": [reference]}, "post").status_code == 200
    assert "The low hump" in asked("sheet/").content.decode()
    wrong = {"reason": "wrong stretch"}
    browser.post(f"/api/figures/{kept.json()['id']}/withdraw/", wrong, content_type="application/json")
    assert asked("sheet/about/").json()["offered"] == []
    assert "The low hump" not in asked("sheet/").content.decode()


@pytest.mark.parametrize("moment", ["Infinity", "NaN", "x"])
def test_a_moment_that_is_none_is_refused(measured_case, as_user, technician, moment):
    capture = measured_case.captures.get()
    body = f'{{"from_s": {moment if moment != "x" else chr(34) + "x" + chr(34)}, "to_s": 2, "words": "w"}}'
    answer = as_user(technician).post(f"/api/captures/{capture.pk}/figures/", body, content_type="application/json")
    assert answer.status_code == 400
