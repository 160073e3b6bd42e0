"""The owner's sheet as PDF against the standard of accessible PDF, read with a library that did not write it.

Clauses are those of ISO 14289-1:2014 (PDF/UA-1); structure types those of ISO 32000-1:2008, 14.8.4.
"""

import io

import pikepdf
import pypdfium2
import pytest
from django.utils import timezone

from fairwitness.core.messages.rendering import PLAIN
from fairwitness.core.model.engine import even_engine
from fairwitness.server.accounts.models import Role, User
from fairwitness.server.captures.services import keep_capture
from fairwitness.server.cases.services import Intake, open_case
from fairwitness.server.sheets.pages import printed
from tests.conftest import cranking

EMBEDDED = ("/FontFile", "/FontFile2", "/FontFile3")
ORDINARY = {"/Document", "/Art", "/Sect", "/Div", "/Part", "/P", "/H1", "/H2", "/H3", "/L", "/LI", "/Lbl", "/LBody",
            "/Table", "/THead", "/TBody", "/TFoot", "/TR", "/TH", "/TD", "/Figure", "/Caption", "/Span", "/NonStruct",
            "/Link", "/Form", "/BlockQuote", "/Quote", "/Note", "/Reference", "/Code"}  # fmt: skip


@pytest.fixture
def pdf(db):
    by = User.objects.create_user("tess", role=Role.TECHNICIAN)
    engine = even_engine((1, 3, 4, 2), label="Hollin Drover 2.0")
    case = open_case(Intake(title="Bus 3", vehicle="Bus 3", engine=engine), by=by, at=timezone.now())
    keep_capture(case, cranking(engine, {3: 0.05}), by=by, at=timezone.now())
    made = printed(case, PLAIN, whole=True)
    with pikepdf.open(io.BytesIO(made)) as opened:
        opened.made = made
        yield opened


def elements(node):
    """Every element of the tree of structure, with its depth first."""
    kids = node.get("/K", [])
    for kid in kids if isinstance(kids, pikepdf.Array) else [kids]:
        if isinstance(kid, pikepdf.Dictionary) and "/S" in kid:
            yield kid
            yield from elements(kid)


def test_it_says_that_it_is_tagged_and_accessible(pdf):
    """Clauses 5 and 7.1: version identified, MarkInfo, title shown, language set."""
    assert pdf.Root.MarkInfo.Marked
    assert pdf.Root.Lang == "en"
    assert pdf.Root.ViewerPreferences.DisplayDocTitle
    with pdf.open_metadata() as told:
        assert str(told["pdfuaid:part"]) == "1"
        assert "What was found" in told["dc:title"]


def test_every_font_is_embedded(pdf):
    """Clause 7.21.4.1: font programs are embedded."""
    seen = 0
    for page in pdf.pages:
        for font in page.Resources.get("/Font", {}).values():
            one = font.DescendantFonts[0] if "/DescendantFonts" in font else font
            assert any(key in one.FontDescriptor for key in EMBEDDED), font.BaseFont
            assert "/ToUnicode" in font  # clause 7.21.7: text can be read back
            seen += 1
    assert seen


def test_its_structure_is_of_the_usual_types_and_figures_are_described(pdf):
    """Clauses 7.1 (standard types), 7.3 (alternative text of figures), 7.5 (headers of tables)."""
    found = list(elements(pdf.Root.StructTreeRoot))
    kinds = {str(e.S) for e in found}
    assert kinds <= ORDINARY
    assert {"/H1", "/Table", "/TH", "/L", "/LI"} <= kinds
    described = [e for e in found if e.S == "/Figure"]
    assert all(str(e.get("/Alt", "")) for e in described)


def test_its_text_reads_in_the_order_of_the_page(pdf):
    """Searchable: another library finds the words, headings before what they head."""
    with pypdfium2.PdfDocument(pdf.made) as document:
        said = " ".join(document[0].get_textpage().get_text_range().split())
    places = [said.index(words) for words in ("What was found", "What we checked", "What to watch", "Please note")]
    assert places == sorted(places)
