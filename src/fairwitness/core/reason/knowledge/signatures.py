"""What each fault does to each test: the signature table of the trade. What a symbol weighs stands in ``densities``.

Symbols: ``=`` as its peers, ``0`` absent, ``-`` low or short, ``--`` hardly there, ``<`` a little low, ``+`` high or
long, ``++`` very high, ``+-`` off to either side, ``~`` disturbed, empty: no statement. Several symbols in one cell
are equally likely forms.
"""

from __future__ import annotations

from fairwitness.core.reason.knowledge.fault_spec import FaultMode, Mode

COLUMNS = ("RC", "CON", "FV", "SV", "SD", "SL", "RG", "CC", "CMD", "IC", "PD", "IV", "EX", "CK", "IN", "CP", "DL", "XT")
"""Relative compression, contribution, firing voltage, spark-line voltage, spark duration, rise of the spark line,
ringing after it, coil current, command, injector current, dip of the
lifting needle in it, injector kick, exhaust, crankcase and intake pulse,
in-cylinder peak, delivery when pulsed by a tester, rise of the exhaust port after a cold start."""

_TABLE = """
plug_gap_wide            | =  | =/-/~/0| +/++ | +/0  | -/0  | =     | =/+-| =  | =| =  | =   | =| ~/=| =| =| =| =| =/-
plug_shorted             | =  | 0/-  | -    | -    | +    | =/+-  | =/+-| =  | =| =  | =   | =| -  | =| =| =| =| 0/-
plug_tracking            | =  | ~/=/0| -    | -    | ~    | =/+-  | =/+-| =  | =| =  | =   | =| ~  | =| =| =| =| =/-/0
secondary_high_resistance| =  | =/-/~| +/=  | ++   | -    | +-    | =/+-| =  | =| =  | =   | =| ~/=| =| =| =| =| =/-
secondary_open           | =  | 0    | ++   | 0    | 0/-  |       |     | =  | =| =  | =   | =| -  | =| =| =| =| 0/-
secondary_leak           | =  | 0/~/=| -    | -    | ~    | =/+-  | =/+-| =  | =| =  | =   | =| -  | =| =| =| =| 0/-/=
coil_secondary_shorted   | =  | 0/-/=| -/=  | ~/0  | -/0  | =/+-  | 0   | +  | =| =  | =   | =| -  | =| =| =| =| 0/-/=
coil_output_dead         | =  | 0    | 0    | 0    | 0    |       |     | =/~| =| =/0| =   |=/0| -  | =| =| =| =| 0
coil_primary_open        | =  | 0    | 0    | 0    | 0    |       |     | 0  | =| =/0| =   |=/0| -  | =| =| =| =| 0
coil_feed_lost           | =  | 0    | 0    | 0    | 0    |       |     | 0  | =| =/0| =   |=/0| -  | =| =| =| =| 0
coil_control_open        | =  | 0    | 0    | 0    | 0    |       |     | 0  | 0| =/0| =   |=/0| -  | =| =| =| =| 0
coil_driver_failed       | =  | 0    | 0    | 0    | 0    |       |     | 0  | ~| =/0| =   |=/0| -  | =| =| =| =| 0
injector_open_circuit    | =  | 0    | +    | =/+  | -/~  | +     | =   | =  | =| 0  |     | 0| -  | =| =| =| 0| 0
injector_high_resistance | =| =/-/~| =/+| =| =| =/+| =| =| =| -| =/+-| =/-| =| =| =| =| =/-| =/+/-
injector_shorted         | =  | 0/-  | +    | =/+  | -/~  | +     | =   | =  | =| +  |     | 0| -  | =| =| =| 0/-| 0/-
injector_stuck_closed    | =  | 0    | +    | =/+  | -/~  | +     | =   | =  | =| =  | 0   | =| -  | =| =| =| 0| 0
injector_restricted      | =| -/</=/0| +/=| +/=| -/=| +/=| =| =| =| =| =| =| -/</=| =| =| =| -| =/+/-/0
injector_leaking         | =/<| -/=/+| -/=| =/<| =/+| =/+-| =| =| =| =| =| =| ~/=/+| =| =| =/-| +/=| =/-
injector_feed_lost       | =  | 0    | +    | =/+  | -/~  | +     | =   | =  | =| 0  |     | 0| -  | =| =| =| =| 0
injector_control_open    | =  | 0    | +    | =/+  | -/~  | +     | =   | =  | =| 0  |     | 0| -  | =| =| =| =| 0
injector_driver_failed   | =  | 0/~  | =/+/-| =/+/<| =/+/-| =/+/+-| =/+-| =  | =| 0/+|     | 0| -  | =| =| =| =| 0/-
unmetered_air_at_runner  | =  |-/</=  | +/=  | +/=  | -/=  | +/=   | =   | =  | =| =  | =   | =|-/</=| =| =| =| =| =/+/-
fuel_supply_low          | =  | =/~  | +    | =/+  | -    | +     | =   | =  | =| =  | =   | =| =/~| =| =| =| =| =
ring_or_piston_leak      | -  | -/</0 | -/=  | =/<  | +/=  | =     | =   | =  | =| =| =| =| -| +| =/0| -| =| 0/-/=
intake_valve_leak        | -  | -/</0 | -/=  | =/<  | +/=  | =     | =   | =  | =| =| =| =| -| =/-| +/0| -| =| 0/-/=
exhaust_valve_leak       | -  | -/</0 | -/=  | =/<  | +/=  | =     | =   | =  | =| =| =| =| ~/-| =/-| =/0| -| =| 0/-/=/+
head_gasket_leak         | -  | -/</0 | -/=  | =/<  | +/=  | =     | =   | =  | =| =| =| =| -| =/-| =/0| -| =| 0/-/=
intake_valve_not_opening | -- | 0    | -/=  | =/<  | +/=  | =     | =   | =  | =| =  | =   | =| -  | =/-| 0| -| =| 0
exhaust_valve_not_opening| =  | 0    | =/+/-| =/+/<| =/+/-| =/+/+-| =/+-| =  | =| =  | =   | =| 0  | =| +| ~| =| 0
valve_timing_shifted     | -  | -    | -/=  | =/<  | =/+  | =   | =   |=|=|=|=| =| =/~| =/-| =/~| -| =| 0/-/=/+
low_compression_all      | =  | =    | =    | =    | =    | =     | =   | =  | =| =  | =   | =| =  | +| =| -| =| =
crank_signal_lost        | = | = | = | = | = | = | = | = | = | = | = | = | = | = | = | = | = | =
cam_signal_wrong         | = | = | = | = | = | = | = | = | = | = | = | = | = | = | = | = | = | =
ignition_common_lost     | = | = | = | = | = | = | = | = | = | = | = | = | = | = | = | = | = | =
unit_unpowered           | = | = | = | = | = | = | = | = | = | = | = | = | = | = | = | = | = | =
reference_bad            | = | = | = | = | = | = | = | = | = | = | = | = | = | = | = | = | = | =
unit_misbehaves          | = | = | = | = | = | = | = | = | = | = | = | = | = | = | = | = | = | =
immobiliser_locked       | = | = | = | = | = | = | = | = | = | = | = | = | = | = | = | = | = | =
outside_interference     | = | = | = | = | = | = | = | = | = | = | = | = | = | = | = | = | = | =
plugs_all_worn           | = | = | = | = | = | = | = | = | = | = | = | = | = | = | = | = | = | =
fuel_supply_none         | = | = | = | = | = | = | = | = | = | = | = | = | = | = | = | = | = | =
weak_battery             | = | = | = | = | = | = | = | = | = | = | = | = | = | = | = | = | = | =
washed_bores             | = | = | = | = | = | = | = | = | = | = | = | = | = | + | = | - | = | =
cut_by_ecu               | =  | 0    | +/0/=| =/+/0| -/=/0| +/=   | =   | =/0|  | 0  |     | 0| -  | =| =| =| =| 0
no_fault                 | =  | =    | =    | =    | =    | =     | =   | =  | =| =  | =   | =| =  | =| =| =| =| =
"""


