"""The words: what was seen, what follows, what was not seen. Each sentence names the findings it stands on."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from fairwitness.core import thresholds as limit
from fairwitness.core.model.engine import Engine
from fairwitness.core.model.measurement import Finding, Measured, State
from fairwitness.core.reason.inference.explanation import Explanation
from fairwitness.core.reason.inference.posterior import Posterior
from fairwitness.core.reason.knowledge.faults import FAULTS, Cause
from fairwitness.core.reason.planning.approach import Repair
from fairwitness.core.reason.planning.what_if import IMAGINED
from fairwitness.core.reason.report.advice import advice
from fairwitness.core.reason.report.alternatives import methods_apart, rival, spoken_against
from fairwitness.core.reason.report.owner import for_the_owner
from fairwitness.core.reason.report.repair import Offer, offers
from fairwitness.core.reason.report.sentence import Sentence, cylinders_in_words
from fairwitness.core.reason.verdict import Status, Verdict, compared, lines_of

RIVALS_NAMED = 3
ACCUSING = (Status.SUSPECTED, Status.SUPPORTED, Status.ESTABLISHED)
CAUSE_NAMES = {
    Cause.IGNITION: "ignition",
    Cause.FUEL: "fuel",
    Cause.MECHANICAL: "mechanical",
    Cause.CONTROL: "control",
}
CAUSE_WORDS = {
    Cause.IGNITION: "the reason is ignition",
    Cause.FUEL: "the reason is fuel",
    Cause.CONTROL: "the control unit cuts it",
    Cause.MECHANICAL: "the reason is mechanical",
}
SHARES_OF_PEERS = {"relative_compression": "", "crank_speed": " in work", "exhaust_pulse": " at the tailpipe"}
"""Tests that give shares, and what of."""
READ_BY_HAND = ("runner_check", "resistance", "voltage", "visual", "load_lamp", "spark_check", "leak_down")
ALIKE = {"secondary_voltage": "The sparks", "coil_current": "The coil currents", "coil_control": "The commands",
         "injector_current": "The injector currents", "injector_voltage": "The injector voltages",
         "delivery": "The deliveries", "cylinder_pressure": "The pressures", "compression_gauge": "The compressions",
         "crankcase_pulse": "The crankcase pulses", "intake_pulse": "The pulls at the intake"}  # fmt: skip
"""Tests whose even cylinders are told in one sentence."""
PART_OF_ANOTHER = (
    "spark_line_voltage", "spark_duration", "spark_line_rise", "coil_ringing", "intake_closes", "exhaust_opens",
    "intake_opens",
)  # fmt: skip
"""Remarks whose numbers another sentence holds already, or that matter only where one stands out."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Statement:
    """The three kinds of speech under one headline."""

    headline: str
    seen: tuple[Sentence, ...]
    follows: tuple[Sentence, ...]
    not_seen: tuple[Sentence, ...]
    rival: tuple[Sentence, ...] = ()
    """The next probable explanation, what tells it from the leading one, and what would decide."""
    repair: tuple[Offer, ...] = ()
    owner: tuple[str, ...] = ()
    """The same in plain words."""

    @property
    def text(self) -> str:
        """Headline, what was seen and what follows as one paragraph."""
        return " ".join([self.headline, *(s.text for s in self.seen), *(s.text for s in self.follows)])


def compose(
    verdict: Verdict,
    posterior: Posterior,
    measured: Sequence[Measured],
    engine: Engine,
    *,
    not_read: Sequence[str],
    explanation: Explanation | None = None,
    deciding: str = "",
    next_title: str = "",
    repair: Repair = Repair.PART,
    authorised: bool = False,
) -> Statement:
    """Put the standing into words.

    Parameters
    ----------
    verdict : Verdict
    posterior : Posterior
    measured : sequence of Measured
        Findings carry their ids.
    engine : Engine
    not_read : sequence of str
        Captures and observations that were given but not used.
    explanation : Explanation, optional
        The leading hypothesis beside its rival.
    deciding, next_title : str
        The test that would tell them apart, and the one to take next.
    repair : Repair
    authorised : bool
        Whether the owner agreed to have the engine opened.

    Returns
    -------
    Statement
    """
    follows = _follows(verdict, posterior, measured, engine, authorised=authorised) + methods_apart(measured)
    accuses = verdict.status in ACCUSING
    if explanation is not None and accuses:
        follows += spoken_against(explanation, measured)
    return Statement(
        headline=_headline(verdict, measured, engine),
        seen=tuple(_seen(measured)),
        follows=tuple(follows),
        not_seen=tuple(_not_seen(verdict, measured, not_read)),
        rival=tuple(rival(explanation, measured, deciding)) if explanation is not None and accuses else (),
        repair=offers(verdict.faults, repair) if verdict.status is not Status.SUSPECTED else (),
        owner=for_the_owner(verdict, [m for m in measured if m.usable], next_title),
    )


