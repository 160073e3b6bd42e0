"""What a sound part reads, in words, for the forms in which readings are written down."""

from __future__ import annotations

from fairwitness.core import thresholds as limit
from fairwitness.core.model.engine import Engine
from fairwitness.core.procedures import compression_gauge, resistance

VOLTAGES = {
    "coil_feed": f"{limit.FEED_MIN_V.value:g} V or more under load",
    "injector_feed": f"{limit.FEED_MIN_V.value:g} V or more under load",
    "coil_earth": f"{limit.EARTH_DROP_MAX_V.value:g} V or less under load",
    "coil_control_low": f"near earth, under {limit.COMMAND_LOW_ABOVE_V.value:g} V",
    "coil_control_high": f"over {limit.COMMAND_SWING_MIN_V.value:g} V, usually 4 to 5 V",
    "injector_control": "battery voltage with the key on",
}


def expected(engine: Engine) -> dict[str, str]:
    """Usual readings of an engine's parts.

    Parameters
    ----------
    engine : Engine

    Returns
    -------
    dict of str to str
        By test and item, as ``resistance:coil_primary``.
    """
    ohms = {f"{resistance.TEST}:{item}": resistance.usual(item, engine) for item in resistance.WORDS}
    least = compression_gauge.least_bar(engine)
    gauge = {compression_gauge.TEST: f"{least:g} bar and more ({100 * least:.0f} kPa, {14.5038 * least:.0f} psi), even"}
    return gauge | ohms | {f"voltage:{item}": words for item, words in VOLTAGES.items()}
