"""The case package: a ZIP or folder that is a Data Package of CSV resources, read within bounds and written back."""

from __future__ import annotations

import hashlib
from collections.abc import Iterator, Mapping
from enum import StrEnum
from pathlib import Path, PurePosixPath
from typing import Any, TypeGuard

import numpy as np

from fairwitness.core.errors import CaptureError, JsonError, PackageError, TableError
from fairwitness.core.model.capture import Capture, Channel, Role, SetUp, TimeBase, UnreadableCapture
from fairwitness.core.model.case import Case, Observation, read_code
from fairwitness.core.model.circumstances import read_circumstances
from fairwitness.core.model.engine import Engine
from fairwitness.core.model.lead import read_lead
from fairwitness.core.model.phase import read_phases
from fairwitness.core.model.symptom import Symptom, symptom_of
from fairwitness.core.model.units import UNIT_TO_SI
from fairwitness.core.model.visit import read_visits
from fairwitness.core.model.work import read_work
from fairwitness.core.reason.knowledge.signs import SIGNS
from fairwitness.formats.dialect import decoded, find_dialect
from fairwitness.formats.engine_block import read_engine
from fairwitness.formats.json_text import parse_json
from fairwitness.formats.package_source import PACKAGE_BYTES_MAX, Source, opened
from fairwitness.formats.set_up import read_set_up
from fairwitness.formats.tables import COLUMNS_MAX, Layout, read_columns

VERSION, WITH_LIFE = 1, 2
"""Written as the second version only where it holds what the first does not know; both are read."""
LIFE = frozenset({"outcomes", "parts", "pictures", "visit"})
"""Blocks of the record beside the evidence: carried along, and part of the second version too."""
DESCRIPTOR = "datapackage.json"
DESCRIPTOR_BYTES_MAX = 4 * 1024 * 1024
RESOURCES_MAX = 200
OBSERVATIONS_MAX = 5000
SAMPLES_MAX = 80_000_000
"""Of all captures together; with the limit of a single table this keeps reading within 1 GB of memory."""
RATE_AGREES = 1e-6
HASH_KIND = "sha256:"
DEFAULT_UNITS = {Role.TIME: "s", Role.STARTER_CURRENT: "A", Role.COIL_CURRENT: "A", Role.INJECTOR_CURRENT: "A"}

READ_HERE = frozenset(
    {
        "version",
        "engine",
        "complaint",
        "symptom",
        "complaint_when",
        "work_done",
        "dtcs",
        "observations",
        "phases",
        "signs",
        "visits",
    }
)
"""Keys of the block that become parts of the case; all others are carried along."""


def read_package(path: Path | str, *, keep_bytes: bytes | None = None) -> Case:
    """Read a case package.

    Parameters
    ----------
    path : Path
        A ZIP file or a folder; with ``keep_bytes`` only its name is used.
    keep_bytes : bytes, optional
        The ZIP itself, where it came over a wire.

    Returns
    -------
    Case
        Captures that cannot be read are kept as UnreadableCapture with the reason.

    Raises
    ------
    PackageError, EngineError
        The package as a whole cannot be read; says what and where.
    """
    path = Path(path)
    with opened(path, keep_bytes) as source:
        descriptor = _descriptor(source)
        block = descriptor.get("fair_witness")
        if not isinstance(block, dict):
            raise PackageError(
                "There is no fair_witness block.", where=DESCRIPTOR, remedy="Export it as a case package."
            )
        if block.get("version") not in (VERSION, WITH_LIFE) or isinstance(block.get("version"), bool):
            raise PackageError(
                f"Version {block.get('version')!r} cannot be read; this program reads 1 and 2.",
                where=DESCRIPTOR,
            )
        engine = read_engine(block.get("engine"))
        return Case(
            name=_text(descriptor.get("name")) or path.stem,
            title=_text(descriptor.get("title")),
            engine=engine,
            complaint=_text(block.get("complaint")),
            symptom=_symptom(block),
            complaint_when=read_circumstances(when if isinstance(when := block.get("complaint_when"), dict) else {}),
            signs=tuple(s for s in _list(block.get("signs"), "signs") if isinstance(s, str) and s in SIGNS),
            work_done=read_work(_list(block.get("work_done"), "work_done")),
            codes=tuple(c for item in _list(block.get("dtcs"), "dtcs") if (c := read_code(item)) is not None),
            observations=tuple(_observations(block.get("observations"))),
            captures=tuple(_captures(descriptor.get("resources"), source, engine)),
            phases=read_phases(block.get("phases")),
            visits=read_visits(block.get("visits")),
            extra={k: v for k, v in block.items() if k not in READ_HERE},
        )


def _symptom(block: Mapping[str, Any]) -> Symptom:
    """As the package says it; else as its complaint reads."""
    said = block.get("symptom")
    return Symptom(said) if said in list(Symptom) else symptom_of(_text(block.get("complaint")))


