"""The demo's yard: the workshop of a community-transport depot, with invented makers, engines and troubles."""

from __future__ import annotations

from dataclasses import dataclass, field, replace

import numpy as np

from fairwitness.core.model.capture import Capture
from fairwitness.core.model.case import Observation
from fairwitness.core.model.engine import REVOLUTION_DEG, Engine, Ignition, Layout, even_engine
from fairwitness.core.model.phase import PartState
from fairwitness.core.model.symptom import Symptom
from fairwitness.core.model.work import WorkDone
from fairwitness.simulate.examine import examine
from fairwitness.simulate.garage import ENGINES, build
from fairwitness.simulate.health import Fault
from fairwitness.simulate.instruments import Rig, record
from fairwitness.simulate.population import with_tired_battery
from fairwitness.simulate.trajectory import crank_over


@dataclass(frozen=True, slots=True, kw_only=True)
class DepotJob:
    """One job of the demo."""

    title: str
    vehicle: str
    engine: Engine
    complaint: str
    faults: tuple[Fault, ...] = ()
    tests: tuple[str, ...] = ()
    """Done beside cranking, in a complete case."""
    rig: Rig = field(default_factory=lambda: Rig(noise_a=2.0))
    seconds: float = 6.5
    weak_battery: bool = False
    signs: tuple[str, ...] = ()
    work_done: tuple[WorkDone, ...] = ()
    codes: tuple[str, ...] = ()
    verified: str = ""
    fuel_how: str = ""
    days_ago: float = 0.0
    minutes: int = 20
    odometer_km: int | None = None
    agreed_minutes: int | None = None
    """Labour the owner agreed to."""
    believed: str = ""
    symptom: Symptom = Symptom.RUNS_BADLY
    fuel_left_off: bool = False
    second_rig: Rig | None = None
    """A second capture of the same crank session, after the first was withdrawn."""


DROVER_20, DROVER_16 = ENGINES["drover-2.0"], ENGINES["drover-1.6"]
BOOKWAIN_V6, SALTER_V8 = ENGINES["bookwain-2.7"], ENGINES["salter-4.4"]
LARDER_12, LARDER_25 = ENGINES["larder-1.2"], ENGINES["larder-2.5"]
SLIPWAY_D = ENGINES["slipway-3.1"]
CRATE_13 = even_engine(
    (1, 3, 4, 2),
    label="Pinnock Crate 1.3",
    layout=Layout.INLINE,
    ignition=Ignition.DISTRIBUTOR,
    injector_ohms=14.0,
)

