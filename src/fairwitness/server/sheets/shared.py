"""What a link shows to whoever has it: a page and its PDF, without an account, and nothing else of the program."""

from __future__ import annotations

from django.http import HttpResponse, HttpResponseNotFound
from django.utils import timezone
from drf_spectacular.utils import extend_schema
from rest_framework.permissions import AllowAny
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from fairwitness.core.messages.rendering import Display
from fairwitness.server.accounts.throttling import AttemptsFromAddress
from fairwitness.server.headers import framed_page
from fairwitness.server.sheets import languages, links, pages
from fairwitness.server.sheets import workshop as shops
from fairwitness.server.sheets.api import pdf_answer
from fairwitness.server.sheets.models import SheetLink

NOTHING_HERE = (
    "<!doctype html><html lang='en'><meta charset='utf-8'><meta name='robots' content='noindex'>"
    "<title>Nothing here</title><p>There is nothing here. The link may have expired or been revoked: ask the workshop "
    "for a new one.</p></html>"
)


class LinkGuesses(AttemptsFromAddress):
    """Wrong links from one address: looking at a good one is never counted."""

    scope = "open a link"
    num_requests: int

    def allow_request(self, request: Request, view: APIView) -> bool:
        """Count reads too: a guess is one."""
        self.key, self.now = self.get_cache_key(request, view), self.timer()
        self.history = [t for t in self.cache.get(self.key, []) if t > self.now - self.duration]
        return bool(len(self.history) < self.num_requests)

    def get_cache_key(self, request: Request, view: APIView) -> str:
        """The address."""
        return f"links-from-{self.get_ident(request)}"


class SharedView(APIView):
    """A link's page."""

    authentication_classes: list[type] = []
    permission_classes = [AllowAny]
    throttle_classes = [LinkGuesses]
    what = "page"

    @extend_schema(exclude=True)
    def get(self, request: Request, secret: str) -> HttpResponse | Response:
        """The sheet as a page, while the link is good; the same answer to everything else."""
        now = timezone.now()
        link = links.opened(secret, at=now)
        if link is None:
            LinkGuesses().failed(request, self)
            return _private(HttpResponseNotFound(NOTHING_HERE, content_type="text/html; charset=utf-8"))
        links.write_opening(link, what=self.what, address=LinkGuesses().get_ident(request) or "", at=now)
        return _private(self.answer(link))

    def answer(self, link: SheetLink) -> HttpResponse:
        """The page."""
        display, language = _display(link)
        html = pages.html_of(link.case, display, whole=link.whole, language=language, paper="sheet.pdf")
        return HttpResponse(html, content_type="text/html; charset=utf-8")


class SharedPdfView(SharedView):
    """A link's PDF."""

    what = "pdf"

    def answer(self, link: SheetLink) -> HttpResponse:
        """The PDF."""
        display, language = _display(link)
        return pdf_answer(pages.printed(link.case, display, whole=link.whole, language=language), link.case)


def _display(link: SheetLink) -> tuple[Display, str]:
    """In the shop's language, in the units of whoever made the link."""
    language = shops.workshop().language
    return languages.display_in(language, link.made_by.units), language or languages.ENGLISH


def _private(answer: HttpResponse) -> HttpResponse:
    """Kept by nobody on the way, told to nobody further, found by no search engine."""
    answer["Cache-Control"] = "no-store, private"
    answer["Referrer-Policy"] = "no-referrer"
    answer["X-Robots-Tag"] = "noindex, nofollow, noarchive"
    return framed_page(answer)
