"""The sheet fits one page of A4, holds what matters, and comes out the same for the same case."""

import io

import pikepdf
import pypdfium2
import pytest
from django.utils import timezone

from fairwitness.core.messages.rendering import PLAIN
from fairwitness.core.model.decision import Agreement, Decision, Way
from fairwitness.core.model.engine import even_engine
from fairwitness.server.captures.services import keep_capture
from fairwitness.server.cases.services import Intake, add_observation, open_case
from fairwitness.server.decisions.services import decide
from fairwitness.server.pictures.services import keep_picture, mark_picture
from fairwitness.server.sheets.pages import _MADE, html_of, printed
from tests.conftest import cranking
from tests.server.pictures.samples import photo

NOW = timezone.now()
A4 = (595, 842)
TWELVE = (1, 12, 5, 8, 3, 10, 6, 7, 2, 11, 4, 9)
ORDERS = [(1, 3, 2), (1, 2, 4, 5, 3), TWELVE]


def text_of(pdf):
    with pypdfium2.PdfDocument(pdf) as document:
        return [page.get_textpage().get_text_range() for page in document]


def test_the_sheet_is_one_page_and_says_what_matters(measured_case):
    made = printed(measured_case, PLAIN, whole=False)
    (said,) = text_of(made)
    told = (
        "Larkmoor depot", "Bus 3", "Shakes since Monday", "Cylinder 3 of the engine", "What we checked",
        "how well each cylinder seals", "What is not known", "What to watch", "Not decided yet.",
    )  # fmt: skip
    for words in told:
        assert words in " ".join(said.split()), words
    for trade in ("posterior", "sigma", "RC", "SHA-256"):
        assert trade not in said
    with pypdfium2.PdfDocument(made) as document:
        assert tuple(round(side) for side in document[0].get_size()) == A4


def test_equal_cases_give_equal_bytes_and_a_changed_one_does_not(measured_case, technician):
    first = printed(measured_case, PLAIN, whole=True)
    _MADE.clear()  # made anew, not remembered
    assert printed(measured_case, PLAIN, whole=True) == first
    decide(measured_case, Decision(who="M. Ferrow", note="goes ahead"), by=technician, at=NOW)
    assert printed(measured_case, PLAIN, whole=True) != first


def test_the_annex_holds_every_finding_hash_and_what_was_not_tested(measured_case):
    said = " ".join(" ".join(text_of(printed(measured_case, PLAIN, whole=True))).split())
    capture = measured_case.captures.get()
    told = (
        capture.sha256, capture.name, "What was not tested", "Secondary voltage", "Fuel trim", "Every finding",
        "The last seal of its journal begins with", "Tess Test",
    )  # fmt: skip
    for words in told:
        assert words.lower() in said.lower(), words


def test_a_long_complaint_and_many_pictures_stay_on_one_page(measured_case, technician):
    measured_case.complaint = "It shakes and smells when it rains, and then again it does not. " * 40
    measured_case.save()
    for seed in range(4):
        keep_picture(measured_case, photo(seed=seed, width=300, height=600), words="a plug", by=technician, at=NOW)
    made = printed(measured_case, PLAIN, whole=False)
    assert len(text_of(made)) == 1
    assert "…" in text_of(made)[0]
    annex = " ".join(" ".join(text_of(printed(measured_case, PLAIN, whole=True))).split())
    assert measured_case.complaint.strip()[-60:] in annex


def test_the_choice_the_signature_and_the_marked_picture_are_on_it(measured_case, technician, pixels_of):
    bare = printed(measured_case, PLAIN, whole=False)
    picture = keep_picture(measured_case, photo(width=400, height=300), words="Boot of 3", by=technician, at=NOW)
    mark_picture(picture, [{"kind": "cylinder", "x": 0.5, "y": 0.5, "cylinder": 3}], by=technician, at=NOW)
    decision = Decision(
        who="M. Ferrow", way=Way.IN_PERSON, agreed=frozenset({Agreement.REPAIR}), option="a new coil", up_to="200"
    )
    decide(measured_case, decision, signature=photo("PNG", width=300, height=90), by=technician, at=NOW)
    made = printed(measured_case, PLAIN, whole=False)
    (said,) = text_of(made)
    assert "M. Ferrow" in said
    assert "Boot of 3" in said
    assert "Not decided yet." not in said
    with pikepdf.open(io.BytesIO(made)) as pdf:
        assert len(pdf.pages[0].get_images()) == 2  # the boot and the signature
    (before,), (after,) = pixels_of(bare), pixels_of(made)
    assert (after < 250).mean() > (before < 250).mean()


@pytest.mark.parametrize("order", ORDERS, ids=len)
def test_engines_of_any_size_are_whole_on_paper(technician, shop, order, pixels_of):
    engine = even_engine(order, label="Hollin Drover")
    case = open_case(Intake(title="Bus", vehicle="Bus", engine=engine), by=technician, at=NOW)
    keep_capture(case, cranking(engine, {2: 0.1}), by=technician, at=NOW)
    made = printed(case, PLAIN, whole=True)
    pages = text_of(made)
    assert "What was found" in pages[0]
    head = next(page for page in pages if "Figures per cylinder" in page)
    assert all(str(c) in head.split() for c in order)
    for page in pixels_of(made):  # nothing runs over the edge of the paper
        assert (page[:, :20] == 255).all()
        assert (page[:, -20:] == 255).all()


def test_words_somebody_typed_run_nowhere_and_fetch_nothing(measured_case, technician):
    hostile = "<img src='http://127.0.0.1:9/x'><script>alert(1)</script>{{ sheet }}"
    measured_case.complaint = hostile
    measured_case.save()
    html = html_of(measured_case, PLAIN, whole=True)
    assert "<script" not in html
    assert "src='http" not in html
    assert "&lt;script&gt;" in html
    said = "".join(" ".join(text_of(printed(measured_case, PLAIN, whole=False))).split())
    assert "<script>alert(1)</script>{{sheet}}" in said


def test_readings_of_a_person_with_other_units_are_told_in_them(measured_case, technician):
    data = {"pressures": [{"cylinder": c, "pressure": 900_000.0} for c in (1, 2, 3, 4)]}
    kept = add_observation(measured_case, test="compression_gauge", data=data, by=technician, at=NOW)
    assert kept.pk
    plain = html_of(measured_case, PLAIN, whole=True)
    assert plain.count("<article") == 2