JOBS: tuple[DepotJob, ...] = (
    DepotJob(
        title="Library van 2, healthy check",
        vehicle="Library van 2",
        engine=BOOKWAIN_V6,
        complaint="Driver felt one shake last month, nothing since.",
        days_ago=6.1,
        minutes=14,
        fuel_how="fuel pump fuse 14 pulled",
    ),
    DepotJob(
        title="Rescue boat tractor, no sync lead",
        vehicle="Rescue boat tractor",
        engine=SLIPWAY_D,
        complaint="Rough at idle, smokes white when cold.",
        faults=(Fault("ring_or_piston_leak", (2,), 0.62),),
        rig=Rig(noise_a=3.0, sync_cylinder=None),
        days_ago=5.0,
        minutes=18,
        verified="cold",
        fuel_how="pump stop solenoid unplugged",
    ),
    DepotJob(
        title="Minibus 1, battery tired",
        vehicle="Minibus 1",
        engine=DROVER_20,
        complaint="Turns over slowly, shakes once running.",
        faults=(Fault("exhaust_valve_leak", (3,), 0.47),),
        weak_battery=True,
        rig=Rig(noise_a=2.0, voltage=True, noise_v=0.01),
        days_ago=4.2,
        minutes=9,
    ),
    DepotJob(
        title="Minibus 8, shakes in the wet",
        vehicle="Minibus 8",
        engine=DROVER_16,
        complaint="Shakes at every speed. Coil pack fitted elsewhere, no change.",
        signs=("damp",),
        faults=(Fault("exhaust_valve_leak", (2,), 0.97),),
        rig=Rig(noise_a=2.0, sync_cylinder=1, sync_every_deg=REVOLUTION_DEG),
        work_done=(WorkDone(part="coil", fitted=PartState.NEW, words="the whole pack", helped=False),),
        codes=("P0300",),
        days_ago=3.1,
        minutes=26,
        verified="idle",
        fuel_how="clear-flood mode, pedal to the floor",
    ),
    DepotJob(
        title="Meals van 4, clamp on backwards",
        vehicle="Meals van 4",
        engine=LARDER_12,
        complaint="Stumbles when pulling away.",
        rig=Rig(noise_a=2.0, clamp_sign=-1.0, clamp_zero_a=34.0),
        days_ago=2.3,
        minutes=16,
        fuel_how="fuel pump relay pulled",
    ),
    DepotJob(
        title="Meals van 6, uses oil and shakes",
        vehicle="Meals van 6",
        engine=LARDER_25,
        complaint="Uneven at idle, a little oil mist. Plugs replaced last week.",
        faults=(Fault("ring_or_piston_leak", (4,), 0.09),),
        signs=("oil_smoke",),
        work_done=(WorkDone(part="plug", fitted=PartState.NEW, when="last week"),),
        codes=("P0304",),
        days_ago=1.4,
        minutes=31,
        verified="idle",
        fuel_how="fuel pump fuse 9 pulled",
    ),
    DepotJob(
        title="Library van 3, dead on one since the rain",
        vehicle="Library van 3",
        engine=DROVER_20,
        complaint="Shakes since the rain on Friday, smells of fuel.",
        signs=("damp", "fuel_smell"),
        faults=(Fault("secondary_open", (2,)),),
        tests=("crank_speed", "secondary_voltage", "coil_current", "resistance", "spark_check"),
        codes=("P0302",),
        days_ago=1.1,
        minutes=34,
        verified="idle",
        fuel_how="fuel pump fuse 14 pulled",
    ),
    DepotJob(
        title="Minibus 2, lost power on the hill",
        vehicle="Minibus 2",
        engine=BOOKWAIN_V6,
        complaint="Lost power on the hill, shakes at idle ever since.",
        signs=("no_power",),
        faults=(Fault("injector_open_circuit", (5,)),),
        tests=("crank_speed", "secondary_voltage", "injector_current", "resistance", "voltage"),
        work_done=(WorkDone(part="coil", cylinders=(5,), fitted=PartState.NEW, helped=False),),
        codes=("P0205", "P0305"),
        days_ago=0.9,
        minutes=41,
        verified="always",
        fuel_how="fuel pump fuse 14 pulled",
    ),
    DepotJob(
        title="Minibus 6, black smoke and smells of petrol",
        vehicle="Minibus 6",
        engine=replace(
            DROVER_20,
            injector_feeds=((1, 2, 3, 4),),
            injector_path=("fuse 12", "bulkhead plug", "rail splice", "injector plug", "control unit pin"),
        ),
        complaint="Black smoke since the wash, smells of petrol, hard to start.",
        signs=("fuel_smell",),
        faults=(Fault("injector_driver_failed", (2,), 0.9),),
        tests=("crank_speed", "injector_current", "injector_voltage", "load_lamp", "fuel_trim"),
        codes=("P0202",),
        days_ago=0.88,
        minutes=29,
        verified="always",
        fuel_how="fuel pump fuse 14 pulled",
    ),
    DepotJob(
        title="Meals van 1, ticks and shakes",
        vehicle="Meals van 1",
        engine=DROVER_20,
        complaint="Ticking at the tailpipe, shakes at idle.",
        signs=("ticking",),
        faults=(Fault("exhaust_valve_leak", (3,), 0.9),),
        tests=(
            "cylinder_pressure",
            "crankcase_pulse",
            "intake_pulse",
            "exhaust_pulse",
            "compression_gauge",
            "leak_down",
        ),
        codes=("P0303",),
        days_ago=0.85,
        odometer_km=141_220,
        agreed_minutes=60,
        believed="The injectors again",
        minutes=52,
        verified="idle",
        fuel_how="fuel pump relay pulled",
    ),
    DepotJob(
        title="Minibus 5, no power after the belt",
        vehicle="Minibus 5",
        engine=DROVER_20,
        complaint="No pull since the timing belt was changed.",
        faults=(Fault("intake_valve_leak", (1, 4), 0.98),),
        signs=("after_timing_work", "no_power"),
        work_done=(WorkDone(part="timing_drive", fitted=PartState.NEW, words="belt"),),
        days_ago=0.8,
        minutes=22,
        verified="always",
        fuel_how="fuel pump fuse 14 pulled",
    ),
    DepotJob(
        title="Gritter 7, shakes at idle since Tuesday",
        vehicle="Gritter 7",
        engine=SALTER_V8,
        complaint="Shakes at idle since Tuesday. Two coils and the plugs were fitted elsewhere without change.",
        faults=(Fault("exhaust_valve_leak", (5,), 1.0),),
        rig=Rig(noise_a=4.0, voltage=True, noise_v=0.015, spikes_per_s=3.0),
        work_done=(
            WorkDone(part="plug", fitted=PartState.NEW, by="elsewhere", helped=False),
            WorkDone(part="coil", cylinders=(3, 5), fitted=PartState.NEW, by="elsewhere", helped=False),
        ),
        codes=("P0305",),
        days_ago=0.1,
        odometer_km=64_870,
        agreed_minutes=45,
        minutes=38,
        verified="idle, hot",
        fuel_how="fuel pump fuse 22 pulled",
        second_rig=Rig(noise_a=4.0, sync_cylinder=5, rate_hz=60.0),
        fuel_left_off=True,
    ),
    DepotJob(
        title="Post van 4, cranks and does not start",
        vehicle="Post van 4",
        engine=CRATE_13,
        complaint="Parked on Friday, cranks and does not start on Monday.",
        symptom=Symptom.NO_START,
        faults=(Fault("coil_secondary_shorted", (), 1.0),),
        tests=("first_look", "no_start", "resistance"),
        days_ago=0.3,
        minutes=31,
        fuel_how="fuel pump relay pulled",
        fuel_left_off=True,
    ),
    DepotJob(
        title="School bus 6, floods itself",
        vehicle="School bus 6",
        engine=DROVER_20,
        complaint="Cranks and does not start, smells of petrol.",
        symptom=Symptom.NO_START,
        faults=(Fault("unit_misbehaves", (), 0.5),),
        tests=("first_look", "engine_circuits"),
        days_ago=0.1,
        minutes=22,
        fuel_how="fuel pump fuse 8 pulled",
        fuel_left_off=True,
    ),
)


