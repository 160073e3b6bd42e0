"""Columns of any recording: what each probably is, and a capture made of what the technician says they are."""

from __future__ import annotations

from collections import Counter
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from itertools import pairwise

import numpy as np

from fairwitness.core.errors import TableError
from fairwitness.core.model.capture import Capture, CaptureTest, Channel, Role, SampleArray, SetUp, TimeBase
from fairwitness.core.model.lead import Lead
from fairwitness.core.model.lead_presets import fits_level, fitting, presets_of
from fairwitness.core.model.units import UNIT_TO_SI
from fairwitness.core.signal.recognition.recogniser import RoleChance, recognised
from fairwitness.core.signal.recognition.shape import outline_of, pulses_hz
from fairwitness.formats.column_names import COUNT_NAMES, cylinder_said, said_by, time_columns

PREVIEW_POINTS = 200
CHANCES_TOLD = 4
SURELY, DOUBTED, MAY_BE = 0.6, 0.9, 0.03
"""Chances from which columns lend each other their role, up to which they take it, and below which they do not."""
SILENT_SHARE = 0.1
"""Of its likes' height: a lead on a part that does nothing."""
OF_ONE_CYLINDER = (Role.COIL_CONTROL, Role.COIL_CURRENT, Role.SECONDARY_VOLTAGE, Role.INJECTOR_VOLTAGE,
                   Role.INJECTOR_CURRENT)  # fmt: skip
RISING_ROWS = 100_000
EVEN_ROWS = 1000
"""So many rows tell whether a column without a name steps as evenly as a clock."""


@dataclass(frozen=True, slots=True, kw_only=True)
class ColumnGuess:
    """One column as found, and what it probably is."""

    name: str
    unit: str | None
    role: Role
    cylinder: int | None
    sync: bool
    preview: tuple[float, ...]
    """The whole recording as lows and highs in turn; plain values where there are few."""
    chances: tuple[RoleChance, ...] = ()
    """What else it may be, the most probable first."""
    height: float = 0.0
    """How far it reaches from its rest, as written; of a starter current how high it stands while it turns."""
    lead: Lead | None = None
    """Through which it probably came."""
    events_hz: float | None = None
    """How often it leaves its rest."""


@dataclass(frozen=True, slots=True, kw_only=True)
class ColumnUse:
    """What the technician says of one column. Role ``other`` without unit leaves it out."""

    column: str
    role: Role
    unit: str
    cylinder: int | None = None
    sync: bool = False
    feeds: tuple[int, ...] = ()
    measured_at: str | None = None
    unplugged: bool | None = None
    lead: Lead | None = None
    """To be reckoned in: what a volt of the column means."""
    came_through: Lead | None = None
    """Reckoned in already, by whoever wrote the file."""


def guess_columns(
    names: Sequence[str],
    units: Sequence[str | None],
    arrays: Mapping[str, SampleArray],
    *,
    rate_hz: float | None = None,
) -> tuple[tuple[ColumnGuess, ...], bool]:
    """A sensible guess for every column.

    Parameters
    ----------
    names : sequence of str
    units : sequence of str or None
    arrays : mapping of name to (n,) float
        The whole recording, or stretches from all over it. A name that is missing here is passed over.
    rate_hz : float, optional
        Where something else than a column tells it.

    Returns
    -------
    (columns, timed) : tuple of ColumnGuess, bool
        Whether one of them is time.
    """
    units = [u for n, u in zip(names, units, strict=True) if n in arrays]
    names = [n for n in names if n in arrays]
    time_at = _time_column(names, units, arrays, told=rate_hz is not None)
    rate = rate_hz or _rate(arrays, units, names, time_at)
    columns = [
        _time_guess(name, unit, arrays[name]) if name == time_at else _guess(name, unit, arrays[name], rate)
        for name, unit in zip(names, units, strict=True)
    ]
    columns = _one_lead_each(_agreed(columns))
    sync = _sync(columns)
    if sync is not None:
        columns[sync] = replace(columns[sync], sync=True)
    return tuple(columns), time_at is not None


