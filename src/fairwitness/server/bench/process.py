"""The process that holds the benches where several answer: started beside them, and started again when it dies."""

from __future__ import annotations

import os
import subprocess
import sys
import threading
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

SOCKET = "FAIRWITNESS_BENCH_SOCKET"
PAUSE_S = 1.0
"""Before it is started again."""
LEAVES_WITHIN_S = 10.0


@contextmanager
def bench_process(folder: Path) -> Iterator[Path]:
    """Run the process of the benches, and let this one and its workers know where it listens.

    Parameters
    ----------
    folder : Path
        Of the workshop's data; the socket lies in it.

    Yields
    ------
    Path
        The socket.
    """
    socket = folder / "bench.sock"
    own = {key: value for key, value in os.environ.items() if key != SOCKET}
    command = [sys.executable, "-m", "uvicorn", "fairwitness.server.asgi:application", "--uds", str(socket),
               "--log-level", "warning"]  # fmt: skip
    stop = threading.Event()
    running: list[subprocess.Popen[bytes]] = []

    def hold() -> None:
        while not stop.is_set():
            running[:] = [subprocess.Popen(command, env=own)]
            running[0].wait()
            stop.wait(PAUSE_S)

    os.environ[SOCKET] = str(socket)
    keeping = threading.Thread(target=hold, name="bench", daemon=True)
    keeping.start()
    try:
        yield socket
    finally:
        stop.set()
        for process in running:
            process.terminate()
        keeping.join(LEAVES_WITHIN_S)
        os.environ.pop(SOCKET, None)
        socket.unlink(missing_ok=True)
