"""From a case to the page that is printed: one template, as HTML for a browser and as PDF for everything else.

Equal content gives equal bytes: no clock is read, the fonts are our own, and the identifier of a PDF is the hash of its
page.
"""

from __future__ import annotations

import atexit
import base64
import hashlib
import io
import threading
from collections import OrderedDict
from dataclasses import dataclass
from functools import cache
from importlib.resources import files
from typing import Any

from django.template.loader import render_to_string
from django.utils.safestring import SafeString, mark_safe

from fairwitness.core.errors import FairWitnessError
from fairwitness.core.messages.rendering import Display
from fairwitness.server.cases.evidence import concluded
from fairwitness.server.cases.models import StoredCase
from fairwitness.server.engines.records import engine_of
from fairwitness.server.sheets.annex import Annex, annex_of
from fairwitness.server.sheets.content import MOST_SHORT, Sheet, say_label, sheet_of
from fairwitness.server.sheets.languages import ENGLISH
from fairwitness.server.sheets.workshop import workshop

FONT_FILES = (
    ("Sheet", 400, "sheet-400.woff2"),
    ("Sheet", 700, "sheet-700.woff2"),
    ("Sheet More", 400, "sheet-ext-400.woff2"),
    ("Sheet More", 700, "sheet-ext-700.woff2"),
    ("Signs", 400, "signs-400.woff2"),
)
"""Text, further letters, and signs that these lack: ohm, arrows, Greek and Cyrillic."""
_ONE_AT_A_TIME = threading.Lock()
"""Laying out takes a processor for a second or two, and shares its fonts."""
MADE_KEPT = 8
_MADE: OrderedDict[bytes, bytes] = OrderedDict()
"""The last PDFs by the hash of their pages: a link is opened more than once, and equal pages are equal bytes."""
VARIANT = "pdf/ua-1"
"""Tagged, with title and language: read aloud in the right order."""


class PrintingError(FairWitnessError):
    """A PDF cannot be made on this machine."""


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
    page = _Page(case, display, language)
    sheet, annex = page.gathered(whole=whole)
    return page.html(sheet=sheet, annex=annex, paper=paper, style=_style())


def printed(case: StoredCase, display: Display, *, whole: bool, language: str = ENGLISH) -> bytes:
    """The page on paper: the owner's sheet on one side of A4, shortened until it fits, the annex behind it.

    Returns
    -------
    bytes
        A tagged PDF.

    Raises
    ------
    PrintingError
        The library for text layout is missing.
    """
    page = _Page(case, display, language)
    sheet, annex = page.gathered(whole=whole)
    behind = "" if annex is None else page.html(annex=annex)
    digest = hashlib.sha256((page.html(sheet=sheet) + behind).encode()).digest()
    with _ONE_AT_A_TIME:
        if digest not in _MADE:
            _MADE[digest] = _laid_out(page, sheet, behind, digest)
            while len(_MADE) > MADE_KEPT:
                _MADE.popitem(last=False)
        _MADE.move_to_end(digest)
        return _MADE[digest]


def _laid_out(page: _Page, sheet: Sheet, behind: str, digest: bytes) -> bytes:
    """The sheet on one page, with less and less of it until it fits, then what stands behind it."""
    for step in range(MOST_SHORT + 1):
        document = _rendered(page.html(sheet=sheet.shorter(step) if step else sheet))
        if len(document.pages) == 1:
            break
    if behind:
        document = document.copy([*document.pages, *_rendered(behind).pages])
    pdf: bytes = document.write_pdf(pdf_variant=VARIANT, pdf_identifier=digest[:16], pdf_tags=True)
    return pdf


@dataclass(frozen=True, slots=True)
class _Page:
    """Whose page it is, and how it is read."""

    case: StoredCase
    display: Display
    language: str

    def gathered(self, *, whole: bool) -> tuple[Sheet, Annex | None]:
        """Everything that stands on it."""
        engine, diagnosis = engine_of(self.case), concluded(self.case)
        sheet = sheet_of(self.case, diagnosis, engine, self.display)
        return sheet, annex_of(self.case, diagnosis, engine, self.display) if whole else None

    def html(self, *, sheet: Sheet | None = None, annex: Annex | None = None, paper: str = "", style: str = "") -> str:
        """The template filled; for paper the style comes from outside, where it is read once."""
        given = {"sheet": sheet, "annex": annex, "paper": paper, "style": style, "lang": self.language}
        whose = {"case": self.case.pk, "author": workshop().name, "say": say_label(self.display)}
        return render_to_string("sheets/sheet.html", {**given, **whose})


@cache
def _style() -> SafeString:
    """Fonts and rules; nothing in it was typed by anybody."""
    folder = files("fairwitness.server.sheets")
    faces = [_face(f, w, (folder / "fonts" / name).read_bytes(), "woff2") for f, w, name in FONT_FILES]
    return mark_safe("\n".join([*faces, render_to_string("sheets/sheet.css")]))


@cache
def _read_style() -> tuple[Any, Any]:
    """The style as it is laid out by, and its fonts: unpacking them takes longer than setting a page."""
    from weasyprint import CSS
    from weasyprint.text.fonts import FontConfiguration

    folder, fonts = files("fairwitness.server.sheets") / "fonts", FontConfiguration()
    atexit.register(_read_style.cache_clear)  # it lets go of what the library takes down before it
    faces = [_face(f, w, _unpacked((folder / name).read_bytes()), "ttf") for f, w, name in FONT_FILES]
    rules = "\n".join([*faces, render_to_string("sheets/sheet.css")])
    return CSS(string=rules, font_config=fonts, url_fetcher=_fetcher()), fonts


def _unpacked(woff2: bytes) -> bytes:
    """A font as it is laid out by: packed, it would be unpacked again for every document."""
    from fontTools.ttLib import TTFont

    written = io.BytesIO()
    font = TTFont(io.BytesIO(woff2), recalcTimestamp=False)
    font.flavor = None
    font.save(written)
    return written.getvalue()


def _face(family: str, weight: int, data: bytes, kind: str) -> str:
    source = f"data:font/{kind};base64,{base64.b64encode(data).decode()}"
    return f'@font-face{{font-family:"{family}";font-weight:{weight};src:url({source})}}'


def _rendered(html: str) -> Any:
    """Laid out by WeasyPrint, which needs Pango on the machine; nothing but what is inside the page is fetched."""
    try:
        from weasyprint import HTML  # here, so that all else works where Pango is missing
    except OSError as error:
        raise PrintingError(
            "A PDF cannot be made: the text layout library Pango is missing.",
            remedy="Install Pango on the server, or print the page from the browser.",
        ) from error
    style, fonts = _read_style()
    return HTML(string=html, url_fetcher=_fetcher()).render(stylesheets=[style], font_config=fonts)


def _fetcher() -> Any:
    from weasyprint.urls import URLFetcher

    return URLFetcher(allowed_protocols=("data",))
