"""May a capture be believed, as far as its recorded set-up tells?"""

from __future__ import annotations

from fairwitness.core.messages.catalogue import template
from fairwitness.core.model.capture import EngineState, SetUp
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


def set_up_reasons(set_up: SetUp) -> tuple[Reason, ...]:
    """What the recorded set-up alone says against a cranking test."""
    reasons = []
    if set_up.engine_state in (EngineState.RUNNING, EngineState.KEY_ON):
        state = "running" if set_up.engine_state is EngineState.RUNNING else STANDING_KEY()
        reasons.append(Reason("not_cranking", ENGINE_RECORDED_CRANKING(state=state), blocking=True))
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