def _descriptor(source: Source) -> dict[str, Any]:
    try:
        raw = source.read(DESCRIPTOR, DESCRIPTOR_BYTES_MAX)
    except FileNotFoundError:
        raise PackageError(f"There is no {DESCRIPTOR}.", remedy="Choose a case package.") from None
    try:
        descriptor = parse_json(raw, where=DESCRIPTOR)
    except JsonError as error:
        raise PackageError(error.what, where=error.where, remedy=error.remedy) from None
    if not isinstance(descriptor, dict):
        raise PackageError("It is not a JSON object.", where=DESCRIPTOR)
    return descriptor


def _list(value: object, where: str) -> list[Any]:
    if value is None:
        return []
    if not isinstance(value, list):
        raise PackageError("A list was expected.", where=where)
    return value


def _values(kind: type[StrEnum]) -> list[str]:
    return [member.value for member in kind]


def _text(value: object) -> str:
    return value if isinstance(value, str) else ""


def _observations(value: object) -> Iterator[Observation]:
    items = _list(value, "observations")
    if len(items) > OBSERVATIONS_MAX:
        raise PackageError(f"More than {OBSERVATIONS_MAX} observations.", where="observations")
    for i, item in enumerate(items):
        if not isinstance(item, dict) or not isinstance(item.get("test"), str):
            raise PackageError("An observation names its test.", where=f"observation {i + 1}")
        yield Observation(test=item["test"], data=item)


def _captures(value: object, source: Source, engine: Engine) -> Iterator[Capture | UnreadableCapture]:
    resources = _list(value, "resources")
    if len(resources) > RESOURCES_MAX:
        raise PackageError(f"More than {RESOURCES_MAX} resources.", where="resources")
    planned = []
    taken: set[str] = set()
    for i, resource in enumerate(resources):
        if not isinstance(resource, dict):
            raise PackageError("A resource is an object.", where=f"resource {i + 1}")
        path = resource.get("path")
        if not isinstance(path, str):
            raise PackageError("A resource names one path.", where=f"resource {i + 1}")
        _check_path(path)
        name = _text(resource.get("name")) or PurePosixPath(path).stem or f"capture-{i + 1}"
        while name in taken:
            name = f"{name}-{i + 1}"
        taken.add(name)
        planned.append((name, path, resource))
    held = 0
    for name, path, resource in planned:
        set_up = read_set_up(resource.get("fair_witness"))
        try:
            capture = _capture(name, path, resource, set_up, source, engine)
            held += capture.time.samples * len(capture.channels)
            if held > SAMPLES_MAX:
                raise PackageError(
                    f"The captures hold more than {SAMPLES_MAX / 1e6:.0f} million samples together.",
                    where=name,
                    remedy="Split the case or lower the sample rate.",
                )
            yield capture
        except FileNotFoundError:
            yield UnreadableCapture(name=name, set_up=set_up, reason=f"The file {path} is missing from the package.")
        except (TableError, CaptureError) as error:
            yield UnreadableCapture(name=name, set_up=set_up, reason=error.sentence)


def _check_path(path: str) -> None:
    pure = PurePosixPath(path.replace("\\", "/"))
    drive = len(path) > 1 and path[1] == ":"
    if pure.is_absolute() or drive or ".." in pure.parts or "\x00" in path or "://" in path or not path:
        raise PackageError("A resource path leads out of the package.", where=path[:80] or "path")


def _capture(
    name: str, path: str, resource: Mapping[str, Any], set_up: SetUp, source: Source, engine: Engine
) -> Capture:
    fields = _fields(resource, name)
    data = source.read(path, PACKAGE_BYTES_MAX)
    _refuse_changed(data, resource.get("hash"), name)
    header = _header(data, name)
    stated = [f["name"] for f in fields]
    missing = [n for n in stated if n not in header]
    if missing:
        raise TableError(f"Column {missing[0]!r} is not in the table.", where=name, remedy=_way_in(data))
    timed = [f for f in fields if f["role"] is Role.TIME]
    layout = Layout(columns=tuple(header), skip_lines=1)
    arrays = read_columns(data, layout, exact=[f["name"] for f in timed], where=name)
    count = next(iter(arrays.values())).size
    if count < 2:
        raise CaptureError("One sample is not a capture.", where=name)
    block = resource.get("fair_witness")
    rate = block.get("sample_rate_hz") if isinstance(block, dict) else None
    if timed:
        factor = UNIT_TO_SI[timed[0]["unit"]][0]
        time = TimeBase.from_stamps(np.asarray(arrays[timed[0]["name"]], dtype=np.float64) * factor)
        if time.stamps_s is None and _is_number(rate) and abs(time.rate_hz / rate - 1) < RATE_AGREES:
            time = TimeBase(samples=count, rate_hz=float(rate), start_s=time.start_s)
    else:
        if not _is_number(rate):
            raise CaptureError("There is neither a time column nor a sample rate.", where=name)
        time = TimeBase(samples=count, rate_hz=float(rate))
    channels = tuple(_channel(f, arrays, engine, name) for f in fields if f["role"] is not Role.TIME)
    known = [c for c in channels if c.role is not Role.OTHER]
    if not known:
        raise CaptureError("No column has a known role.", where=name, remedy="Say what the columns are.")
    if not any(np.isfinite(c.samples).any() for c in known):
        raise CaptureError("There is not one number in its channels.", where=name)
    return Capture(name=name, time=time, channels=channels, set_up=set_up)


