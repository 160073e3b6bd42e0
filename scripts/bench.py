"""Figures of one run as ratios, written to docs/performance.md. See the targets beside each."""

from __future__ import annotations

import os
import platform
import sys
import tempfile
import threading
import time
from pathlib import Path

DATA = tempfile.TemporaryDirectory(prefix="fw-bench-")
os.environ |= {
    "FAIRWITNESS_PLAIN_HTTP": "1",
    "FAIRWITNESS_DATA": DATA.name,
    "DJANGO_SETTINGS_MODULE": "fairwitness.server.settings",
}

from fairwitness.server.keeping.folder import prepare  # noqa: E402

prepare(Path(DATA.name))  # the secret is the server's too

import django  # noqa: E402

django.setup()

import numpy as np  # noqa: E402
import polars as pl  # noqa: E402
from bench_screens import board_figures, first_view_figures, trace_figures  # noqa: E402
from bench_signals import (  # noqa: E402
    FOUR,
    Figure,
    crank_speed_figures,
    cranking,
    ignition_figures,
    median_s,
    once_s,
    reasoning_figures,
    relative_compression_figures,
    simulation_figures,
)
from bench_starts import start_figures  # noqa: E402
from django.core.management import call_command  # noqa: E402
from django.db import connection, transaction  # noqa: E402
from django.test import Client  # noqa: E402
from django.utils import timezone  # noqa: E402

from fairwitness.core.model.capture import CaptureTest, Role, SetUp  # noqa: E402
from fairwitness.core.procedures.specs import CARDS  # noqa: E402
from fairwitness.formats.columns import ColumnUse  # noqa: E402
from fairwitness.formats.csv_capture import look_at, read_capture  # noqa: E402
from fairwitness.formats.file_guess import Kept, capture_of_file  # noqa: E402
from fairwitness.server.accounts.models import Role as Duty  # noqa: E402
from fairwitness.server.accounts.models import User  # noqa: E402
from fairwitness.server.captures import samples  # noqa: E402
from fairwitness.server.captures.models import SampleChunk  # noqa: E402
from fairwitness.server.captures.pyramid import pyramid  # noqa: E402
from fairwitness.server.captures.services import keep_capture  # noqa: E402
from fairwitness.server.cases.models import JournalEntry, StoredCase  # noqa: E402
from fairwitness.server.cases.services import Intake, note, open_case  # noqa: E402

OUT = Path(__file__).resolve().parents[1] / "docs" / "performance.md"
IMPORT_ROUNDS = 9


def converted(values: np.ndarray, reach: float) -> np.ndarray:
    """What a 12-bit converter makes of a voltage."""
    step = 2 * reach / 4096
    return (np.round(values / step) * step).astype(np.float32)


def table(decimal: str) -> bytes:
    """2 M rows by 5 columns: time, current, voltage, sync, another coil."""
    count = 2_000_000
    capture = cranking(250_000.0)
    amps, sync = (np.resize(c.samples, count) for c in capture.channels)
    frame = pl.DataFrame(
        {
            "time": np.arange(count) * 4e-6,
            "clamp": amps.astype(np.float32),
            "battery": converted(12.6 - 0.004 * amps, 20.0),
            "sync": converted(sync, 20.0),
            "coil 2": converted(np.roll(sync, 9000), 20.0),
        }
    ).with_columns(pl.col("time").round(6), pl.exclude("time").round(5))
    if decimal == ",":
        return frame.write_csv(separator=";", decimal_comma=True).encode()
    return frame.write_csv().encode()


USES = (
    ColumnUse(column="time", role=Role.TIME, unit="s"),
    ColumnUse(column="clamp", role=Role.STARTER_CURRENT, unit="A"),
    ColumnUse(column="battery", role=Role.BATTERY_VOLTAGE, unit="V"),
    ColumnUse(column="sync", role=Role.COIL_CONTROL, unit="V", cylinder=1, sync=True),
    ColumnUse(column="coil 2", role=Role.COIL_CONTROL, unit="V", cylinder=2),
)