def _agreed(columns: Sequence[ColumnGuess]) -> list[ColumnGuess]:
    """A doubtful column among several that are surely one thing is that thing too, as is one with nothing on it."""
    sure = [c for c in columns if c.chances and c.chances[0].chance > SURELY]
    kept = []
    for column in columns:
        others = [c for c in sure if c is not column]
        counts = Counter(c.role for c in others)
        role = max(counts, key=lambda r: counts[r], default=None)
        alike = [c for c in others if c.role is role]
        if role is None or len(alike) < 2 or column.role is role or not column.chances:
            kept.append(column)
            continue
        silent = column.height < SILENT_SHARE * float(np.median([c.height for c in alike]))
        may_be = {c.role: c.chance for c in column.chances}.get(role, 0.0) > MAY_BE
        if silent or (may_be and column.chances[0].chance < DOUBTED):
            unit = alike[0].unit if silent and column.unit in ("V", alike[0].unit) else column.unit
            lead = proposed(leads_of(role, unit, alike[0].height if silent else column.height))
            column = replace(column, role=role, unit=unit, lead=lead)
        kept.append(column)
    return kept


def _one_lead_each(columns: Sequence[ColumnGuess]) -> list[ColumnGuess]:
    """Columns of one role and unit came through leads of one kind: the one that suits the highest of them."""
    kept = []
    for column in columns:
        alike = [c.height for c in columns if (c.role, c.unit) == (column.role, column.unit)]
        lead = column.lead if len(alike) < 2 else proposed(leads_of(column.role, column.unit, max(alike)))
        kept.append(replace(column, lead=lead))
    return kept


def _sync(columns: Sequence[ColumnGuess]) -> int | None:
    """The column that marks a cylinder: a command, else the one that is of one cylinder beside what was tested."""
    commands = [i for i, c in enumerate(columns) if c.role is Role.COIL_CONTROL]
    if commands:
        return commands[0]
    main = next((role for role in TEST_OF_ROLE if any(c.role is role for c in columns)), None)
    beside = [i for i, c in enumerate(columns) if c.role in OF_ONE_CYLINDER and c.role is not main]
    return beside[0] if len(beside) == 1 else None


def _time_guess(name: str, unit: str | None, values: SampleArray) -> ColumnGuess:
    few = _lows_and_highs(values)
    return ColumnGuess(name=name, unit=unit or "s", role=Role.TIME, cylinder=None, sync=False, preview=few)


def _guess(name: str, unit: str | None, written: SampleArray, rate_hz: float | None) -> ColumnGuess:
    """What a column that is not time probably is, and through which lead it came."""
    if is_count(name, written):
        few = _lows_and_highs(written)
        return ColumnGuess(name=name, unit=None, role=Role.OTHER, cylinder=None, sync=False, preview=few)
    outline = outline_of(written)
    chances = recognised(outline, rate_hz, unit, called=said_by(name, unit))[:CHANCES_TOLD]
    role = chances[0].role
    height = 0.0 if outline is None else outline.standing if role is Role.STARTER_CURRENT else outline.height
    assumed = unit or _usual_unit(role, height)
    return ColumnGuess(
        name=name,
        unit=assumed,
        role=role,
        cylinder=cylinder_said(name),
        sync=False,
        preview=_lows_and_highs(written),
        chances=chances,
        height=height,
        lead=proposed(leads_of(role, assumed, height)),
        events_hz=pulses_hz(outline, rate_hz) if outline is not None and rate_hz else None,
    )


def leads_of(role: Role, unit: str | None, height: float) -> tuple[Lead, ...]:
    """Leads through which a column in volts may have come to be such a role; none where it needs none."""
    if not leads_worth_asking(unit):
        return ()
    return tuple(fitting(role, height * UNIT_TO_SI[unit or "V"][0], presets_of(role)))


