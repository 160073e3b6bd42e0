"""What an experienced technician adds before a part is fitted: why it died, what stays wet, what the unit does."""

from __future__ import annotations

from collections.abc import Sequence

from fairwitness.core.model.engine import Engine
from fairwitness.core.model.measurement import Measured, State
from fairwitness.core.reason.inference.posterior import Posterior
from fairwitness.core.reason.knowledge.proof import COILS, DRIVERS, WHY_DIED, seen_at, unmet
from fairwitness.core.reason.verdict import Verdict
from fairwitness.core.signal.injector.wiring import find_break, in_words

LIKELY, POSSIBLE = 0.3, 0.1
"""[M] from which chance advice on a fault is given, and a caution against one."""
FLOODS = ("injector_driver_failed",)
SPRAYS = ("injector_restricted", "injector_leaking", "injector_stuck_closed")
NO_SPARK = (*COILS, "coil_feed_lost", "coil_control_open", "coil_driver_failed", "secondary_open")


def advice(verdict: Verdict, posterior: Posterior, measured: Sequence[Measured], engine: Engine) -> list[str]:
    """Sentences that go with the likeliest faults of the accused cylinders.

    Parameters
    ----------
    verdict : Verdict
    posterior : Posterior
    measured : sequence of Measured
    engine : Engine

    Returns
    -------
    list of str
        Empty where there is nothing to add.
    """
    if not verdict.cylinders:
        return []
    usable = [m for m in measured if m.usable]
    chance: dict[str, float] = {}
    for hypothesis, p in zip(posterior.hypotheses, posterior.probabilities, strict=True):
        if set(hypothesis.cylinders) & set(verdict.cylinders):
            chance[hypothesis.fault] = chance.get(hypothesis.fault, 0.0) + float(p)

    def together(faults: Sequence[str]) -> float:
        return sum(chance.get(f, 0.0) for f in faults)

    reported = []
    seen = seen_at(verdict.cylinders, usable)
    if together(COILS) >= LIKELY and not WHY_DIED.met(seen):
        reported.append(
            "Before a coil is fitted ask why it died: an open lead or boot, or a worn plug, forces a coil to its limit."
        )
    for fault, circuit in DRIVERS.items():
        wanted = unmet(fault, verdict.cylinders, usable)
        if chance.get(fault, 0.0) >= POSSIBLE and wanted:
            reported.append(
                f"The control unit's {circuit} driver is not called before feed, earth and wire are excluded."
            )
    if together(NO_SPARK) >= LIKELY:
        reported.append("After a long misfire the plug is wet and may keep missing: dry or change it before judging.")
    shared = _shared_feed(verdict.cylinders, engine)
    if shared and together(("injector_feed_lost",)) >= LIKELY:
        reported.append(f"They hang on one feed ({shared}): fuse, relay, connector or splice before any injector.")
    reported += _broken_at(usable, verdict.cylinders, engine)
    sparkless, unfed = (any(_absent(m, line, verdict.cylinders) for m in usable) for line in ("FV", "IC"))
    if sparkless and unfed:
        reported.append(
            "Both spark and injection are missing: some control units stop one when they see the other fail. Find "
            "which came first by voltages, codes and a key cycle before calling either."
        )
    elif unfed and any(_normal(m, "FV", verdict.cylinders) for m in usable):
        reported.append("It sparks and is not injected: the fuel side, or a control unit that cuts it.")
    elif sparkless and any(_normal(m, "IC", verdict.cylinders) for m in usable):
        reported.append(
            "It is injected and does not spark: the ignition side. Unburnt fuel goes to the catalyst: short runs."
        )
    if together(FLOODS) >= POSSIBLE:
        reported.append(
            "An injector that never shuts floods its cylinder: do not crank before the plugs are out and the engine "
            "was turned by hand. Look at the oil."
        )
    if together(SPRAYS) >= LIKELY and "delivery" not in seen.deviating and not seen.has("swap:injector"):
        reported.append(
            "A current that is right says nothing of the spray: deliver against the peers, or change it over."
        )
    return reported


def _shared_feed(cylinders: Sequence[int], engine: Engine) -> str:
    """Cylinders of the feed that is accused as a whole; empty where the accused share none."""
    accused = tuple(sorted(cylinders))
    groups = [tuple(sorted(feed)) for feed in engine.injector_feeds] or [tuple(sorted(engine.firing_order))]
    return ", ".join(map(str, accused)) if len(accused) > 1 and accused in groups else ""


def _broken_at(usable: Sequence[Measured], cylinders: Sequence[int], engine: Engine) -> list[str]:
    """Where along the circuit an injector's wire is broken, as far as readings at known places tell."""
    reported = []
    for cylinder in cylinders:
        reached = {
            str(m.facts["place"]): bool(m.facts["reached"])
            for m in usable
            if "reached" in m.facts and any(f.cylinder == cylinder for f in m.findings)
        }
        found = find_break(engine.injector_path, reached)
        if found is not None:
            reported.append(in_words(found, cylinder))
    return reported


def _normal(measured: Measured, line: str, cylinders: Sequence[int]) -> bool:
    own = [f for f in measured.findings if f.cylinder in cylinders and not f.is_remark]
    return any(e.line == line for e in measured.lines) and bool(own) and all(f.state is State.NORMAL for f in own)


def _absent(measured: Measured, line: str, cylinders: Sequence[int]) -> bool:
    speaks = any(e.line == line for e in measured.lines)
    return speaks and any(
        f.cylinder in cylinders and not f.is_remark and f.state is State.ABSENT for f in measured.findings
    )
