"""Case packages out: every capture and observation of a case as a Data Package."""

from __future__ import annotations

import hashlib
import io
import json
import zipfile
from collections.abc import Mapping
from typing import Any

import numpy as np
import polars as pl

from fairwitness.core.model.capture import Capture, UnreadableCapture
from fairwitness.core.model.case import Case, code_block
from fairwitness.core.model.circumstances import circumstances_block
from fairwitness.core.model.lead import lead_block
from fairwitness.core.model.phase import phase_block
from fairwitness.core.model.visit import visit_block
from fairwitness.core.model.work import work_block
from fairwitness.formats.case_package import DESCRIPTOR, LIFE, VERSION, WITH_LIFE
from fairwitness.formats.engine_block import engine_block
from fairwitness.formats.set_up import set_up_block

SUMS = "SHA256SUMS"
"""Hash and name of every other file, as ``sha256sum --check`` reads it."""
FORMULA_STARTS = ("=", "+", "-", "@", "\t", "\r")
"""What a spreadsheet takes for a formula at the head of a cell."""


def write_package(case: Case, beside: Mapping[str, bytes] | None = None) -> bytes:
    """Write a case as a ZIP package, with the hash of every file in it.

    Parameters
    ----------
    case : Case
        Unreadable captures are left out; they hold no samples.
    beside : mapping of str to bytes, optional
        Further files of the package.

    Returns
    -------
    bytes
        The same case gives the same bytes.
    """
    resources: list[dict[str, Any]] = []
    files: dict[str, bytes] = {}
    taken: set[str] = set()
    for capture in case.captures:
        if isinstance(capture, UnreadableCapture):
            continue
        stem = _file_stem(capture.name, taken)
        resource, table = _written(capture, stem)
        resources.append({**resource, "bytes": len(table), "hash": f"sha256:{hashlib.sha256(table).hexdigest()}"})
        files[resource["path"]] = table
    text = json.dumps(_descriptor(case, resources), indent=1, ensure_ascii=False)
    files[DESCRIPTOR] = text.encode(errors="replace")  # old cases may hold half a character
    files |= beside or {}
    files[SUMS] = "".join(f"{hashlib.sha256(data).hexdigest()}  {name}\n" for name, data in files.items()).encode()
    buffer = io.BytesIO()
    with zipfile.ZipFile(buffer, "w", zipfile.ZIP_DEFLATED) as archive:
        for name, data in files.items():
            archive.writestr(_member(name), data)
    return buffer.getvalue()


def _descriptor(case: Case, resources: list[dict[str, Any]]) -> dict[str, Any]:
    return {
        "profile": "data-package",
        "name": _slug(case.name),
        "title": case.title or case.name,
        "fair_witness": {
            **case.extra,
            "version": WITH_LIFE if case.phases or case.visits or LIFE & case.extra.keys() else VERSION,
            "engine": engine_block(case.engine),
            "complaint": case.complaint,
            "symptom": case.symptom.value,
            **({"complaint_when": circumstances_block(case.complaint_when)} if case.complaint_when else {}),
            **({"signs": list(case.signs)} if case.signs else {}),
            "work_done": [work_block(work) for work in case.work_done],
            **({"phases": [phase_block(p) for p in case.phases]} if case.phases else {}),
            **({"visits": [visit_block(v) for v in case.visits]} if case.visits else {}),
            "dtcs": [code_block(c) for c in case.codes],
            "observations": [
                {"test": o.test, **{k: v for k, v in o.data.items() if k != "test"}} for o in case.observations
            ],
        },
        "resources": resources,
    }


def _written(capture: Capture, stem: str) -> tuple[dict[str, Any], bytes]:
    fields: list[dict[str, Any]] = []
    columns: dict[str, Any] = {}
    block = set_up_block(capture.set_up)
    blank_rows = np.all([~np.isfinite(c.samples) for c in capture.channels], axis=0).any()
    if capture.time.stamps_s is not None or blank_rows:  # a row without any value is not a valid row
        fields.append({"name": "time", "type": "number", "unit": "s", "role": "time"})
        columns["time"] = capture.time.at(np.arange(capture.time.samples))
    if capture.time.stamps_s is None:
        block["sample_rate_hz"] = capture.time.rate_hz
    names: set[str] = set(columns)
    for channel in capture.channels:
        name = channel.name if _can_head_a_column(channel.name, names) else f"c{len(names)}"
        names.add(name)
        about = {
            "name": name,
            "full_name": channel.name if channel.name.startswith(FORMULA_STARTS) else None,
            "type": "number",
            "unit": channel.unit,
            "role": channel.role.value,
            "cylinder": channel.cylinder,
            "feeds": list(channel.feeds) or None,
            "sync": channel.sync or None,
            "measured_at": channel.measured_at,
            "unplugged": channel.unplugged,
            "lead": lead_block(channel.lead),
        }
        fields.append({k: v for k, v in about.items() if v is not None})
        columns[name] = pl.Series(channel.samples, dtype=pl.Float32).fill_nan(None)
    table = io.BytesIO()
    pl.DataFrame(columns).write_csv(table)
    resource = {
        "profile": "tabular-data-resource",
        "name": _slug(stem),
        "path": f"captures/{stem}.csv",
        "schema": {"fields": fields},
        "fair_witness": block,
    }
    return resource, table.getvalue()


def _can_head_a_column(name: str, taken: set[str]) -> bool:
    return name not in taken and "," not in name and not name.startswith(FORMULA_STARTS)


def _member(name: str) -> zipfile.ZipInfo:
    info = zipfile.ZipInfo(name, date_time=(2024, 1, 1, 0, 0, 0))
    info.compress_type = zipfile.ZIP_DEFLATED
    return info


def _slug(name: str) -> str:
    kept = "".join(ch if ch.isascii() and (ch.isalnum() or ch in "._-") else "-" for ch in name.lower())
    return kept.strip("-.") or "case"


def _file_stem(name: str, taken: set[str]) -> str:
    stem = _slug(name)
    while stem in taken:
        stem = f"{stem}-{len(taken) + 1}"
    taken.add(stem)
    return stem
