"""The tests of the trade as a bay does them: minutes, tools, state of the engine, what each reads and its cautions."""

from __future__ import annotations

from dataclasses import dataclass, replace
from enum import StrEnum

from fairwitness.core.model.engine import CAM_EDGES, Engine, Fuel, Ignition, Injection
from fairwitness.core.reason.planning.approach import Tool


class Turning(StrEnum):
    """What the engine does during a test."""

    STILL = "still"
    CRANKING = "cranking"
    RUNNING = "running"


@dataclass(frozen=True, slots=True, kw_only=True)
class BayTest:
    """One test the bay can do.

    Parameters
    ----------
    id : str
        Name of the test, or kind of a test by hand (``resistance:coil_primary``).
    title, tools, splits : str
        What it is called, what it is done with, what it tells apart.
    needs : tuple of Tool
        All of them.
    set_up, work : float, min
        Clipping on, and taking it on one cylinder or on all at once [T].
    each : float, min
        More for every further cylinder of a test done on one.
    columns : tuple of str
        Of the signature table.
    kinds : tuple of str
        Rows of the table of outcomes it reads.
    turning : Turning
    per_cylinder : bool
    mechanical : bool
    disturbs : bool
        Unplugs or takes apart, which may hide an intermittent fault.
    swaps : bool
        Proves by changing a part over.
    sweeps : bool
        Compares readings of single cylinders: worth taking of all while nobody is suspected.
    cautions : tuple of str
    """

    id: str
    title: str
    tools: str
    splits: str
    set_up: float
    work: float
    each: float = 0.0
    needs: tuple[Tool, ...] = ()
    columns: tuple[str, ...] = ()
    kinds: tuple[str, ...] = ()
    turning: Turning = Turning.RUNNING
    per_cylinder: bool = False
    mechanical: bool = False
    disturbs: bool = False
    swaps: bool = False
    sweeps: bool = False
    cautions: tuple[str, ...] = ()

    @property
    def kind(self) -> str:
        """Row of the table of outcomes that is all a test by hand reads; empty for others."""
        return self.id if self.kinds == (self.id,) else ""

    @property
    def test(self) -> str:
        """The test of the trade it is done with."""
        name = self.id.partition(":")[0]
        return {"command": "coil_control", "injector_command": "injector_voltage"}.get(name, name)

    @property
    def minutes(self) -> float:
        """With nothing connected, on one cylinder or on all at once."""
        return self.set_up + self.work


HIGH_VOLTAGE = "High voltage at coils, leads and injectors: hands off while running; not for anyone with a pacemaker."
FUEL_LINE = (
    "Petrol under pressure: relieve it first, catch what leaves, extinguisher at hand. Never open a line of common "
    "rail or direct injection: follow the maker's procedure."
)
ROTATING = "Keep clear of fans and belts; lead exhaust gas outdoors."
CRANK = "Disable fuel first and record how; crank 5 to 10 s, then let the starter cool."
PLUG_HOLES = "Petrol vapour and sparks: shield open plug holes, disable ignition, keep an extinguisher at hand."
KICK = "The kick exceeds 60 V: use an attenuator."
PULLED = "Key off before a connector is pulled; do not disturb one before an intermittent has been captured."
AIR_TURNS = "Air can turn the engine: keep hands and tools clear, remove the key."
NEVER_OPEN = "Never leave a coil open; short cuts only, raw fuel overheats the catalyst."

_STILL, _CRANKING, _RUNNING = Turning.STILL, Turning.CRANKING, Turning.RUNNING