def import_figures(by: User) -> list[Figure]:
    """A whole import: look, parse, check, fingerprint, measure, pyramid, pack, store, conclude."""

    cases = iter([open_case(Intake(title="bench", engine=FOUR), by=by, at=timezone.now()) for _ in range(40)])

    def bring(data: bytes) -> None:
        case = next(cases)
        look_at(data)
        capture = read_capture(data, USES, name="bench", set_up=SetUp(fuel_disabled=True))
        keep_capture(case, capture, by=by, at=timezone.now())

    plain, comma = table("."), table(",")
    bring(plain)
    taken = [
        (once_s(lambda: pl.read_csv(plain)), once_s(lambda: bring(plain)), once_s(lambda: bring(comma)))
        for _ in range(IMPORT_ROUNDS)
    ]  # in turn, so that a machine that slows down slows all three
    import_ratio = float(np.median([whole / read for read, whole, _ in taken]))
    comma_ratio = float(np.median([commas / whole for _, whole, commas in taken]))
    looks = [
        once_s(lambda: look_at(plain))
        / once_s(lambda: read_capture(plain, USES, name="bench", set_up=SetUp(fuel_disabled=True)))
        for _ in range(IMPORT_ROUNDS)
    ]
    look_ratio = float(np.median(looks))
    raw = 4 * 4 * 2_000_000
    packed = sum(
        len(chunk.data)
        for chunk in SampleChunk.objects.filter(
            channel__capture=StoredCase.objects.filter(captures__isnull=False).first().captures.get()
        )
    )
    return [
        Figure("CSV import, 2 M rows x 5 columns, whole", "polars.read_csv of the same file", import_ratio, "x", 1.8),
        Figure("decimal-comma import", "plain import", comma_ratio, "x", 1.1),
        Figure("a look at that file before it is kept", "reading it", look_ratio, "x", 0.5),
        Figure("stored size with pyramid, lossless", "raw float32", packed / raw, "x", 0.35),
    ]


def sample_figures(by: User) -> list[Figure]:
    """Pyramid, windows, the window endpoint."""
    values = [np.random.default_rng(i).normal(size=2_000_000).astype(np.float32) for i in range(4)]
    copying = median_s(lambda: [v.copy() for v in values])
    building = median_s(lambda: [pyramid(v) for v in values])
    case = open_case(Intake(title="bench window", engine=FOUR), by=by, at=timezone.now())
    stored = keep_capture(case, cranking(250_000.0), by=by, at=timezone.now())
    channel = stored.channels.get(position=0)
    window = median_s(lambda: samples.read_span(channel, 0, 500_000, 520_000), 40)
    client = Client(SERVER_NAME="localhost")
    client.force_login(by)
    url = f"/api/captures/{stored.pk}/window/?from_s=2&to_s=4&points=2000"
    binary = median_s(lambda: client.get(url), 60)
    empty = median_s(lambda: client.get("/api/session/"), 60)
    return [
        Figure("min/max pyramid of 4 x 2 M samples", "copy of the same arrays", building / copying, "x", 3.0),
        Figure("window of 20 k samples, read and unpacked", "", 1000 * window, "ms", 1.5),
        Figure("binary window endpoint of two channels, median", "nearly empty view", binary / empty, "x", 2.5),
    ]


def long_import_figures(by: User) -> list[Figure]:
    """A Parquet file of 4 x 50 M samples kept as a capture, and the memory it takes."""
    held = cranking(500_000.0)
    count = 50_000_000
    path = Path(DATA.name) / "long.parquet"
    frame = {f"c{i}": np.resize(np.roll(held.channels[i % 2].samples, i), count) for i in range(4)}
    pl.DataFrame(frame).write_parquet(path)
    del frame
    uses = [
        ColumnUse(column="c0", role=Role.STARTER_CURRENT, unit="A"),
        ColumnUse(column="c1", role=Role.COIL_CONTROL, unit="V", cylinder=1, sync=True),
        ColumnUse(column="c2", role=Role.CAM_SENSOR, unit="V"),
        ColumnUse(column="c3", role=Role.CRANK_SENSOR, unit="V"),
    ]
    set_up = CARDS[CaptureTest.RELATIVE_COMPRESSION].recorded(hot=False)
    case = open_case(Intake(title="bench long", engine=FOUR), by=by, at=timezone.now())
    before, peak, over = own_memory_mb(), [0.0], threading.Event()

    def watch() -> None:
        while not over.wait(0.02):
            peak[0] = max(peak[0], own_memory_mb())

    watcher = threading.Thread(target=watch)
    watcher.start()
    begin = time.perf_counter()
    capture = capture_of_file(path, uses, Kept(name="long", set_up=set_up, sample_rate_hz=500_000.0))
    keep_capture(case, capture, by=by, at=timezone.now())
    taken = time.perf_counter() - begin
    over.set()
    watcher.join()
    return [
        Figure("200 M samples imported: memory of its own at the worst", "", peak[0] - before, "MB", 400.0),
        Figure("200 M samples imported, measured and packed", "", taken, "s", 120.0),
    ]