def _way_in(data: bytes) -> str:
    """How a table comes in that is written as instruments write, and not as packages hold it; empty where it is not."""
    try:
        dialect = find_dialect(*decoded(data, "table"), "table")
    except TableError:
        return ""
    if dialect.plain and (dialect.delimiter, dialect.decimal, dialect.first_line) == (",", ".", 1):
        return ""
    above = f" and {dialect.first_line} lines above" if dialect.first_line > 1 else ""
    words = f"It is written with {dialect.said}{above}"
    return f"{words}; a package holds commas, points and one header. Import that file by itself."


def _is_number(value: object) -> TypeGuard[int | float]:
    return isinstance(value, int | float) and not isinstance(value, bool) and value != 0


def _refuse_changed(data: bytes, stated: object, name: str) -> None:
    """Refuse a file that is not the one its package names; other kinds of hash than SHA-256 are not looked at."""
    if isinstance(stated, str) and stated.startswith(HASH_KIND):
        found = hashlib.sha256(data).hexdigest()
        if found != stated.removeprefix(HASH_KIND).lower():
            raise CaptureError(
                "Its file is not the one the package was made with: the hash is another.",
                where=name,
                remedy="Export the case again.",
            )


def _fields(resource: Mapping[str, Any], name: str) -> list[dict[str, Any]]:
    schema = resource.get("schema")
    items = schema.get("fields") if isinstance(schema, dict) else None
    if not isinstance(items, list) or not items or len(items) > COLUMNS_MAX:
        raise TableError(f"The schema names no fields, or more than {COLUMNS_MAX}.", where=name)
    fields: list[dict[str, Any]] = []
    for item in items:
        if not isinstance(item, dict) or not isinstance(item.get("name"), str):
            raise TableError("A field has no name.", where=name)
        role = item.get("role")
        kind = Role(role) if role in _values(Role) else Role.OTHER
        unit = item.get("unit", DEFAULT_UNITS.get(kind, "V"))
        if not isinstance(unit, str) or unit not in UNIT_TO_SI:
            raise TableError(f"The unit {unit!r} of {item['name']!r} is not known.", where=name)
        fields.append({**item, "role": kind, "unit": unit})
    if len({f["name"] for f in fields}) != len(fields):
        raise TableError("Two fields share a name.", where=name)
    return fields


def _header(data: bytes, name: str) -> list[str]:
    end = data.find(b"\n")
    line = data if end < 0 else data[:end]
    if not line.strip() or len(line) > 65536:
        raise TableError("The table is empty.", where=name)
    try:
        text = line.decode("utf-8-sig").strip("\r")
    except UnicodeDecodeError:
        raise TableError("This is not a text table.", where=name) from None
    header = [cell.strip().strip('"') for cell in text.split(",")]
    if len(header) > COLUMNS_MAX or len(set(header)) != len(header):
        raise TableError("The header has too many columns, or two of one name.", where=name)
    return header


def _channel(field: Mapping[str, Any], arrays: Mapping[str, Any], engine: Engine, name: str) -> Channel:
    cylinder = field.get("cylinder")
    if cylinder is not None and (isinstance(cylinder, bool) or cylinder not in engine.firing_order):
        what = "sync of" if field.get("sync") is True else "channel of"
        raise CaptureError(f"It has a {what} cylinder {cylinder!r}, which this engine does not have.", where=name)
    feeds = field.get("feeds")
    at, unplugged = field.get("measured_at"), field.get("unplugged")
    return Channel(
        name=_text(field.get("full_name")) or field["name"],
        role=field["role"],
        unit=field["unit"],
        samples=np.asarray(arrays[field["name"]], dtype=np.float32),
        cylinder=int(cylinder) if cylinder is not None else None,
        feeds=tuple(c for c in feeds if c in engine.firing_order) if isinstance(feeds, list) else (),
        sync=field.get("sync") is True,
        measured_at=at if isinstance(at, str) else None,
        unplugged=unplugged if isinstance(unplugged, bool) else None,
        lead=read_lead(field.get("lead")),
    )
