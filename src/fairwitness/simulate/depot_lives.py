"""Jobs of the demo's yard from complaint to proof: repaired, measured again, closed with what was really found."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, replace

import numpy as np

from fairwitness.core.model.capture import Capture
from fairwitness.core.model.phase import PartState, PhaseKind
from fairwitness.core.model.work import WorkDone
from fairwitness.simulate.depot import DROVER_20, DepotJob
from fairwitness.simulate.examine import examine
from fairwitness.simulate.garage import build
from fairwitness.simulate.health import Fault


@dataclass(frozen=True, slots=True, kw_only=True)
class DepotWork:
    """One thing done to the vehicle, and the tests taken after it.

    Parameters
    ----------
    kind, part, cylinders, fitted, words
        As they are recorded.
    faults : tuple of Fault
        What the vehicle has afterwards.
    tests : tuple of str
    """

    kind: PhaseKind
    part: str = ""
    cylinders: tuple[int, ...] = ()
    fitted: PartState | None = None
    words: str = ""
    faults: tuple[Fault, ...] = ()
    tests: tuple[str, ...] = ()


@dataclass(frozen=True, slots=True, kw_only=True)
class DepotPart:
    """A part measured beside its peers before it was fitted; ``ohms`` of it, ``peers`` of those that stay in."""

    part: str
    cylinder: int
    ohms: float
    peers: tuple[float, ...]
    fitted: PartState = PartState.NEW
    supplier: str = "Depot stores"


@dataclass(frozen=True, slots=True, kw_only=True)
class DepotOutcome:
    """What was really found."""

    found: str
    seen_by: str
    fault: str = ""
    cylinders: tuple[int, ...] = ()
    lesson: str = ""


@dataclass(frozen=True, slots=True, kw_only=True)
class LivedJob:
    """A job with its whole life. ``agreed_to`` is what the owner said yes to."""

    job: DepotJob
    agreed_to: str = ""
    parts: tuple[DepotPart, ...] = ()
    work: tuple[DepotWork, ...] = ()
    outcome: DepotOutcome | None = None
    later: tuple[str, int] | None = None
    """Something to be done, so many days after today."""
    closed: bool = True


REPAIR, SWAP, BACK = PhaseKind.AFTER_REPAIR, PhaseKind.CHANGED_OVER, PhaseKind.PUT_BACK
COIL, INJECTOR, LEAK = (
    Fault("coil_output_dead", (3,)),
    Fault("injector_open_circuit", (2,)),
    Fault("exhaust_valve_leak", (1,), 0.9),
)
SPARKS = ("crank_speed", "secondary_voltage")

LIVED: tuple[LivedJob, ...] = (
    LivedJob(
        job=DepotJob(
            title="Minibus 4, shakes since Monday",
            vehicle="Minibus 4",
            engine=DROVER_20,
            complaint="Shakes at idle and pulling away since Monday. Plugs fitted elsewhere without change.",
            faults=(COIL,),
            tests=SPARKS,
            work_done=(WorkDone(part="plug", fitted=PartState.NEW, by="elsewhere", helped=False),),
            codes=("P0303",),
            days_ago=12.2,
            minutes=31,
            verified="idle",
            fuel_how="fuel pump fuse 14 pulled",
        ),
        agreed_to="One coil, by telephone, up to one hour of work.",
        work=(
            DepotWork(
                kind=SWAP, part="coil", cylinders=(3, 1), faults=(replace(COIL, cylinders=(1,)),), tests=SPARKS[:1]
            ),
            DepotWork(kind=BACK),
            DepotWork(
                kind=REPAIR,
                part="coil",
                cylinders=(3,),
                fitted=PartState.NEW,
                words="measured beside its peers first",
                tests=SPARKS,
            ),
        ),
        outcome=DepotOutcome(
            fault="coil_output_dead", cylinders=(3,), found="Coil of cylinder 3 dead inside", seen_by="changed over"
        ),
        later=("Look at the other coils, all of one age", 40),
    ),
    LivedJob(
        job=DepotJob(
            title="Meals van 1, misses since the cold night",
            vehicle="Meals van 1",
            engine=DROVER_20,
            complaint="Misses all the time since the cold night.",
            faults=(INJECTOR,),
            tests=("crank_speed", "injector_current", "resistance"),
            codes=("P0202", "P0302"),
            days_ago=10.4,
            odometer_km=140_310,
            minutes=36,
            verified="always",
            fuel_how="fuel pump relay pulled",
        ),
        agreed_to="One injector, in person.",
        parts=(
            DepotPart(part="injector", cylinder=2, ohms=2.1, peers=(14.2, 14.4, 14.3), fitted=PartState.USED),
            DepotPart(part="injector", cylinder=2, ohms=14.5, peers=(14.2, 14.4, 14.3)),
        ),
        work=(
            DepotWork(
                kind=REPAIR,
                part="injector",
                cylinders=(2,),
                fitted=PartState.NEW,
                faults=(Fault("plug_shorted", (2,), 0.7),),
                tests=("crank_speed", "injector_current"),
            ),
            DepotWork(
                kind=REPAIR,
                part="plug",
                cylinders=(2,),
                fitted=PartState.REWORKED,
                words="wet through, dried",
                tests=("crank_speed",),
            ),
        ),
        outcome=DepotOutcome(
            fault="injector_open_circuit", cylinders=(2,), found="Winding of the injector open", seen_by="ohmmeter"
        ),
        later=("Oil change: fuel ran into it", -1),
    ),
    LivedJob(
        job=DepotJob(
            title="Post van 7, plug fitted in vain",
            vehicle="Post van 7",
            engine=DROVER_20,
            complaint="Shakes at idle. The driver asks for a plug, like last time.",
            faults=(replace(INJECTOR, cylinders=(4,)),),
            tests=("crank_speed",),
            days_ago=9.3,
            minutes=18,
            verified="idle",
            fuel_how="fuel pump fuse 6 pulled",
        ),
        work=(
            DepotWork(
                kind=REPAIR,
                part="plug",
                cylinders=(4,),
                fitted=PartState.NEW,
                words="on the driver's word",
                faults=(replace(INJECTOR, cylinders=(4,)),),
                tests=("crank_speed", "injector_current"),
            ),
        ),
        closed=False,
    ),
    LivedJob(
        job=DepotJob(
            title="Library van 5, hisses and shakes",
            vehicle="Library van 5",
            engine=DROVER_20,
            complaint="Shakes at idle, hisses at the tailpipe.",
            signs=("hiss",),
            faults=(LEAK,),
            tests=("crank_speed", "leak_down"),
            codes=("P0301",),
            days_ago=8.1,
            minutes=47,
            verified="idle, hot",
            fuel_how="fuel pump fuse 14 pulled",
        ),
        agreed_to="Head off and valves, in writing, up to the sum of the offer.",
        work=(DepotWork(kind=REPAIR, part="valves", cylinders=(1,), fitted=PartState.NEW, words="valve burnt"),),
        closed=False,
    ),
    LivedJob(
        job=DepotJob(
            title="School bus 2, nothing found",
            vehicle="School bus 2",
            engine=DROVER_20,
            complaint="Shook once on the motorway, hot.",
            tests=SPARKS,
            days_ago=14.3,
            minutes=24,
            fuel_how="fuel pump fuse 8 pulled",
        ),
        outcome=DepotOutcome(
            fault="coil_output_dead",
            cylinders=(2,),
            found="Coil of cylinder 2 lets go when hot",
            seen_by="failed on the road two days later",
            lesson="The complaint came hot on the motorway; every reading was taken warm at idle. Heat it, then look.",
        ),
    ),
)


def states(lived: LivedJob, *, seed: int) -> Iterator[tuple[DepotWork, tuple[Capture, ...]]]:
    """What was done to the vehicle of a job, one after the other, and what was recorded after each.

    Parameters
    ----------
    lived : LivedJob
    seed : int

    Yields
    ------
    DepotWork, tuple of Capture
    """
    vehicle = build(lived.job.engine, lived.job.faults, rng=np.random.default_rng((77, seed)))
    for turn, work in enumerate(lived.work, start=1):
        case = examine(replace(vehicle, faults=work.faults), work.tests, seed=1000 * turn + seed)
        read = (c for c in case.captures if isinstance(c, Capture))
        yield work, tuple(replace(c, name=f"{c.name}-{turn}") for c in read)
