"""What is put to the program, by entry: healthy engines in disguise, sick ones, and what has to be asked for.

Nothing here needs more of the program than captures, so that the same entries can be put to an earlier version of it.
"""

from __future__ import annotations

from dataclasses import replace

from fairwitness.core.model.capture import Role
from fairwitness.core.model.engine import InjectorDrive
from tests.independent.breathing import Hose, Lungs
from tests.independent.crank_sensor import Sensor
from tests.independent.injector import Feed, Winding
from tests.independent.pressure import BAR, KPA, PLAIN, PSI, Cranked, Transducer
from tests.independent.spark import Ignition, Pickup, Spark

SIX = (1, 5, 3, 6, 2, 4)
ROUGH = Spark(arc_rough=0.25, arc_rises=0.6, arc_kv=1.6)
SPARKS = {
    "as usual": (Ignition(), Pickup()),
    "six cylinders": (Ignition(order=SIX), Pickup()),
    "cut off at 5 kV both ways": (Ignition(), Pickup(stops_kv=(-5.0, 5.0))),
    "cut off at 2 kV both ways": (Ignition(), Pickup(stops_kv=(-2.0, 2.0))),
    "cut off one way only": (Ignition(), Pickup(stops_kv=(-8.0, 1.0))),
    "one pick-up at 60 %": (Ignition(), Pickup(gain={3: 0.6})),
    "one pick-up at 160 %": (Ignition(), Pickup(gain={3: 1.6})),
    "two leads upside down": (Ignition(), Pickup(upside_down=(2, 3))),
    "all leads upside down": (Ignition(), Pickup(upside_down=(1, 2, 3, 4))),
    "rough lines of a lean idle": (Ignition(usual=ROUGH, scatter=0.15), Pickup()),
    "three strikes": (Ignition(usual=Spark(strikes=3)), Pickup()),
    "two strikes of six": (Ignition(order=SIX, usual=Spark(strikes=2)), Pickup()),
    "capacitor discharge": (Ignition(usual=Spark(capacitive=True)), Pickup()),
    "all plugs high": (Ignition(usual=Spark(breakdown_kv=20.0)), Pickup()),
    "offset and hum": (Ignition(), Pickup(offset_kv=0.8, hum_kv=0.4)),
    "noise": (Ignition(), Pickup(noise_kv=0.25)),
    "eight bits": (Ignition(), Pickup(bits=8)),
    "breakdown between samples": (Ignition(), Pickup(rate_hz=50_000.0)),
    "a million samples": (Ignition(seconds=1.2), Pickup(rate_hz=1e6)),
    "a slow pick-up": (Ignition(), Pickup(low_pass_hz=30_000.0)),
    "short dwell": (Ignition(usual=Spark(dwell_ms=1.4, energy_mj=20.0)), Pickup()),
    "a short capture": (Ignition(seconds=0.7), Pickup()),
    "scatter": (Ignition(scatter=0.2), Pickup()),
    "dwell adapted cylinder by cylinder": (
        Ignition(odd={1: Spark(dwell_ms=2.9, energy_mj=29.0), 2: Spark(dwell_ms=3.5, energy_mj=35.0)}),
        Pickup(),
    ),
}
SICK_SPARKS = {
    "no arc": Spark(arc_kv=None),
    "gap of twice its width": Spark(breakdown_kv=19.0, arc_kv=1.6),
    "shorted plug": Spark(breakdown_kv=3.0, arc_kv=0.9),
    "resistance in the lead": Spark(breakdown_kv=11.0, arc_kv=2.6),
}

