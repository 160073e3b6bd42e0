"""The next test: what it would tell, per minute of work, with its reason and its cautions."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Sequence
from dataclasses import dataclass
from enum import StrEnum
from functools import lru_cache

import numpy as np

from fairwitness.core.engine import Engine, Fuel, Ignition, Injection
from fairwitness.core.finding import Sighting
from fairwitness.core.reason.faults import OTHER, OTHER_MECHANICAL
from fairwitness.core.reason.inference import Posterior
from fairwitness.core.reason.outcomes import SOUND, chances
from fairwitness.core.reason.signatures import GAUGE_WET, LEAK_DOWN_HEARD, SIGNATURES

MISREAD = 0.12
"""[M] how often an outcome is read as another one."""
WORTH_BITS = 0.02
"""Tests that would tell less are not offered."""


class School(StrEnum):
    """Where practitioners differ: what to try first. It re-ranks, it never hides."""

    MECHANICAL_FIRST = "mechanical_first"
    CODES_FIRST = "codes_first"
    QUICKEST_FIRST = "quickest_first"


@dataclass(frozen=True, slots=True, kw_only=True)
class BayTest:
    """One test the bay can do. ``columns``: what of the signature table it reads; empty for gauges."""

    id: str
    title: str
    minutes: float
    columns: tuple[str, ...]
    tools: str
    splits: str
    cautions: tuple[str, ...]
    per_cylinder: bool = False
    mechanical: bool = False
    kind: str = ""
    """Row of the table of outcomes a test by hand reads; empty for tests with a scale."""

    @property
    def test(self) -> str:
        """The test of the trade it is done with."""
        return self.kind.partition(":")[0] or self.id


HIGH_VOLTAGE = "High voltage at coils, leads and injectors: hands off while running; not for anyone with a pacemaker."
FUEL_LINE = (
    "Petrol under pressure: relieve it first, catch what leaves, extinguisher at hand. Never open a line of common "
    "rail or direct injection: follow the maker's procedure."
)
ROTATING = "Keep clear of fans and belts; lead exhaust gas outdoors."
CRANKING = "Disable fuel first and record how; crank 5 to 10 s, then let the starter cool."
PLUG_HOLES = "Petrol vapour and sparks: shield open plug holes, disable ignition, keep an extinguisher at hand."

BAY_TESTS: tuple[BayTest, ...] = (
    BayTest(
        id="relative_compression",
        title="Relative compression from starter current",
        minutes=4,
        columns=("RC",),
        tools="clamp on a battery cable, sync on a sound cylinder",
        splits="tells a cylinder that does not seal from ignition and fuel, without taking anything apart",
        cautions=(CRANKING,),
        mechanical=True,
    ),
    BayTest(
        id="crank_speed",
        title="Crank speed at idle",
        minutes=4,
        columns=("CON",),
        tools="scope on the crank sensor",
        splits="shows which power stroke is missing",
        cautions=(ROTATING,),
    ),
    BayTest(
        id="power_balance",
        title="Power balance",
        minutes=6,
        columns=("CON",),
        tools="scan tool or injector unplugging",
        splits="shows which cylinder's removal changes nothing",
        cautions=("Never leave a coil open; short cuts only, raw fuel overheats the catalyst.", HIGH_VOLTAGE),
    ),
    BayTest(
        id="exhaust_pulse",
        title="Exhaust pulse at the tailpipe",
        minutes=3,
        columns=("EX",),
        tools="hose sensor",
        splits="shows a missing firing from the tailpipe",
        cautions=(ROTATING,),
    ),
    BayTest(
        id="secondary_voltage",
        title="Secondary voltage of all cylinders",
        minutes=6,
        columns=("FV", "SV", "SD"),
        tools="scope with pick-ups",
        splits="separates plug, lead and coil, and shows a lean or leaking cylinder",
        cautions=(HIGH_VOLTAGE, "Use an attenuator; never an open coil."),
    ),
    BayTest(
        id="coil_current",
        title="Coil current on the shared feed",
        minutes=4,
        columns=("CC",),
        tools="small clamp",
        splits="tells a coil that is not charged from one that gives nothing",
        cautions=(HIGH_VOLTAGE,),
    ),
    BayTest(
        id="coil_control",
        title="Coil command levels",
        minutes=6,
        columns=("CMD",),
        tools="scope",
        splits="tells the command from the coil",
        cautions=(HIGH_VOLTAGE,),
    ),
    BayTest(
        id="injector_current",
        title="Injector current on the shared feed",
        minutes=4,
        columns=("IC", "PD"),
        tools="small clamp",
        splits="compares all injectors at once and shows the one that draws nothing",
        cautions=(ROTATING,),
    ),
    BayTest(
        id="injector_voltage",
        title="Injector voltage",
        minutes=6,
        columns=("IV",),
        tools="scope with attenuator",
        splits="shows whether current was flowing when the driver let go",
        cautions=("The kick exceeds 60 V: use an attenuator.",),
    ),
    BayTest(
        id="fuel_trim",
        title="Fuel trims of each bank",
        minutes=2,
        columns=(),
        tools="scan tool",
        splits="shows whether the control unit adds or takes away fuel: all lean, one bank, or none",
        cautions=(ROTATING,),
        kind="fuel_trim",
    ),
    BayTest(
        id="fuel_pressure",
        title="Fuel pressure and volume",
        minutes=8,
        columns=(),
        tools="pressure gauge, measuring glass",
        splits="tells a weak supply from one injector or runner",
        cautions=(FUEL_LINE,),
        kind="fuel_pressure",
    ),
    BayTest(
        id="delivery",
        title="Injector delivery, by pressure drop",
        minutes=15,
        columns=("DL",),
        tools="pressure gauge, injector pulser",
        splits="shows a restricted, stuck or leaking injector that is sound electrically",
        cautions=(FUEL_LINE,),
    ),
    BayTest(
        id="crankcase_pulse",
        title="Crankcase pulse while cranking",
        minutes=4,
        columns=("CK",),
        tools="hose sensor on the dipstick tube",
        splits="tells rings and piston from valves: a pulse in the dead cylinder's compression is the block",
        cautions=(CRANKING,),
        mechanical=True,
    ),
    BayTest(
        id="intake_pulse",
        title="Intake pulse while cranking",
        minutes=5,
        columns=("IN",),
        tools="hose sensor at a vacuum port",
        splits="shows compression blowing back past an intake valve",
        cautions=(CRANKING,),
        mechanical=True,
    ),
    BayTest(
        id="cylinder_pressure",
        title="Cranking pressure in the cylinder",
        minutes=14,
        columns=("CP",),
        tools="pressure transducer in the plug hole",
        splits="gives the absolute figure and the valve events",
        cautions=(PLUG_HOLES, CRANKING),
        per_cylinder=True,
        mechanical=True,
    ),
    BayTest(
        id="leak_down",
        title="Leak-down at TDC compression",
        minutes=18,
        columns=(),
        tools="leak-down gauge, compressed air",
        splits="hears where the pressure leaves: intake, tailpipe, oil filler, coolant or the neighbour",
        cautions=("Air can turn the engine: keep hands and tools clear, remove the key.", PLUG_HOLES),
        per_cylinder=True,
        mechanical=True,
    ),
    BayTest(
        id="compression_gauge",
        title="Compression gauge, dry and with oil",
        minutes=25,
        columns=(),
        tools="compression gauge, spoon of oil",
        splits="gives the absolute figure; rises with oil is rings, stays is valves or gasket",
        cautions=(PLUG_HOLES, CRANKING),
        mechanical=True,
    ),
)
OPEN_PARTS = "Key off before a connector is pulled; do not disturb one before an intermittent has been captured."


def _by_hand(kind: str, title: str, minutes: float, tools: str, splits: str, *cautions: str) -> BayTest:
    return BayTest(
        id=kind, title=title, minutes=minutes, columns=(), tools=tools, splits=splits, cautions=cautions,
        per_cylinder=True, kind=kind,
    )  # fmt: skip


HAND_TESTS: tuple[BayTest, ...] = (
    _by_hand("swap:coil", "Coil changed over with a neighbour's", 6, "hand tools",
             "a misfire that moves proves the coil, one that stays clears it", HIGH_VOLTAGE),
    _by_hand("swap:plug", "Plug changed over with a neighbour's", 12, "hand tools",
             "a misfire that moves proves the plug", PLUG_HOLES),
    _by_hand("swap:lead", "Lead changed over with a neighbour's", 5, "hand tools",
             "a misfire that moves proves the lead", HIGH_VOLTAGE),
    _by_hand("swap:injector", "Injector changed over with a neighbour's", 35, "hand tools",
             "a misfire that moves proves the injector",
             "Never open a line of common rail or direct injection under pressure: follow the maker's procedure."),
    _by_hand("resistance:coil_primary", "Resistance of the coil primary", 3, "meter",
             "an open winding is decisive", OPEN_PARTS),
    _by_hand("resistance:coil_secondary", "Resistance of the coil secondary", 4, "meter",
             "shorted or open turns stand out beside the peers", OPEN_PARTS),
    _by_hand("resistance:plug_lead", "Resistance of lead or boot", 4, "meter",
             "tells an open or burnt lead from plug and coil", OPEN_PARTS),
    _by_hand("resistance:injector", "Resistance of the injector at its plug", 3, "meter",
             "open is decisive; compare with the others", OPEN_PARTS),
    _by_hand("resistance:control_wire", "Command wire from end to end", 10, "meter",
             "tells the wire from the control unit", OPEN_PARTS),
    _by_hand("voltage:coil_feed", "Coil feed under load", 3, "meter or lamp",
             "tells a coil without feed from an open one", HIGH_VOLTAGE),
    _by_hand("voltage:injector_feed", "Injector feed under load", 3, "meter or lamp",
             "tells an injector without feed from an open one"),
    _by_hand("voltage:injector_control:part", "Injector control side, key on", 3, "meter",
             "battery voltage there means feed and winding are whole"),
    _by_hand("load_lamp:coil", "Lamp in place of the coil", 5, "bulb of about 2 A",
             "shows whether feed, wire and driver carry load", HIGH_VOLTAGE),
    _by_hand("load_lamp:injector", "Lamp in place of the injector", 5, "bulb of about 2 A",
             "shows whether feed, wire and driver carry load"),
    _by_hand("runner_check:runner", "Smoke or propane at the intake runner", 6, "smoke or propane",
             "a leak there starves one cylinder of fuel for its air",
             "Propane and smoke near a running engine: extinguisher at hand, no sparks, aired. " + ROTATING),
    _by_hand("injector_command:control_unit", "Injector command at the control unit's own pin", 12, "scope",
             "tells the wire from the driver", "The kick exceeds 60 V: use an attenuator."),
    _by_hand("command:control_unit", "Command at the control unit's own pin", 12, "scope",
             "tells the wire from the driver"),
    _by_hand("spark_check:lead_end", "Spark on free air at the lead end", 3, "spark gap tester",
             "none there means coil, lead or command; strong does not prove it under pressure",
             "Never run a coil open. " + HIGH_VOLTAGE),
    _by_hand("visual:plug", "The plug, out and looked at", 8, "eyes",
             "a worn, fouled, tracked or wet plug tells its own story", PLUG_HOLES),
    _by_hand("visual:lead", "Lead and boot, looked at", 3, "eyes",
             "burn marks and corrosion show where the spark goes", HIGH_VOLTAGE),
)  # fmt: skip
IGNITION_KINDS = ("swap:coil", "swap:plug", "swap:lead", "resistance:coil", "resistance:plug", "voltage:coil",
                  "load_lamp:coil", "command", "spark_check", "visual:plug", "visual:lead")  # fmt: skip
GAUGE_OUTCOMES = {"leak_down": (LEAK_DOWN_HEARD, "tight"), "compression_gauge": (GAUGE_WET, "full")}
COARSE_COLUMNS = ("CON", "EX")
"""Read as weak or not: absent, low and disturbed are not reliably told apart there."""
FORM_READ_AS = {"+-": "~", "<": "=", "++": "+", "--": "-"}
"""Forms that a reader does not tell apart for planning."""
SCHOOL_FACTOR = 1.6
"""[M] how much a school favours its own kind of test."""
FIRST_STEP = "relative_compression"
FIRST_STEP_FACTOR = 4.0
"""[T] minutes of work and no disassembly: before coils and injectors are hunted, sealing is asked."""


_Outcomes = tuple[tuple[object, float], ...]


@dataclass(frozen=True, slots=True, kw_only=True)
class NextTest:
    """One offer."""

    test: str
    kind: str
    """Which of its forms, for a test by hand (``resistance:coil_primary``)."""
    title: str
    cylinders: tuple[int, ...]
    minutes: float
    information_bits: float
    tools: str
    reason: str
    cautions: tuple[str, ...]


def next_tests(
    posterior: Posterior,
    engine: Engine,
    *,
    done: Sequence[str],
    accused: Sequence[int],
    school: School = School.MECHANICAL_FIRST,
    sightings: Sequence[Sighting] = (),
) -> tuple[NextTest, ...]:
    """Tests not yet done, by expected information per minute.

    Parameters
    ----------
    posterior : Posterior
    engine : Engine
    done : sequence of str
        Tests with usable, decided evidence.
    accused : sequence of int
        Cylinders a single-cylinder test would be done on; empty: the first of the firing order stands in.
    school : School
    sightings : sequence of Sighting
        What tests by hand showed so far: none is offered again where it was done.

    Returns
    -------
    tuple of NextTest
        Best first; tests that would tell next to nothing are left out.
    """
    offers = []
    shown = {(s.kind, c) for s in sightings for c in s.cylinders}
    for test in (*BAY_TESTS, *(HAND_TESTS if accused else ())):
        if test.id in done or not _fits(test, engine):
            continue
        scope = tuple(accused) if test.per_cylinder and accused else engine.firing_order
        scope = tuple(c for c in scope if (test.kind or test.id, c) not in shown)
        if not scope:
            continue
        bits = information_bits(test, posterior, scope)
        minutes = test.minutes + (6.0 * (len(scope) - 1) if test.per_cylinder else 0.0)
        rank = bits / minutes * _favour(test, school)
        where = f"on cylinder {', '.join(map(str, scope))}" if test.per_cylinder else ""
        reason = f"{minutes:g} min with {test.tools}{' ' + where if where else ''}: {test.splits}."
        offer = NextTest(
            test=test.test,
            kind=test.kind,
            title=test.title,
            cylinders=scope if test.kind else tuple(accused) if accused else (),
            minutes=minutes,
            information_bits=round(bits, 3),
            tools=test.tools,
            reason=reason[0].upper() + reason[1:],
            cautions=test.cautions,
        )
        offers.append((rank, offer))
    offers.sort(key=lambda item: -item[0])
    worth = [offer for _, offer in offers if offer.information_bits >= WORTH_BITS]
    # Where nothing is worth its minutes the best of the rest is still named while somebody is accused: it proves.
    return tuple(worth or [offer for _, offer in offers[:1] if accused])


def information_bits(test: BayTest, posterior: Posterior, scope: Sequence[int]) -> float:
    """Mutual information between the hypotheses and the test's outcome, each outcome misread now and then.

    Parameters
    ----------
    test : BayTest
    posterior : Posterior
    scope : sequence of int
        Cylinders the test looks at.

    Returns
    -------
    float, bits
    """
    # Hypotheses that predict the same outcomes are one case: their probabilities add up.
    weights: dict[_Outcomes, float] = defaultdict(float)
    for hypothesis, p in zip(posterior.hypotheses, posterior.probabilities, strict=True):
        weights[_outcomes(test, hypothesis.fault, hypothesis.cylinders, tuple(scope))] += float(p)
    kinds = {outcome: i for i, outcome in enumerate({o: None for shown in weights for o, _ in shown})}
    if len(kinds) < 2:
        return 0.0
    table = np.zeros((len(weights), len(kinds)))
    for row, shown in enumerate(weights):
        for outcome, share in shown:
            table[row, kinds[outcome]] += share
    table = (1 - MISREAD) * table + MISREAD / len(kinds)
    chances_of = np.array(list(weights.values()))
    mixed = chances_of @ table
    within = -(table * np.log2(table)).sum(axis=1)
    return max(0.0, float(-(mixed * np.log2(mixed)).sum() - chances_of @ within))


@lru_cache(maxsize=65_536)
def _outcomes(test: BayTest, fault: str, cylinders: tuple[int, ...], scope: tuple[int, ...]) -> _Outcomes:
    """What the test would show under a hypothesis, with chances."""
    if fault in (OTHER, OTHER_MECHANICAL):
        return tuple(chances(test.kind, SOUND).items()) if test.kind else (("other", 1.0),)
    ill = tuple(c for c in cylinders if c in scope)
    if test.kind:
        return tuple(chances(test.kind, fault if ill else SOUND).items())
    if not test.columns:
        table, sound = GAUGE_OUTCOMES[test.id]
        heard = table.get(fault, sound)
        return (((ill if heard != sound else (), heard), 1.0),)
    everyone = len(ill) == len(scope) > 1
    shown: list[tuple[object, float]] = [((), 1.0)]
    for column in test.columns:
        forms = SIGNATURES[fault][column] or ("?",)
        forms = tuple(dict.fromkeys(FORM_READ_AS.get(form, form) for form in forms))
        if column in COARSE_COLUMNS:
            forms = tuple(dict.fromkeys("-" if form in ("0", "~") else form for form in forms))
        if everyone and column == "RC":
            forms = ("=",)
        shown = [
            ((*before, (ill, form) if form != "=" and ill else "="), chance / len(forms))  # type: ignore[misc]
            for before, chance in shown
            for form in forms
        ]
    return tuple(shown)


def _fits(test: BayTest, engine: Engine) -> bool:
    sparkless = engine.ignition is Ignition.COMPRESSION_IGNITION
    if sparkless and (
        test.id in ("secondary_voltage", "coil_current", "coil_control") or test.id.startswith(IGNITION_KINDS)
    ):
        return False
    if test.id in ("swap:coil", "swap:lead"):
        on_plug = engine.ignition is Ignition.COIL_ON_PLUG
        return on_plug == (test.id == "swap:coil") and engine.cylinders > 1
    if test.id in ("fuel_trim", "runner_check:runner") and engine.fuel is Fuel.DIESEL:
        return False
    if test.id == "delivery" and engine.injection in (Injection.DIRECT, Injection.COMMON_RAIL):
        return False  # never at these pressures
    unfed = test.id == "delivery" or "injector" in test.id
    return not (engine.injection is Injection.CARBURETTOR and unfed)


def _favour(test: BayTest, school: School) -> float:
    if school is School.MECHANICAL_FIRST:
        if test.id == FIRST_STEP:
            return FIRST_STEP_FACTOR
        return SCHOOL_FACTOR if test.mechanical else 1.0
    if school is School.CODES_FIRST:
        return SCHOOL_FACTOR if not test.mechanical else 1.0
    return 4.0 / test.minutes