def _headline(verdict: Verdict, measured: Sequence[Measured], engine: Engine) -> str:
    usable = [m for m in measured if m.usable]
    if verdict.contradiction:
        return "The evidence contradicts itself."
    if verdict.status is Status.INCONCLUSIVE and not usable:
        return (
            "Nothing can be said yet: no capture so far can be believed." if measured else "Nothing was measured yet."
        )
    accused = verdict.status in ACCUSING
    if accused and (verdict.cause is not Cause.MECHANICAL or verdict.cause_open):
        return _not_working(verdict, usable, engine)
    if accused and verdict.cylinders:
        who = cylinders_in_words(verdict.cylinders)
        dead = all(_state_of(c, usable) is State.ABSENT for c in verdict.cylinders)
        verb = "does" if len(verdict.cylinders) == 1 else "do"
        if dead:
            return f"{who.capitalize()} {verb} not seal: hardly any compression."
        return f"{who.capitalize()} {verb} not compress like the others."
    if verdict.status is Status.SUSPECTED and 1 < len(verdict.rivals) < engine.cylinders:
        rivals = " or ".join(map(str, verdict.rivals))
        return f"Cylinder {rivals} does not seal; which of them is still open."
    if verdict.status is Status.SUSPECTED:
        return "A cylinder does not seal; which one is still open."
    if verdict.rivals:
        return f"{cylinders_in_words(verdict.rivals).capitalize()} may be low, but not clearly."
    lines = lines_of(usable)
    if "CON" in lines and "RC" in lines:
        return "Compression is even and all cylinders work alike: no cylinder is accused."
    if "CON" in lines:
        return "All cylinders work alike: no cylinder is accused."
    return "Compression is even: no cylinder is accused."


def _not_working(verdict: Verdict, usable: Sequence[Measured], engine: Engine) -> str:
    """The headline of a cylinder that does not do its share for another reason than sealing, or for an open one."""
    causes = CAUSE_WORDS.get(verdict.cause, "")
    if verdict.faults:
        causes += f": {' and '.join(dict.fromkeys(FAULTS[f].words for f in verdict.faults))}"
    if verdict.cause_open:
        causes = "why is still open"
    if not verdict.cylinders:
        if 1 < len(verdict.rivals) < engine.cylinders:
            return f"Cylinder {' or '.join(map(str, verdict.rivals))} does not do its share; {causes}."
        return f"A cylinder does not do its share, which one is still open; {causes}."
    who = cylinders_in_words(verdict.cylinders).capitalize()
    dead = all(_state_of(c, usable) is State.ABSENT for c in verdict.cylinders)
    plural = len(verdict.cylinders) > 1
    verb = ("do" if plural else "does") + (
        " no work" if dead else (" not do their share" if plural else " not do its share")
    )
    return f"{who} {verb}; {causes}."


def _seen(measured: Sequence[Measured]) -> list[Sentence]:
    sentences = []
    for m in measured:
        own = [f for f in m.findings if compared(f)]
        ids = tuple(f.id for f in own)
        if not m.usable:
            why = " ".join(r.statement for r in m.reasons if r.blocking)
            sentences.append(Sentence(f"{_source(m)} cannot be used. {why}", ids))
            continue
        if IMAGINED in m.facts:
            reported = [f for f in own if f.state is not State.NORMAL] or own[:1]
            sentences += [Sentence(f.statement, (f.id,)) for f in reported]
            continue
        if _reads_well(m):
            continue
        cycles = m.facts.get("cycles")
        over = f" over {cycles} cycles" if cycles else ""
        ill = [f for f in own if f.state is not State.NORMAL]
        sentences += [Sentence(f.statement, (f.id,)) for f in ill]
        rest = [f for f in own if f.state is State.NORMAL and f.cylinder is not None]
        if rest and m.test in SHARES_OF_PEERS and len(own) > 1:
            shares = [100 * f.value for f in rest if f.value is not None]
            who = "All cylinders lie" if not ill else ("The others lie" if len(rest) > 1 else "The other lies")
            low, high = f"{min(shares):.0f}", f"{max(shares):.0f}"
            spread = f"between {low} and {high} %" if low != high else f"at {low} %"
            words = f"{who} {spread} of their peers{SHARES_OF_PEERS[m.test]}{over}."
            sentences.append(Sentence(words, tuple(f.id for f in rest)))
        elif len(rest) > 1 and m.test in ALIKE:
            who = "all cylinders" if not ill else "the others"
            words = f"{ALIKE[m.test]} of {who} are alike{over}."
            sentences.append(Sentence(words, tuple(f.id for f in rest)))
        elif len(rest) == 1 and len(own) > 1 and m.test in ALIKE:
            sentences.append(Sentence(rest[0].statement, (rest[0].id,)))
        elif not ill:
            sentences += [Sentence(f.statement, (f.id,)) for f in own[:1]]
        sentences += [
            Sentence(f.statement, (f.id,)) for f in m.findings if not compared(f) and f.quantity not in PART_OF_ANOTHER
        ]
    sentences += _read_well(measured)
    return _merged(sentences)