def _parse(table: str) -> dict[str, dict[str, tuple[str, ...]]]:
    rows: dict[str, dict[str, tuple[str, ...]]] = {}
    for line in table.strip().splitlines():
        fault, *cells = (cell.strip() for cell in line.split("|"))
        forms = {}
        for column, cell in zip(COLUMNS, cells, strict=True):
            forms[column] = tuple(cell.split("/")) if cell else ()
        rows[fault] = forms
    return rows


SIGNATURES = _parse(_TABLE)
WAYS_SHOWN = _parse("""
injector_driver_failed (dead)| =  | 0    | +    | =/+  | -/~  | +     | =   | =  | =| 0  |     | 0| -  | =| =| =| =| 0
injector_driver_failed (held on)| =| 0/~| =/-| =/<| =/+/-| =/+-| =/+-| =| =| 0/+| | 0| ~/-| =| =| =| =| 0/-
exhaust_valve_not_opening (opposite)| +/++/-/~| =| =| =| =| =| =| =| =| =| =| =| =| =| =| =| =| =
""")
"""Rows of faults in one of their ways; the row above holds them all. With *opposite* what a fault does elsewhere: gas
that is not let out is compressed again a revolution later, in the companion's place."""

ABSENT, LEFT_ALONE = "0", "="
INTERMITTENT_READ_AS = {"0": ("0", "~", "<"), "-": ("-", "<"), "++": ("++", "+", "~"), "--": ("-", "<")}
"""What is left of a mark where only some of the cycles show it."""
NEVER_WHOLE = ("CON", "EX", "XT")
"""Columns averaged over cycles: a fault that comes and goes never takes all of it away."""