def own_memory_mb() -> float:
    """Memory that belongs to this process alone; files mapped in are the system's to drop."""
    line = next(t for t in Path("/proc/self/status").read_text().splitlines() if t.startswith("RssAnon"))
    return int(line.split()[1]) / 1024


def list_figures(by: User) -> list[Figure]:
    """The yard with 5,000 cases."""
    model = StoredCase.objects.first()
    StoredCase.objects.bulk_create(
        [
            StoredCase(
                name=f"case {i}",
                title=f"Case {i}",
                vehicle=f"Minibus {i}",
                engine=model.engine,
                diagnosis=model.diagnosis,
                headline=model.headline,
                verdict_status=model.verdict_status,
                cause=model.cause,
                opened_by=by,
                opened_at=timezone.now(),
                touched_at=timezone.now(),
            )
            for i in range(5000)
        ]
    )
    client = Client(SERVER_NAME="localhost")
    client.force_login(by)
    listing = median_s(lambda: client.get("/api/cases/"), 20)
    search = median_s(lambda: client.get("/api/cases/?search=minibus 49"), 20)
    return [
        Figure("case list with 5,000 cases", "", 1000 * listing, "ms", 100.0),
        Figure("search in 5,000 cases", "", 1000 * search, "ms", 100.0),
    ]


def writer_figures(by: User) -> list[Figure]:
    """Eight people writing at once, each reading before writing."""
    case = StoredCase.objects.first()
    before = JournalEntry.objects.count()
    waits: list[float] = []
    errors: list[Exception] = []

    def write() -> None:
        for i in range(25):
            begin = time.perf_counter()
            try:
                with transaction.atomic():
                    count = JournalEntry.objects.filter(case=case).count()
                    note(case, "bench", f"{i} after {count}", by=by, at=timezone.now())
            except Exception as error:
                errors.append(error)
            waits.append(time.perf_counter() - begin)
        connection.close()

    threads = [threading.Thread(target=write) for _ in range(8)]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
    lost = 200 - (JournalEntry.objects.count() - before)
    return [
        Figure("8 writers, read then write: errors or lost entries", "", len(errors) + lost, "", 0),
        Figure("8 writers, read then write: 95th percentile", "", float(np.percentile(waits, 95)), "s", 0.5),
    ]


def main() -> int:
    """Measure, print, write."""
    call_command("migrate", verbosity=0)
    by = User.objects.create_user("bench", role=Duty.LEAD)
    figures = [
        *import_figures(by),
        *relative_compression_figures(),
        *crank_speed_figures(),
        *ignition_figures(),
        *reasoning_figures(),
        *sample_figures(by),
        *trace_figures(by, Path(DATA.name)),
        *first_view_figures(by, Path(DATA.name)),
        *board_figures(by, Path(DATA.name)),
        *start_figures(),
        *long_import_figures(by),
        *simulation_figures(),
        *list_figures(by),
        *writer_figures(by),
    ]
    lines = [
        "# Performance",
        "",
        "Written by `make bench`. Ratios within one run on one machine; absolute times only where a person waits.",
        f"Last run: Python {platform.python_version()}, numpy {np.__version__}, polars {pl.__version__}, "
        f"{os.cpu_count()} cores.",
        "",
        "| work | yardstick | figure | target | |",
        "|---|---|---|---|---|",
    ]
    for f in figures:
        unit = f" {f.unit}" if f.unit else ""
        lines.append(
            f"| {f.work} | {f.yardstick} | {f.value:.2f}{unit} | {f.target:g}{unit} | {'met' if f.met else 'MISSED'} |"
        )
    text = "\n".join(lines) + "\n"
    OUT.write_text(text)
    print(text)
    return 0 if all(f.met for f in figures) else 1


if __name__ == "__main__":
    code = main()
    DATA.cleanup()
    sys.exit(code)
