"""What gauges, meters, lamps, scan tool and eyes would say of the vehicle, as observations of a case."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import replace
from typing import Any

from numpy.random import Generator

from fairwitness.core.errors import SimulationError
from fairwitness.core.model.case import Observation
from fairwitness.core.model.engine import Ignition, Injection
from fairwitness.simulate.cranking import ATMOSPHERE_PA
from fairwitness.simulate.gas import tables_for
from fairwitness.simulate.gauges_engine import chain_of, engine_circuits, first_look, no_start
from fairwitness.simulate.gauges_running import (
    cranking_speed,
    exhaust_temperature,
    misfire_counts,
    power_balance,
    roughness,
)
from fairwitness.simulate.gauges_wiring import pin_to_pin
from fairwitness.simulate.health import Health, LeakPath
from fairwitness.simulate.running import trim_percent
from fairwitness.simulate.trajectory import CRANKING_CHARGE_PA, CRANKING_RPM
from fairwitness.simulate.under_test import VehicleUnderTest, seen_by
from fairwitness.simulate.vehicle import Vehicle

LEAK_DOWN_FULL = 88.0
ALWAYS_BLOWS_BY = 12.0
"""[M] leak-down of a worn but sound engine from which a little is always heard at the filler, %."""
SECONDARY_OHM, LEAD_OHM = 8_800.0, 4_200.0
OIL_SEALS = 0.6
"""[M] share of a ring leak that a spoon of oil closes."""
PORT_KPA = 350.0
HEARD = {
    LeakPath.CRANKCASE: "oil_filler",
    LeakPath.INTAKE: "intake",
    LeakPath.EXHAUST: "exhaust",
    LeakPath.NEIGHBOUR: "neighbour",
}
Gauge = Callable[["VehicleUnderTest", Generator], list[Observation]]


def observe(
    vehicle: Vehicle, test: str, *, hot: bool, rng: Generator, suspects: tuple[int, ...] = ()
) -> list[Observation]:
    """Do one hand test on the vehicle.

    Parameters
    ----------
    vehicle : Vehicle
    test : str
        A key of ``GAUGES``.
    hot : bool
    rng : numpy Generator
    suspects : tuple of int
        Cylinders a test of one cylinder is done on; those with a fault if left out.

    Returns
    -------
    list of Observation

    Raises
    ------
    SimulationError
        No such test.
    """
    if test not in GAUGES:
        raise SimulationError(f"There is no test {test!r}.", where="tests", remedy=f"Use one of {', '.join(GAUGES)}.")
    return GAUGES[test](VehicleUnderTest(vehicle, hot=hot, suspects=suspects), rng)


def compression_gauge(tested: VehicleUnderTest, rng: Generator) -> list[Observation]:
    """Dry on all, then wet on those that are low."""
    dry = {c: _gauge_kpa(tested, tested.parts[c], rng) for c in tested.order}
    high = max(dry.values())
    data: dict[str, Any] = {"unit": "kPa", "dry": {str(c): round(v) for c, v in dry.items()}}
    low = [c for c, v in dry.items() if v < 0.75 * high] or list(tested.suspects[:1])
    data["wet"] = {str(c): round(_gauge_kpa(tested, _oiled(tested.parts[c]), rng)) for c in low}
    return [seen_by("compression_gauge", **data)]


def _gauge_kpa(tested: VehicleUnderTest, health: Health, rng: Generator) -> float:
    """The check valve of a gauge keeps the highest pressure above atmosphere."""
    table = tables_for(tested.vehicle.turning, health, speed_rpm=CRANKING_RPM, charge_pa=CRANKING_CHARGE_PA)
    peak = float((CRANKING_CHARGE_PA * table.charge + ATMOSPHERE_PA * table.exhaust).max()) - ATMOSPHERE_PA
    return max(peak, 0.0) / 1000 * (1 + 0.015 * tested.hands.scatter * float(rng.normal()))


def _oiled(health: Health) -> Health:
    if health.leak_path is not LeakPath.CRANKCASE:
        return health
    return replace(health, sealing=health.sealing + OIL_SEALS * (1 - health.sealing))


def leak_down(tested: VehicleUnderTest, rng: Generator) -> list[Observation]:
    """Compressed air at TDC compression of the suspects."""
    seen = []
    for cylinder in tested.suspects:
        health = tested.parts[cylinder]
        sound = tested.hands.sound_leak
        lost = sound + (LEAK_DOWN_FULL - sound) * (1 - health.sealing) ** 0.8
        percent = min(max(round(lost * (1 + 0.12 * tested.hands.scatter * float(rng.normal())), 0), 2), 100)
        loud = health.sealing < 0.85 and health.leak_path in HEARD and not tested.slips(rng)
        heard = [HEARD[health.leak_path]] if loud else ["oil_filler"] if sound > ALWAYS_BLOWS_BY else []
        data: dict[str, Any] = {"cylinder": cylinder, "percent": percent, "heard_at": heard}
        if heard == ["neighbour"]:
            data["neighbour"] = next((c for c in tested.suspects if c != cylinder), None)
        seen.append(seen_by("leak_down", **{k: v for k, v in data.items() if v is not None}))
    return seen


def resistance(tested: VehicleUnderTest, rng: Generator) -> list[Observation]:
    """Injectors, coil primaries and secondaries, every cylinder, at the part; command wires of the suspects."""
    seen = []
    temperature = "hot" if tested.hot else "cold"
    for cylinder in tested.order:
        health = tested.parts[cylinder]
        noise = 1 + 0.008 * tested.hands.scatter * float(rng.normal())
        if tested.vehicle.engine.injection is not Injection.CARBURETTOR:
            own = tested.vehicle.injection.own_ohm(cylinder)
            injector = tested.vehicle.injection.ohm * own * health.injector_ohm * tested.spread * noise
            seen.append(_ohms("injector", cylinder, injector, health.injector_closed_circuit, temperature))
        only_one = tested.vehicle.engine.ignition is Ignition.DISTRIBUTOR and cylinder != tested.order[0]
        if not tested.vehicle.sparkless and not only_one:
            primary = tested.vehicle.ignition.primary_ohm * tested.spread * noise
            seen.append(_ohms("coil_primary", cylinder, primary, health.primary_closed, temperature))
            shorted = health.coil_inductance < 0.9
            secondary = SECONDARY_OHM * (0.35 if shorted else 1.0) * tested.spread * noise
            seen.append(_ohms("coil_secondary", cylinder, secondary, health.coil_output > 0, temperature))
        if not tested.vehicle.sparkless:
            lead = LEAD_OHM * noise + health.series_ohm
            seen.append(_ohms("plug_lead", cylinder, lead, not health.secondary_open, temperature))
    for cylinder in tested.suspects:
        health = tested.parts[cylinder]
        whole = health.command_at_coil and health.injector_command_at_part
        seen.append(_ohms("control_wire", cylinder, 0.4 + 0.1 * float(rng.random()), whole, temperature))
    return seen


def _ohms(item: str, cylinder: int, ohms: float, closed: bool, temperature: str) -> Observation:
    data: dict[str, Any] = {"item": item, "cylinder": cylinder, "temperature": temperature}
    return seen_by("resistance", **data, **({"ohms": round(ohms, 2)} if closed else {"open": True}))


def voltage(tested: VehicleUnderTest, rng: Generator) -> list[Observation]:
    """Battery, coil feed, earth and command, injector feed and control, at the suspects and one sound peer."""
    vehicle = tested.vehicle
    battery = vehicle.turning.battery_volt
    seen = [seen_by("voltage", item="battery", volts=round(battery, 2), engine_state="key_on")]
    for cylinder in tested.suspects:
        health = tested.parts[cylinder]
        at: dict[str, Any] = {"cylinder": cylinder, "engine_state": "key_on", "unplugged": False, "measured_at": "part"}
        connected = health.injector_closed_circuit and health.injector_feed and health.injector_command_at_part
        control = battery - 0.15 if connected else vehicle.injection.bias_v
        for item, volts in (
            ("injector_feed", battery - 0.1 if health.injector_feed else 0.0),
            ("injector_control", control),
            ("coil_feed", battery - 0.2 if health.coil_feed else 0.0),
            ("coil_earth", 0.06),
            ("coil_control_low", health.command_low_v if health.command_at_coil else 0.0),
        ):
            if vehicle.sparkless and item.startswith("coil"):
                continue
            seen.append(seen_by("voltage", item=item, volts=round(abs(volts + 0.03 * float(rng.normal())), 2), **at))
    return seen


def fuel_pressure(tested: VehicleUnderTest, rng: Generator) -> list[Observation]:
    """Rail pressure at idle against the maker's range."""
    nominal = {Injection.DIRECT: 5_000.0, Injection.COMMON_RAIL: 30_000.0}.get(
        tested.vehicle.engine.injection, PORT_KPA
    )
    share = min((h.flow for h in tested.parts.values()), default=1.0)
    low_supply = any(f.fault == "fuel_supply_low" for f in tested.faults)
    pumped = 1.0 if chain_of(tested).fuel_pressure else 0.03
    kpa = pumped * nominal * (share**2 if low_supply else 1.0) * (1 + 0.01 * float(rng.normal()))  # flow: its root
    data: dict[str, Any] = {"kpa": round(kpa), "low_kpa": round(0.93 * nominal), "high_kpa": round(1.07 * nominal)}
    if nominal == PORT_KPA:  # a return line that can be led into a glass
        volume = 500.0 * (share if low_supply else 1.0) * (1 + 0.02 * float(rng.normal()))
        data |= {"volume_ml": round(volume), "least_ml": 450, "seconds": 30}
    drips = max(min(h.drip, 1.0) for h in tested.parts.values())
    lost = (0.02 + 0.5 * drips) * (1 + 0.1 * float(rng.normal()))
    data |= {"kpa_after": round(kpa * (1 - lost)), "minutes": 5}
    return [seen_by("fuel_pressure", **data)]


