"""The one entry point: a case goes in, a diagnosis comes out."""

from __future__ import annotations

import logging
from collections import Counter
from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace

from fairwitness import __version__
from fairwitness.core.messages.catalogue import phrase, template
from fairwitness.core.messages.message import NOTHING, Message, verbatim
from fairwitness.core.model.capture import Capture, UnreadableCapture
from fairwitness.core.model.case import Case
from fairwitness.core.model.decision import DECISION, Agreement, last_decision
from fairwitness.core.model.engine import Engine
from fairwitness.core.model.measurement import CategoricalEvidence, Finding, Measured, Origin, State, refused
from fairwitness.core.model.reason import Reason
from fairwitness.core.model.symptom import Symptom
from fairwitness.core.procedures.registry import (
    CAPTURE_TESTS,
    CaptureTestModule,
    measure_observation,
    swept,
    unreadable,
)
from fairwitness.core.procedures.specs import OFFERS
from fairwitness.core.reason.accusations import SEALING, WORK, accused_in_any, compared, lines_of
from fairwitness.core.reason.benefit_of_doubt import give_benefit_of_doubt
from fairwitness.core.reason.inference.explanation import Explanation, explain
from fairwitness.core.reason.inference.hypotheses import hypotheses
from fairwitness.core.reason.inference.posterior import Posterior, SourceTrust, infer
from fairwitness.core.reason.knowledge.densities import SHIPPED, Densities
from fairwitness.core.reason.knowledge.fault_spec import Cause
from fairwitness.core.reason.learned import NOTHING_LEARNED, ShopKnowledge
from fairwitness.core.reason.phases.change_over import Looked
from fairwitness.core.reason.phases.history import History, history_of
from fairwitness.core.reason.phases.repair_proof import Proof
from fairwitness.core.reason.planning.approach import READY, USUAL, Approach, Bay
from fairwitness.core.reason.planning.once_more import Pivot, pivots
from fairwitness.core.reason.planning.opening import before_opening
from fairwitness.core.reason.planning.plan import Standing, next_tests
from fairwitness.core.reason.planning.plan_records import Done, Plan
from fairwitness.core.reason.planning.proving import after_work
from fairwitness.core.reason.report.safety_questions import Question, questions, unanswered
from fairwitness.core.reason.report.statement import Context, Statement, compose
from fairwitness.core.reason.source_precedence import raw_preferred
from fairwitness.core.reason.taken_under import caught, not_tried, odds_met, taken_of
from fairwitness.core.reason.verdict import SECOND_SOURCE, Status, Verdict, judge_case

LOG = logging.getLogger(__name__)
HYPOTHESES_LISTED = 12
NO_EVIDENCE_TESTS = (DECISION, "note")
MAY_BE_FULL = phrase(
    "diagnose.may_be_full", "A cylinder may be full of fuel: make sure it is not before the engine turns."
)
UNEXPECTED = phrase(
    "diagnose.unexpected", "Reading it failed for a reason that is not its set-up; the log of the server holds it."
)
NOT_READ_YET = phrase("diagnose.not_read_yet", "Not used: no test reads this capture yet.")
THE_CAPTURE = template("diagnose.capture", "capture {name}")
OBSERVATION = template("diagnose.observation", "observation of {test}")
OBSERVATIONS = template("diagnose.observations", "{count} observations of {test}")


@dataclass(frozen=True, slots=True, kw_only=True)
class CaptureVerdict:
    """Whether one capture could be used."""

    resource: str
    usable: bool
    reasons: tuple[Message, ...]


@dataclass(frozen=True, slots=True, kw_only=True)
class CylinderVerdict:
    """One cylinder: its contribution as far as seen, and the chance of each cause."""

    cylinder: int
    contribution: str
    causes: dict[str, float]


