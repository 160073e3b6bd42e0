"""The diagnosis document: what ``fairwitness diagnose --json`` prints and the application serves."""

from __future__ import annotations

from typing import Any

from fairwitness.core.diagnose import HYPOTHESES_LISTED, Diagnosis
from fairwitness.core.messages.rendering import PLAIN, Display, spoken
from fairwitness.core.model.measurement import Finding
from fairwitness.core.reason.bearing import doubted
from fairwitness.core.reason.knowledge.fault_spec import Cause
from fairwitness.core.reason.knowledge.faults import UNLISTED
from fairwitness.core.reason.phases.change_over import Looked
from fairwitness.core.reason.phases.repair_proof import Proof
from fairwitness.core.reason.planning.plan_records import NextTest, Plan
from fairwitness.core.reason.report.sentence import Sentence

DOCUMENT_VERSION = 1
NAMED_CAUSES = (Cause.IGNITION, Cause.FUEL, Cause.MECHANICAL, Cause.CONTROL, Cause.NONE)


def diagnosis_document(diagnosis: Diagnosis, display: Display = PLAIN) -> dict[str, Any]:
    """A diagnosis as one JSON-ready object, put into words.

    Parameters
    ----------
    diagnosis : Diagnosis
    display : Display
        Language, units and decimal mark of the reader.

    Returns
    -------
    dict
        Hypotheses sum to 1: the tail is merged into one entry without faults.
    """
    document: dict[str, Any] = spoken(diagnosis_data(diagnosis), display)
    return document


def diagnosis_data(diagnosis: Diagnosis) -> dict[str, Any]:
    """A diagnosis as one object with its messages, for putting into words when it is read.

    Parameters
    ----------
    diagnosis : Diagnosis

    Returns
    -------
    dict
        As of ``diagnosis_document``; JSON-ready once ``storable`` turned its messages into data.
    """
    verdict, statement = diagnosis.verdict, diagnosis.statement
    return {
        "fair_witness_diagnosis": DOCUMENT_VERSION,
        "captures": [
            {"resource": c.resource, "usable": c.usable, "reasons": list(c.reasons)} for c in diagnosis.captures
        ],
        "doubted": [
            {"source": source, "chance": round(chance, 4)} for source, chance in doubted(diagnosis.posterior).items()
        ],
        "findings": [_finding(f) for f in diagnosis.findings],
        "cylinders": [
            {"cylinder": c.cylinder, "contribution": c.contribution, "causes": c.causes} for c in diagnosis.cylinders
        ],
        "hypotheses": _hypotheses(diagnosis),
        "causes": {cause.value: round(diagnosis.posterior.of_cause(cause), 4) for cause in NAMED_CAUSES},
        "verdict": {
            "status": verdict.status.value,
            "cause": verdict.cause.value,
            "cylinders": list(verdict.cylinders),
            "faults": list(verdict.faults),
            "probability": verdict.probability,
            "statement": statement.text,
            "not_seen": [s.text for s in statement.not_seen],
            "headline": statement.headline,
            "rivals": list(verdict.rivals),
            "seen": [_sentence(s) for s in statement.seen],
            "follows": [_sentence(s) for s in statement.follows],
            "rival": [_sentence(s) for s in statement.rival],
            "repair": [{"words": o.words, "why": o.why} for o in statement.repair],
            "owner": list(statement.owner),
            "conditions": [{"words": c.words, "met": c.met} for c in verdict.conditions],
        },
        "next_tests": [_next_test(t) for t in diagnosis.plan.offers],
        "plan": _plan(diagnosis.plan),
        "questions": [{"id": q.id, "words": q.words, "why": q.why, "answer": q.answer} for q in diagnosis.questions],
        "changed_over": [_looked(looked) for looked in diagnosis.changed_over],
        "repairs": [_proof(proof) for proof in diagnosis.repairs],
    }


def _looked(looked: Looked) -> dict[str, Any]:
    return {
        "phase": looked.phase.number,
        "part": looked.phase.part,
        "suspect": looked.suspect,
        "other": looked.other,
        "went": looked.went.value,
        "chance": round(looked.chance, 4),
        "tests": list(looked.tests),
        "words": looked.words,
    }


def _proof(proof: Proof) -> dict[str, Any]:
    return {
        "phase": proof.phase.number,
        "status": proof.status.value,
        "wanted": list(proof.wanted),
        "missing": list(proof.missing),
        "words": proof.words,
        "compared": [
            {
                "test": k.test,
                "before": k.pair.before.resource,
                "after": k.pair.after.resource,
                "why_not": k.pair.why_not,
                "changes": [{"cylinder": c, "change": how.value} for c, how in sorted(k.changes.items())],
            }
            for k in proof.compared
        ],
    }


def _plan(plan: Plan) -> dict[str, Any]:
    return {
        "stop": plan.stop,
        "done": plan.done,
        "held_back": list(plan.held_back),
        "leave_alone": list(plan.leave_alone),
    }


def _finding(finding: Finding) -> dict[str, Any]:
    return {
        "id": finding.id,
        "test": finding.test,
        "resource": finding.origin.resource,
        "observation": finding.origin.observation,
        "cylinder": finding.cylinder,
        "quantity": finding.quantity,
        "value": finding.value,
        "unit": finding.unit,
        "spread": finding.spread,
        "events": finding.events,
        "state": finding.state.value,
        "statement": finding.statement,
    }


def _hypotheses(diagnosis: Diagnosis) -> list[dict[str, Any]]:
    """The most probable ones; the ways one fault may show itself are one, and the rest is a tail without faults."""
    merged: dict[tuple[tuple[str, str, tuple[int, ...]], ...], float] = {}
    for h, p in zip(diagnosis.posterior.hypotheses, diagnosis.posterior.probabilities.tolist(), strict=True):
        if h.fault in UNLISTED:
            continue
        claim = tuple((p.fault, p.cause.value, p.cylinders) for p in h.placed) or ((h.fault, h.cause.value, ()),)
        merged[claim] = merged.get(claim, 0.0) + p
    ranked = sorted(merged.items(), key=lambda item: -item[1])[:HYPOTHESES_LISTED]
    listed: list[dict[str, Any]] = [
        {
            "faults": [{"fault": f, "cause": cause, "cylinders": list(at)} for f, cause, at in claim],
            "probability": round(p, 6),
        }
        for claim, p in ranked
    ]
    rest = 1.0 - sum(entry["probability"] for entry in listed)
    listed.append({"faults": [], "probability": round(max(rest, 0.0), 6)})
    return listed


def _sentence(sentence: Sentence) -> dict[str, Any]:
    return {"text": sentence.text, "findings": list(sentence.findings)}


def _next_test(test: NextTest) -> dict[str, Any]:
    return {
        "test": test.test,
        "id": test.id,
        "kind": test.kind,
        "title": test.title,
        "cylinders": list(test.cylinders),
        "minutes": test.minutes,
        "information_bits": test.information_bits,
        "tools": test.tools,
        "reason": test.reason,
        "cautions": list(test.cautions),
        "probe": test.probe,
        "proves": list(test.proves),
        "meanings": [
            {
                "outcome": m.outcome,
                "cylinders": list(m.cylinders),
                "words": m.words,
                "chance": m.chance,
                "then": m.then,
            }
            for m in test.implications
        ],
    }