SCOPE_TESTS: tuple[BayTest, ...] = (
    BayTest(
        id="relative_compression", title="Relative compression from starter current",
        tools="clamp on a battery cable, sync on a sound cylinder", needs=(Tool.SCOPE, Tool.BIG_CLAMP),
        splits="tells a cylinder that does not seal from ignition and fuel, without taking anything apart",
        set_up=2, work=2, columns=("RC",), turning=_CRANKING, mechanical=True, cautions=(CRANK,),
    ),
    BayTest(
        id="crank_speed", title="Crank speed at idle", tools="scope on the crank sensor", needs=(Tool.SCOPE,),
        splits="shows which power stroke is missing", set_up=2.5, work=1.5, columns=("CON",), cautions=(ROTATING,),
    ),
    BayTest(
        id="exhaust_pulse", title="Exhaust pulse at the tailpipe", tools="hose sensor",
        needs=(Tool.SCOPE, Tool.HOSE_SENSOR), splits="shows a missing firing from the tailpipe",
        set_up=1.5, work=1.5, columns=("EX",), cautions=(ROTATING,),
    ),
    BayTest(
        id="secondary_voltage", title="Secondary voltage of all cylinders", tools="scope with pick-ups",
        needs=(Tool.SCOPE, Tool.PICK_UPS),
        splits="separates plug, lead and coil, and shows a lean or leaking cylinder",
        set_up=4, work=2, columns=("FV", "SV", "SD", "SL", "RG"),
        cautions=(HIGH_VOLTAGE, "Use an attenuator; never an open coil."),
    ),
    BayTest(
        id="coil_current", title="Coil current on the shared feed", tools="small clamp",
        needs=(Tool.SCOPE, Tool.SMALL_CLAMP), splits="tells a coil that is not charged from one that gives nothing",
        set_up=2.5, work=1.5, columns=("CC",), cautions=(HIGH_VOLTAGE,),
    ),
    BayTest(
        id="coil_control", title="Coil command levels", tools="scope", needs=(Tool.SCOPE, Tool.ATTENUATOR),
        splits="tells the command from the coil", set_up=4, work=2, columns=("CMD",), cautions=(HIGH_VOLTAGE,),
    ),
    BayTest(
        id="injector_current", title="Injector current on the shared feed", tools="small clamp",
        needs=(Tool.SCOPE, Tool.SMALL_CLAMP),
        splits="compares all injectors at once and shows the one that draws nothing",
        set_up=2.5, work=1.5, columns=("IC", "PD"), kinds=("injector_on_time",), cautions=(ROTATING,),
    ),
    BayTest(
        id="injector_voltage", title="Injector voltage", tools="scope with attenuator",
        needs=(Tool.SCOPE, Tool.ATTENUATOR), splits="shows whether current was flowing when the driver let go",
        set_up=4, work=2, columns=("IV",), kinds=("injector_command:part",), cautions=(KICK,),
    ),
    BayTest(
        id="cam_timing", title="Cam against crank, beside a known good", tools="scope on both sensors",
        needs=(Tool.SCOPE,), splits="shows a chain or belt that jumped, in degrees, without taking anything apart",
        set_up=3, work=1, kinds=("cam_timing",), mechanical=True, cautions=(ROTATING,),
    ),
    BayTest(
        id="crankcase_pulse", title="Crankcase pulse while cranking", tools="hose sensor on the dipstick tube",
        needs=(Tool.SCOPE, Tool.HOSE_SENSOR),
        splits="tells rings and piston from valves: a pulse in the dead cylinder's compression is the block",
        set_up=2, work=2, columns=("CK",), turning=_CRANKING, mechanical=True, cautions=(CRANK,),
    ),
    BayTest(
        id="intake_pulse", title="Intake pulse while cranking", tools="hose sensor at a vacuum port",
        needs=(Tool.SCOPE, Tool.HOSE_SENSOR), splits="shows compression blowing back past an intake valve",
        set_up=2.5, work=2.5, columns=("IN",), turning=_CRANKING, mechanical=True, cautions=(CRANK,),
    ),
    BayTest(
        id="cylinder_pressure", title="Cranking pressure in the cylinder",
        tools="pressure transducer in the plug hole", needs=(Tool.SCOPE, Tool.TRANSDUCER),
        splits="gives the absolute figure and the valve events", set_up=10, work=4, each=8, columns=("CP",),
        kinds=("valve_events", "pressure_best"), turning=_CRANKING, per_cylinder=True, mechanical=True,
        disturbs=True, cautions=(PLUG_HOLES, CRANK),
    ),
)  # fmt: skip
SCAN_TESTS: tuple[BayTest, ...] = (
    BayTest(
        id="cranking_speed", title="Cranking speed of each cylinder from the scan tool", tools="scan tool",
        needs=(Tool.SCAN_TOOL,), splits="shows the cylinder the starter runs through too easily",
        set_up=2, work=2, columns=("RC",), turning=_CRANKING, mechanical=True, cautions=(CRANK,),
    ),
    BayTest(
        id="misfire_counts", title="Misfire counts of the control unit", tools="scan tool", needs=(Tool.SCAN_TOOL,),
        splits="names a cylinder; a signal of one's own is to confirm it", set_up=1.5, work=2.5, columns=("CON",),
        cautions=(ROTATING,),
    ),
    BayTest(
        id="power_balance", title="Power balance", tools="scan tool or injector unplugging",
        splits="shows which cylinder's removal changes nothing", set_up=2, work=4, columns=("CON",),
        cautions=(NEVER_OPEN, HIGH_VOLTAGE),
    ),
    BayTest(
        id="fuel_trim", title="Fuel trims of each bank", tools="scan tool", needs=(Tool.SCAN_TOOL,),
        splits="shows whether the control unit adds or takes away fuel: all lean, one bank, or none",
        set_up=1, work=1, kinds=("fuel_trim",), cautions=(ROTATING,),
    ),
)  # fmt: skip
GAUGE_TESTS: tuple[BayTest, ...] = (
    BayTest(
        id="compression_gauge", title="Compression gauge, dry and with oil", tools="compression gauge, spoon of oil",
        needs=(Tool.COMPRESSION_GAUGE,),
        splits="gives the absolute figure; rises with oil is rings, stays is valves or gasket",
        set_up=12, work=13, columns=("RC",), kinds=("gauge_wet", "pressure_best"), turning=_CRANKING, mechanical=True,
        disturbs=True, cautions=(PLUG_HOLES, CRANK),
    ),
    BayTest(
        id="leak_down", title="Leak-down at TDC compression", tools="leak-down gauge, compressed air",
        needs=(Tool.LEAK_DOWN,),
        splits="hears where the pressure leaves: intake, tailpipe, oil filler, coolant or the neighbour",
        set_up=10, work=8, each=6, kinds=("leak_down",), turning=_STILL, per_cylinder=True, mechanical=True,
        disturbs=True, cautions=(AIR_TURNS, PLUG_HOLES),
    ),
    BayTest(
        id="vacuum", title="Vacuum of the manifold at idle", tools="vacuum gauge", needs=(Tool.VACUUM_GAUGE,),
        splits="near nothing speaks for valve timing or a throttle that stays open", set_up=1.5, work=1.5,
        kinds=("vacuum",), mechanical=True, cautions=(ROTATING, "Take a port without a check valve."),
    ),
    BayTest(
        id="fuel_pressure", title="Fuel pressure and volume", tools="pressure gauge, measuring glass",
        needs=(Tool.FUEL_GAUGE,), splits="tells a weak supply from one injector or runner", set_up=5, work=3,
        kinds=("fuel_pressure", "fuel_pressure:held"), disturbs=True, cautions=(FUEL_LINE,),
    ),
    BayTest(
        id="delivery", title="Injector delivery, by pressure drop", tools="pressure gauge, injector pulser",
        needs=(Tool.FUEL_GAUGE, Tool.PULSER),
        splits="shows a restricted, stuck or leaking injector that is sound electrically", set_up=6, work=9,
        columns=("DL",), turning=_STILL, disturbs=True, cautions=(FUEL_LINE,),
    ),
)  # fmt: skip
BAY_TESTS = (*SCOPE_TESTS, *SCAN_TESTS, *GAUGE_TESTS)
"""Tests that compare cylinders or speak of the whole engine: a row of the board each."""