def leads_worth_asking(unit: str | None) -> bool:
    """Whether a column is in volts at an input, so that a lead may stand before it."""
    return unit in ("V", "mV")


def proposed(leads: Sequence[Lead]) -> Lead | None:
    """The lead that may be taken for granted until somebody says otherwise: the only known one, else an unknown one."""
    known = [one for one in leads if one.known]
    unknown = [one for one in leads if not one.known]
    return known[0] if len(known) == 1 and unknown else unknown[0] if unknown else None


def _usual_unit(role: Role, height: float) -> str | None:
    """The unit a column without any most probably has, by the level it reaches."""
    match role:
        case Role.STARTER_CURRENT | Role.COIL_CURRENT | Role.INJECTOR_CURRENT:
            return "A" if fits_level(role, height) else "V"
        case Role.CYLINDER_PRESSURE:
            return "bar" if fits_level(role, 1e5 * height) else "V"
        case Role.SECONDARY_VOLTAGE:
            return "kV" if fits_level(role, 1e3 * height) else "V"
        case Role.OTHER:
            return None
        case _:
            return "V"


def _rate(
    arrays: Mapping[str, SampleArray], units: Sequence[str | None], names: Sequence[str], time_at: str | None
) -> float | None:
    """Samples per second by the column of time, at its usual step."""
    if time_at is None:
        return None
    unit = dict(zip(names, units, strict=True))[time_at] or "s"
    steps = np.diff(np.asarray(arrays[time_at][:RISING_ROWS], dtype=np.float64))
    step = float(np.median(steps)) * UNIT_TO_SI[unit][0] if steps.size else 0.0
    return 1.0 / step if step > 0 else None


