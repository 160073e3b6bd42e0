"""A table of a crank with one weak compression, and the plan it is kept by."""

from __future__ import annotations

from fairwitness.core.model.engine import even_engine
from tests.conftest import cranking

FOUR = even_engine((1, 3, 4, 2))


def csv(low=None, *, decimal=","):
    capture = cranking(FOUR, low or {3: 0.05}, rate_hz=1000.0)
    rows = zip(capture.channels[0].samples, capture.channels[1].samples, strict=True)
    lines = [f"{i};{a:.2f};{s:.2f}".replace(".", decimal) for i, (a, s) in enumerate(rows)]
    return ("Zeit;Clamp;Sync 1\n(ms);(A);(V)\n" + "\n".join(lines)).encode()


def plan(**changes):
    columns = [
        {"column": "Zeit", "role": "time", "unit": "ms"},
        {"column": "Clamp", "role": "starter_current", "unit": "A"},
        {"column": "Sync 1", "role": "coil_control", "unit": "V", "cylinder": 1, "sync": True},
    ]
    set_up = {"test": "relative_compression", "engine_state": "cranking", "fuel_disabled": True}
    return {"name": "cranking", "columns": columns} | set_up | changes
