"""A measurement as JSON and back, so that reasoning does not need the samples again."""

from __future__ import annotations

from typing import Any

import numpy as np

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

STRIP_DIGITS = 3


def measured_document(measured: Measured) -> dict[str, Any]:
    """Write a measurement.

    Parameters
    ----------
    measured : Measured

    Returns
    -------
    dict
        JSON-ready.
    """
    strip = measured.averaged_cycle
    return {
        "test": measured.test,
        "resource": measured.resource,
        "observation": measured.observation,
        "usable": measured.usable,
        "reasons": [{"code": r.code, "statement": r.statement, "blocking": r.blocking} for r in measured.reasons],
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
        "strip": strip
        and {
            "unit": strip.unit,
            **{
                key: np.round(getattr(strip, key), STRIP_DIGITS).tolist()
                for key in ("angle_deg", "middle", "low", "high")
            },
        },
        "facts": measured.facts,
        "figures": {str(cylinder): dict(own) for cylinder, own in measured.figures.items()},
        "cycle_starts_s": list(measured.cycle_starts_s),
    }


def read_measured(document: dict[str, Any]) -> Measured:
    """Read what ``measured_document`` wrote.

    Parameters
    ----------
    document : dict

    Returns
    -------
    Measured
    """
    strip = document["strip"]
    return Measured(
        test=document["test"],
        resource=document["resource"],
        observation=document["observation"],
        usable=document["usable"],
        reasons=tuple(Reason(**r) for r in document["reasons"]),
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
        averaged_cycle=strip
        and AveragedCycle(
            unit=strip["unit"], **{key: np.array(strip[key]) for key in ("angle_deg", "middle", "low", "high")}
        ),
        facts=document["facts"],
        figures={int(cylinder): own for cylinder, own in document["figures"].items()},
        cycle_starts_s=tuple(document["cycle_starts_s"]),
    )


def _finding(finding: Finding) -> dict[str, Any]:
    origin = finding.origin
    plain = ("test", "cylinder", "quantity", "value", "unit", "spread", "events", "statement", "word")
    return {
        **{key: getattr(finding, key) for key in plain},
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


def _read_finding(document: dict[str, Any]) -> Finding:
    origin = dict(document["origin"])
    origin["parameters"] = tuple((key, value) for key, value in origin["parameters"])
    plain = {key: value for key, value in document.items() if key not in ("beside", "state", "origin")}
    return Finding(**plain, is_remark=document["beside"], state=State(document["state"]), origin=Origin(**origin))
