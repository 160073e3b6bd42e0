"""A workshop as an installation serves it, and people who work there over HTTP."""

from __future__ import annotations

import json
import os
import signal
import socket
import subprocess
import sys
import time
import urllib.error
import urllib.request
import uuid
from collections.abc import Callable
from http.cookiejar import CookieJar
from pathlib import Path
from typing import Any

PASSWORD = "a-long-test-word"
CLI = (sys.executable, "-m", "fairwitness.cli")
SECONDS, PATIENCE = 60.0, 90.0
PIECE = 4 * 1024 * 1024


def free_port() -> int:
    """A port nobody listens on."""
    with socket.socket() as probe:
        probe.bind(("127.0.0.1", 0))
        return int(probe.getsockname()[1])


def until(holds: Callable[[], object], what: str, *, seconds: float = SECONDS) -> None:
    """Until it holds."""
    deadline = time.monotonic() + seconds
    while not holds():
        if time.monotonic() > deadline:
            raise TimeoutError(what)
        time.sleep(0.02)


def children_of(process: int) -> list[int]:
    """Processes that another one started and that still work."""
    found = []
    for entry in Path("/proc").glob("[0-9]*/stat"):
        try:
            fields = entry.read_text().rsplit(")", 1)[1].split()
        except OSError:
            continue  # it ended meanwhile
        if int(fields[1]) == process and fields[0] != "Z":
            found.append(int(entry.parent.name))
    return found


class Shop:
    """One workshop: its folder, and the server while it runs."""

    def __init__(self, folder: Path, *, workers: int = 1, **settings: str) -> None:
        kept = {k: v for k, v in os.environ.items() if not k.startswith(("FAIRWITNESS", "DJANGO"))}
        self.env = kept | {"FAIRWITNESS_PLAIN_HTTP": "1", "FAIRWITNESS_DATA": str(folder), **settings}
        self.folder, self.workers, self.port = folder, workers, free_port()
        self.address = f"http://127.0.0.1:{self.port}"
        self.server: subprocess.Popen[str] | None = None

    def begin(self) -> subprocess.Popen[str]:
        """Have it start, and wait for nothing."""
        words = [*CLI, "serve", "--workers", str(self.workers), "--port", str(self.port)]
        self.server = subprocess.Popen(words, env=self.env, stdout=subprocess.PIPE, text=True)
        return self.server

    def start(self) -> str:
        """Serve; gives the first line that is printed."""
        self.begin()
        line = self.server.stdout.readline() if self.server.stdout else ""
        until(self.answers, "the server answers")
        return line

    def answers(self) -> bool:
        """Whether it is ready."""
        try:
            with urllib.request.urlopen(f"{self.address}/health/ready/", timeout=5) as said:
                return bool(said.status == 200)
        except OSError:
            return False

    def end(self, how: int = signal.SIGTERM) -> int:
        """Stop the server; gives its code."""
        if self.server is None:
            return 0
        self.server.send_signal(how)
        code = self.server.wait(60)
        if self.server.stdout:
            self.server.stdout.close()
        return code

    def command(self, *words: str, typed: str = "") -> subprocess.CompletedProcess[str]:
        """A command of the command line."""
        return subprocess.run([*CLI, *words], env=self.env, input=typed, capture_output=True, text=True, check=False)

    def add(self, username: str, role: str = "technician") -> Person:
        """Somebody who works here, logged in."""
        self.command("users", "add", username, "--role", role, typed=PASSWORD)
        return self.enter(username)

    def enter(self, username: str) -> Person:
        """Somebody known, logged in."""
        person = Person(self.address)
        person.ask("/api/session/")
        person.ask("/api/session/", {"username": username, "password": PASSWORD})
        return person


class RefusedError(Exception):
    """A file that was not taken."""

    def __init__(self, status: int, said: Any) -> None:
        self.status, self.said = status, said
        super().__init__(said)


class Person:
    """Cookies, the token, and a fresh connection for every request, so that every worker is asked."""

    def __init__(self, address: str) -> None:
        self.address, self.jar = address, CookieJar()
        self._opener = urllib.request.build_opener(urllib.request.HTTPCookieProcessor(self.jar))

    def ask(self, path: str, body: Any = None, method: str | None = None) -> tuple[int, Any]:
        """Ask; gives the status and what was said."""
        data = None if body is None else json.dumps(body).encode()
        return self._said(path, data, "application/json", method)

    def send_file(
        self, path: str, name: str, data: bytes, *, seconds: float = PATIENCE, **fields: str
    ) -> tuple[int, Any]:
        """Send a file of a form."""
        line = uuid.uuid4().hex
        parts = [f'--{line}\r\nContent-Disposition: form-data; name="{k}"\r\n\r\n{v}\r\n' for k, v in fields.items()]
        head = f'--{line}\r\nContent-Disposition: form-data; name="file"; filename="{name}"\r\n\r\n'
        body = "".join(parts).encode() + head.encode() + data + f"\r\n--{line}--\r\n".encode()
        return self._said(path, body, f"multipart/form-data; boundary={line}", "POST", seconds)

    def stage_file(self, case: int, name: str, data: bytes) -> int:
        """Send a file in pieces, going on where it broke off; its number as an import."""
        where = f"/api/cases/{case}/imports/"
        status, held = self.ask(where, {"name": name, "size": len(data), "modified": 0})
        while status in (200, 201) and held["state"] == "arriving":
            there = held["received"]
            to = f"/api/imports/{held['id']}/file/?offset={there}"
            status, held = self._said(to, data[there : there + PIECE], "application/octet-stream", "PUT")
        if status not in (200, 201):
            raise RefusedError(status, held)
        return int(held["id"])

    def keep_file(
        self, case: int, name: str, data: bytes, plan: dict[str, Any], *, seconds: float = PATIENCE
    ) -> tuple[int, Any]:
        """Send a file and have it kept; 201 and the capture's number, or why not."""
        try:
            number = self.stage_file(case, name, data)
        except RefusedError as refused:
            return refused.status, refused.said
        status, held = self.ask(f"/api/imports/{number}/keep/", plan)
        return self.await_kept(number, seconds=seconds) if status == 202 else (status, held)

    def await_kept(self, number: int, *, seconds: float = PATIENCE) -> tuple[int, Any]:
        """Until a file that waits is kept or refused."""
        held: Any = {}

        def ended() -> bool:
            nonlocal held
            held = self.ask(f"/api/imports/{number}/")[1]
            return held["state"] in ("kept", "refused", "cancelled")

        until(ended, f"import {number} ends", seconds=seconds)
        return (201, {"id": held["capture"]}) if held["state"] == "kept" else (400, held["problem"] or held)

    def cookies(self) -> str:
        """As a header."""
        return "; ".join(f"{c.name}={c.value}" for c in self.jar)

    def _said(
        self, path: str, data: bytes | None, kind: str, method: str | None, seconds: float = PATIENCE
    ) -> tuple[int, Any]:
        token = next((c.value or "" for c in self.jar if c.name == "csrftoken"), "")
        asked = urllib.request.Request(
            self.address + path, data, {"X-CSRFToken": token, "Content-Type": kind}, method=method
        )
        try:
            with self._opener.open(asked, timeout=seconds) as said:
                return said.status, _read(said.read())
        except urllib.error.HTTPError as error:
            return error.code, _read(error.read())


def _read(data: bytes) -> Any:
    try:
        return json.loads(data)
    except ValueError:
        return data
