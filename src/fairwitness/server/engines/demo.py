"""What the demo's shop wrote down of its engines, and what a colleague of another depot sent. Invented throughout."""

from __future__ import annotations

from dataclasses import replace
from datetime import datetime

import numpy as np

from fairwitness.formats.engine_block import engine_block
from fairwitness.server.accounts.models import User
from fairwitness.server.captures.models import CameFrom
from fairwitness.server.captures.shelf import shelve
from fairwitness.server.engines.models import EngineRecord
from fairwitness.server.engines.records import Described, describe
from fairwitness.simulate.examine import examine
from fairwitness.simulate.garage import ENGINES, build

DROVER, DIRECT = ENGINES["drover-2.0"], ENGINES["drover-2.0d"]
WIRING = [
    {
        "part": "injector",
        "places": [
            {"name": "fuse box", "fuse": "12", "minutes": 1},
            {"name": "rail connector", "connector": "X7", "pin": "3", "colour": "white-red", "minutes": 2},
            {"name": "injector plug", "connector": "X31", "pin": "1", "unplugs": True, "minutes": 5, "is_part": True},
            {"name": "bulkhead plug", "connector": "X5", "pin": "14", "colour": "white-blue", "minutes": 6},
            {"name": "control unit plug", "connector": "X1", "pin": "44", "colour": "white-blue", "minutes": 15},
        ],
    },
    {
        "part": "coil",
        "places": [
            {"name": "fuse box", "fuse": "9", "minutes": 1},
            {"name": "coil plug", "connector": "X21", "pin": "2", "colour": "green", "minutes": 3, "is_part": True},
        ],
    },
]
USUAL = [
    {"words": "Idle, hot", "value": "750 rpm"},
    {"words": "Cranking, warm battery", "value": "about 230 rpm"},
    {"words": "Fuel pressure, idle", "value": "3.5 bar"},
]
NOTES = (
    "Coil plugs break when cold. The rail connector lies behind the dipstick tube and can be back-probed from above."
)
TESTS = ("relative_compression", "coil_current", "injector_current")
SEED = 11


def make_engines(by: User, at: datetime) -> None:
    """Write two engines down, and put a colleague's captures on the shelf; where nobody wrote one yet."""
    if EngineRecord.objects.exists():
        return
    block = {**_block(DROVER.label), "compression_ratio": 10.4, "wiring": WIRING}
    describe(
        Described(label=DROVER.label, code="HD20A", years="2009 to 2018", block=block, usual=USUAL, notes=NOTES),
        by=by,
        at=at,
    )
    other = {key: value for key, value in _block(DIRECT.label).items() if key != "injector_ohms"}
    describe(
        Described(label=DIRECT.label, variant_of=DROVER.label, code="HD20D", years="2016 on", block=other), by=by, at=at
    )
    vehicle = build(DROVER, (), rng=np.random.default_rng(SEED))
    sound = replace(examine(vehicle, TESTS, level="clean", seed=SEED), engine=DROVER, name="known-good")
    why = "Sound bus of the Thornby depot, taken before its inspection"
    shelve(sound, file_name="thornby.zip", why=why, came_from=CameFrom.COLLEAGUE, by=by, at=at)


def _block(label: str) -> dict[str, object]:
    engine = next(e for e in ENGINES.values() if e.label == label)
    return {key: value for key, value in engine_block(engine).items() if key != "label"}