def _reads_well(m: Measured) -> bool:
    """Whether a reading by hand found nothing: told in one sentence with its like."""
    return (
        m.usable
        and IMAGINED not in m.facts
        and m.test in READ_BY_HAND
        and all(f.state is State.NORMAL for f in m.findings)
    )


def _read_well(measured: Sequence[Measured]) -> list[Sentence]:
    """Sound readings, one sentence for each kind."""
    kinds: dict[tuple[str, str], list[Finding]] = {}
    for m in measured:
        if _reads_well(m):
            kinds.setdefault((m.test, str(m.facts.get("group", m.test))), []).extend(m.findings)
    sentences = []
    for (test, kind), own in kinds.items():
        about = f" ({kind.replace('_', ' ')})" if kind != test else ""
        words, ids = test.replace("_", " ").capitalize() + about, tuple(f.id for f in own)
        named = sorted({f.cylinder for f in own if f.cylinder is not None})
        text = f"{words} of {cylinders_in_words(named)}: as it should be." if named else own[0].statement
        sentences.append(Sentence(text, ids))
    return sentences


def _merged(sentences: Sequence[Sentence]) -> list[Sentence]:
    """Each text once, with all the findings that carry it."""
    found: dict[str, tuple[str, ...]] = {}
    for sentence in sentences:
        found[sentence.text] = found.get(sentence.text, ()) + sentence.findings
    return [Sentence(text, findings) for text, findings in found.items()]


def _source(m: Measured) -> str:
    if m.resource is not None:
        return f"Capture {m.resource}"
    return {"cranking_speed": "The cranking speed table"}.get(m.test, f"The {m.test.replace('_', ' ')}")


def _follows(
    verdict: Verdict, posterior: Posterior, measured: Sequence[Measured], engine: Engine, *, authorised: bool
) -> list[Sentence]:
    ids = tuple(f.id for m in measured if m.usable for f in m.findings if compared(f) and f.state is not State.NORMAL)
    if verdict.contradiction:
        return [Sentence(verdict.contradiction, ids)]
    if not any(m.usable for m in measured):
        return [Sentence("No cylinder is accused and none is cleared.")]
    accused = verdict.status in ACCUSING
    if accused and (verdict.cause is not Cause.MECHANICAL or verdict.cause_open):
        return _separated(verdict, posterior, measured, engine, ids)
    if accused:
        sentences = [Sentence("The cause is mechanical: neither coils nor injectors change compression.", ids)]
        pattern = _pattern(verdict.cylinders, engine)
        if pattern:
            sentences.append(Sentence(pattern, ids))
        names = _likely(posterior, (Cause.MECHANICAL,))
        if names:
            sentences.append(Sentence(f"Most likely: {names}.", ids))
        beside = _beside(verdict.cylinders, measured, engine)
        if beside:
            sentences.append(Sentence(beside, ids))
        if verdict.status is not Status.SUSPECTED and not authorised:
            text = "Before the engine is opened: the owner's yes, recorded in the case with who, when and how much."
            sentences.append(Sentence(text, ids))
        return sentences
    even = tuple(f.id for m in measured if m.usable for f in m.findings if compared(f))
    lines = lines_of(measured)
    if verdict.rivals:
        return [Sentence("The deviation is too small to accuse anyone; repeat with more cycles.", ids)]
    if engine.cylinders == 1:
        return [Sentence("A single cylinder has no peers: only an absolute figure can judge it.", even)]
    if "RC" not in lines:
        return [Sentence("No cylinder works less than its peers here; load and heat may change that.", even)]
    on = "look at contribution, ignition and fuel" if "CON" not in lines else "nothing was missing while it ran either"
    return [
        Sentence(f"A single leaking cylinder is not the reason; {on}.", even),
        Sentence("An engine equally low everywhere would look the same: the comparison is relative.", even),
    ]


