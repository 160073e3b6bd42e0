"""What the supply loses while coils charge, where a capture holds its voltage.

From the ramps and the voltage beside them; figures and a remark go to the measurement.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence

import numpy as np

from fairwitness.core import thresholds as limit
from fairwitness.core.model.capture import Capture, Role
from fairwitness.core.model.reason import Reason
from fairwitness.core.procedures.coil_current.words import SUPPLY_SAGS_V
from fairwitness.core.signal.ignition.primary import LONGEST_S, Ramps

SAG_S = 0.3e-3
"""The last part of a ramp, where the most current flows."""


def supply_of(capture: Capture, ramps: Sequence[Ramps]) -> dict[str, float]:
    """Supply at rest and what it loses by the end of a ramp, where the capture holds its voltage."""
    channel = next(iter(capture.with_role(Role.BATTERY_VOLTAGE)), None)
    ramps = [r for r in ramps if r.count]
    if channel is None or not ramps:
        return {}
    volts = np.asarray(channel.samples, dtype=np.float64) * channel.si_factor
    rate = capture.time.rate_hz
    ends = np.unique(np.concatenate([r.off_s for r in ramps]))
    loaded, rested = [], []
    for at in ends:
        end, begin = round((at - SAG_S) * rate), round((at - LONGEST_S) * rate)
        if begin > 0:
            loaded.append(np.nanmedian(volts[end : end + max(1, round(SAG_S * rate))]))
            rested.append(np.nanpercentile(volts[begin:end], 90))
    if not loaded:
        return {}
    return {
        "supply_v": round(float(np.median(rested)), 2),
        "sag_v": round(float(np.median(np.array(rested) - np.array(loaded))), 2),
    }


def supply_reasons(supply: Mapping[str, float]) -> list[Reason]:
    """A remark where it sags more than a sound supply does."""
    if supply.get("sag_v", 0.0) <= limit.SUPPLY_SAG_MAX_V.value:
        return []
    return [Reason("supply_sags", SUPPLY_SAGS_V(sag_v=supply["sag_v"]))]
