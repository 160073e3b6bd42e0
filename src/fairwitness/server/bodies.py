"""Bodies of requests, before anything is spooled: how large, from whom, and how long one waits for the next piece.

An ASGI layer outside Django, which would write a body to the disk before it asks who sends it.
"""

from __future__ import annotations

import asyncio
import json
from collections.abc import Awaitable, Callable, MutableMapping
from http.cookies import SimpleCookie
from typing import Any

from asgiref.sync import sync_to_async
from django.conf import settings

from fairwitness.server.accounts.sessions import is_somebodys
from fairwitness.server.problems import problem

Message = MutableMapping[str, Any]
Receive = Callable[[], Awaitable[Message]]
Send = Callable[[Message], Awaitable[None]]
Application = Callable[..., Awaitable[None]]

ANONYMOUS_BYTES_MAX = 64 * 1024
"""Enough to log in."""
PAUSE_S = 30.0
"""So long a body may pause."""
MULTIPART = "multipart/form-data"
LOG_IN = problem("not_logged_in", "You are not logged in.", remedy="Log in and send it again.")
TOO_MUCH = problem("too_large", "This is too much at once.", remedy="Send less, or split it.")
TOO_SLOW = problem("too_slow", "The rest did not arrive.", remedy="Send it again.")


class GuardedBodies:
    """Refuses bodies that are too large, too slow, or large and from nobody known.

    Parameters
    ----------
    inner : ASGI application
    pause_s : float
    """

    def __init__(self, inner: Application, *, pause_s: float = PAUSE_S) -> None:
        self._inner = inner
        self._pause_s = pause_s

    async def __call__(self, scope: MutableMapping[str, Any], receive: Receive, send: Send) -> None:
        """Answer one request."""
        if scope["type"] != "http":
            await self._inner(scope, receive, send)
            return
        headers = {name.lower(): value.decode("latin-1") for name, value in scope["headers"]}
        body = _Body(receive, most=await _most(headers), pause_s=self._pause_s)
        said = int(headers.get(b"content-length", "0") or 0) if headers.get(b"content-length", "0").isdigit() else 0
        if said > body.most:
            await refuse(send, *body.too_large())
            return
        answered = False

        async def sending(message: Message) -> None:
            nonlocal answered
            if body.refusal is None or answered:
                answered = True
                await send(message)

        await self._inner(scope, body.receive, sending)
        if body.refusal is not None and not answered:
            await refuse(send, *body.refusal)


class _Body:
    """One body as it comes in."""

    def __init__(self, receive: Receive, *, most: int, pause_s: float) -> None:
        self._receive = receive
        self._pause_s = pause_s
        self._taken = 0
        self._whole = False
        self.most = most
        self.refusal: tuple[int, dict[str, str]] | None = None

    def too_large(self) -> tuple[int, dict[str, str]]:
        """Status and problem of a body beyond its limit."""
        return (403, LOG_IN) if self.most == ANONYMOUS_BYTES_MAX else (413, TOO_MUCH)

    async def receive(self) -> Message:
        """The next piece; what is refused looks to the application as if the sender had gone."""
        if self._whole:  # only the sender's leaving is waited for
            return await self._receive()
        try:
            message = await asyncio.wait_for(self._receive(), self._pause_s)
        except TimeoutError:
            return self._gone(408, TOO_SLOW)
        if message["type"] != "http.request":
            return message
        self._taken += len(message.get("body", b""))
        self._whole = not message.get("more_body", False)
        return message if self._taken <= self.most else self._gone(*self.too_large())

    def _gone(self, status: int, words: dict[str, str]) -> Message:
        self.refusal = (status, words)
        self._whole = True
        return {"type": "http.disconnect"}


async def _most(headers: MutableMapping[bytes, str]) -> int:
    """How large a body may be: a whole package, a piece of a file for anything else, little from nobody known."""
    if not await _known(headers.get(b"cookie", "")):
        return ANONYMOUS_BYTES_MAX
    if headers.get(b"content-type", "").startswith(MULTIPART):
        return int(settings.UPLOAD_BYTES_MAX) + settings.DATA_UPLOAD_MAX_MEMORY_SIZE
    return int(settings.DATA_UPLOAD_MAX_MEMORY_SIZE) + 1


async def _known(cookies: str) -> bool:
    """Whether a session belongs to somebody."""
    if settings.SESSION_COOKIE_NAME not in cookies:
        return False
    held = SimpleCookie(cookies).get(settings.SESSION_COOKIE_NAME)
    return held is not None and bool(await sync_to_async(is_somebodys)(held.value))


async def refuse(send: Send, status: int, words: dict[str, str]) -> None:
    """Answer with a problem, and let the line go."""
    body = json.dumps(words).encode()
    headers = [(b"content-type", b"application/json"), (b"content-length", str(len(body)).encode()),
               (b"connection", b"close")]  # fmt: skip
    await send({"type": "http.response.start", "status": status, "headers": headers})
    await send({"type": "http.response.body", "body": body})
