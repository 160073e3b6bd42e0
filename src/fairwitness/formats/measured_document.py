"""A measurement as JSON and back, so that reasoning does not need the samples again.

Every document carries the number of its format. Documents of earlier formats are lifted step by step as they are read;
what a lift cannot know stays as the earlier version said it, until ``manage.py remeasure`` measures again.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping
from typing import Any

import numpy as np

from fairwitness.core.errors import PackageError
from fairwitness.core.messages.message import as_data, from_data, is_message, storable, verbatim
from fairwitness.core.model.measurement import (
    AveragedCycle,
    CategoricalEvidence,
    Evidence,
    Finding,
    Measured,
    Origin,
    State,
)
from fairwitness.core.model.reason import Reason

FORMAT = 1
"""0: findings and reasons held English sentences. 1: they hold messages."""
CYCLE_DIGITS = 3
CURVES = ("angle_deg", "middle", "low", "high")
Document = dict[str, Any]


def measured_document(measured: Measured) -> Document:
    """Write a measurement.

    Parameters
    ----------
    measured : Measured

    Returns
    -------
    dict
        JSON-ready.
    """
    cycle = measured.averaged_cycle
    curves = cycle and {key: np.round(getattr(cycle, key), CYCLE_DIGITS).tolist() for key in CURVES}
    return {
        "format": FORMAT,
        "test": measured.test,
        "resource": measured.resource,
        "observation": measured.observation,
        "usable": measured.usable,
        "reasons": [
            {"code": r.code, "statement": as_data(r.statement), "blocking": r.blocking} for r in measured.reasons
        ],
        "findings": [_finding(f) for f in measured.findings],
        "lines": [
            {
                "line": line.line,
                "source": line.source,
                "alternatives": [a.tolist() for a in line.alternatives],
                "sigmas": line.sigmas.tolist(),
            }
            for line in measured.lines
        ],
        "sightings": [
            {"kind": s.kind, "outcome": s.outcome, "cylinders": list(s.cylinders), "source": s.source}
            for s in measured.categorical
        ],
        "strip": cycle and {"unit": cycle.unit, **(curves or {})},
        "facts": storable(measured.facts),
        "figures": {str(cylinder): dict(own) for cylinder, own in measured.figures.items()},
        "cycle_starts_s": list(measured.cycle_starts_s),
    }


def read_measured(document: Document) -> Measured:
    """Read what ``measured_document`` wrote, in this format or an earlier one.

    Parameters
    ----------
    document : dict

    Returns
    -------
    Measured

    Raises
    ------
    PackageError
        It was written by a later version, or it is damaged.
    """
    try:
        return _read(lifted(document))
    except (AttributeError, KeyError, TypeError, ValueError) as damage:
        raise PackageError(
            f"A stored measurement is damaged: {type(damage).__name__} {damage}.",
            where="measurement",
            remedy="Measure its capture again (manage.py remeasure); the samples themselves are kept apart from it.",
        ) from damage


def _read(document: Document) -> Measured:
    cycle = document["strip"]
    return Measured(
        test=document["test"],
        resource=document["resource"],
        observation=document["observation"],
        usable=document["usable"],
        reasons=tuple(Reason(r["code"], from_data(r["statement"]), r["blocking"]) for r in document["reasons"]),
        findings=tuple(_read_finding(f) for f in document["findings"]),
        lines=tuple(
            Evidence(
                line=line["line"],
                source=line["source"],
                alternatives=tuple(np.array(a) for a in line["alternatives"]),
                sigmas=np.array(line["sigmas"]),
            )
            for line in document["lines"]
        ),
        categorical=tuple(
            CategoricalEvidence(**{**s, "cylinders": tuple(s["cylinders"])}) for s in document["sightings"]
        ),
        averaged_cycle=cycle and AveragedCycle(unit=cycle["unit"], **{key: np.array(cycle[key]) for key in CURVES}),
        facts={key: from_data(value) if is_message(value) else value for key, value in document["facts"].items()},
        figures={int(cylinder): own for cylinder, own in document["figures"].items()},
        cycle_starts_s=tuple(document["cycle_starts_s"]),
    )


def lifted(document: Document) -> Document:
    """A document in the present format.

    Parameters
    ----------
    document : dict
        Of any format up to the present one.

    Returns
    -------
    dict
        The same object where it is of the present format already.

    Raises
    ------
    PackageError
        It was written by a later version.
    """
    number = document.get("format", 0)
    if number > FORMAT:
        raise PackageError(
            f"A measurement of format {number} was written by a later version; this one reads up to {FORMAT}.",
            where="measurement",
            remedy="Update the program, or measure the captures again with it.",
        )
    for step in range(number, FORMAT):
        document = LIFTS[step](document)
    return document


def _sentences_to_messages(document: Document) -> Document:
    """Format 0 to 1: what was said in English is kept word by word."""
    said = {"source", "assignment"}
    facts = {
        key: as_data(verbatim(value)) if key in said and isinstance(value, str) else value
        for key, value in document["facts"].items()
    }
    group = facts.get("group")
    if isinstance(group, str) and group != document["test"]:
        facts["group_words"] = as_data(verbatim(group.replace("_", " ")))
    if document["test"] == "cylinder_pressure" and "source" in document["facts"]:
        facts["running"] = float(str(document["facts"]["source"]).startswith("running"))
    if document["test"] == "resistance" and isinstance(group, str):
        facts["item"], _, facts["temperature"] = group.partition(", ")
    return {
        **document,
        "format": 1,
        "reasons": [{**r, "statement": as_data(verbatim(r["statement"]))} for r in document["reasons"]],
        "findings": [
            {**f, "statement": as_data(verbatim(f["statement"])), "word": as_data(verbatim(f["word"]))}
            for f in document["findings"]
        ],
        "facts": facts,
    }


LIFTS: Mapping[int, Callable[[Document], Document]] = {0: _sentences_to_messages}
"""From each format to the next."""


def _finding(finding: Finding) -> Document:
    origin = finding.origin
    plain = ("test", "cylinder", "quantity", "value", "unit", "spread", "events")
    return {
        **{key: getattr(finding, key) for key in plain},
        "statement": as_data(finding.statement),
        "word": as_data(finding.word),
        "beside": finding.is_remark,
        "state": finding.state.value,
        "origin": {
            "resource": origin.resource,
            "observation": origin.observation,
            "capture_sha256": origin.capture_sha256,
            "code_version": origin.code_version,
            "parameters": [list(p) for p in origin.parameters],
        },
    }


def _read_finding(document: Document) -> Finding:
    origin = dict(document["origin"])
    origin["parameters"] = tuple((key, value) for key, value in origin["parameters"])
    others = ("beside", "state", "origin", "statement", "word")
    plain = {key: value for key, value in document.items() if key not in others}
    return Finding(
        **plain,
        statement=from_data(document["statement"]),
        word=from_data(document["word"]),
        is_remark=document["beside"],
        state=State(document["state"]),
        origin=Origin(**origin),
    )
