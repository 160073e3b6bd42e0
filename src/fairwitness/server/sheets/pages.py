"""From a case to the page that is printed: one template, as HTML for a browser and as PDF for everything else.

Equal content gives equal bytes: no clock is read, the fonts are our own, and the identifier of a PDF is the hash of its
page.
"""

from __future__ import annotations

import base64
import hashlib
from collections.abc import Mapping
from dataclasses import dataclass
from functools import cache
from importlib.resources import files
from typing import Any

from django.template.loader import render_to_string

from fairwitness.core.errors import FairWitnessError
from fairwitness.core.messages.rendering import Display
from fairwitness.formats.engine_block import read_engine
from fairwitness.server.cases.evidence import concluded
from fairwitness.server.cases.models import StoredCase
from fairwitness.server.sheets.annex import annex_of
from fairwitness.server.sheets.content import MOST_SHORT, Sheet, say_label, sheet_of
from fairwitness.server.sheets.languages import ENGLISH

FONT_FILES = (
    ("Sheet", 400, "sheet-400.woff2"),
    ("Sheet", 700, "sheet-700.woff2"),
    ("Sheet More", 400, "sheet-ext-400.woff2"),
    ("Sheet More", 700, "sheet-ext-700.woff2"),
    ("Signs", 400, "signs-400.woff2"),
)
"""Text, further letters, and signs that these lack: ohm, arrows, Greek and Cyrillic."""
VARIANT = "pdf/ua-1"
"""Tagged, with title and language: read aloud in the right order."""


class PrintingError(FairWitnessError):
    """A PDF cannot be made on this machine."""


@dataclass(frozen=True, slots=True)
class Printed:
    """What is handed over.

    Parameters
    ----------
    html : str
        Complete, with fonts and pictures inside.
    pdf : bytes
    pages : int
    """

    html: str
    pdf: bytes
    pages: int


def html_of(case: StoredCase, display: Display, *, whole: bool, language: str = ENGLISH, paper: str = "") -> str:
    """The page for a browser, as long as it gets; paper is the matter of ``printed``.

    Parameters
    ----------
    case : StoredCase
    display : Display
    whole : bool
        With the annex.
    language : str
        Of the page, as HTML names it.
    paper : str
        Address of the same on paper; a link to it is shown on a screen.

    Returns
    -------
    str
    """
    sheet, more = _gathered(case, display, whole=whole)
    return _page(sheet, {**more, "paper": paper}, display, language)


def printed(case: StoredCase, display: Display, *, whole: bool, language: str = ENGLISH) -> Printed:
    """The page on paper: the owner's sheet on one side of A4, shortened until it fits, the annex behind it.

    Raises
    ------
    PrintingError
        The library for text layout is missing.
    """
    sheet, more = _gathered(case, display, whole=whole)
    fitting = sheet
    for step in range(1, MOST_SHORT + 1):
        if _pages_of(_page(fitting, {}, display, language)) == 1:
            break
        fitting = sheet.shorter(step)
    html = _page(fitting, more, display, language)
    document = _rendered(html)
    pdf: bytes = document.write_pdf(
        pdf_variant=VARIANT, pdf_identifier=hashlib.sha256(html.encode()).digest()[:16], pdf_tags=True
    )
    return Printed(html=html, pdf=pdf, pages=len(document.pages))


def _gathered(case: StoredCase, display: Display, *, whole: bool) -> tuple[Sheet, Mapping[str, Any]]:
    engine, diagnosis = read_engine(case.engine), concluded(case)
    sheet = sheet_of(case, diagnosis, engine, display)
    return sheet, {"annex": annex_of(case, diagnosis, engine, display)} if whole else {}


def _page(sheet: Sheet, more: Mapping[str, Any], display: Display, language: str) -> str:
    given = {"sheet": sheet, "say": say_label(display), "lang": language, "fonts": _fonts(), **more}
    return render_to_string("sheets/sheet.html", given)


@cache
def _fonts() -> list[dict[str, object]]:
    """Fonts as they are written into the page."""
    folder = files("fairwitness.server.sheets") / "fonts"
    return [
        {"family": family, "weight": weight, "data": base64.b64encode((folder / name).read_bytes()).decode()}
        for family, weight, name in FONT_FILES
    ]


def _pages_of(html: str) -> int:
    return len(_rendered(html).pages)


def _rendered(html: str) -> Any:
    """Laid out by WeasyPrint, which needs Pango on the machine; nothing but what is inside the page is fetched."""
    try:
        from weasyprint import HTML  # here, so that all else works where Pango is missing
        from weasyprint.urls import URLFetcher
    except OSError as error:
        raise PrintingError(
            "A PDF cannot be made: the text layout library Pango is missing.",
            remedy="Install Pango on the server, or print the page from the browser.",
        ) from error
    return HTML(string=html, url_fetcher=URLFetcher(allowed_protocols=("data",))).render()
