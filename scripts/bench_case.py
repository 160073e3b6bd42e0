"""A case as big as they come: every test of the trade taken on an engine of many cylinders, and kept as evidence."""

from __future__ import annotations

import numpy as np
from django.utils import timezone

from fairwitness.core.model.capture import CaptureTest
from fairwitness.core.model.engine import Engine
from fairwitness.core.procedures.specs import CARDS, OFFERS, TEST_OF
from fairwitness.server.accounts.models import User
from fairwitness.server.captures.services import keep_capture
from fairwitness.server.cases.models import StoredCase
from fairwitness.server.cases.services import Intake, add_observations, open_case
from fairwitness.simulate.examine import captures_of
from fairwitness.simulate.garage import build
from fairwitness.simulate.gauges import GAUGES, observe
from fairwitness.simulate.health import Fault

CAPTURED = (
    CaptureTest.RELATIVE_COMPRESSION, CaptureTest.SECONDARY_VOLTAGE, CaptureTest.COIL_CURRENT,
    CaptureTest.INJECTOR_CURRENT, CaptureTest.EXHAUST_PULSE,
)  # fmt: skip


def big_case(engine: Engine, *, by: User, readings: int, title: str = "Big case") -> StoredCase:
    """Open a case, measure everything and keep it.

    Parameters
    ----------
    engine : Engine
        One cylinder of it has an open injector.
    by : User
    readings : int
        Observations by hand, at least; the tests are taken in turn until there are as many.
    title : str

    Returns
    -------
    StoredCase
    """
    rng = np.random.default_rng(26)
    ill = engine.firing_order[2]
    vehicle = build(engine, (Fault("injector_open_circuit", (ill,)),), rng=rng)
    case = open_case(Intake(title=title, vehicle=title, engine=engine), by=by, at=timezone.now())
    for test in CAPTURED:
        if OFFERS[test.value].fits(engine) and test in CARDS:
            for capture in captures_of(vehicle, test, rng=rng, suspects=(ill,)):
                keep_capture(case, capture, by=by, at=timezone.now())
    by_hand = sorted({TEST_OF[o.id] for o in OFFERS.values() if o.fits(engine)} & set(GAUGES))
    while case.observations.count() < readings:
        for test in by_hand:
            seen = [dict(o.data) for o in observe(vehicle, test, hot=True, rng=rng, suspects=(ill,))]
            add_observations(case, test=test, readings=seen, by=by, at=timezone.now())
    return case
