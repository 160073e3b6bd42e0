"""Known good captures from elsewhere: a colleague's package, or a simulated vehicle for practice, without a job."""

from __future__ import annotations

from dataclasses import replace
from datetime import datetime

import numpy as np

from fairwitness.core.errors import CaptureError
from fairwitness.core.model.capture import Capture
from fairwitness.core.model.case import Case
from fairwitness.core.procedures.specs import CARDS
from fairwitness.formats.engine_block import read_engine
from fairwitness.server.accounts.models import User
from fairwitness.server.accounts.permissions import require
from fairwitness.server.captures.comparing import hold_as_known_good
from fairwitness.server.captures.models import CameFrom
from fairwitness.server.captures.services import import_case
from fairwitness.server.cases.models import CaseStatus, StoredCase
from fairwitness.server.engines.models import EngineRecord
from fairwitness.server.engines.records import whole_block
from fairwitness.simulate.examine import examine
from fairwitness.simulate.garage import build

PRACTICE_SEED = 7
PRACTISED = tuple(test.value for test in CARDS)


def shelve(case: Case, *, file_name: str, why: str, came_from: CameFrom, by: User, at: datetime) -> StoredCase:
    """Hold every readable capture of a package as known good, without a job of its own. All of them or none.

    Readings by hand and what was said of the job are left out: only how the engine ought to look is wanted.

    Parameters
    ----------
    case : Case
        As a package brings it.
    why : str
    came_from : CameFrom

    Raises
    ------
    PermissionDenied
    CaptureError
        It holds no readable capture, names no engine, or nobody said why it is good.
    """
    require(by, "add_evidence")
    captures = tuple(c for c in case.captures if isinstance(c, Capture))
    if not captures:
        raise CaptureError("It holds no capture that can be read.", where=file_name, remedy="Choose another package.")
    if not case.engine.label:
        raise CaptureError(
            "Its engine has no name.", where=file_name, remedy="Known goods are found by the name of the engine."
        )
    plain = replace(
        case,
        captures=captures,
        observations=(),
        codes=(),
        work_done=(),
        visits=(),
        phases=(),
        signs=(),
        complaint="",
        extra={},
        title=f"Known good, {case.engine.label}",
    )

    def put_on_the_shelf(stored: StoredCase) -> None:
        stored.shelf, stored.status = True, CaseStatus.CLOSED
        stored.save(update_fields=["shelf", "status"])
        for capture in stored.captures.all():
            hold_as_known_good(capture, why=why, came_from=came_from, by=by, at=at)

    return import_case(plain, file_name=file_name, by=by, at=at, within=put_on_the_shelf)


def practise(label: str, tests: list[str], *, by: User, at: datetime) -> StoredCase:
    """Simulate a sound vehicle with an engine of the shop and hold its captures as known good, marked as simulated.

    Parameters
    ----------
    label : str
        Of an engine record.
    tests : list of str
        Of ``PRACTISED``.

    Raises
    ------
    PermissionDenied
    CaptureError
        No such engine or test.
    """
    require(by, "add_evidence")
    record = EngineRecord.objects.filter(label=label).select_related("variant_of").first()
    if record is None:
        raise CaptureError(f"The shop knows no engine {label!r}.", where="engine", remedy="Write it down first.")
    unknown = [test for test in tests if test not in PRACTISED]
    if unknown:
        raise CaptureError(f"{unknown[0]!r} is recorded with no lead.", where="tests")
    engine = read_engine(whole_block(record))
    vehicle = build(engine, (), rng=np.random.default_rng(PRACTICE_SEED))
    sound = examine(vehicle, tests, level="clean", seed=PRACTICE_SEED)
    named = replace(sound, engine=engine, name="practice", title=label)
    return shelve(
        named, file_name="", why="Simulated sound vehicle, for practice", came_from=CameFrom.PRACTICE, by=by, at=at
    )