def _separated(
    verdict: Verdict, posterior: Posterior, measured: Sequence[Measured], engine: Engine, ids: tuple[str, ...]
) -> list[Sentence]:
    """What separates the causes of a cylinder that does not do its share."""
    sentences = []
    sealing = [m for m in measured if m.usable and m.evidence is not None and m.evidence.line == "RC"]
    even = [
        f
        for m in sealing
        for f in m.findings
        if compared(f) and f.state is State.NORMAL and (f.cylinder is None or f.cylinder in verdict.cylinders)
    ]
    low = [f for m in sealing for f in m.findings if compared(f) and f.state in (State.LOW, State.ABSENT)]
    if even and not low:
        text = "Compression is even and the work is missing: it is not the sealing."
        text += " Go to ignition and fuel." if verdict.cause_open else ""
        sentences.append(Sentence(text, (*ids, *(f.id for f in even))))
    elif not sealing:
        sentences.append(Sentence("Whether it seals was not asked yet: mechanical, ignition and fuel all remain.", ids))
    chances = [(posterior.of_cause(cause), words) for cause, words in CAUSE_NAMES.items()]
    listed = ", ".join(f"{words} {100 * p:.0f} %" for p, words in sorted(chances, reverse=True) if p >= 0.02)
    sentences.append(Sentence(f"By cause: {listed}.", ids))
    causes = tuple(CAUSE_NAMES) if verdict.cause_open else (verdict.cause,)
    names = _likely(posterior, causes)
    if names:
        sentences.append(Sentence(f"Most likely: {names}.", ids))
    sentences += [Sentence(text, ids) for text in advice(verdict, posterior, measured, engine)]
    return sentences


def _pattern(cylinders: tuple[int, ...], engine: Engine) -> str:
    """What the set of low cylinders has in common."""
    low = tuple(sorted(cylinders))
    if len(low) < 2:
        return ""
    if any(tuple(sorted(bank)) == low for bank in engine.banks):
        return "They are one whole bank: valve timing of that bank first."
    if len(low) == 2 and low in {tuple(sorted(p)) for p in engine.block_neighbours}:
        return "They stand side by side in the block: think of the gasket between them."
    if len(low) == 2 and engine.companion(low[0]) == low[1]:
        text = "They are companions, 360 degrees apart: think of valve timing, and of bent valves if a belt slipped."
        return text + " Stop cranking until that is checked."
    return ""


def _likely(posterior: Posterior, causes: tuple[Cause, ...]) -> str:
    """The leading faults of some causes with their chances, over all places."""
    chances: dict[str, float] = {}
    for hypothesis, p in zip(posterior.hypotheses, posterior.probabilities, strict=True):
        if hypothesis.cause in causes and hypothesis.fault in FAULTS:
            chances[hypothesis.fault] = chances.get(hypothesis.fault, 0.0) + float(p)
    ranked = sorted(chances.items(), key=lambda item: -item[1])[:RIVALS_NAMED]
    return ", ".join(f"{FAULTS[fault].words} ({100 * p:.0f} %)" for fault, p in ranked if p >= 0.02)


def _beside(cylinders: tuple[int, ...], measured: Sequence[Measured], engine: Engine) -> str:
    """Say why a mild neighbour of a dead hole is not accused, where there is one."""
    dead = [c for c in cylinders if _state_of(c, measured) is State.ABSENT]
    for hole in dead:
        for neighbour in engine.firing_neighbours(hole):
            value = _value_of(neighbour, measured)
            if neighbour not in cylinders and value is not None and abs(1 - value) > 0.13:
                return f"Cylinder {neighbour} fires beside the dead one and is disturbed by it; it is not accused."
    return ""


def _finding_of(cylinder: int, measured: Sequence[Measured]) -> Finding | None:
    found = [f for m in measured if m.usable for f in m.findings if f.cylinder == cylinder and compared(f)]
    return next((f for f in found if f.state is not State.NORMAL), found[0] if found else None)


def _state_of(cylinder: int, measured: Sequence[Measured]) -> State | None:
    finding = _finding_of(cylinder, measured)
    return finding.state if finding else None


def _value_of(cylinder: int, measured: Sequence[Measured]) -> float | None:
    finding = _finding_of(cylinder, [m for m in measured if m.test == "relative_compression"])
    return finding.value if finding else None


def _not_seen(verdict: Verdict, measured: Sequence[Measured], not_read: Sequence[str]) -> list[Sentence]:
    sentences = [Sentence(text) for text in verdict.unmet]
    usable = [m for m in measured if m.usable]
    if usable and verdict.status is Status.NO_FAULT_FOUND and any(m.test == "relative_compression" for m in usable):
        sentences.append(Sentence("An absolute compression figure: gauge or pressure in the cylinder."))
    cautious = {
        r.code: r.statement
        for m in usable
        for r in m.reasons
        if r.code in ("fuel_state_unknown", "sync_lost", "unsynced", "revolution_sync", "offset_unknown")
    }
    sentences += [Sentence(text) for text in cautious.values()]
    few = [
        m
        for m in usable
        if m.test not in ALIKE and isinstance(n := m.facts.get("cycles"), int) and n < limit.CRANKING_CYCLES_FEW.value
    ]
    if few:
        sentences.append(Sentence("More cycles: few were recorded."))
    if not_read:
        sentences.append(Sentence(f"Given but not used: {', '.join(not_read)}."))
    return sentences
