"""What an experienced technician adds before a part is fitted: why it died, what stays wet, what the unit does."""

from __future__ import annotations

from collections.abc import Callable, Sequence

from fairwitness.core.messages.catalogue import phrase, template
from fairwitness.core.messages.message import Message
from fairwitness.core.model.engine import Engine
from fairwitness.core.model.measurement import Measured, State
from fairwitness.core.model.wiring import CircuitOf, Side
from fairwitness.core.reason.inference.posterior import Posterior
from fairwitness.core.reason.knowledge.fault_spec import FaultSpec
from fairwitness.core.reason.knowledge.faults import CATALOGUE, FAULTS
from fairwitness.core.reason.knowledge.proof import CIRCUIT_WORDS, EXCLUDED_WORDS, WHY_DIED, seen_at, unmet
from fairwitness.core.reason.verdict import Verdict
from fairwitness.core.reason.wiring_break import Along, find_break, in_words

WHY_DID_IT_DIE = phrase(
    "advice.why_did_it_die",
    "Before a coil is fitted ask why it died: an open lead or boot, or a worn plug, forces a coil to its limit.",
)
DRIVER_LAST = template(
    "advice.driver_last", "The control unit's {circuit} driver is called last. Still open: {open:and}."
)
DRIVER_LAST_SO_FAR = template(
    "advice.driver_last_so_far",
    "The control unit's {circuit} driver is called last. Done: {done:and}. Still open: {open:and}.",
)
WET_PLUG = phrase(
    "advice.wet_plug", "After a long misfire the plug is wet and may keep missing: dry or change it before judging."
)
ONE_FEED = template(
    "advice.one_feed", "They hang on one feed ({cylinders}): fuse, relay, connector or splice before any injector."
)
BOTH_MISSING = phrase(
    "advice.both_missing",
    "Both spark and injection are missing: some control units stop one when they see the other fail. Find which came "
    "first by voltages, codes and a key cycle before calling either.",
)
UNFED = phrase("advice.unfed", "It sparks and is not injected: the fuel side, or a control unit that cuts it.")
SPARKLESS = phrase(
    "advice.sparkless",
    "It is injected and does not spark: the ignition side. Unburnt fuel goes to the catalyst: short runs.",
)
NEVER_SHUTS = phrase(
    "advice.never_shuts",
    "An injector that never shuts floods its cylinder: do not crank before the plugs are out and the engine was turned "
    "by hand. Look at the oil.",
)
SPRAY_UNSEEN = phrase(
    "advice.spray_unseen",
    "A current that is right says nothing of the spray: deliver against the peers, or change it over.",
)

LIKELY, POSSIBLE = 0.3, 0.1
"""[M] from which chance advice on a fault is given, and a caution against one."""


def advice(verdict: Verdict, posterior: Posterior, measured: Sequence[Measured], engine: Engine) -> list[Message]:
    """Sentences that go with the likeliest faults of the accused cylinders.

    Parameters
    ----------
    verdict : Verdict
    posterior : Posterior
    measured : sequence of Measured
    engine : Engine

    Returns
    -------
    list of Message
        Empty where there is nothing to add.
    """
    if not verdict.cylinders:
        return []
    usable = [m for m in measured if m.usable]
    chance: dict[str, float] = {}
    for hypothesis, p in zip(posterior.hypotheses, posterior.probabilities, strict=True):
        if set(hypothesis.cylinders) & set(verdict.cylinders) and hypothesis.fault in FAULTS:
            chance[hypothesis.fault] = chance.get(hypothesis.fault, 0.0) + float(p)

    def together(which: Callable[[FaultSpec], bool]) -> float:
        return sum(p for fault, p in chance.items() if which(FAULTS[fault]))

    said = []
    seen = seen_at(verdict.cylinders, usable)
    if together(lambda f: f.is_coil) >= LIKELY and not WHY_DIED.met(seen):
        said.append(WHY_DID_IT_DIE)
    said += [
        _driver_last(spec, verdict.cylinders, usable)
        for spec in CATALOGUE
        if spec.driver_of and chance.get(spec.id, 0.0) >= POSSIBLE and unmet(spec.proof, verdict.cylinders, usable)
    ]
    if together(lambda f: f.no_spark) >= LIKELY:
        said.append(WET_PLUG)
    shared = _shared_feed(verdict.cylinders, engine)
    if shared and together(lambda f: f.is_feed) >= LIKELY:
        said.append(ONE_FEED(cylinders=shared))
    said += _broken_at(usable, verdict.cylinders, engine)
    said += _spark_and_fuel(usable, verdict.cylinders)
    if together(lambda f: f.floods) >= POSSIBLE:
        said.append(NEVER_SHUTS)
    delivered = "delivery" in seen.deviating or seen.has("swap:injector")
    if together(lambda f: f.is_spray) >= LIKELY and not delivered:
        said.append(SPRAY_UNSEEN)
    return said


