"""May a capture be believed, as far as its recorded set-up tells?"""

from __future__ import annotations

from fairwitness.core.model.capture import EngineState, SetUp
from fairwitness.core.model.reason import Reason


def set_up_reasons(set_up: SetUp) -> tuple[Reason, ...]:
    """What the recorded set-up alone says against a cranking test."""
    reasons = []
    if set_up.engine_state in (EngineState.RUNNING, EngineState.KEY_ON):
        state = "running" if set_up.engine_state is EngineState.RUNNING else "standing with the key on"
        reasons.append(Reason("not_cranking", f"The engine was recorded as {state}, not cranking.", blocking=True))
    if set_up.fuel_disabled is False:
        reasons.append(
            Reason(
                "fuel_not_disabled",
                "Fuel was not disabled: firing and washed bores falsify the humps. Disable fuel and crank again.",
                blocking=True,
            )
        )
    if set_up.fuel_disabled is None:
        reasons.append(Reason("fuel_state_unknown", "Whether fuel was disabled was not recorded."))
    return tuple(reasons)