@dataclass(frozen=True, kw_only=True)
class Diagnosis:
    """Everything that can be said of a case."""

    captures: tuple[CaptureVerdict, ...]
    measured: tuple[Measured, ...]
    cylinders: tuple[CylinderVerdict, ...]
    posterior: Posterior
    verdict: Verdict
    statement: Statement
    explanation: Explanation
    plan: Plan
    questions: tuple[Question, ...] = ()
    """What must be answered before the case is closed."""
    changed_over: tuple[Looked, ...] = ()
    """What looking again with parts changed over showed."""
    repairs: tuple[Proof, ...] = ()
    """What the tests after each repair say of it."""

    @property
    def findings(self) -> tuple[Finding, ...]:
        """All findings, numbered ``f1``, ``f2``, ..."""
        return tuple(f for m in self.measured for f in m.findings)


def diagnose(case: Case, *, approach: Approach = USUAL, bay: Bay = READY) -> Diagnosis:
    """Read all evidence of a case and say what follows.

    Parameters
    ----------
    case : Case
        With any content; what is not understood yet is listed as not used.
    approach : Approach
        Where people of the trade differ, and what the bay owns.
    bay : Bay
        State of the vehicle now.

    Returns
    -------
    Diagnosis
    """
    return conclude(case, tuple(measure_case(case)), approach=approach, bay=bay)


def measure_case(case: Case) -> Iterator[Measured]:
    """Measure each capture and observation that a test is known for."""
    for capture in case.captures:
        if isinstance(capture, Capture):
            yield from measure_capture(capture, case)
        elif (refusal := unreadable(capture, case.engine)) is not None:
            yield refusal
    for index, observation in enumerate(case.observations):
        if (measured := measure_observation(observation, index, case.engine)) is not None:
            yield measured


def measure_capture(capture: Capture, case: Case) -> Iterator[Measured]:
    """All tests that one capture can be read for.

    Sensors beside those of the test it was taken for are witnesses of their own, each with its own physics; where one
    of them tells nothing, nothing is said of it.
    """
    for test in CAPTURE_TESTS.values():
        if not test.applies(capture):
            continue
        measured = _guarded(test, capture, case.engine)
        if capture.set_up.test is None or capture.set_up.test.value == test.TEST:
            yield measured
        elif measured.usable:
            yield _of_its_own(measured)


def _guarded(test: CaptureTestModule, capture: Capture, engine: Engine) -> Measured:
    """A measurement that fails for a reason nobody foresaw is a capture that cannot be used, and no end of the case."""
    try:
        return test.measure(capture, engine)
    except Exception:
        LOG.exception("measurement %s of capture %s failed", test.TEST, capture.name)
        origin = Origin(resource=capture.name, capture_sha256=capture.sha256, code_version=__version__)
        return refused(test.TEST, "1", engine.firing_order, (Reason("unexpected", UNEXPECTED, blocking=True),), origin)


def _of_its_own(measured: Measured) -> Measured:
    """A measurement as a source beside the test that its capture was taken for."""
    source = f"capture:{measured.resource}, {measured.test}"
    return replace(
        measured,
        lines=tuple(replace(line, source=source) for line in measured.lines),
        categorical=tuple(replace(seen, source=source) for seen in measured.categorical),
    )