def _driver_last(driver: FaultSpec, cylinders: Sequence[int], usable: Sequence[Measured]) -> Message:
    """What is excluded already before a driver is called, and what is not."""
    missing = {p.id for p in unmet(driver.proof, cylinders, usable)}
    done = tuple(EXCLUDED_WORDS[p.id] for p in driver.proof if p.id not in missing)
    still = tuple(EXCLUDED_WORDS[p.id] for p in driver.proof if p.id in missing)
    circuit = CIRCUIT_WORDS[driver.driver_of]
    if not done:
        return DRIVER_LAST(circuit=circuit, open=still)
    return DRIVER_LAST_SO_FAR(circuit=circuit, done=done, open=still)


def _spark_and_fuel(usable: Sequence[Measured], cylinders: Sequence[int]) -> list[Message]:
    """What spark and injection say together: which of the two is missing, or both."""
    sparkless, unfed = (any(_absent(m, line, cylinders) for m in usable) for line in ("FV", "IC"))
    if sparkless and unfed:
        return [BOTH_MISSING]
    if unfed and any(_normal(m, "FV", cylinders) for m in usable):
        return [UNFED]
    if sparkless and any(_normal(m, "IC", cylinders) for m in usable):
        return [SPARKLESS]
    return []


def _shared_feed(cylinders: Sequence[int], engine: Engine) -> tuple[int, ...]:
    """Cylinders of the feed that is accused as a whole; none where the accused share none."""
    accused = tuple(sorted(cylinders))
    groups = [tuple(sorted(feed)) for feed in engine.injector_feeds] or [tuple(sorted(engine.firing_order))]
    return accused if len(accused) > 1 and accused in groups else ()


def _broken_at(usable: Sequence[Measured], cylinders: Sequence[int], engine: Engine) -> list[Message]:
    """Where along the circuit an injector's wire is broken, as far as readings at known places tell."""
    reported = []
    for cylinder in cylinders:
        own = [m for m in usable if "along" in m.facts and any(f.cylinder == cylinder for f in m.findings)]
        found = find_break(engine.circuit(CircuitOf.INJECTOR, cylinder), [_along(m) for m in own])
        if found is not None:
            reported.append(in_words(found, cylinder))
    return reported


def _along(measured: Measured) -> Along:
    """A reading along a circuit as its measurement kept it."""
    facts = measured.facts
    side = facts.get("side")
    return Along(
        last=str(facts["along"]),
        first=str(facts.get("along_from", "")),
        closed=bool(facts["reached"]),
        side=Side(side) if side in list(Side) else None,
    )


def _normal(measured: Measured, line: str, cylinders: Sequence[int]) -> bool:
    own = [f for f in measured.findings if f.cylinder in cylinders and not f.is_remark]
    return any(e.line == line for e in measured.lines) and bool(own) and all(f.state is State.NORMAL for f in own)


def _absent(measured: Measured, line: str, cylinders: Sequence[int]) -> bool:
    speaks = any(e.line == line for e in measured.lines)
    return speaks and any(
        f.cylinder in cylinders and not f.is_remark and f.state is State.ABSENT for f in measured.findings
    )