@dataclass(frozen=True, slots=True, kw_only=True)
class DepotEvidence:
    """What was recorded and seen on a job. ``first_try`` was taken wrongly and is withdrawn."""

    captures: tuple[Capture, ...]
    observations: tuple[Observation, ...] = ()
    first_try: Capture | None = None


def depot_evidence(job: DepotJob, *, seed: int) -> DepotEvidence:
    """Examine the vehicle of a job: cranking as its rig has it, then the other tests.

    Parameters
    ----------
    job : DepotJob
    seed : int

    Returns
    -------
    DepotEvidence
    """
    rng = np.random.default_rng((77, seed))
    vehicle = build(job.engine, job.faults, rng=rng)
    if job.weak_battery:
        vehicle = replace(vehicle, turning=with_tired_battery(vehicle.turning, 0.4, rng))
    trajectory = crank_over(vehicle, seconds=job.seconds, rest_s=0.6, rng=rng)
    first = None
    if job.second_rig is not None:
        first = record(trajectory.run, job.engine, job.second_rig, rng=rng, name="cranking-first-try")
    case = examine(vehicle, job.tests, seed=seed)
    read = tuple(c for c in case.captures if isinstance(c, Capture))
    return DepotEvidence(
        captures=(record(trajectory.run, job.engine, job.rig, rng=rng), *read),
        observations=case.observations,
        first_try=first,
    )
