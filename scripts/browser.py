"""A headless Chromium with a profile of its own, and the application served beside it."""

from __future__ import annotations

import os
import socket
import subprocess
import sys
import tempfile
import time
import urllib.request
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

from selenium.webdriver import Chrome, ChromeOptions
from selenium.webdriver.chrome.service import Service

ROOT = Path(__file__).resolve().parents[1]
SIZE = (1280, 800)
FLAGS = (
    "--headless=new",
    "--no-sandbox",
    "--disable-gpu",
    "--disable-quic",
    "--no-first-run",
    "--disable-background-networking",
    "--disable-component-update",
    "--disable-sync",
    "--disable-dev-shm-usage",
    "--hide-scrollbars",
    "--force-device-scale-factor=1",
    "--force-prefers-reduced-motion",
)


@contextmanager
def browser(downloads: Path | None = None) -> Iterator[Chrome]:
    """A fresh browser window of 1280x800."""
    with tempfile.TemporaryDirectory(prefix="fw-chrome-") as profile:
        options = ChromeOptions()
        options.binary_location = "/usr/bin/chromium"
        for flag in (*FLAGS, f"--user-data-dir={profile}", f"--window-size={SIZE[0]},{SIZE[1]}"):
            options.add_argument(flag)
        options.set_capability("goog:loggingPrefs", {"browser": "ALL"})
        if downloads is not None:
            options.add_experimental_option("prefs", {"download.default_directory": str(downloads)})
        driver = Chrome(options=options, service=Service("/usr/bin/chromedriver"))
        try:
            inner = driver.execute_script("return [window.innerWidth, window.innerHeight]")
            driver.set_window_size(2 * SIZE[0] - inner[0], 2 * SIZE[1] - inner[1])
            yield driver
        finally:
            driver.quit()


def free_port() -> int:
    """A port nobody listens on."""
    with socket.socket() as probe:
        probe.bind(("127.0.0.1", 0))
        return int(probe.getsockname()[1])


@contextmanager
def served(data: Path, *, demo: bool = True) -> Iterator[str]:
    """The application on a database of its own, with the demo data; gives its address."""
    env = {
        "FAIRWITNESS_BENCH_PACE": "2",
        **os.environ,
        "FAIRWITNESS_DATA": str(data),
        "FAIRWITNESS_DEMO": "1" if demo else "0",
    }
    port = free_port()
    manage = [sys.executable, "manage.py"]
    if demo:
        command = [*manage, "demo", "--port", str(port)]
    else:
        for before in (["migrate", "-v0"], ["check"]):
            subprocess.run([*manage, *before], cwd=ROOT, env=env, check=True, stdout=subprocess.DEVNULL)
        where = ["--port", str(port), "--log-level", "warning"]
        command = [sys.executable, "-m", "uvicorn", "fairwitness.server.asgi:application", *where]
    server = subprocess.Popen(command, cwd=ROOT, env=env, stdout=subprocess.DEVNULL)
    try:
        address = f"http://127.0.0.1:{port}"
        wait_for(address, server=server)
        yield address
    finally:
        server.terminate()
        server.wait(10)


def wait_for(address: str, seconds: float = 300.0, *, server: subprocess.Popen[bytes] | None = None) -> None:
    """Until the server answers; the first start makes the demo's cases. A server that has ended answers never."""
    deadline = time.monotonic() + seconds
    while True:
        try:
            with urllib.request.urlopen(f"{address}/api/session/", timeout=2):
                return
        except OSError:
            if time.monotonic() > deadline or (server is not None and server.poll() is not None):
                raise
            time.sleep(0.1)
