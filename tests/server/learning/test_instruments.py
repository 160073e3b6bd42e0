"""A lead that reads low beside known goods of another lead is found, one that does not is not."""

from dataclasses import replace

import numpy as np
import pytest
from django.utils import timezone

from fairwitness.core.messages.rendering import render
from fairwitness.server.captures.models import CameFrom
from fairwitness.server.captures.services import keep_capture
from fairwitness.server.captures.shelf import shelve
from fairwitness.server.cases.services import Intake, open_case
from fairwitness.server.learning.instruments import LEAST_CAPTURES, leads_read
from fairwitness.simulate.examine import examine
from fairwitness.simulate.garage import ENGINES, build

ENGINE = replace(ENGINES["drover-2.0"], label="Hollin Drover 2.0")
VEHICLE = build(ENGINE, (), rng=np.random.default_rng(3))
CLAMP = {"kind": "clamp", "per_volt": 10.0, "unit": "A"}


def kept(by, gain, seed):
    """A capture of the same engine through a clamp that is off."""
    case = open_case(Intake(title=f"Bus {seed}", engine=ENGINE), by=by, at=timezone.now())
    (capture,) = examine(VEHICLE, ["injector_current"], level="clean", seed=seed).captures
    channels = tuple(
        replace(c, samples=np.asarray(c.samples) * (gain if c.role.value.endswith("current") else 1.0))
        for c in capture.channels
    )
    stored = keep_capture(case, replace(capture, channels=channels), by=by, at=timezone.now())
    stored.channels.filter(role__endswith="current").update(lead=CLAMP)


def good(by, came_from=CameFrom.COLLEAGUE):
    sound = examine(VEHICLE, ["injector_current"], level="clean", seed=1)
    shelve(replace(sound, engine=ENGINE), file_name="x.zip", why="sound", came_from=came_from, by=by, at=timezone.now())


@pytest.mark.parametrize(("gain", "share", "off"), [(0.92, 0.92, True), (1.0, 1.0, False)])
def test_a_clamp_that_reads_low_is_told_by_its_own_captures(technician, gain, share, off):
    good(technician)
    for seed in range(LEAST_CAPTURES):
        kept(technician, gain * (1 + 0.004 * (-1) ** seed), seed + 10)
    (told,) = leads_read()
    assert "clamp" in render(told.words)
    assert told.share == pytest.approx(share, abs=0.01)
    assert told.is_off is off
    assert told.captures == LEAST_CAPTURES


def test_too_few_captures_and_simulated_known_goods_tell_nothing(technician):
    good(technician, CameFrom.PRACTICE)
    for seed in range(LEAST_CAPTURES):
        kept(technician, 0.9, seed + 10)
    assert leads_read() == []
