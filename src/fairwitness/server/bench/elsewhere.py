"""One process holds the benches; the others hand on what is asked of them.

A bench is a vehicle that turns, a scope and a bus: it cannot be in two processes at once. So every worker passes
requests and live views of the bench to one process, over a socket in the workshop's own folder.
"""

from __future__ import annotations

import asyncio
from collections.abc import MutableMapping
from contextlib import suppress
from pathlib import Path
from typing import Any

import h11
from websockets.asyncio.client import ClientConnection, unix_connect
from websockets.exceptions import ConnectionClosed, InvalidStatus

from fairwitness.server.bodies import Application, Message, Receive, Send, refuse
from fairwitness.server.problems import problem

BENCH_PATHS = ("/api/bench/", "/ws/bench/")
HOP_BY_HOP = {b"connection", b"keep-alive", b"te", b"trailer", b"transfer-encoding", b"upgrade", b"content-length"}
HANDSHAKE = (b"cookie", b"origin", b"accept-language", b"user-agent", b"x-forwarded-for", b"x-forwarded-proto")
PIECE = 64 * 1024
AWAY = problem("bench_away", "The bench does not answer.", remedy="Wait a moment and try again; it is started anew.")
GONE = 1012
"""Close code of a socket whose service restarts, RFC 6455 registry."""


class BenchElsewhere:
    """Hands everything about the bench to the process that holds it.

    Parameters
    ----------
    inner : ASGI application
        Answers all else.
    socket : Path
        Where the bench's process listens.
    """

    def __init__(self, inner: Application, socket: Path) -> None:
        self._inner = inner
        self._socket = str(socket)

    async def __call__(self, scope: MutableMapping[str, Any], receive: Receive, send: Send) -> None:
        """Answer one request, or show one live view."""
        if not str(scope.get("path", "")).startswith(BENCH_PATHS):
            await self._inner(scope, receive, send)
        elif scope["type"] == "websocket":
            await self._live(scope, receive, send)
        else:
            await self._asked(scope, receive, send)

    async def _asked(self, scope: MutableMapping[str, Any], receive: Receive, send: Send) -> None:
        body = await _whole_body(receive)
        if body is None:
            return
        try:
            reader, writer = await asyncio.open_unix_connection(self._socket)
        except OSError:
            await refuse(send, 503, AWAY)
            return
        answered = False

        async def sending(message: Message) -> None:
            nonlocal answered
            answered = True
            await send(message)

        try:
            await _exchange(reader, writer, _request(scope, body), body, sending)
        except (OSError, h11.RemoteProtocolError):
            if answered:  # a part went out: only breaking off tells that the rest is missing
                raise
            await refuse(send, 503, AWAY)
        finally:
            writer.close()

    async def _live(self, scope: MutableMapping[str, Any], receive: Receive, send: Send) -> None:
        await receive()  # the connect message
        headers = [(n.decode(), v.decode("latin-1")) for n, v in scope["headers"] if n in HANDSHAKE]
        host = next((v.decode("latin-1") for n, v in scope["headers"] if n == b"host"), "localhost")
        # As its origin names it: the host of the address is what the bench's process compares the origin with.
        address = f"ws://{host}{scope['path']}"
        try:
            line = await unix_connect(self._socket, address, additional_headers=headers, max_size=None, proxy=None)
        except (OSError, InvalidStatus):
            await send({"type": "websocket.close", "code": GONE})
            return
        await send({"type": "websocket.accept"})
        tasks = [asyncio.create_task(t) for t in (_down(line, send), _up(line, receive))]
        try:
            await asyncio.wait(tasks, return_when=asyncio.FIRST_COMPLETED)
        finally:
            for task in tasks:
                task.cancel()
            await line.close()


async def _whole_body(receive: Receive) -> bytes | None:
    """What is asked of a bench is small; None where the sender left."""
    parts = []
    while True:
        message = await receive()
        if message["type"] == "http.disconnect":
            return None
        parts.append(message.get("body", b""))
        if not message.get("more_body", False):
            return b"".join(parts)


def _request(scope: MutableMapping[str, Any], body: bytes) -> h11.Request:
    query = scope.get("query_string", b"")
    target = scope.get("raw_path") or scope["path"].encode()
    headers = [(name, value) for name, value in scope["headers"] if name.lower() not in HOP_BY_HOP]
    return h11.Request(
        method=scope["method"],
        target=target + (b"?" + query if query else b""),
        headers=[*headers, (b"content-length", str(len(body)).encode()), (b"connection", b"close")],
    )


async def _exchange(
    reader: asyncio.StreamReader, writer: asyncio.StreamWriter, request: h11.Request, body: bytes, send: Send
) -> None:
    spoken = h11.Connection(h11.CLIENT)
    for part in (request, h11.Data(data=body), h11.EndOfMessage()):
        writer.write(spoken.send(part) or b"")
    await writer.drain()
    while True:
        event = spoken.next_event()
        if event is h11.NEED_DATA:
            spoken.receive_data(await reader.read(PIECE))
        elif isinstance(event, h11.Response):
            kept = [(name, value) for name, value in event.headers if name not in HOP_BY_HOP - {b"content-length"}]
            await send({"type": "http.response.start", "status": event.status_code, "headers": kept})
        elif isinstance(event, h11.Data):
            await send({"type": "http.response.body", "body": bytes(event.data), "more_body": True})
        elif isinstance(event, h11.EndOfMessage):
            await send({"type": "http.response.body", "body": b""})
            return


async def _down(line: ClientConnection, send: Send) -> None:
    with suppress(ConnectionClosed):
        async for said in line:
            key = "text" if isinstance(said, str) else "bytes"
            await send({"type": "websocket.send", key: said})
    with suppress(RuntimeError):  # whoever looked on has left already
        await send({"type": "websocket.close", "code": line.close_code or GONE})


async def _up(line: ClientConnection, receive: Receive) -> None:
    while True:
        message: Message = await receive()
        if message["type"] == "websocket.disconnect":
            return
        text, data = message.get("text"), message.get("bytes")
        await line.send(text if text is not None else data or b"")
