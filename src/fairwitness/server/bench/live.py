"""Live traces and state over WebSocket: JSON when something changed, samples as binary while they come in."""

from __future__ import annotations

import asyncio
import json
import struct
from typing import Any

from channels.db import database_sync_to_async
from channels.generic.websocket import AsyncWebsocketConsumer
from django.core.exceptions import PermissionDenied
from django.urls import path, re_path

from fairwitness.core.messages.rendering import Display, spoken
from fairwitness.server.accounts.display import display_for
from fairwitness.server.accounts.models import User
from fairwitness.server.accounts.permissions import may
from fairwitness.server.accounts.sessions import is_somebodys
from fairwitness.server.bench.recording import LivePart, Recording
from fairwitness.server.bench.services import bench_of, case_of
from fairwitness.server.bench.session import BenchSession
from fairwitness.server.bench.words import describe

FRAME_S = 1 / 33
"""Between looks; the picture needs 25 a second."""
STATE_S = 0.5
"""State goes out at least so often while the engine turns: the clocks move."""
STILL_S = 2.0
"""So often it is asked whether whoever looks on may still do so."""
HEAD = struct.Struct("<IIII")
"""Number of the recording, first sample, samples per column, channels; then float32 lows and highs per channel."""
UNKNOWN_PERSON = 4401
NO_SUCH_ADDRESS = 4404


class LiveBench(AsyncWebsocketConsumer):
    """One onlooker of one person's bench."""

    async def connect(self) -> None:
        """Only for whoever may work at the bench."""
        user = self.scope.get("user")
        if not isinstance(user, User):
            await self.close(UNKNOWN_PERSON)
            return
        try:
            bench = bench_of(user)
        except PermissionDenied:
            await self.close(UNKNOWN_PERSON)
            return
        await self.accept()
        showing = self._show(bench, display_for(user, self._accepted()))
        self._tasks = [asyncio.create_task(t) for t in (showing, self._watch_over(user))]

    async def disconnect(self, code: int) -> None:
        """Stop showing."""
        for task in getattr(self, "_tasks", ()):
            task.cancel()

    async def _watch_over(self, user: User) -> None:
        """Close once the person was blocked, lost the role or logged out."""
        key = getattr(self.scope.get("session"), "session_key", None)
        while await database_sync_to_async(_still_may)(user.pk, key):
            await asyncio.sleep(STILL_S)
        await self.close(UNKNOWN_PERSON)

    async def _show(self, bench: BenchSession, display: Display) -> None:
        reported, told_at = -1, 0.0
        shown: Recording | None = None
        number = first = 0
        clock = asyncio.get_running_loop().time
        while True:
            recording = bench.recording
            if recording is not shown:
                shown, number, first = recording, number + 1, 0
            if shown is not None:
                part = shown.since(first)
                if part.values.shape[1]:
                    first += part.values.shape[1] // 2 * part.step
                    await self.send(bytes_data=frame(number, part))
            moving = bench.bay is not None and bench.bay.motion != "off"
            if bench.version != reported or (moving and clock() - told_at > STATE_S):
                reported, told_at = bench.version, clock()
                await self.send(text_data=json.dumps(await _state(bench, display)))
            await asyncio.sleep(FRAME_S)

    def _accepted(self) -> str:
        headers: list[tuple[bytes, bytes]] = self.scope.get("headers", [])
        return next((value.decode("latin-1") for name, value in headers if name == b"accept-language"), "")


def _still_may(person_id: int, session_key: str | None) -> bool:
    user = User.objects.filter(pk=person_id).first()
    if user is None or not may(user, "add_evidence"):
        return False
    return session_key is None or is_somebodys(session_key)


async def _state(bench: BenchSession, display: Display) -> dict[str, Any]:
    said: dict[str, Any] = spoken(await database_sync_to_async(_described)(bench), display)
    return said


def _described(bench: BenchSession) -> dict[str, Any]:
    case = case_of(bench)
    return describe(bench, title=case.title if case else "")


def frame(number: int, part: LivePart) -> bytes:
    """One binary message."""
    return HEAD.pack(number, part.first, part.step, part.values.shape[0]) + part.values.astype("<f4").tobytes()


class NoSuchAddress(AsyncWebsocketConsumer):
    """Any other address."""

    async def connect(self) -> None:
        """Close, as there is nothing here."""
        await self.close(NO_SUCH_ADDRESS)


LIVE_ROUTES = [path("ws/bench/", LiveBench.as_asgi()), re_path(r"", NoSuchAddress.as_asgi())]