def fuel_trim(tested: VehicleUnderTest, rng: Generator) -> list[Observation]:
    """Trims of each bank at idle: what the mixture control adds to what it meets."""
    seen = []
    for number, bank in enumerate(tested.vehicle.engine.banks or (tested.order,), start=1):
        trajectory = tested.idle(rng, seconds=2.0)
        total = trim_percent(trajectory, tuple(bank))
        long = round(0.7 * total + float(rng.normal(0, 0.8)), 1)
        seen.append(seen_by("fuel_trim", bank=number, short_percent=round(total - long, 1), long_percent=long))
    return seen


def vacuum(tested: VehicleUnderTest, rng: Generator) -> list[Observation]:
    """Manifold vacuum at idle, at a port without a check valve."""
    trajectory = tested.idle(rng)
    below = (ATMOSPHERE_PA - float(trajectory.manifold_pa.mean())) / 1000
    return [seen_by("vacuum", kpa_below_atmosphere=round(below + float(rng.normal(0, 0.7)), 1), engine_state="running")]


def spark_check(tested: VehicleUnderTest, rng: Generator) -> list[Observation]:
    """A tester gap at the lead end of each suspect while cranking."""
    if tested.vehicle.sparkless:
        return []
    seen = []
    for cylinder in tested.suspects:
        health = tested.parts[cylinder]
        weak = health.coil_output < 0.5 or health.coil_inductance < 0.9 or health.series_ohm > 6e4
        none = not health.coil_runs or health.coil_output <= 0 or health.secondary_open
        spark = "none" if none else "weak" if weak else "strong"
        if tested.slips(rng):
            spark = "weak" if spark == "strong" else "strong"
        seen.append(seen_by("spark_check", cylinder=cylinder, spark=spark, measured_at="lead_end"))
    return seen