HELD = Feed(usual=Winding(ohm=2.2, henry=0.003, lifts_ms=0.6), hold_a=1.0)
INJECTORS = {
    "as usual": (Feed(), {}),
    "six cylinders": (Feed(order=SIX), {}),
    "a clamp on each": (Feed(), {"each": True}),
    "offset": (Feed(offset_a=0.4), {}),
    "drift": (Feed(drift_a=0.3), {}),
    "clamp backwards": (Feed(gain=-1.0), {}),
    "a tenth of the level": (Feed(gain=0.1, noise_a=0.002, reach_a=1.0), {}),
    "eight bits": (Feed(bits=8, reach_a=4.0), {}),
    "ten thousand samples": (Feed(rate_hz=10_000.0), {}),
    "two hundred thousand samples": (Feed(rate_hz=200_000.0, seconds=1.0), {}),
    "a short capture": (Feed(seconds=0.6), {}),
    "coils on the feed": (Feed(coils=True), {}),
    "peak and hold": (HELD, {"drive": InjectorDrive.PEAK_AND_HOLD}),
    "peak and hold that nobody said": (HELD, {}),
    "long pulses": (Feed(usual=Winding(on_ms=12.0)), {}),
    "short pulses": (Feed(usual=Winding(on_ms=1.6)), {}),
    "windings apart by 4 %": (Feed(odd={1: Winding(ohm=14.4), 2: Winding(ohm=13.6)}), {}),
    "noise": (Feed(noise_a=0.06), {}),
    "a low battery": (Feed(volts=11.5), {}),
    "on-times trimmed": (Feed(odd={1: Winding(on_ms=3.2), 2: Winding(on_ms=2.8)}), {}),
    "24 V": (Feed(volts=27.6, usual=Winding(ohm=28.0, henry=0.028)), {}),
}
SICK_INJECTORS = {
    "dead": Winding(dead=True),
    "a fifth more resistance": Winding(ohm=16.8),
    "shorted turns": Winding(ohm=7.0, henry=0.007),
    "stuck": Winding(lifts_ms=None),
    "late": Winding(lifts_ms=2.2),
}

WINDING = Winding(ohm=0.6, henry=3.5e-3, lifts_ms=None, on_ms=3.0)
COILS = Feed(usual=WINDING, role=Role.COIL_CURRENT, reach_a=20.0, noise_a=0.05, fall_s=4e-5)
EACH, SHARED = {"each": True}, {"sync": "coil"}


def coils(**changes: object) -> Feed:
    """The usual coils, changed."""
    return replace(COILS, **changes)  # type: ignore[arg-type]


def dwell(ms: float) -> Winding:
    """A usual coil that is charged for so long."""
    return replace(WINDING, on_ms=ms)


ALL_COILS = {
    "one clamp, synced": (coils(), SHARED),
    "six on one clamp": (coils(order=SIX), SHARED),
    "a clamp on each": (coils(), EACH),
    "held at 7 A": (coils(limited_a=7.0), EACH),
    "held at 7 A on one clamp": (coils(limited_a=7.0), SHARED),
    "dwell adapted": (coils(odd={1: dwell(2.6), 2: dwell(3.4)}), EACH),
    "dwell adapted and held": (coils(limited_a=7.0, odd={1: dwell(2.8), 2: dwell(3.4)}), EACH),
    "a tenth of the level": (coils(gain=0.1, reach_a=2.0, noise_a=0.005), EACH),
    "a thousand times the level": (coils(gain=1000.0, reach_a=20_000.0, noise_a=50.0), EACH),
    "clamp backwards": (coils(gain=-1.0), EACH),
    "offset": (coils(offset_a=1.5), EACH),
    "eight bits": (coils(bits=8), EACH),
    "ten thousand samples": (coils(rate_hz=10_000.0), EACH),
    "three strikes": (coils(strikes=3, usual=dwell(1.5)), EACH),
    "two strikes on one clamp": (coils(strikes=2, usual=dwell(1.5)), SHARED),
    "a low battery": (coils(volts=11.0), EACH),
    "a short capture": (coils(seconds=0.6), EACH),
    "windings apart by 6 %": (coils(odd={1: replace(WINDING, ohm=0.63, henry=3.3e-3)}), EACH),
    "noise": (coils(noise_a=0.4), EACH),
}
SICK_COILS = {
    "draws nothing": Winding(dead=True),
    "shorted turns": replace(WINDING, henry=1.2e-3),
    "resistance": replace(WINDING, ohm=1.6),
    "short dwell": dwell(1.4),
}

