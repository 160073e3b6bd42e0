"""The demo's yard: the workshop of a community-transport depot, with invented makers, engines and troubles."""

from __future__ import annotations

from dataclasses import dataclass, field

import numpy as np

from fairwitness.core.capture import Capture
from fairwitness.core.engine import (
    REVOLUTION_DEG,
    CrankWheel,
    Engine,
    Fuel,
    Ignition,
    Injection,
    Layout,
    even_engine,
)
from fairwitness.simulate.cranking import crank
from fairwitness.simulate.instruments import Rig, record
from fairwitness.simulate.population import vehicle_for


@dataclass(frozen=True, slots=True, kw_only=True)
class DepotJob:
    """One job of the demo."""

    title: str
    vehicle: str
    engine: Engine
    complaint: str
    sealing: dict[int, float] = field(default_factory=dict)
    rig: Rig = field(default_factory=lambda: Rig(noise_a=2.0))
    seconds: float = 6.5
    weak_battery: bool = False
    work_done: tuple[str, ...] = ()
    codes: tuple[str, ...] = ()
    verified: str = ""
    fuel_how: str = ""
    days_ago: float = 0.0
    minutes: int = 20
    second_rig: Rig | None = None
    """A second capture of the same crank session, after the first was withdrawn."""


DROVER_20 = even_engine(
    (1, 3, 4, 2), label="Hollin Drover 2.0", layout=Layout.INLINE, crank_wheel=CrankWheel(teeth=60, missing=2)
)
DROVER_16 = even_engine(
    (1, 3, 4, 2),
    label="Hollin Drover 1.6",
    layout=Layout.INLINE,
    ignition=Ignition.WASTE_SPARK,
    coil_pairs=((1, 4), (2, 3)),
)
BOOKWAIN_V6 = even_engine(
    (1, 4, 2, 5, 3, 6), label="Marl Bookwain 2.7 V6", layout=Layout.VEE, banks=((1, 2, 3), (4, 5, 6))
)
SALTER_V8 = even_engine(
    (1, 8, 4, 3, 6, 5, 7, 2), label="Ormside Salter 4.4 V8", layout=Layout.VEE, banks=((1, 3, 5, 7), (2, 4, 6, 8))
)
LARDER_12 = even_engine((1, 3, 2), label="Pinnock Larder 1.2", layout=Layout.INLINE)
LARDER_25 = even_engine((1, 2, 4, 5, 3), label="Pinnock Larder 2.5", layout=Layout.INLINE)
SLIPWAY_D = even_engine(
    (1, 3, 4, 2),
    label="Garrow Slipway 3.1 diesel",
    layout=Layout.INLINE,
    fuel=Fuel.DIESEL,
    ignition=Ignition.COMPRESSION_IGNITION,
    injection=Injection.COMMON_RAIL,
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
        sealing={2: 0.3},
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
        sealing={3: 0.4},
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
        sealing={2: 0.06},
        rig=Rig(noise_a=2.0, sync_cylinder=1, sync_every_deg=REVOLUTION_DEG),
        work_done=("coil pack replaced",),
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
        sealing={4: 0.66},
        work_done=("plugs replaced",),
        codes=("P0304",),
        days_ago=1.4,
        minutes=31,
        verified="idle",
        fuel_how="fuel pump fuse 9 pulled",
    ),
    DepotJob(
        title="Minibus 5, no power after the belt",
        vehicle="Minibus 5",
        engine=DROVER_20,
        complaint="No pull since the timing belt was changed.",
        sealing={1: 0.05, 4: 0.07},
        work_done=("timing belt replaced",),
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
        sealing={5: 0.04},
        rig=Rig(noise_a=4.0, voltage=True, noise_v=0.015, spikes_per_s=3.0),
        work_done=("plugs replaced", "coils 3 and 5 replaced"),
        codes=("P0305",),
        days_ago=0.1,
        minutes=38,
        verified="idle, hot",
        fuel_how="fuel pump fuse 22 pulled",
        second_rig=Rig(noise_a=4.0, sync_cylinder=5, rate_hz=60.0),
    ),
)


def depot_captures(job: DepotJob, *, seed: int) -> tuple[Capture, ...]:
    """The captures of a job; where there is a second rig, a bad first attempt comes before the good one.

    Parameters
    ----------
    job : DepotJob
    seed : int

    Returns
    -------
    tuple of Capture
    """
    rng = np.random.default_rng((77, seed))
    sealing = tuple(job.sealing.get(c, 1.0) for c in range(1, job.engine.cylinders + 1))
    vehicle = vehicle_for(job.engine, sealing, rng, tired=0.4 if job.weak_battery else 0.0)
    run = crank(vehicle, seconds=job.seconds, rest_s=0.6, start_angle_deg=float(rng.uniform(0, 720)))
    good = record(run, job.engine, job.rig, rng=rng)
    if job.second_rig is None:
        return (good,)
    return (record(run, job.engine, job.second_rig, rng=rng, name="cranking-first-try"), good)