def conclude(
    case: Case,
    measured: tuple[Measured, ...],
    *,
    approach: Approach = USUAL,
    bay: Bay = READY,
    densities: Densities = SHIPPED,
    shop: ShopKnowledge = NOTHING_LEARNED,
) -> Diagnosis:
    """Reason over measurements already made.

    Parameters
    ----------
    case : Case
        Its captures need not carry samples here.
    measured : tuple of Measured
    approach : Approach
    bay : Bay
    densities : Densities
    shop : ShopKnowledge
        What this shop's own record adds to what ships.

    Returns
    -------
    Diagnosis
    """
    engine = case.engine
    history = history_of(case, _numbered(measured), lambda own: raw_preferred(swept(own, engine)))
    measured, standing = _all_and_standing(history)
    usable = [m for m in standing if m.usable]
    categorical = [s for m in usable for s in m.categorical]
    posterior = infer(
        hypotheses(case, shop.factors, shop.codes),
        [line for m in usable for line in m.lines],
        engine,
        categorical,
        SourceTrust(
            weight=_weights(approach, shop, usable), misread=approach.misread(usable), odds_met=odds_met(case, usable)
        ),
        densities,
    )
    explanation = explain(posterior)
    not_read = _not_read(case, measured)
    verdict = judge_case(
        posterior, standing, engine, unread=len(not_read), opposed=explanation.opposed, runs=case.symptom.runs
    )
    asked = questions(standing, posterior, case.observations)
    seen = _as_seen(_bay_of(case, bay, usable), asked, standing)
    plan = next_tests(
        posterior,
        engine,
        done=_done(usable, categorical),
        standing=_standing(verdict, engine, pivots(posterior, usable)),
        approach=approach,
        bay=seen,
    )
    verdict = give_benefit_of_doubt(verdict, posterior, plan, engine)
    decided = last_decision(case.observations)
    plan = before_opening(after_work(plan, history, case, approach=approach, bay=seen), verdict, decided)
    context = Context(
        not_read=not_read,
        explanation=explanation,
        deciding=NOTHING if plan.done else plan.deciding,
        next_title=plan.offers[0].title if plan.offers else NOTHING,
        repair=approach.repair,
        authorised=decided is not None and Agreement.OPEN_ENGINE in decided.agreed,
        runs=case.symptom.runs,
        taken={m.findings[0].id: taken_of(case, m) for m in usable if m.findings},
        not_tried=not_tried(case, usable),
    )
    statement = compose(verdict, posterior, standing, engine, context)
    return Diagnosis(
        captures=tuple(_capture_verdicts(case, measured)),
        measured=measured,
        cylinders=tuple(_cylinder_verdict(c, standing, posterior) for c in sorted(engine.firing_order)),
        posterior=posterior,
        verdict=verdict,
        statement=statement,
        explanation=explanation,
        plan=plan,
        questions=asked,
        changed_over=history.changed_over,
        repairs=history.repairs,
    )


def _weights(approach: Approach, shop: ShopKnowledge, usable: Sequence[Measured]) -> dict[str, float]:
    """Weight of each source: as the case's approach takes it, less where the shop's tests agreed seldom."""
    weights = approach.trust(usable)
    for m in usable:
        if m.test in shop.agreement:
            weights.update({source: weights.get(source, 1.0) * shop.agreement[m.test] for source in m.sources})
    return weights


def _standing(verdict: Verdict, engine: Engine, hangs_on: tuple[Pivot, ...]) -> Standing:
    """Where a verdict stands with the discipline; rivals are looked at together where not everybody is one."""
    return Standing(
        accused=verdict.cylinders or (verdict.rivals if len(verdict.rivals) < engine.cylinders else ()),
        wanted=verdict.wanted,
        advice=verdict.advice,
        second_source=any(c.id == SECOND_SOURCE and not c.met for c in verdict.conditions),
        established=verdict.status is Status.ESTABLISHED,
        pivots=hangs_on,
    )


def _all_and_standing(history: History) -> tuple[tuple[Measured, ...], tuple[Measured, ...]]:
    """Everything that was measured, and of it what speaks of the trouble that is left."""
    everything = tuple(m for _, own in history.states for m in own)
    derived = _numbered(history.derived, after=sum(len(m.findings) for m in everything))
    return (*everything, *derived), (*history.standing, *derived)


def _done(usable: Sequence[Measured], categorical: Sequence[CategoricalEvidence]) -> Done:
    """A test is done where its assignment is decided; a test of single cylinders only where it was taken."""
    single = {offer.id for offer in OFFERS.values() if offer.per_cylinder}
    whole, at = set(), set()
    for m in usable:
        if m.test in single:
            at |= {(m.test, f.cylinder) for f in m.findings if f.cylinder is not None}
        elif all(len(line.alternatives) == 1 for line in m.lines) and (m.lines or m.resource is not None):
            whole.add(m.test)
    return Done(tests=whole, at=at, categorical=categorical, columns=lines_of(usable))