def _one(
    kind: str, title: str, minutes: float, needs: tuple[Tool, ...], tools: str, splits: str, *cautions: str
) -> BayTest:
    return BayTest(
        id=kind, title=title, tools=tools, splits=splits, needs=needs, set_up=0.4 * minutes, work=0.6 * minutes,
        each=0.6 * minutes, kinds=(kind,), turning=_STILL, per_cylinder=True, disturbs=True, cautions=cautions,
    )  # fmt: skip


_METER, _LAMP, _SCOPE = (Tool.METER,), (Tool.LAMP,), (Tool.SCOPE, Tool.ATTENUATOR)
HAND_TESTS: tuple[BayTest, ...] = (
    _one("swap:coil", "Coil changed over with a neighbour's", 6, (), "hand tools",
         "a misfire that moves proves the coil, one that stays clears it", HIGH_VOLTAGE),
    _one("swap:plug", "Plug changed over with a neighbour's", 12, (), "hand tools",
         "a misfire that moves proves the plug", PLUG_HOLES),
    _one("swap:lead", "Lead changed over with a neighbour's", 5, (), "hand tools",
         "a misfire that moves proves the lead", HIGH_VOLTAGE),
    _one("swap:injector", "Injector changed over with a neighbour's", 35, (), "hand tools",
         "a misfire that moves proves the injector", FUEL_LINE),
    _one("resistance:coil_primary", "Resistance of the coil primary", 3, _METER, "meter",
         "an open winding is decisive", PULLED),
    _one("resistance:coil_secondary", "Resistance of the coil secondary", 4, _METER, "meter",
         "shorted or open turns stand out beside the peers", PULLED),
    _one("resistance:plug_lead", "Resistance of lead or boot", 4, _METER, "meter",
         "tells an open or burnt lead from plug and coil", PULLED),
    _one("resistance:injector", "Resistance of the injector at its plug", 3, _METER, "meter",
         "open is decisive; compare with the others", PULLED),
    _one("resistance:control_wire", "Command wire from end to end", 10, _METER, "meter",
         "tells the wire from the control unit", PULLED),
    _one("voltage:coil_feed", "Coil feed under load", 3, _METER, "meter or lamp",
         "tells a coil without feed from an open one", HIGH_VOLTAGE),
    _one("voltage:coil_earth", "Coil earth under load", 3, _METER, "meter",
         "a bad earth keeps the command from switching", HIGH_VOLTAGE),
    _one("voltage:injector_feed", "Injector feed under load", 3, _METER, "meter or lamp",
         "tells an injector without feed from an open one", ROTATING),
    _one("voltage:injector_control:part", "Injector control side, key on", 3, _METER, "meter",
         "battery voltage there means feed and winding are whole", PULLED),
    _one("load_lamp:coil", "Lamp in place of the coil", 5, _LAMP, "bulb of about 2 A",
         "shows whether feed, wire and driver carry load", HIGH_VOLTAGE),
    _one("load_lamp:injector", "Lamp in place of the injector", 5, _LAMP, "bulb of about 2 A",
         "shows whether feed, wire and driver carry load", PULLED),
    _one("runner_check:runner", "Smoke or propane at the intake runner", 6, (Tool.SMOKE,), "smoke or propane",
         "a leak there starves one cylinder of fuel for its air",
         "Propane and smoke near a running engine: extinguisher at hand, no sparks, aired. " + ROTATING),
    _one("injector_command:control_unit", "Injector command at the control unit's own pin", 12, _SCOPE, "scope",
         "tells the wire from the driver", KICK),
    _one("command:control_unit", "Command at the control unit's own pin", 12, _SCOPE, "scope",
         "tells the wire from the driver", PULLED),
    _one("command:part_unplugged", "Command with the coil unplugged", 5, _SCOPE, "scope",
         "a level that stays wrong without the coil is the wire or the control unit", PULLED),
    _one("injector_command:part_unplugged", "Injector command with the injector unplugged", 5, _SCOPE, "scope",
         "a level that stays wrong without the injector is the wire or the control unit", PULLED),
    _one("spark_check:lead_end", "Spark on free air at the lead end", 3, (Tool.SPARK_GAP,), "spark gap tester",
         "none there means coil, lead or command; strong does not prove it under pressure",
         "Never run a coil open. " + HIGH_VOLTAGE),
    _one("key_cycle", "Key off, then the first seconds after the start", 4, (), "scan tool or a lamp at the injector",
         "a cut cylinder is injected again for a while, a dead driver stays dead", ROTATING),
    _one("visual:plug", "The plug, out and looked at", 8, (), "eyes",
         "a worn, fouled, tracked or wet plug tells its own story", PLUG_HOLES),
    _one("visual:lead", "Lead and boot, looked at", 3, (), "eyes",
         "burn marks and corrosion show where the spark goes", HIGH_VOLTAGE),
)  # fmt: skip
HAND_TESTS = tuple(
    replace(t, swaps=t.id.startswith("swap:"),
            sweeps=t.id.startswith("resistance:") and t.id != "resistance:control_wire",
            turning=_RUNNING if t.id.startswith("runner_check") else t.turning,
            disturbs=not t.id.startswith(("runner_check", "voltage", "visual:lead", "key_cycle")))
    for t in HAND_TESTS
)  # fmt: skip
"""Tests of one part of one cylinder."""
ALL_TESTS = (*BAY_TESTS, *HAND_TESTS)
BY_ID = {test.id: test for test in ALL_TESTS}
OF_SPARK = ("secondary_voltage", "coil_current", "coil_control", "swap:coil", "swap:plug", "resistance:coil",
            "resistance:plug", "voltage:coil", "load_lamp:coil", "command:", "spark_check", "visual:plug",
            "visual:lead")  # fmt: skip