def load_lamp(tested: VehicleUnderTest, rng: Generator) -> list[Observation]:
    """A bulb of about 2 A in place of the injector, then of the coil, at the suspects."""
    seen = []
    for cylinder in tested.suspects:
        health = tested.parts[cylinder]
        wired = health.injector_feed and health.injector_command_at_part and health.injector_command_at_unit
        steady = health.injector_always_on
        lamp = "bright" if steady else "flashing" if wired and not health.cut else "dark"
        seen.append(seen_by("load_lamp", circuit="injector", cylinder=cylinder, lamp=lamp))
        if not tested.vehicle.sparkless:
            switched = health.coil_feed and health.command_at_coil and health.command_low_v < 1.5
            seen.append(
                seen_by("load_lamp", circuit="coil", cylinder=cylinder, lamp="flashing" if switched else "dark")
            )
    return seen


SWAPPABLE = {
    "coil": ("coil_secondary_shorted", "coil_output_dead", "coil_primary_open"),
    "plug": ("plug_gap_wide", "plug_shorted", "plug_tracking"),
    "lead": ("secondary_high_resistance", "secondary_open", "secondary_leak"),
    "injector": (
        "injector_open_circuit",
        "injector_high_resistance",
        "injector_shorted",
        "injector_stuck_closed",
        "injector_restricted",
        "injector_leaking",
    ),
}
"""A fault that moves with the part it sits in."""


