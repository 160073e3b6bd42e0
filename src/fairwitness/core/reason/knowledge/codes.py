"""Trouble codes: what the published ones mean, which cylinder they name, and what they make likelier.

One record per family. A code nudges, it never decides: a circuit code speaks of a wire, a misfire code of the crank.

References
----------
SAE J2012 / ISO 15031-6 [P]: the structure and the numbers. How far each nudges is ours [M].
"""

from __future__ import annotations

import re
from collections.abc import Mapping
from dataclasses import dataclass, field
from enum import StrEnum

from fairwitness.core.messages.catalogue import Template, phrase, scope, template
from fairwitness.core.messages.message import NOTHING, Message

FORM = re.compile(r"^[PCBU][0-3][0-9A-F]{3}(-[0-9A-F]{2})?$")
"""A letter of the system, a digit 0 to 3, three digits of four bits; ISO 14229 adds a byte for the kind of failure."""
MISFIRE_NUDGE = 4.0
CIRCUIT_NUDGE = 8.0
"""[M] a code that names a circuit says more than one that names a misfire."""
GROUP_NUDGE = 2.5
"""[M] a code that speaks of the engine and names no cylinder."""
INJECTOR_CIRCUIT = (
    "injector_open_circuit",
    "injector_high_resistance",
    "injector_shorted",
    "injector_control_open",
    "injector_driver_failed",
)
COIL_CIRCUIT = ("coil_primary_open", "coil_feed_lost", "coil_control_open", "coil_driver_failed")
CYLINDERS = 12
"""The published lists count so far."""
_say = scope("code")


class CodeKind(StrEnum):
    """What a code speaks of."""

    CIRCUIT = "circuit"
    MISFIRE = "misfire"
    BALANCE = "balance"
    CAM = "cam"
    CRANK = "crank"
    TIMING = "timing"
    LEAN = "lean"
    RICH = "rich"
    PRESSURE = "pressure"
    CUT_OFF = "cut_off"
    SUPPLY = "supply"
    MAKER = "maker"
    OTHER = "other"


@dataclass(frozen=True, slots=True, kw_only=True)
class CodeFamily:
    """Codes that mean the same, of one cylinder after the other or of the engine.

    Parameters
    ----------
    first, last : int
        Hexadecimal number behind the letter, as 0x0301.
    kind : CodeKind
    words : Template
        What it means, with a place for the cylinder where it names one.
    step : int
        Codes per cylinder, counted from ``first``; 0 where it names none.
    nudges : mapping of fault to float
        Factor on its odds, at the cylinder named, else wherever it sits; an empty fault stands for any.
    beware : Message
        What it is often taken for and is not.
    """

    first: int
    last: int
    kind: CodeKind
    words: Template
    step: int = 0
    nudges: Mapping[str, float] = field(default_factory=dict)
    beware: Message = NOTHING


@dataclass(frozen=True, slots=True, kw_only=True)
class CodeMeaning:
    """What one code means.

    Parameters
    ----------
    code : str
    kind : CodeKind
    words : Message
    cylinder : int
        The one it names; 0 for none.
    nudges : mapping of fault to float
    beware : Message
    published : bool
        The standard gives it its meaning; else the maker does.
    """

    code: str
    kind: CodeKind
    words: Message
    cylinder: int = 0
    nudges: Mapping[str, float] = field(default_factory=dict)
    beware: Message = NOTHING
    published: bool = True


def _means(id: str, english: str) -> Template:
    return template(f"code.{id}", english)


def _even(faults: tuple[str, ...], factor: float) -> dict[str, float]:
    return dict.fromkeys(faults, factor)


