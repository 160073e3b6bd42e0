"""Coils that are not charged every time they should be: medians hide what comes and goes.

From each coil's figures; the evidence and the words go to the measurement.
"""

from __future__ import annotations

from collections.abc import Mapping

import numpy as np

from fairwitness.core import thresholds as limit
from fairwitness.core.model.engine import Engine, Ignition
from fairwitness.core.model.measurement import CategoricalEvidence

KIND = "ramp_gaps"
SOME, NONE = "some", "none"


def ramp_gaps(
    figures: Mapping[int, Mapping[str, float]], engine: Engine, *, source: str
) -> tuple[CategoricalEvidence, ...]:
    """Say of each coil that charges whether it is left out now and then while its peers are not.

    Parameters
    ----------
    figures : mapping of cylinder to figures
        ``ramps``, how many were read, and ``missed``, the share of those due that are missing.
    engine : Engine
        Two cylinders of one coil are spoken of together.
    source : str
        Of the evidence.

    Returns
    -------
    tuple of CategoricalEvidence
        Empty where fewer than two coils can be compared.
    """
    charging = {c: f for c, f in figures.items() if f["ramps"] >= limit.SPARKS_FOR_GAPS_MIN.value}
    coils = {c: _on_coil(c, engine, charging) for c in charging}
    if len(set(coils.values())) < 2:
        return ()
    reported = []
    for cylinders in dict.fromkeys(coils.values()):
        own = charging[cylinders[0]]["missed"]
        usual = float(np.median([f["missed"] for c, f in charging.items() if c not in cylinders]))
        some = own >= limit.SPARKS_LOST_SHARE.value and own > 2.0 * usual
        reported.append(
            CategoricalEvidence(kind=KIND, outcome=SOME if some else NONE, cylinders=cylinders, source=source)
        )
    return tuple(reported)


def _on_coil(cylinder: int, engine: Engine, charging: Mapping[int, object]) -> tuple[int, ...]:
    partner = engine.companion(cylinder) if engine.ignition is Ignition.WASTE_SPARK else None
    return tuple(sorted((cylinder, partner))) if partner is not None and partner in charging else (cylinder,)
