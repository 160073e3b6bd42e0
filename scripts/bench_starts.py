"""Figures of starting: the command line, and the demo for the second time."""

from __future__ import annotations

import os
import resource
import signal
import subprocess
import sys
import tempfile
import time
from collections.abc import Sequence
from pathlib import Path

import numpy as np
from bench_signals import Figure
from browser import ROOT, free_port, wait_for

STARTS = 5
HEAVY = "import numpy, scipy.signal"
SECONDS_TO_START = 300.0


def start_figures() -> list[Figure]:
    """Processor time of a command that needs nothing, and what somebody waits who starts the demo once more."""
    beside = [
        (
            processor_s([str(Path(sys.executable).with_name("fairwitness")), "--help"]),
            processor_s([sys.executable, "-c", HEAVY]),
        )
        for _ in range(STARTS + 1)
    ][1:]
    ratio = float(np.median([ours / heavy for ours, heavy in beside]))
    with tempfile.TemporaryDirectory(prefix="fw-demo-") as data:
        demo_s(data)
        again = demo_s(data)
    return [
        Figure("start of the command line, processor time", HEAVY, ratio, "x", 1.5),
        Figure("make demo, second start, until it answers", "", again, "s", 4.0),
    ]


def processor_s(command: Sequence[str]) -> float:
    """Processor time of a process from start to end, s."""
    before = resource.getrusage(resource.RUSAGE_CHILDREN)
    subprocess.run(command, check=True, stdout=subprocess.DEVNULL, cwd=ROOT)
    after = resource.getrusage(resource.RUSAGE_CHILDREN)
    return after.ru_utime + after.ru_stime - before.ru_utime - before.ru_stime


def demo_s(data: str) -> float:
    """Start the demo as somebody does, wait until it answers, stop it, and say how long it took, s."""
    port = free_port()
    left_out = ("FAIRWITNESS_DATA", "DJANGO_SETTINGS_MODULE", "FAIRWITNESS_PLAIN_HTTP")
    env = {key: value for key, value in os.environ.items() if key not in left_out}
    begin = time.perf_counter()
    demo = subprocess.Popen(
        ["make", "-s", "demo", f"PORT={port}", f"DEMO_DATA={data}"], cwd=ROOT, env=env, start_new_session=True
    )
    try:
        wait_for(f"http://127.0.0.1:{port}", SECONDS_TO_START)
        return time.perf_counter() - begin
    finally:
        os.killpg(demo.pid, signal.SIGTERM)
        demo.wait(20)
