"""Forty files in the manners of common instruments, each to its statement: looked at, confirmed, kept, diagnosed.

What is confirmed is what only somebody at the engine knows: the cylinder of a sync or lead, and that fuel was disabled.
Everything else is taken as it was proposed.
"""

from dataclasses import replace
from functools import lru_cache

import numpy as np
import pytest

from fairwitness.core.diagnose import diagnose
from fairwitness.core.model.capture import CaptureTest, Role, SetUp
from fairwitness.core.model.case import Case
from fairwitness.formats.columns import ColumnUse
from fairwitness.formats.file_guess import Kept, capture_of_file, guess_file
from fairwitness.simulate.examine import capture_of
from fairwitness.simulate.garage import build, engine_named, fault_named
from tests.formats.instrument_files import MANNERS, Columns

VEHICLES = {
    "rings": ("drover-2.0", "ring_or_piston_leak@2:0.9", CaptureTest.RELATIVE_COMPRESSION),
    "exhaust valve": ("drover-1.6", "exhaust_valve_leak@3:1", CaptureTest.RELATIVE_COMPRESSION),
    "intake valve": ("bookwain-2.7", "intake_valve_leak@1:0.9", CaptureTest.RELATIVE_COMPRESSION),
    "eight": ("salter-4.4", "exhaust_valve_leak@5:0.9", CaptureTest.RELATIVE_COMPRESSION),
    "coil": ("larder-2.5", "coil_primary_open@4", CaptureTest.COIL_CURRENT),
    "injector": ("drover-1.6", "injector_open_circuit@3", CaptureTest.INJECTOR_CURRENT),
    "plug": ("drover-1.6", "plug_gap_wide@2:0.9", CaptureTest.SECONDARY_VOLTAGE),
    "kick": ("larder-2.5", "injector_open_circuit@4", CaptureTest.INJECTOR_VOLTAGE),
    "work": ("drover-2.0", "injector_stuck_closed@3", CaptureTest.CRANK_SPEED),
}
LANGUAGES = ("", "en", "de", "fr", "es")
FILES = [
    (manner, list(VEHICLES)[(3 * number + again) % len(VEHICLES)], LANGUAGES[(number + again) % 5], number % 3 != again)
    for again in range(2)
    for number, manner in enumerate(MANNERS)
]


@lru_cache
def taken(vehicle):
    engine, fault, test = VEHICLES[vehicle]
    rng = np.random.default_rng(sum(map(ord, vehicle)))
    engine = engine_named(engine)
    return engine, capture_of(build(engine, [fault_named(fault)], rng=rng), test, rng=rng)


def confirmed(guess, capture):
    """The proposal, with the cylinders as somebody at the engine would enter them."""
    uses = [
        ColumnUse(column=c.name, role=c.role, unit=c.unit or "", cylinder=c.cylinder, sync=c.sync, lead=c.lead)
        for c in guess.columns
    ]
    at = [i for i, u in enumerate(uses) if u.role not in (Role.TIME, Role.OTHER)]
    assert len(at) == len(capture.channels)
    for i, channel in zip(at, capture.channels, strict=True):
        uses[i] = replace(uses[i], cylinder=channel.cylinder)
    return uses


def test_there_are_forty():
    assert len(FILES) == 40
    assert len(set(FILES)) == 40


@pytest.mark.parametrize(("manner", "vehicle", "language", "through_leads"), FILES)
def test_a_file_comes_to_its_statement(manner, vehicle, language, through_leads):
    engine, capture = taken(vehicle)
    data = MANNERS[manner](Columns(capture, through_leads=through_leads, called=language))
    guess = guess_file(data, where=manner)
    assert guess.test is capture.set_up.test
    assert guess.engine_state is capture.set_up.engine_state
    uses = confirmed(guess, capture)
    assert [u.role for u in uses if u.role not in (Role.TIME, Role.OTHER)] == [c.role for c in capture.channels]
    set_up = SetUp(test=guess.test, engine_state=guess.engine_state, fuel_disabled=True)
    kept = capture_of_file(data, uses, Kept(name="file", set_up=set_up))
    assert kept.time.rate_hz == pytest.approx(capture.time.rate_hz, rel=1e-3)
    verdict = diagnose(Case(name="own file", engine=engine, captures=(kept,))).verdict
    ill = int(VEHICLES[vehicle][1].split("@")[1].split(":")[0])
    accused = (*verdict.cylinders, *verdict.rivals)
    assert ill in accused
    assert len(accused) <= 2