LEAN_BEWARE = phrase("code.lean_beware", "A dead cylinder pumps air past the sensor and reads lean as well.")
NOT_A_MISFIRE = phrase("code.not_a_misfire", "A circuit code is a different statement from a misfire code.")
MAYBE_ROUGH_ROAD = phrase("code.rough_road", "A rough road, a worn wheel or a loose belt can set it too.")
FAMILIES: tuple[CodeFamily, ...] = (
    CodeFamily(
        first=0x0300,
        last=0x0300,
        kind=CodeKind.MISFIRE,
        words=_means("random", "random or several cylinders misfire"),
        nudges=_even(("fuel_supply_low", "valve_timing_shifted", "plugs_all_worn"), 1.5),
        beware=MAYBE_ROUGH_ROAD,
    ),
    CodeFamily(
        first=0x0301,
        last=0x0312,
        step=1,
        kind=CodeKind.MISFIRE,
        words=_means("misfire", "misfire detected, cylinder {cylinder}"),
        nudges={"": MISFIRE_NUDGE},
        beware=_say("misfire_beware", "It says that the crank slowed there, not why."),
    ),
    CodeFamily(
        first=0x0313,
        last=0x0313,
        kind=CodeKind.MISFIRE,
        words=_means("low_fuel", "misfire with low fuel"),
        nudges=_even(("fuel_supply_low",), GROUP_NUDGE),
    ),
    CodeFamily(
        first=0x0314,
        last=0x0314,
        kind=CodeKind.MISFIRE,
        words=_means("single", "one cylinder misfires, not told which"),
    ),
    CodeFamily(
        first=0x0316,
        last=0x0316,
        kind=CodeKind.MISFIRE,
        words=_means("start_up", "misfire in the first revolutions after the start"),
        nudges=_even(("injector_leaking", "head_gasket_leak"), 1.5),
    ),
    CodeFamily(
        first=0x0201,
        last=0x0212,
        step=1,
        kind=CodeKind.CIRCUIT,
        words=_means("injector", "injector circuit, cylinder {cylinder}"),
        nudges=_even(INJECTOR_CIRCUIT, CIRCUIT_NUDGE),
        beware=NOT_A_MISFIRE,
    ),
    CodeFamily(
        first=0x0351,
        last=0x0362,
        step=1,
        kind=CodeKind.CIRCUIT,
        words=_means("coil", "ignition coil circuit, coil of cylinder {cylinder} where each has its own"),
        nudges=_even(COIL_CIRCUIT, CIRCUIT_NUDGE),
        beware=NOT_A_MISFIRE,
    ),
    CodeFamily(
        first=0x0335,
        last=0x0339,
        kind=CodeKind.CRANK,
        words=_means("crank", "crank position sensor circuit"),
        nudges=_even(("crank_signal_lost",), GROUP_NUDGE),
    ),
    CodeFamily(
        first=0x0315,
        last=0x0315,
        kind=CodeKind.CRANK,
        words=_means("not_learned", "crank variation not learned: misfires cannot be counted rightly until it is"),
    ),
    CodeFamily(
        first=0x0340,
        last=0x0349,
        kind=CodeKind.CAM,
        words=_means("cam", "cam position sensor circuit"),
        nudges=_even(("cam_signal_wrong",), GROUP_NUDGE),
    ),
    CodeFamily(
        first=0x0365,
        last=0x0369,
        kind=CodeKind.CAM,
        words=_means("cam_b", "second cam position sensor circuit"),
        nudges=_even(("cam_signal_wrong",), GROUP_NUDGE),
    ),
    CodeFamily(
        first=0x0016,
        last=0x0019,
        kind=CodeKind.TIMING,
        words=_means("correlation", "crank and cam do not stand to each other as they should"),
        nudges={"valve_timing_shifted": CIRCUIT_NUDGE, "cam_signal_wrong": GROUP_NUDGE},
    ),
    CodeFamily(
        first=0x0171,
        last=0x0171,
        kind=CodeKind.LEAN,
        words=_means("lean", "too lean, bank 1"),
        nudges=_even(("fuel_supply_low", "unmetered_air_at_runner", "injector_restricted"), GROUP_NUDGE),
        beware=LEAN_BEWARE,
    ),
    CodeFamily(
        first=0x0174,
        last=0x0174,
        kind=CodeKind.LEAN,
        words=_means("lean_2", "too lean, bank 2"),
        nudges=_even(("fuel_supply_low", "unmetered_air_at_runner", "injector_restricted"), GROUP_NUDGE),
        beware=LEAN_BEWARE,
    ),
    CodeFamily(
        first=0x0172,
        last=0x0172,
        kind=CodeKind.RICH,
        words=_means("rich", "too rich, bank 1"),
        nudges=_even(("injector_leaking",), GROUP_NUDGE),
    ),
    CodeFamily(
        first=0x0175,
        last=0x0175,
        kind=CodeKind.RICH,
        words=_means("rich_2", "too rich, bank 2"),
        nudges=_even(("injector_leaking",), GROUP_NUDGE),
    ),
    CodeFamily(
        first=0x0087,
        last=0x0087,
        kind=CodeKind.PRESSURE,
        words=_means("rail_low", "fuel rail pressure too low"),
        nudges=_even(("fuel_supply_low", "fuel_supply_none"), GROUP_NUDGE),
    ),
    CodeFamily(
        first=0x0230,
        last=0x0233,
        kind=CodeKind.CIRCUIT,
        words=_means("pump", "fuel pump primary circuit"),
        nudges=_even(("fuel_supply_low", "fuel_supply_none"), GROUP_NUDGE),
    ),
    CodeFamily(
        first=0x0560,
        last=0x0563,
        kind=CodeKind.SUPPLY,
        words=_means("supply", "system voltage"),
        nudges=_even(("weak_battery",), 1.5),
    ),
    CodeFamily(
        first=0x0261,
        last=0x0296,
        step=3,
        kind=CodeKind.BALANCE,
        words=_means("balance", "injector circuit low or high, or contribution, of cylinder {cylinder}"),
        nudges={"": 2.0},
    ),
    CodeFamily(
        first=0x3400,
        last=0x3400,
        kind=CodeKind.CUT_OFF,
        words=_means("cut_bank", "cylinder deactivation, bank 1"),
        nudges=_even(("cut_by_ecu",), GROUP_NUDGE),
    ),
    CodeFamily(
        first=0x3401,
        last=0x3496,
        step=8,
        kind=CodeKind.CUT_OFF,
        words=_means("cut", "valve control of cylinder deactivation, cylinder {cylinder}"),
        nudges={"cut_by_ecu": MISFIRE_NUDGE, "intake_valve_not_opening": 2.0, "exhaust_valve_not_opening": 2.0},
        beware=_say("cut_beware", "A cylinder that is switched off on purpose does not misfire."),
    ),
)
SUBSYSTEMS: Mapping[str, Message] = {
    "0": _say("subsystem.0", "fuel and air metering, auxiliary emission controls"),
    "1": _say("subsystem.1", "fuel and air metering"),
    "2": _say("subsystem.2", "fuel and air metering, injector circuits"),
    "3": _say("subsystem.3", "ignition system or misfire"),
    "4": _say("subsystem.4", "auxiliary emission controls"),
    "5": _say("subsystem.5", "vehicle speed, idle control, auxiliary inputs"),
    "6": _say("subsystem.6", "computer and auxiliary outputs"),
    "7": _say("subsystem.7", "transmission"),
    "8": _say("subsystem.8", "transmission"),
    "9": _say("subsystem.9", "transmission"),
}
"""Third character of a powertrain code of the standard."""
SYSTEMS: Mapping[str, Message] = {
    "C": _say("system.c", "chassis"),
    "B": _say("system.b", "body"),
    "U": _say("system.u", "network"),
}
MAKERS_OWN = _say("maker", "the maker gives it its meaning")
NOT_LISTED = _say("other", "a published code that says nothing of a misfire here")