def _lows_and_highs(values: SampleArray) -> tuple[float, ...]:
    """Lows and highs in turn, of so few groups that a small picture shows them; what is missing is left out."""
    if values.size <= PREVIEW_POINTS:
        return tuple(float(v) for v in values if np.isfinite(v))
    places = np.linspace(0, values.size, PREVIEW_POINTS // 2 + 1).astype(int)
    shown: list[float] = []
    for begin, end in pairwise(places):
        group = values[begin:end]
        good = group[np.isfinite(group)]
        if good.size:
            shown += [float(good.min()), float(good.max())]
    return tuple(shown)


TEST_OF_ROLE = {
    Role.CYLINDER_PRESSURE: CaptureTest.CYLINDER_PRESSURE,
    Role.EXHAUST_PRESSURE: CaptureTest.EXHAUST_PULSE,
    Role.CRANKCASE_PRESSURE: CaptureTest.CRANKCASE_PULSE,
    Role.INTAKE_PRESSURE: CaptureTest.INTAKE_PULSE,
    Role.STARTER_CURRENT: CaptureTest.RELATIVE_COMPRESSION,
    Role.SECONDARY_VOLTAGE: CaptureTest.SECONDARY_VOLTAGE,
    Role.INJECTOR_CURRENT: CaptureTest.INJECTOR_CURRENT,
    Role.INJECTOR_VOLTAGE: CaptureTest.INJECTOR_VOLTAGE,
    Role.COIL_CURRENT: CaptureTest.COIL_CURRENT,
    Role.CRANK_SENSOR: CaptureTest.CRANK_SPEED,
    Role.BATTERY_VOLTAGE: CaptureTest.RELATIVE_COMPRESSION,
    Role.COIL_CONTROL: CaptureTest.COIL_CONTROL,
}
"""The rarer channel says more of what the capture was for, so it stands first."""


def likely_test(roles: Sequence[Role]) -> CaptureTest | None:
    """The test that channels of these roles were probably recorded for; None where nothing says."""
    return next((test for role, test in TEST_OF_ROLE.items() if role in roles), None)


def checked_uses(uses: Sequence[ColumnUse], known: Sequence[str], *, where: str) -> list[ColumnUse]:
    """The columns that become channels.

    Raises
    ------
    TableError
        A column that is not there, none used, or an unknown unit.
    """
    unknown = [u.column for u in uses if u.column not in known]
    if unknown:
        raise TableError(f"There is no column {unknown[0]!r}.", where=where, remedy=f"It has {', '.join(known)}.")
    kept = [u for u in uses if u.role is not Role.TIME and not (u.role is Role.OTHER and not u.unit)]
    if not kept:
        raise TableError("No column was given a role.", where=where, remedy="Say what at least one column is.")
    bad = [u.unit for u in uses if u.unit and u.unit not in UNIT_TO_SI]
    if bad:
        raise TableError(
            f"The unit {bad[0]!r} is not known.", where=where, remedy=f"Use one of {', '.join(UNIT_TO_SI)}."
        )
    return kept


def capture_of(
    arrays: Mapping[str, SampleArray],
    uses: Sequence[ColumnUse],
    *,
    name: str,
    set_up: SetUp,
    sample_rate_hz: float | None,
    time: TimeBase | None = None,
) -> Capture:
    """A capture of columns as they were said to be.

    Parameters
    ----------
    arrays : mapping of name to (n,) float
    uses : sequence of ColumnUse
    name : str
    set_up : SetUp
    sample_rate_hz : float or None
        Where no column is time.
    time : TimeBase, optional
        Where the file itself says when samples were taken.

    Returns
    -------
    Capture

    Raises
    ------
    TableError, CaptureError
    """
    kept = checked_uses(uses, list(arrays), where=name)
    timed = [u for u in uses if u.role is Role.TIME]
    if timed:
        stamps = np.asarray(arrays[timed[0].column], dtype=np.float64)
        factor = UNIT_TO_SI[timed[0].unit][0]
        time = TimeBase.from_stamps(stamps if factor == 1.0 else stamps * factor)
    elif time is None and sample_rate_hz is not None:
        time = TimeBase(samples=next(iter(arrays.values())).size, rate_hz=sample_rate_hz)
    elif time is None:
        raise TableError("This file has no time column.", where=name, remedy="Name the sample rate to read it.")
    channels = tuple(_channel(u, arrays[u.column]) for u in kept)
    return Capture(name=name, time=time, channels=channels, set_up=set_up)


def _channel(use: ColumnUse, written: SampleArray) -> Channel:
    """A column as a channel, its lead reckoned in."""
    samples: SampleArray = np.asarray(written, dtype=np.float32)
    unit = use.unit or "1"
    if use.lead is not None:
        samples, unit = use.lead.measured(samples, unit)
    return Channel(
        name=use.column,
        role=use.role,
        unit=unit,
        samples=samples,
        cylinder=use.cylinder,
        sync=use.sync,
        feeds=use.feeds,
        measured_at=use.measured_at,
        unplugged=use.unplugged,
        lead=use.lead or use.came_through,
    )


def is_count(name: str, values: SampleArray) -> bool:
    """Whether a column only counts the samples: whole numbers, one more each time."""
    few = np.asarray(values[:EVEN_ROWS], dtype=np.float64)
    if few.size < 3 or not np.isfinite(few).all():
        return False
    return bool((np.diff(few) == 1.0).all()) and bool(COUNT_NAMES.search(name) or few[0] in (0.0, 1.0))


def _time_column(
    names: Sequence[str], units: Sequence[str | None], arrays: Mapping[str, SampleArray], *, told: bool
) -> str | None:
    timed = time_columns(names, units)
    for name, unit in zip(names, units, strict=True):
        values = arrays[name]
        counts = is_count(name, values)
        if name in timed and not (counts and (told or unit is None)):
            return name
        if counts or name != names[0] or values.size < 3:
            continue
        if bool((np.diff(values[:: max(1, values.size // RISING_ROWS)]) > 0).all()):
            steps = np.diff(np.asarray(values[:EVEN_ROWS], dtype=np.float64))
            if float(np.ptp(steps)) < 0.01 * float(np.median(steps)):
                return name
    return None
