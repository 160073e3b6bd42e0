"""Columns of any recording: what each probably is, and a capture made of what the technician says they are."""

from __future__ import annotations

import re
from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import numpy as np

from fairwitness.core.errors import TableError
from fairwitness.core.model.capture import Capture, CaptureTest, Channel, FloatArray, Role, SampleArray, SetUp, TimeBase
from fairwitness.core.model.units import UNIT_TO_SI

UNIT_WORDS = {
    "s": ("sec", "secs", "second", "seconds", "sek"),
    "ms": ("msec",),
    "us": ("µs", "μs", "usec"),
    "V": ("volt", "volts", "v"),
    "mV": ("mv",),
    "kV": ("kv",),
    "A": ("amp", "amps", "ampere", "a"),
    "mA": ("ma",),
    "Pa": ("pa",),
    "kPa": ("kpa",),
    "deg": ("°",),
}
UNIT_OF_WORD = {word: unit for unit, words in UNIT_WORDS.items() for word in words}
TIME_NAMES = re.compile(r"^(time|t|zeit|temps|tiempo|tid|x|x-axis|timestamp)$", re.I)
PREVIEW_POINTS = 200
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


def guess_columns(
    names: Sequence[str], units: Sequence[str | None], arrays: Mapping[str, SampleArray]
) -> tuple[tuple[ColumnGuess, ...], bool]:
    """A sensible guess for every column.

    Parameters
    ----------
    names : sequence of str
    units : sequence of str or None
    arrays : mapping of name to (n,) float
        The whole recording, or stretches from all over it.

    Returns
    -------
    (columns, timed) : tuple of ColumnGuess, bool
        Whether one of them is time.
    """
    time_at = _time_column(names, units, arrays)
    columns = []
    seen_sync = False
    for name, unit in zip(names, units, strict=True):
        values = np.asarray(arrays[name], dtype=np.float64)
        role, guessed = (Role.TIME, unit or "s") if name == time_at else _role(name, unit, values)
        sync = role is Role.COIL_CONTROL and not seen_sync
        seen_sync |= sync
        columns.append(
            ColumnGuess(
                name=name,
                unit=guessed,
                role=role,
                cylinder=_cylinder(name) or (1 if sync else None),
                sync=sync,
                preview=_lows_and_highs(values),
            )
        )
    return tuple(columns), time_at is not None


def _lows_and_highs(values: FloatArray) -> tuple[float, ...]:
    """Lows and highs in turn, of so few groups that a small picture shows them; what is missing is left out."""
    good = values[np.isfinite(values)]
    if good.size <= PREVIEW_POINTS:
        return tuple(float(v) for v in good)
    starts = np.linspace(0, good.size, PREVIEW_POINTS // 2, endpoint=False).astype(int)
    pairs = np.stack((np.minimum.reduceat(good, starts), np.maximum.reduceat(good, starts)), axis=1)
    return tuple(float(v) for v in pairs.reshape(-1))


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
    channels = tuple(
        Channel(
            name=u.column,
            role=u.role,
            unit=u.unit or "1",
            samples=np.asarray(arrays[u.column], dtype=np.float32),
            cylinder=u.cylinder,
            sync=u.sync,
            feeds=u.feeds,
            measured_at=u.measured_at,
            unplugged=u.unplugged,
        )
        for u in kept
    )
    return Capture(name=name, time=time, channels=channels, set_up=set_up)


def unit_of(text: str) -> str | None:
    """The unit a text means, or None."""
    bare = text.strip().strip("[]()").strip()
    if bare in UNIT_TO_SI:
        return bare
    return UNIT_OF_WORD.get(bare.lower())


def _time_column(names: Sequence[str], units: Sequence[str | None], arrays: Mapping[str, SampleArray]) -> str | None:
    for name, unit in zip(names, units, strict=True):
        values = np.asarray(arrays[name], dtype=np.float64)
        rising = values.size > 1 and bool((np.diff(values) > 0).all())
        if TIME_NAMES.match(name) or unit in ("s", "ms", "us"):
            return name
        if rising and name == names[0]:
            steps = np.diff(values[:EVEN_ROWS])
            if float(np.ptp(steps)) < 0.01 * float(np.median(steps)):
                return name
    return None


def _cylinder(name: str) -> int | None:
    match = re.search(
        r"(?:cyl(?:inder)?|coil|inj(?:ector)?|sync|secondary|lead|plug|spark|ignition|zyl)\D{0,3}(\d{1,2})", name, re.I
    )
    return int(match[1]) if match and 1 <= int(match[1]) <= 16 else None


def _role(name: str, unit: str | None, values: FloatArray) -> tuple[Role, str | None]:
    """A sensible guess from name, unit and shape; the technician confirms it."""
    words = name.lower()
    good = values[np.isfinite(values)]
    if good.size == 0:
        return Role.OTHER, unit
    span = float(np.ptp(good))
    by_name = (
        (r"batt|ubat|supply", Role.BATTERY_VOLTAGE, "V"),
        (r"inj.*(curr|amp|strom)|(curr|amp).*inj", Role.INJECTOR_CURRENT, "A"),
        (r"coil.*(curr|amp|strom)|(curr|amp).*coil|primary.*(curr|amp)", Role.COIL_CURRENT, "A"),
        (r"cyl\w*.?press|in.?cyl|compression.*press", Role.CYLINDER_PRESSURE, "bar"),
        (r"exhaust|tailpipe", Role.EXHAUST_PRESSURE, "kPa"),
        (r"crankcase|dipstick", Role.CRANKCASE_PRESSURE, "kPa"),
        (r"intake|manifold|vacuum", Role.INTAKE_PRESSURE, "kPa"),
        (r"second|kv|spark", Role.SECONDARY_VOLTAGE, "kV"),
        (r"starter|clamp|crank.*curr|current|strom|amp", Role.STARTER_CURRENT, "A"),
        (r"crank.*(sens|pos|wheel)|ckp|tooth", Role.CRANK_SENSOR, "V"),
        (r"inj", Role.INJECTOR_VOLTAGE, "V"),
        (r"sync|coil|trigger|ign|zünd", Role.COIL_CONTROL, "V"),
        (r"cam", Role.CAM_SENSOR, "V"),
    )
    for pattern, role, usual in by_name:
        if re.search(pattern, words):
            return role, unit or usual
    if unit in ("A", "mA"):
        return Role.STARTER_CURRENT, unit
    if unit in ("V", "mV", None):
        scale = 1e-3 if unit == "mV" else 1.0
        level = float(np.median(good)) * scale
        if 6.0 < abs(level) < 30.0:
            return Role.BATTERY_VOLTAGE, unit or "V"
        if abs(level) < 1.0 and 2.0 < span * scale < 30.0:
            return Role.COIL_CONTROL, unit or "V"
        if unit is None and span > 60:
            return Role.STARTER_CURRENT, "A"
    return Role.OTHER, unit