def swap(tested: VehicleUnderTest, rng: Generator) -> list[Observation]:
    """Each part of the first suspect changed with a neighbour's: whether the misfire moves."""
    suspect = tested.suspects[0]
    other = next((c for c in tested.order if c not in tested.suspects), None)
    if other is None:
        return []
    # The misfire is waited for before anything is said, so a fault that hides now is met as well.
    mine = {f.fault for f in tested.vehicle.faults if suspect in f.cylinders}
    coil_on_plug = tested.vehicle.engine.ignition is Ignition.COIL_ON_PLUG
    parts = (
        ["injector"] if tested.vehicle.sparkless else ["plug", "injector", *(["coil"] if coil_on_plug else ["lead"])]
    )
    return [
        seen_by(
            "swap",
            part=part,
            **{"from": suspect, "to": other},
            moved=bool(mine & set(SWAPPABLE[part])) != tested.slips(rng),
        )
        for part in parts
    ]


PLUG_LOOKS = {
    "plug_gap_wide": "worn",
    "plug_shorted": "fouled",
    "plug_tracking": "tracked",
    "coil_output_dead": "wet",
    "secondary_open": "wet",
    "coil_primary_open": "wet",
    "injector_leaking": "fouled",
}


LEAD_LOOKS = {"secondary_leak": "burnt", "secondary_open": "damaged", "secondary_high_resistance": "corroded"}
LEAD_SHOWS = 0.7
"""[M] how often a bad lead or boot can be seen from outside."""


def visual(tested: VehicleUnderTest, rng: Generator) -> list[Observation]:
    """Plugs of the suspects, out and looked at; burnt or corroded things beside them."""
    seen = []
    for cylinder in tested.suspects:
        own = [f.fault for f in tested.faults if cylinder in f.cylinders]
        look = next((PLUG_LOOKS[f] for f in own if f in PLUG_LOOKS), _soaked(tested, cylinder))
        if not tested.vehicle.sparkless:
            seen.append(seen_by("visual", item="plug", cylinder=cylinder, seen=look))
        if any(f in ("injector_high_resistance", "coil_control_open", "injector_control_open") for f in own):
            seen.append(seen_by("visual", item="connector", cylinder=cylinder, seen="corroded"))
        if not tested.vehicle.sparkless:
            marks = next((LEAD_LOOKS[f] for f in own if f in LEAD_LOOKS), "clean")
            shown = marks if rng.random() < LEAD_SHOWS else "clean"
            seen.append(seen_by("visual", item="lead", cylinder=cylinder, seen=shown))
    return seen


