"""The last step of every answer: messages become words for whoever asked."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from rest_framework.renderers import JSONRenderer

from fairwitness.core.messages.rendering import PLAIN, spoken
from fairwitness.server.accounts.display import display_of


class SpokenRenderer(JSONRenderer):
    """JSON in which every message is said in the reader's words and units."""

    def render(
        self, data: Any, accepted_media_type: str | None = None, renderer_context: Mapping[str, Any] | None = None
    ) -> bytes:
        """Put messages into words, then write JSON."""
        request = (renderer_context or {}).get("request")
        said = spoken(data, display_of(request) if request is not None else PLAIN)
        try:
            written: bytes = super().render(said, accepted_media_type, renderer_context)
        except UnicodeEncodeError:  # half a surrogate pair, stored before such characters were refused
            written = _Escaping().render(said, accepted_media_type, renderer_context)
        return written


class _Escaping(JSONRenderer):
    """JSON of ASCII alone."""

    ensure_ascii = True
