"""What must be answered before a case is closed, because somebody or something can be hurt otherwise."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from fairwitness.core.messages.catalogue import phrase
from fairwitness.core.messages.message import Message
from fairwitness.core.model.case import Observation
from fairwitness.core.model.measurement import Measured
from fairwitness.core.reason.inference.hypotheses import Placed
from fairwitness.core.reason.inference.posterior import Posterior
from fairwitness.core.reason.knowledge.fault_spec import Mode
from fairwitness.core.reason.knowledge.faults import FAULTS

LIKELY = 0.3
"""[M] chance of an injector held open from which the questions are asked without it having been seen."""
FLOODING = {
    "injector_on_time": ("long",),
    "load_lamp:injector": ("bright",),
    "no_start:injector_pulse": ("held",),
    "engine_circuits:key_on": ("held",),
    "first_look:oil": ("over_full",),
    "first_look:cadence": ("hard_stop",),
    "leak_down": ("coolant",),
}
"""Outcomes that mean that fuel runs without end, or that liquid may stand in a cylinder."""
ANSWER = "note"
"""The observation an answer is kept as: free text with the ``question`` it answers."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Question:
    """One thing to answer, why, and the answer kept so far."""

    id: str
    words: Message
    why: Message
    answer: str = ""


FLOODED: tuple[Question, ...] = (
    Question(
        id="plugs_out",
        words=phrase(
            "question.plugs_out", "Are the plugs out, the holes covered with rags and nobody in front of them?"
        ),
        why=phrase("question.plugs_out.why", "What stands in a cylinder leaves through the hole, fast, and burns."),
    ),
    Question(
        id="no_sparks",
        words=phrase("question.no_sparks", "Is the ignition disabled and an extinguisher at hand? Say how."),
        why=phrase("question.no_sparks.why", "Fuel that is thrown out is lit by the first spark."),
    ),
    Question(
        id="hydraulic_lock",
        words=phrase(
            "question.hydraulic_lock", "Does it turn by hand through two revolutions, and what came out of the holes?"
        ),
        why=phrase("question.hydraulic_lock.why", "Liquid does not compress: the starter bends a rod."),
    ),
    Question(
        id="oil_dilution",
        words=phrase(
            "question.oil_dilution", "Has fuel run into the oil? Level and smell looked at; changed where in doubt."
        ),
        why=phrase(
            "question.oil_dilution.why", "Fuel washes the bore and thins the oil; vapour in the crankcase burns."
        ),
    ),
    Question(
        id="flood_cleared",
        words=phrase("question.flood_cleared", "How was the flood cleared, and why will it not come back?"),
        why=phrase(
            "question.flood_cleared.why",
            "Injector unplugged or fuel off first, plugs out and shielded, extinguisher at hand, no sparks, exhaust "
            "aired; catalyst left to cool. Follow the maker's procedure.",
        ),
    ),
)


def questions(
    measured: Sequence[Measured], posterior: Posterior, observations: Sequence[Observation]
) -> tuple[Question, ...]:
    """Questions this case raises, with their answers.

    Parameters
    ----------
    measured : sequence of Measured
    posterior : Posterior
    observations : sequence of Observation
        Answers among them; of two to one question the later counts.

    Returns
    -------
    tuple of Question
        Empty where nothing floods.
    """
    if not _floods(measured, posterior):
        return ()
    answers = _answers(observations)
    return tuple(Question(id=q.id, words=q.words, why=q.why, answer=answers.get(q.id, "")) for q in FLOODED)


def unanswered(asked: Sequence[Question]) -> tuple[Question, ...]:
    """Questions without an answer."""
    return tuple(q for q in asked if not q.answer)


def _floods(measured: Sequence[Measured], posterior: Posterior) -> bool:
    seen = any(s.outcome in FLOODING.get(s.kind, ()) for m in measured if m.usable for s in m.categorical)
    held_open = sum(
        float(p)
        for h, p in zip(posterior.hypotheses, posterior.probabilities, strict=True)
        if any(_is_open(placed) for placed in h.placed)
    )
    return seen or held_open >= LIKELY


def _is_open(placed: Placed) -> bool:
    """Whether a fault in this way of its lets fuel in without end: a driver that is dead does not."""
    spec = FAULTS[placed.fault]
    return spec.floods and (placed.mode is Mode.HELD_ON or Mode.HELD_ON not in spec.ways)


def _answers(observations: Sequence[Observation]) -> Mapping[str, str]:
    found: dict[str, str] = {}
    for o in observations:
        question, text = o.data.get("question"), o.data.get("note")
        if o.test == ANSWER and isinstance(question, str) and isinstance(text, str) and text.strip():
            found[question] = text.strip()
    return found
