"""Files a technician brings to the bay."""

from __future__ import annotations

from pathlib import Path

from fairwitness.core.model.engine import even_engine
from tests.conftest import cranking

FOUR = even_engine((1, 3, 4, 2))


def decimal_comma_csv(folder: Path, low: dict[int, float]) -> Path:
    """Semicolons, decimal commas, a preamble, units in a second row, time in ms."""
    capture = cranking(FOUR, low, rate_hz=1000.0)
    rows = zip(capture.channels[0].samples, capture.channels[1].samples, strict=True)
    lines = [f"{i};{a:.2f};{s:.2f}".replace(".", ",") for i, (a, s) in enumerate(rows)]
    path = folder / "crank-session.csv"
    path.write_text("Bay 2 logger\nTime;Clamp;Sync coil 1\n(ms);(A);(V)\n" + "\n".join(lines))
    return path
