"""May a capture be believed, as far as its recorded set-up tells?"""

from __future__ import annotations

import numpy as np

from fairwitness.core.messages.catalogue import template
from fairwitness.core.model.capture import Capture, Channel, EngineState, Role, SetUp
from fairwitness.core.model.reason import Reason

STANDING_KEY = template("quality.standing_key", "standing with the key on")
ENGINE_RECORDED_CRANKING = template(
    "quality.engine_recorded_cranking", "The engine was recorded as {state}, not cranking."
)
FUEL_DISABLED_FIRING = template(
    "quality.fuel_disabled_firing",
    "Fuel was not disabled: firing and washed bores falsify the humps. Disable fuel and crank again.",
)
WHETHER_FUEL_DISABLED = template("quality.whether_fuel_disabled", "Whether fuel was disabled was not recorded.")


CUT_OFF = template(
    "quality.cut_off",
    "The pulses are cut off at {level:.4g} {unit}, the end of the range: choose a larger one and repeat.",
)
FLAT_RUN = 8
"""[M] equal samples in a row at the far end of a range, below which noise or a real crest may lie there by chance."""
FLAT_TIMES = 4.0
"""[M] a range's end holds a trace so many times longer at one value than its noise does elsewhere."""
FLAT_OFTEN = 3
LOOKED_AT = 2_000_000


def cut_off(channel: Channel) -> Reason | None:
    """Why pulses of a channel cannot be measured whose tops the range cuts off.

    A crest, however flat, moves by the noise of its trace; the end of a range does not.

    Parameters
    ----------
    channel : Channel
        Pulses may point either way.

    Returns
    -------
    Reason or None
        Blocking; None where tops are whole, or nothing tells.
    """
    values = np.asarray(channel.samples[:LOOKED_AT], dtype=np.float64)
    values = values[np.isfinite(values)]
    if values.size < 100:
        return None
    rest = float(np.median(values))
    far = float(values.max()) if values.max() - rest >= rest - values.min() else float(values.min())
    changes = np.flatnonzero(np.diff(values) != 0)
    lengths = np.diff(np.concatenate(([-1], changes, [values.size - 1])))
    ends = values[np.concatenate((changes, [values.size - 1]))] == far
    at_end, elsewhere = lengths[ends], np.sort(lengths[~ends])
    half = np.searchsorted(np.cumsum(elsewhere), elsewhere.sum() / 2)  # of samples, not of runs: rest counts for most
    usual = float(elsewhere[min(half, elsewhere.size - 1)]) if elsewhere.size else np.inf
    flat = at_end[at_end >= FLAT_RUN]
    if flat.size < FLAT_OFTEN or float(np.median(flat)) < FLAT_TIMES * usual or flat.size < 0.5 * at_end.size:
        return None
    return Reason("clipped", CUT_OFF(level=far, unit=channel.unit), blocking=True)


def any_cut_off(capture: Capture, role: Role) -> Reason | None:
    """Why a capture cannot be measured of whose channels of a role one is cut off; None where all are whole."""
    return next((reason for c in capture.with_role(role) if (reason := cut_off(c)) is not None), None)


def set_up_reasons(set_up: SetUp) -> tuple[Reason, ...]:
    """What the recorded set-up alone says against a cranking test."""
    reasons = []
    if set_up.engine_state in (EngineState.RUNNING, EngineState.KEY_ON):
        state = "running" if set_up.engine_state is EngineState.RUNNING else STANDING_KEY()
        reasons.append(Reason("not_cranking", ENGINE_RECORDED_CRANKING(state=state), blocking=True))
    if set_up.ignition_disabled is True:  # nothing burns: what washes the bores is the next test's trouble
        return tuple(reasons)
    if set_up.fuel_disabled is False:
        reasons.append(
            Reason(
                "fuel_not_disabled",
                FUEL_DISABLED_FIRING(),
                blocking=True,
            )
        )
    if set_up.fuel_disabled is None:
        reasons.append(Reason("fuel_state_unknown", WHETHER_FUEL_DISABLED()))
    return tuple(reasons)