PRESSURES = {
    **{f"{n} cylinders": (Cranked(cylinders=n), PLAIN) for n in (1, 2, 3, 4, 5, 6, 8, 12)},
    **{f"{n} cylinders, uneven starter": (Cranked(cylinders=n, ripple=0.3), PLAIN) for n in (1, 2, 3, 4, 5)},
    "absolute": (Cranked(), Transducer(gauge=False)),
    "zero off": (Cranked(), Transducer(zero_pa=4e4)),
    "a slow transducer": (Cranked(), Transducer(low_pass_hz=40.0)),
    "eight bits": (Cranked(), Transducer(bits=8)),
    "two hundred samples a second": (Cranked(rate_hz=200.0), PLAIN),
    "two seconds": (Cranked(seconds=2.0), PLAIN),
    "ratio of 8": (Cranked(ratio=8.0), PLAIN),
    "ratio of 13": (Cranked(ratio=13.0), PLAIN),
    "intake shuts early": (Cranked(intake_closes=-145.0), PLAIN),
    "intake shuts late": (Cranked(intake_closes=-115.0), PLAIN),
}
DOUBTFUL = {
    "psi written as bar": (Transducer(really=PSI), "psi would be usual"),
    "kPa written as bar": (Transducer(really=KPA), "kPa would be usual"),
    "bar written as kPa": (Transducer(written="kPa", really=BAR), "bar would be usual"),
    "bar written as psi": (Transducer(written="psi", really=BAR), "bar would be usual"),
    "behind a check valve": (Transducer(check_valve=True), "check valve"),
}

SENSORS = {
    "as usual": Sensor(),
    "a coil": Sensor(inductive=True),
    "a coil the wrong way round": Sensor(inductive=True, inverted=True),
    "0.15 degrees out of true": Sensor(runout_deg=0.15),
    "0.3 degrees out of true": Sensor(runout_deg=0.3, inductive=True),
    "no sync": Sensor(sync=False),
    "an early spark": Sensor(advance_deg=20.0),
    "noise": Sensor(noise_v=0.2),
    "two and a half seconds": Sensor(seconds=2.5),
}
RUNNING: dict[str, dict[str, object]] = {
    "throttle shut": {"manifold_kpa": 25.0},
    "throttle open": {"manifold_kpa": 95.0},
    "a light flywheel": {"flywheel": 0.08},
    "a heavy flywheel": {"flywheel": 0.4},
    "rough idle": {"scatter": 0.15},
    "slow idle": {"rpm": 620.0},
    "fast idle": {"rpm": 1300.0},
    "the throttle is touched": {"blips": 0.15},
    "24 even teeth": {"teeth": "x" * 24},
    "one tooth of 36 missing": {"teeth": "x" * 35 + "."},
}

HOSES = {
    "as usual": Hose(),
    "a hose that rings at 35 Hz": Hose(rings_hz=35.0, damping=0.15),
    "a hose that rings at 200 Hz": Hose(rings_hz=200.0, damping=0.05),
    "a long hose": Hose(delay_s=0.012),
    "a sensor that lets go": Hose(blocks_slow_hz=2.0),
    "eight bits": Hose(bits=8),
    "noise": Hose(noise_pa=60.0),
    "upside down": Hose(gain=-1.0),
    "a tenth of the level": Hose(gain=0.1, noise_pa=0.4),
    "offset and drift": Hose(offset_pa=800.0, drift_pa=1500.0),
}
LUNGS: dict[str, dict[str, float]] = {
    "a small manifold": {"plenum": 1.0},
    "a large manifold": {"plenum": 8.0},
    "throttle open": {"throttle": 120.0},
    "throttle nearly shut": {"throttle": 4.0},
    "uneven cranking": {"ripple": 0.3},
    "two and a half seconds": {"seconds": 2.5},
    "a late intake cam": {"intake_opens_deg": 375.0, "intake_closes_deg": 620.0},
    "an early intake cam": {"intake_opens_deg": 335.0, "intake_closes_deg": 560.0},
}
SICK_LUNGS = {
    "intake valve shut": (Role.INTAKE_PRESSURE, Lungs(intake_opens=False)),
    "intake valve leaks": (Role.INTAKE_PRESSURE, Lungs(intake_leak=60.0)),
    "exhaust valve shut": (Role.INTAKE_PRESSURE, Lungs(exhaust_opens=False)),
    "rings": (Role.CRANKCASE_PRESSURE, Lungs(blow_by=0.3)),
    "does not fire": (Role.EXHAUST_PRESSURE, Lungs(fires=0.0)),
}