def _bay_of(case: Case, bay: Bay, usable: Sequence[Measured]) -> Bay:
    """The bay with what the case says of the complaint: what the engine does, when, and whether that was caught."""
    met, decided = caught(case, usable, deviates=bool(accused_in_any(usable))), last_decision(case.observations)
    return replace(
        bay,
        runs=case.symptom.runs,
        turns=case.symptom is not Symptom.NO_CRANK,
        complaint_when=case.complaint_when,
        uncaught=bool(case.complaint_when) and not met,
        not_agreed=decided.forbids() if decided is not None else frozenset(),
    )


def _as_seen(bay: Bay, asked: Sequence[Question], measured: Sequence[Measured]) -> Bay:
    """The bay with what the evidence says of it: what may be full of fuel, and where valves may have met pistons."""
    sealing = [m for m in measured if m.usable and any(line.line in SEALING for line in m.lines)]
    gone = any(f.state is State.ABSENT for m in sealing for f in m.findings)
    return replace(bay, held=MAY_BE_FULL if unanswered(asked) else bay.held, valves_may_have_met=gone)


def _numbered(measured: tuple[Measured, ...], *, after: int = 0) -> tuple[Measured, ...]:
    count = after
    numbered = []
    for m in measured:
        findings = []
        for finding in m.findings:
            count += 1
            findings.append(replace(finding, id=f"f{count}"))
        numbered.append(replace(m, findings=tuple(findings)))
    return tuple(numbered)


def _not_read(case: Case, measured: tuple[Measured, ...]) -> tuple[Message, ...]:
    used = {m.resource for m in measured if m.resource is not None}
    read = {m.observation for m in measured if m.observation is not None}
    unread = Counter(
        o.test for i, o in enumerate(case.observations) if i not in read and o.test not in NO_EVIDENCE_TESTS
    )
    observations = (
        OBSERVATIONS(count=count, test=test.replace("_", " "))
        if count > 1
        else OBSERVATION(test=test.replace("_", " "))
        for test, count in unread.items()
    )
    return (*(THE_CAPTURE(name=c.name) for c in case.captures if c.name not in used), *observations)


def _capture_verdicts(case: Case, measured: tuple[Measured, ...]) -> Iterator[CaptureVerdict]:
    for capture in case.captures:
        own = [m for m in measured if m.resource == capture.name]
        if isinstance(capture, UnreadableCapture):
            yield CaptureVerdict(resource=capture.name, usable=False, reasons=(verbatim(capture.reason),))
        elif not own:
            yield CaptureVerdict(resource=capture.name, usable=True, reasons=(NOT_READ_YET,))
        else:
            reasons = tuple(r.statement for m in own for r in m.reasons)
            yield CaptureVerdict(resource=capture.name, usable=any(m.usable for m in own), reasons=reasons)


def _cylinder_verdict(cylinder: int, measured: tuple[Measured, ...], posterior: Posterior) -> CylinderVerdict:
    working, sealing, sparking = (
        {
            f.state
            for m in measured
            if m.usable and m.evidence is not None and m.evidence.line in lines
            for f in m.findings
            if f.cylinder == cylinder and compared(f)
        }
        for lines in ((WORK,), SEALING, ("FV",))
    )
    contribution = "unknown"
    if State.ABSENT in (working or sealing | sparking):
        contribution = "none"
    elif State.LOW in (working or sealing):
        contribution = "reduced"
    elif working:
        contribution = "full"
    causes = {
        cause.value: round(posterior.of_cylinder(cylinder, cause), 4)
        for cause in (Cause.IGNITION, Cause.FUEL, Cause.MECHANICAL, Cause.CONTROL)
    }
    causes["none"] = round(max(0.0, 1.0 - sum(causes.values())), 4)
    return CylinderVerdict(cylinder=cylinder, contribution=contribution, causes=causes)