def fits(test: BayTest, engine: Engine) -> bool:
    """Whether a test can be done on an engine.

    Parameters
    ----------
    test : BayTest
    engine : Engine

    Returns
    -------
    bool
        False for coils on a diesel, a coil changed over where one serves two, injectors of a carburettor.
    """
    if engine.ignition is Ignition.COMPRESSION_IGNITION and test.id.startswith(OF_SPARK):
        return False
    if engine.ignition is Ignition.COMPRESSION_IGNITION and test.id in ("crankcase_pulse", "intake_pulse"):
        return False  # with the fuel disabled nothing marks the cycle, so no pulse can be assigned
    if test.id == "cam_timing" and CAM_EDGES not in engine.extra:
        return False  # an edge alone tells nothing
    if test.id in ("swap:coil", "swap:lead"):
        on_plug = engine.ignition is Ignition.COIL_ON_PLUG
        return on_plug == (test.id == "swap:coil") and engine.cylinders > 1
    if test.id.startswith("swap:") and engine.cylinders == 1:
        return False
    if test.id in ("fuel_trim", "runner_check:runner") and engine.fuel is Fuel.DIESEL:
        return False
    if test.id == "delivery" and engine.injection in (Injection.DIRECT, Injection.COMMON_RAIL):
        return False  # never at these pressures
    fed = test.id in ("delivery", "key_cycle") or "injector" in test.id
    return not (engine.injection is Injection.CARBURETTOR and fed)