def meaning_of(code: str) -> CodeMeaning | None:
    """What a code means, as published.

    Parameters
    ----------
    code : str
        Any case, blanks around it are overlooked, a byte of the kind of failure behind a hyphen too.

    Returns
    -------
    CodeMeaning or None
        None where it has not the form of a code.
    """
    tidy = code.strip().upper()
    if not FORM.match(tidy):
        return None
    plain = tidy.split("-")[0]
    if plain[0] == "P":
        number = int(plain[1:], 16)
        for family in FAMILIES:
            if family.first <= number <= family.last:
                cylinder = _cylinder(family, plain)
                if family.step and not cylinder:
                    continue
                words = family.words(cylinder=cylinder) if family.step else family.words()
                return CodeMeaning(
                    code=plain,
                    kind=family.kind,
                    words=words,
                    cylinder=cylinder,
                    nudges=family.nudges,
                    beware=family.beware,
                )
    if _is_the_makers(plain):
        return CodeMeaning(code=plain, kind=CodeKind.MAKER, words=MAKERS_OWN, published=False)
    words = SUBSYSTEMS.get(plain[2], NOT_LISTED) if plain[0] == "P" else SYSTEMS[plain[0]]
    return CodeMeaning(code=plain, kind=CodeKind.OTHER, words=words)


def _cylinder(family: CodeFamily, code: str) -> int:
    """The cylinder a code names. The published lists count in tens: P0309 is followed by P0310."""
    if not family.step or not code[1:].isdigit():
        return 0
    cylinder = (int(code[1:]) - int(f"{family.first:04x}")) // family.step + 1
    return cylinder if 1 <= cylinder <= CYLINDERS else 0


def _is_the_makers(code: str) -> bool:
    """P1, and P30 to P33, C1, C2, B1, B2, U1, U2 are left to the maker."""
    return code[1] == "1" or (code[0] == "P" and "3000" <= code[1:] < "3400") or (code[0] != "P" and code[1] in "12")
