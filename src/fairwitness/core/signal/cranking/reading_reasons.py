"""What is to be said of a crank that was read: speed, length, sync, and whether what was read may be something else.

From a reading of the cranking trace; the reasons go beside its findings, blocking ones instead of them.
"""

from __future__ import annotations

import numpy as np

from fairwitness.core import thresholds as limit
from fairwitness.core.messages.catalogue import template
from fairwitness.core.model.capture import Capture, SetUp
from fairwitness.core.model.engine import Engine
from fairwitness.core.model.reason import Reason
from fairwitness.core.signal.cranking.reading import NO_COMPRESSIONS, Reading
from fairwitness.core.signal.peers import healthy_level
from fairwitness.core.signal.robust import robust_centre
from fairwitness.core.signal.sync import Anchor

ONLY_SAMPLES_PER = template(
    "cranking.reading.only_samples_per", "Only {per_pulse:.0f} samples per compression: raise the sample rate."
)
RPM_ENGINE_RUNNING = template(
    "cranking.reading.rpm_engine_running", "{usual:.0f} rpm: the engine was running, not cranking."
)
CRANKING_SPEED_FELL = template(
    "cranking.reading.cranking_speed_fell", "Cranking speed fell by {drop:.0f} %: the battery is giving up."
)
CYCLES_FEW_CRANKING = template(
    "cranking.reading.cycles_few_cranking", "{count} cycles are few; 5 to 10 s of cranking give more."
)
SYNC_CAPTURE_TELLS = template(
    "cranking.reading.sync_capture_tells", "No sync: the capture tells whether a cylinder is low, not which."
)
SAMPLES_PER_COMPRESSION = template(
    "cranking.reading.samples_per_compression", "{per_pulse:.0f} samples per compression are few; details are lost."
)
CRANKING_RPM_ONLY = template(
    "cranking.reading.cranking_rpm_only",
    "Cranking at {usual:.0f} rpm only: charge the battery, check the starter, and repeat.",
)
HUMPS_FIT_USUAL = template(
    "cranking.reading.humps_fit_usual", "The humps fit the usual shape badly; the spread was widened."
)
SYNC_MARKS_CYCLE = template(
    "cranking.reading.sync_marks_cycle", "The sync marks the cycle but not where TDC is: whether, not which."
)
CRANKING_RPM_SLOW = template(
    "cranking.reading.cranking_rpm_slow", "Cranking at {usual:.0f} rpm is slow; 150 to 300 rpm is usual."
)
SLOW_OR_EVERY_SECOND = template(
    "cranking.reading.slow_or_every_second",
    "Without a sync this is an even engine at {usual:.0f} rpm, or one at {twice:.0f} rpm whose every second cylinder "
    "does not seal. Add a sync, or charge the battery, and repeat.",
)
SYNC_COMES_ONCE = template(
    "cranking.reading.sync_comes_once",
    "The sync comes once per revolution: a cylinder and its companion stay undecided.",
)

ALIKE = 0.15
"""[M] of their level: cylinders within this look alike."""


def turns_at_most(set_up: SetUp) -> float:
    """Speed above which an engine is firing and not cranked, rpm: belt starters reach idle, with the fuel off."""
    cut = set_up.fuel_disabled is True or set_up.ignition_disabled is True
    return (limit.BELT_STARTER_RPM if cut else limit.ENGINE_STARTED_RPM).value


def cycle_reasons(reading: Reading, capture: Capture, engine: Engine) -> list[Reason]:
    """What speed, fit and sync of a reading say for or against it.

    Parameters
    ----------
    reading : Reading
    capture : Capture
    engine : Engine

    Returns
    -------
    list of Reason
    """
    speed = reading.cycles.speed_rpm
    usual = float(np.median(speed))
    reasons = []
    per_pulse = capture.time.rate_hz * 120.0 / usual / engine.cylinders
    if per_pulse < limit.PULSE_SAMPLES_MIN.value:
        reasons.append(Reason("aliased", ONLY_SAMPLES_PER(per_pulse=per_pulse), blocking=True))
    elif per_pulse < limit.PULSE_SAMPLES_FEW.value:
        reasons.append(Reason("few_samples", SAMPLES_PER_COMPRESSION(per_pulse=per_pulse)))
    if usual > turns_at_most(capture.set_up):
        reasons.append(Reason("engine_started", RPM_ENGINE_RUNNING(usual=usual), blocking=True))
    elif usual < limit.CRANKING_RPM_UNUSABLE.value:
        reasons.append(
            Reason(
                "battery_weak",
                CRANKING_RPM_ONLY(usual=usual),
                blocking=True,
            )
        )
    elif usual < limit.CRANKING_RPM_LOW.value:
        reasons.append(Reason("slow_cranking", CRANKING_RPM_SLOW(usual=usual)))
        if reading.cycles.anchor is Anchor.NONE and _all_alike(reading):
            either = SLOW_OR_EVERY_SECOND(usual=usual, twice=2 * usual)
            reasons.append(Reason("slow_or_dead", either, blocking=True))
    third = max(1, speed.size // 3)
    drop = 1.0 - float(np.median(speed[-third:])) / float(np.median(speed[:third]))
    if drop > limit.CRANKING_SPEED_DROP_MAX.value:
        reasons.append(Reason("battery_weak", CRANKING_SPEED_FELL(drop=100 * drop), blocking=True))
    if reading.fit.residual > limit.COMPRESSION_RESIDUAL_MAX.value:
        reasons.append(NO_COMPRESSIONS)
    elif reading.fit.residual > limit.COMPRESSION_RESIDUAL_CAUTION.value:
        reasons.append(Reason("odd_shape", HUMPS_FIT_USUAL()))
    if reading.cycles.count < limit.CRANKING_CYCLES_FEW.value:
        reasons.append(Reason("few_cycles", CYCLES_FEW_CRANKING(count=reading.cycles.count)))
    if reading.cycles.anchor is Anchor.NONE:
        reasons.append(Reason("unsynced", SYNC_CAPTURE_TELLS()))
    elif reading.cycles.anchor is Anchor.CYCLE:
        reasons.append(Reason("offset_unknown", SYNC_MARKS_CYCLE()))
    elif len(reading.order_offsets) > 1:
        reasons.append(Reason("revolution_sync", SYNC_COMES_ONCE()))
    return reasons


def _all_alike(reading: Reading) -> bool:
    """Whether nobody stands out of a whole number of pairs: half of them at twice the speed would look the same."""
    centre, _ = robust_centre(reading.per_cycle, axis=0)
    level = healthy_level(centre)
    return centre.size % 2 == 0 and level > 0 and float(np.ptp(centre)) < ALIKE * level


def repeats(reading: Reading) -> bool:
    """Whether what is read is compressions at all: usual in speed and shape, and the same from cycle to cycle."""
    speed = float(np.median(reading.cycles.speed_rpm))
    centre, sigma = robust_centre(reading.per_cycle, axis=0)
    level = healthy_level(centre)
    alike = level > 0 and float(np.median(sigma)) < limit.CYCLES_ALIKE_MAX.value * level
    turning = limit.SYNC_TRUSTED_RPM_MIN.value <= speed <= limit.SYNC_TRUSTED_RPM_MAX.value
    return alike and turning and reading.fit.residual < limit.SYNC_TRUSTED_RESIDUAL.value