def cell(faults: tuple[FaultMode, ...], column: str) -> tuple[str, ...]:
    """What a column shows at a cylinder with some faults.

    What is absent under one of them is absent; else each leaves its own mark, and no mark is left only where none of
    them needs to leave one.

    Parameters
    ----------
    faults : tuple of FaultMode
        At least one, of the catalogue.
    column : str

    Returns
    -------
    tuple of str
        Equally likely forms; empty for no statement.
    """
    cells = [own for fault in faults if (own := _own(fault, column))]
    if len(cells) < 2:
        return cells[0] if cells else ()
    if any(own == (ABSENT,) for own in cells):
        return (ABSENT,)
    marks = dict.fromkeys(form for own in cells for form in own if form != LEFT_ALONE)
    return (*((LEFT_ALONE,) if all(LEFT_ALONE in own for own in cells) else ()), *marks)


def _own(fault: FaultMode, column: str) -> tuple[str, ...]:
    if fault.row in WAYS_SHOWN:
        return WAYS_SHOWN[fault.row][column]
    forms = SIGNATURES[fault.fault][column]
    if fault.mode is not Mode.INTERMITTENT or not forms or forms == (LEFT_ALONE,):
        return forms
    softened = dict.fromkeys(s for form in forms for s in INTERMITTENT_READ_AS.get(form, (form,)))
    if column in NEVER_WHOLE:
        softened.pop(ABSENT, None)
    return (LEFT_ALONE, *(s for s in softened if s != LEFT_ALONE))


LEAK_DOWN_HEARD = {
    "ring_or_piston_leak": "oil filler",
    "intake_valve_leak": "intake",
    "exhaust_valve_leak": "tailpipe",
    "head_gasket_leak": "coolant or neighbour",
    "injector_leaking": "oil filler",
    "valve_timing_shifted": "tight",
    "intake_valve_not_opening": "tight",
}
"""Where air leaves at TDC compression; any fault not named here is tight."""

GAUGE_WET = {
    "ring_or_piston_leak": "low, rises wet",
    "injector_leaking": "low, rises wet",
    "intake_valve_leak": "low, stays wet",
    "exhaust_valve_leak": "low, stays wet",
    "head_gasket_leak": "low, stays wet",
    "valve_timing_shifted": "low, stays wet",
    "intake_valve_not_opening": "low, stays wet",
    "low_compression_all": "low, rises wet",
}
"""Compression gauge dry and with oil; any fault not named here reads full."""
