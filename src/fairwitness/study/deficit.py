"""The study of small deficits: how surely a tenth less current is found, and how often it is imagined."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from fairwitness.core.model.capture import CaptureTest
from fairwitness.core.model.engine import InjectorDrive
from fairwitness.core.model.measurement import State
from fairwitness.core.procedures.injector_current import measure as injector_current
from fairwitness.simulate.examine import capture_of
from fairwitness.simulate.garage import ENGINES, build
from fairwitness.simulate.health import EFFECTS, Fault
from fairwitness.study.causes import LEVELS
from fairwitness.study.cores import all_cores

DEFICIT = 0.10
TARGETS = {"found": 0.98, "false": 0.005}
SATURATED = tuple(n for n, e in ENGINES.items() if e.injector_drive is InjectorDrive.SATURATED)
"""Engines whose current is set by the resistance; where the driver regulates it, resistance does not show there."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Outcome:
    """How one engine went: one injector with a deficit, and the sound ones beside it."""

    level: str
    found: bool
    sound: int
    accused: int


def run(*, cases: int, seed: int, workers: int | None = None) -> tuple[Outcome, ...]:
    """Measure the injector current of a population on all cores."""
    with all_cores(workers) as pool:
        return tuple(pool.map(assess, range(seed, seed + cases), chunksize=8))


def assess(seed: int) -> Outcome:
    """One engine."""
    rng = np.random.default_rng((20_26, 10, seed))
    engine = ENGINES[str(rng.choice(SATURATED))]
    level = LEVELS[seed % len(LEVELS)]
    at = int(rng.choice(engine.firing_order))
    severity = _severity_of(1 / (1 - DEFICIT))
    vehicle = build(engine, (Fault("injector_high_resistance", (at,), severity),), rng=rng)
    capture = capture_of(vehicle, CaptureTest.INJECTOR_CURRENT, level=level, rng=rng, suspects=(at,))
    reported = injector_current.measure(capture, engine)
    states = {f.cylinder: f.state for f in reported.findings if not f.is_remark}
    sound = [c for c in engine.firing_order if c != at]
    return Outcome(
        level=level,
        found=states.get(at) is State.LOW,
        sound=len(sound),
        accused=sum(states.get(c) is not State.NORMAL for c in sound),
    )


def _severity_of(ohm: float) -> float:
    """Severity at which the catalogue's resistance fault has so many times the sound resistance."""
    effect = EFFECTS["injector_high_resistance"]
    low, high = (float(effect(s)["injector_ohm"]) for s in (0.0, 1.0))  # type: ignore[arg-type]
    return max(1e-6, (ohm - low) / (high - low))


def targets_met(outcomes: Sequence[Outcome]) -> bool:
    """Found and falsely found, over all noise levels."""
    found = sum(o.found for o in outcomes)
    accused, sound = sum(o.accused for o in outcomes), sum(o.sound for o in outcomes)
    return found >= TARGETS["found"] * len(outcomes) and accused <= TARGETS["false"] * sound


def report(outcomes: Sequence[Outcome]) -> str:
    """The figures as lines of text."""
    lines = [f"{len(outcomes)} engines, one injector each with {100 * DEFICIT:.0f} % less current"]
    for level in ("", *LEVELS):
        own = [o for o in outcomes if level in ("", o.level)]
        if own:
            found = sum(o.found for o in own)
            accused, sound = sum(o.accused for o in own), sum(o.sound for o in own)
            lines.append(
                f"{level or 'all levels':12}found {found} of {len(own)} ({100 * found / len(own):.1f} %)  "
                f"sound injectors accused {accused} of {sound} ({100 * accused / max(sound, 1):.2f} %)"
            )
    lines.append("targets met" if targets_met(outcomes) else "targets missed")
    return "\n".join(lines)
