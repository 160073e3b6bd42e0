"""Feed the readers broken files, guided by coverage: ``python scripts/fuzz.py table --seconds 900``.

Needs ``pip install atheris``. A reader may refuse with an error of the project's own; anything else is a find, and the
input is left in ``var/fuzz``.
"""

from __future__ import annotations

import argparse
import sys
from collections.abc import Callable
from pathlib import Path

import atheris
import numpy as np

with atheris.instrument_imports(include=["fairwitness"]):
    from fairwitness.core.diagnose import diagnose
    from fairwitness.core.errors import FairWitnessError
    from fairwitness.core.model.capture import CaptureTest, EngineState, SetUp
    from fairwitness.core.model.case import Case
    from fairwitness.core.model.engine import even_engine
    from fairwitness.formats.case_package import read_package
    from fairwitness.formats.case_package_writing import write_package
    from fairwitness.formats.columns import ColumnUse
    from fairwitness.formats.csv_capture import look_at, read_capture
    from fairwitness.formats.recordings import WRITERS, look_at_recording, read_recording, write_recording

ROOT = Path(__file__).resolve().parents[1]
SET_UP = SetUp(test=CaptureTest.RELATIVE_COMPRESSION, engine_state=EngineState.CRANKING, fuel_disabled=True)


def table(data: bytes) -> None:
    """A CSV in any dialect, its columns used as guessed."""
    guess = look_at(data)
    uses = [
        ColumnUse(column=c.name, role=c.role, unit=c.unit or "1", cylinder=c.cylinder, sync=c.sync, lead=c.lead)
        for c in guess.columns
    ]
    for segment in range(len(guess.segments)) if guess.segments else (None,):
        read_capture(data, uses, name="fuzz", set_up=SET_UP, sample_rate_hz=1000.0, segment=segment)


def recording(data: bytes) -> None:
    """MDF, MATLAB, HDF5, Parquet or WAV."""
    look_at_recording(read_recording(data, where="fuzz"))


def package(data: bytes) -> None:
    """A case package, diagnosed."""
    diagnose(read_package("fuzz.zip", keep_bytes=data))


TARGETS: dict[str, Callable[[bytes], None]] = {"table": table, "recording": recording, "package": package}


def seeds(target: str) -> list[bytes]:
    """Small sound files to begin from."""
    from tests.conftest import cranking

    capture = cranking(even_engine((1, 3, 4, 2)), {3: 0.1}, rate_hz=200.0)
    if target == "package":
        engine = even_engine((1, 3, 4, 2))
        return [write_package(Case(name="fuzz", title="Fuzz", engine=engine, captures=(capture,)))]
    if target == "recording":
        from tests.formats.test_recordings import ELSEWHERE

        seconds = np.arange(200) / 200.0
        others = [made(seconds, np.sin(seconds)) for made in ELSEWHERE.values()]
        return [*(write_recording(capture, kind) for kind in WRITERS if kind != "csv"), *others]
    from tests.formats.instrument_files import MANNERS, Columns

    held = Columns(cranking(even_engine((1, 3, 4, 2)), {3: 0.1}, rate_hz=200.0, seconds=1.0), through_leads=True)
    return [write_recording(capture, "csv"), *(manner(held) for manner in MANNERS.values())]


def main() -> None:
    """Fuzz one reader."""
    options = argparse.ArgumentParser(description=__doc__)
    options.add_argument("target", choices=list(TARGETS))
    options.add_argument("--seconds", type=int, default=600)
    chosen = options.parse_args()
    corpus = ROOT / "var" / "fuzz" / chosen.target
    corpus.mkdir(parents=True, exist_ok=True)
    sys.path.insert(0, str(ROOT))
    for i, seed in enumerate(seeds(chosen.target)):
        (corpus / f"seed-{i}").write_bytes(seed)

    def one(data: bytes) -> None:
        try:
            TARGETS[chosen.target](data)
        except FairWitnessError:
            return  # refused, as it should be

    limits = [f"-max_total_time={chosen.seconds}", "-max_len=65536", "-timeout=20", "-rss_limit_mb=4096"]
    atheris.Setup([sys.argv[0], str(corpus), *limits, f"-artifact_prefix={corpus}/find-"], one)
    atheris.Fuzz()


if __name__ == "__main__":
    main()
