"""Case packages out: every capture and observation of a case as a Data Package."""

from __future__ import annotations

import io
import json
import zipfile
from typing import Any

import numpy as np
import polars as pl

from fairwitness.core.model.capture import Capture, UnreadableCapture
from fairwitness.core.model.case import Case
from fairwitness.core.model.circumstances import circumstances_block
from fairwitness.formats.case_package import DESCRIPTOR, VERSION
from fairwitness.formats.engine_block import engine_block
from fairwitness.formats.set_up import set_up_block


def write_package(case: Case) -> bytes:
    """Write a case as a ZIP package.

    Parameters
    ----------
    case : Case
        Unreadable captures are left out; they hold no samples.

    Returns
    -------
    bytes
        The same case gives the same bytes.
    """
    resources = []
    buffer = io.BytesIO()
    with zipfile.ZipFile(buffer, "w", zipfile.ZIP_DEFLATED) as archive:
        taken: set[str] = set()
        for capture in case.captures:
            if isinstance(capture, UnreadableCapture):
                continue
            stem = _file_stem(capture.name, taken)
            resource, table = _written(capture, stem)
            resources.append(resource)
            archive.writestr(_member(f"captures/{stem}.csv"), table)
        descriptor = {
            "profile": "data-package",
            "name": _slug(case.name),
            "title": case.title or case.name,
            "fair_witness": {
                **case.extra,
                "version": VERSION,
                "engine": engine_block(case.engine),
                "complaint": case.complaint,
                "symptom": case.symptom.value,
                **({"complaint_when": circumstances_block(case.complaint_when)} if case.complaint_when else {}),
                "work_done": list(case.work_done),
                "dtcs": [{"code": c.code, "status": c.status} for c in case.codes],
                "observations": [
                    {"test": o.test, **{k: v for k, v in o.data.items() if k != "test"}} for o in case.observations
                ],
            },
            "resources": resources,
        }
        text = json.dumps(descriptor, indent=1, ensure_ascii=False)
        archive.writestr(_member(DESCRIPTOR), text.encode(errors="replace"))  # old cases may hold half a character
    return buffer.getvalue()


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
        name = channel.name if channel.name not in names and "," not in channel.name else f"c{len(names)}"
        names.add(name)
        about = {
            "name": name,
            "type": "number",
            "unit": channel.unit,
            "role": channel.role.value,
            "cylinder": channel.cylinder,
            "feeds": list(channel.feeds) or None,
            "sync": channel.sync or None,
            "measured_at": channel.measured_at,
            "unplugged": channel.unplugged,
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
