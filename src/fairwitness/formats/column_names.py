"""What the names of columns say: time, a count of samples, a role, a cylinder; in several languages."""

from __future__ import annotations

import re
from collections.abc import Sequence

from fairwitness.core.model.capture import Role
from fairwitness.core.model.units import UNIT_TO_SI

TIME_NAMES = re.compile(r"^(?:time|t|zeit|temps|tiempo|tempo|tid|tijd|czas|x-?axis|timestamp|seconds?)\b", re.I)
FIRST_TIME_NAMES = re.compile(r"^(?:x|source)$", re.I)
"""Time only where they head the first column."""
TIME_UNITS = ("s", "ms", "us")
COUNT_NAMES = re.compile(r"^(?:#|no\.?|nr\.?|n|i|index|idx|sample\w*|point|row|count)\b", re.I)
CURRENT = r"curr|amp|strom|courant|corriente|corrente|stroom|intensit|pr[aą]d|\bi\b"
INJECTOR = r"inj|einspritz|inyec|iniett|d[uü]se|verstuiver|wtrysk"
COIL = r"coil|z[uü]nd|zuend|bobin|spule|ontstek|cewk|\bign"
PRESSURE = r"press|druck|presi|druk\b|ci[sś]n"
CYLINDERS = r"cyl|zyl|cilind|verbrenn"
IN_CYLINDER = rf"(?:{CYLINDERS})\w*\W?(?:{PRESSURE})|(?:{PRESSURE})\w*\W?(?:{CYLINDERS})|in.?cyl|compres"
STARTER = r"starter|anlasser|d[eé]marr|arranque|motorino|startmotor|rozrusz"
BY_NAME: tuple[tuple[str, Role], ...] = (
    (r"batt|\bubat|supply|klemme ?(?:15|30)|bordnetz|bater[ií]a|\baccu\b|akku", Role.BATTERY_VOLTAGE),
    (rf"(?:{INJECTOR}).*(?:{CURRENT})|(?:{CURRENT}).*(?:{INJECTOR})", Role.INJECTOR_CURRENT),
    (rf"(?:{COIL}|primar|prim[aä]r).*(?:{CURRENT})|(?:{CURRENT}).*(?:{COIL}|primar|prim[aä]r)", Role.COIL_CURRENT),
    (r"exhaust|tailpipe|abgas|auspuff|[eé]chapp|escape|scarico|uitlaat|wydech", Role.EXHAUST_PRESSURE),
    (r"crankcase|dipstick|kurbelgeh|peilstab|\bcarter|blow.?by", Role.CRANKCASE_PRESSURE),
    (r"intake|manifold|vacuum|\bmap\b|saug|unterdruck|admission|admisi|aspiraz|inlaat|dolot", Role.INTAKE_PRESSURE),
    (
        rf"(?:{CYLINDERS})\w*\W?(?:{PRESSURE})|(?:{PRESSURE})\w*\W?(?:{CYLINDERS})|in.?cyl|compres",
        Role.CYLINDER_PRESSURE,
    ),
    (r"second|sekund|secund|\bkv\b|spark|hochsp|[eé]tincelle|buj[ií]a", Role.SECONDARY_VOLTAGE),
    (rf"(?:{STARTER})|clamp|zange|pince|pinza|crank\w*\W?(?:{CURRENT})", Role.STARTER_CURRENT),
    (r"crank|\bckp|kurbelw|vilebreq|cig[uü]e|krukas|tooth|teeth|wa[lł]\b.*korb", Role.CRANK_SENSOR),
    (INJECTOR, Role.INJECTOR_VOLTAGE),
    (rf"sync|trig|{COIL}", Role.COIL_CONTROL),
    (r"\bcam|\bcmp|nockenw|arbre . cames|levas|nokkenas|krzywk", Role.CAM_SENSOR),
    (rf"(?:{CURRENT})", Role.STARTER_CURRENT),
)
"""The first that a name holds is what it says."""
CYLINDER = re.compile(
    r"(?:cyl(?:inder)?|coil|inj(?:ector)?|sync|trig(?:ger)?|secondary|lead|plug|spark|ignition|zyl(?:inder)?|cilindr\w*"
    r"|z[uü]ndspule|bobine?|einspritz\w*|inyector|iniettore)\D{0,3}(\d{1,2})",
    re.I,
)


def time_columns(names: Sequence[str], units: Sequence[str | None]) -> list[str]:
    """Columns that are time by their name or their unit."""
    return [
        n
        for i, (n, u) in enumerate(zip(names, units, strict=True))
        if TIME_NAMES.match(n) or u in TIME_UNITS or (i == 0 and FIRST_TIME_NAMES.match(n))
    ]


def said_by(name: str, unit: str | None) -> Role | None:
    """The role a name says, if the unit lets it be that; None where it says none."""
    words = name.lower().replace("_", " ")
    in_amperes = unit in UNIT_TO_SI and UNIT_TO_SI[unit][1] == "A"
    for pattern, role in BY_NAME:
        if re.search(pattern, words):
            if in_amperes and role is Role.INJECTOR_VOLTAGE:
                return Role.INJECTOR_CURRENT
            if in_amperes and role is Role.COIL_CONTROL:
                return None if re.search(r"sync|trig", words) else Role.COIL_CURRENT
            return role
    return None


def cylinder_said(name: str) -> int | None:
    """The cylinder a name says."""
    match = CYLINDER.search(name)
    return int(match[1]) if match and 1 <= int(match[1]) <= 16 else None