def _soaked(tested: VehicleUnderTest, cylinder: int) -> str:
    """Fuel that does not burn wets the plug, whatever kept it from burning."""
    health = tested.parts[cylinder]
    fuelled = health.injector_runs and health.pintle_moves and health.flow > 0.5
    burns = health.coil_runs and health.coil_output > 0.3 and not health.secondary_open and health.sealing > WETS_BELOW
    return "wet" if tested.hands.wet_plugs and fuelled and not burns else "clean"


WETS_BELOW = 0.35
"""[M] sealing below which a charge does not burn and the plug stays wet."""
DELIVERED_KPA = 24.0


def delivery(tested: VehicleUnderTest, rng: Generator) -> list[Observation]:
    """Each injector pulsed alike by a tester at its own plug: how far the rail pressure drops."""
    if tested.vehicle.engine.injection in (Injection.DIRECT, Injection.COMMON_RAIL, Injection.CARBURETTOR):
        return []
    drops = {}
    supply_low = any(f.fault == "fuel_supply_low" for f in tested.faults)
    for cylinder in tested.order:
        health = tested.parts[cylinder]
        opens = health.injector_closed_circuit and health.pintle_moves and health.injector_inductance > 0.5
        drips = 0.0 if health.injector_always_on else 0.4 * min(health.drip, 1.0)  # the tester drives it by itself
        share = (1.0 if supply_low else health.flow) + drips if opens else 0.0
        noise = 0.03 * tested.hands.scatter * float(rng.normal()) * (1 if opens else 0)
        drops[str(cylinder)] = round(max(0.0, DELIVERED_KPA * share * (1 + noise) + 0.3 * abs(float(rng.normal()))), 1)
    return [seen_by("delivery", drops_kpa=drops)]


def runner_check(tested: VehicleUnderTest, rng: Generator) -> list[Observation]:
    """Smoke at the intake runners of the suspects."""
    return [
        seen_by(
            "runner_check",
            cylinder=c,
            place="runner",
            by="smoke",
            seen="leak" if (tested.parts[c].extra_air > 0.1) != tested.slips(rng) else "tight",
        )
        for c in tested.suspects
    ]


def key_cycle(tested: VehicleUnderTest, rng: Generator) -> list[Observation]:
    """Whether the suspects are injected in the first seconds after the key was off."""
    seen = []
    for cylinder in tested.suspects:
        health = tested.parts[cylinder]  # without protection: what the unit withholds it gives once more
        cut = health.cut or (tested.vehicle.protective and not health.coil_runs and not tested.vehicle.sparkless)
        could = replace(health, cut=False).injector_runs
        injected = "returns" if cut and could else "never_away" if could else "stays_away"
        seen.append(seen_by("key_cycle", cylinder=cylinder, injection=injected))
    return seen


GAUGES: Mapping[str, Gauge] = {
    "exhaust_temperature": exhaust_temperature,
    "key_cycle": key_cycle,
    "delivery": delivery,
    "runner_check": runner_check,
    "compression_gauge": compression_gauge,
    "leak_down": leak_down,
    "resistance": resistance,
    "pin_to_pin": pin_to_pin,
    "voltage": voltage,
    "fuel_pressure": fuel_pressure,
    "fuel_trim": fuel_trim,
    "vacuum": vacuum,
    "spark_check": spark_check,
    "load_lamp": load_lamp,
    "swap": swap,
    "visual": visual,
    "cranking_speed": cranking_speed,
    "power_balance": power_balance,
    "misfire_counts": misfire_counts,
    "roughness": roughness,
    "first_look": first_look,
    "no_start": no_start,
    "engine_circuits": engine_circuits,
}
"""Hand tests by the name of the observation they give."""
