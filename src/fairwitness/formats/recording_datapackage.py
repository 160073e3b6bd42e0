"""A Data Package of one table: a ZIP of a descriptor and a CSV, which a spreadsheet and any language open.

What the columns are stands at the resource, so that a whole case (which has an engine at the top) is told apart.

References
----------
Frictionless Data, Data Package and Tabular Data Resource, version 1 [published].
"""

from __future__ import annotations

import io
import json
import zipfile
from collections.abc import Mapping
from typing import Any

import numpy as np
import polars as pl

from fairwitness.core.errors import TableError
from fairwitness.core.model.capture import Capture, SampleArray
from fairwitness.formats.json_text import parse_json
from fairwitness.formats.recording import KEY, SAMPLES_MAX, Recording, Source, about_of, columns_of, reported

DESCRIPTOR, TABLE = "datapackage.json", "data.csv"
DESCRIPTOR_BYTES_MAX = 4 * 1024 * 1024
TABLE_BYTES_MAX = 1024 * 1024 * 1024
"""Of the table inside, however small it was packed."""
NUMBERS = ("number", "integer")


def read(source: Source) -> Recording:
    """Columns of numbers of the one table of a package.

    Raises
    ------
    TableError
        No Data Package, a whole case, no table or more than one.
    """
    with zipfile.ZipFile(io.BytesIO(source) if isinstance(source, bytes) else source) as archive:
        resource = _table_of(_descriptor(archive))
        fields = [f for f in resource["schema"]["fields"] if f.get("type") in NUMBERS]
        about = reported(json.dumps(resource.get(KEY)))
        single = {c["name"] for c in about.get("channels", []) if c["role"] != "time"}
        kinds = {f["name"]: pl.Float32 if f["name"] in single else pl.Float64 for f in fields}
        text = _member(archive, str(resource["path"]), TABLE_BYTES_MAX)
    frame = pl.read_csv(text, columns=list(kinds), schema_overrides=kinds, **_dialect(resource))
    if frame.width * frame.height > SAMPLES_MAX:
        raise TableError("The recording is too large.", remedy="Split it, or export fewer channels.")
    columns: dict[str, SampleArray] = {n: frame[n].fill_null(float("nan")).to_numpy(writable=True) for n in kinds}
    return Recording(columns=columns, units={f["name"]: f.get("unit") for f in fields}, about=about)


def _descriptor(archive: zipfile.ZipFile) -> dict[str, Any]:
    if DESCRIPTOR not in archive.namelist():
        raise TableError("This ZIP is no Data Package.", remedy="Export the capture as CSV or another open format.")
    told = parse_json(_member(archive, DESCRIPTOR, DESCRIPTOR_BYTES_MAX))
    if not isinstance(told, dict):
        raise TableError("Its datapackage.json describes nothing.", remedy="Export it again.")
    if isinstance(told.get(KEY), dict) and "engine" in told[KEY]:
        raise TableError("This is a whole case.", remedy="Import it as a case package from the list of cases.")
    return told


def _table_of(descriptor: Mapping[str, Any]) -> dict[str, Any]:
    tables = [r for r in descriptor.get("resources", []) if isinstance(r, dict) and isinstance(r.get("schema"), dict)]
    if len(tables) != 1:
        raise TableError(f"The package holds {len(tables)} tables.", remedy="Export one recording at a time.")
    table: dict[str, Any] = tables[0]
    return table


def _dialect(resource: Mapping[str, Any]) -> dict[str, Any]:
    """As the descriptor says the table is written, a comma where it says nothing."""
    told = resource.get("dialect")
    delimiter = told.get("delimiter", ",") if isinstance(told, dict) else ","
    return {"separator": delimiter, "null_values": ["", "NaN"], "encoding": "utf8"}


def _member(archive: zipfile.ZipFile, name: str, most: int) -> bytes:
    """A file of the package, not more of it than is said and allowed."""
    if archive.getinfo(name).file_size > most:
        raise TableError("The package holds too much.", where=name[:80], remedy="Export a part of it.")
    with archive.open(name) as file:
        data = file.read(most + 1)
    if len(data) > most:
        raise TableError("The package holds more than it says.", where=name[:80], remedy="Export it again.")
    return data


def write(capture: Capture) -> bytes:
    """A capture as a Data Package."""
    columns, about = columns_of(capture), about_of(capture)
    units = {c["name"]: c["unit"] for c in about["channels"]}
    fields = [{"name": n, "type": "number", "unit": units.get(n, "")} for n in columns]
    schema = {"fields": fields, "missingValues": ["", "NaN"]}
    resource = {"name": "data", "path": TABLE, "profile": "tabular-data-resource", "format": "csv",
                "mediatype": "text/csv", "encoding": "utf-8", "schema": schema, KEY: about}  # fmt: skip
    descriptor = {"profile": "data-package", "name": "capture", "title": capture.name, "resources": [resource]}
    table = pl.DataFrame({n: np.asarray(v) for n, v in columns.items()}).write_csv(null_value="")
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as archive:
        archive.writestr(DESCRIPTOR, json.dumps(descriptor, indent=1, ensure_ascii=False).encode(errors="replace"))
        archive.writestr(TABLE, table)
    return out.getvalue()
