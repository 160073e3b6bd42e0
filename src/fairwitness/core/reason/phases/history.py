"""The states of one vehicle in order: what each change-over showed, what each repair cured, and what still stands.

From a case and everything measured of it; the evidence that still stands goes to the reasoning, change-overs and proofs
to the board. A reading of a vehicle that is whole again never argues about how it came in.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass

from fairwitness import __version__
from fairwitness.core.messages.catalogue import template
from fairwitness.core.model.case import Case
from fairwitness.core.model.circumstances import UNKNOWN, Circumstances
from fairwitness.core.model.measurement import CategoricalEvidence, Finding, Measured, Origin, State
from fairwitness.core.model.phase import AS_ARRIVED, SWAPPED_PARTS, PartState, Phase, PhaseKind, state_of
from fairwitness.core.model.phase_words import FITTED_WORDS
from fairwitness.core.procedures import swap
from fairwitness.core.reason.accusations import accused_in
from fairwitness.core.reason.phases.change_over import Looked, as_evidence, looked_again
from fairwitness.core.reason.phases.repair_proof import Proof, ProofStatus, Repaired, prove, shows_a_wet_plug
from fairwitness.core.reason.phases.side_by_side import Pair, pairs_of
from fairwitness.core.reason.taken_under import taken_of

PLUG = "plug"
SUBSTITUTED = template(
    "history.substituted", "With a {fitted} {part} at cylinder {cylinder} the trouble stayed: the {part} is cleared."
)
ANEW = (ProofStatus.BETTER, ProofStatus.SOMEBODY_ELSE)
"""After these the vehicle has another trouble than it came with."""
_Drying = tuple[Phase, tuple[Measured, ...]]
"""A repair that is not judged before a plug is dry, and what was taken since."""
Judge = Callable[[Sequence[Measured]], tuple[Measured, ...]]


@dataclass(frozen=True, slots=True, kw_only=True)
class History:
    """All states of a vehicle.

    Parameters
    ----------
    states : tuple of (int, tuple of Measured)
        Everything measured, state by state, each judged by itself.
    changed_over : tuple of Looked
    repairs : tuple of Proof
    standing : tuple of Measured
        What still speaks of the trouble that is left.
    derived : tuple of Measured
        What change-overs and parts fitted in vain say.
    """

    states: tuple[tuple[int, tuple[Measured, ...]], ...]
    changed_over: tuple[Looked, ...] = ()
    repairs: tuple[Proof, ...] = ()
    standing: tuple[Measured, ...] = ()
    derived: tuple[Measured, ...] = ()


def history_of(case: Case, measured: Sequence[Measured], judge: Judge) -> History:
    """Take a case apart by the states of its vehicle.

    Parameters
    ----------
    case : Case
    measured : sequence of Measured
    judge : callable
        Compares what was taken cylinder by cylinder, and prefers what was recorded; of one state at a time.

    Returns
    -------
    History
    """
    by_state: dict[int, list[Measured]] = {AS_ARRIVED: []}
    for m in measured:
        by_state.setdefault(state_of(phase_of(case, m), case.phases), []).append(m)
    states = {number: judge(own) for number, own in sorted(by_state.items())}
    trouble = states[AS_ARRIVED]
    looked: list[Looked] = []
    repairs: list[Proof] = []
    derived: list[Measured] = []
    drying: _Drying | None = None
    for phase in case.phases:
        after = states.get(phase.number, ())
        if phase.kind is PhaseKind.CHANGED_OVER:
            found = looked_again(phase, trouble, _pairs(case, trouble, after))
            looked += [found] if found is not None else []
            said = as_evidence(found) if found is not None else None
            derived += [said] if said is not None else []
        elif phase.kind is PhaseKind.AFTER_REPAIR:
            proof = _proof(case, phase, trouble, after, drying)
            repairs.append(proof)
            drying = (phase, after) if proof.status is ProofStatus.WET_PLUG else None
            derived = [] if proof.status in ANEW else [*derived, *_fitted_in_vain(phase, proof)]
            trouble = _left_of(trouble, after, proof.status)
    return History(
        states=tuple(states.items()),
        changed_over=tuple(looked),
        repairs=tuple(repairs),
        standing=trouble,
        derived=tuple(derived),
    )


def _left_of(trouble: tuple[Measured, ...], after: tuple[Measured, ...], status: ProofStatus) -> tuple[Measured, ...]:
    """What speaks of the trouble after one more repair.

    After one in vain, all of it; before a wet plug is dried, whatever was not looked at earlier; after one that changed
    something, nothing of before.
    """
    if status in ANEW:
        return after
    if status is ProofStatus.NOT_CURED:
        return (*trouble, *after)
    if status is ProofStatus.WET_PLUG:
        known = {m.test for m in trouble}
        return (*trouble, *(m for m in after if m.test not in known))
    return trouble


def _proof(
    case: Case, phase: Phase, trouble: tuple[Measured, ...], since: tuple[Measured, ...], drying: _Drying | None
) -> Proof:
    """One repair judged; where it only dried or renewed a plug, together with what was taken before that."""
    about = None
    if drying is not None and phase.part == PLUG:
        cured = (m for m in drying[1] if not (accused_in(m) and shows_a_wet_plug(m)))  # the others are taken again
        about, since = drying[0], (*cured, *since)
    repaired = Repaired(
        phase=phase,
        about=about,
        before=trouble,
        after=since,
        runs=case.symptom.runs,
        untried=_untried(case, since),
    )
    return prove(repaired, _pairs(case, trouble, since), case.engine)


def phase_of(case: Case, measured: Measured) -> int:
    """The phase a measurement of a case was taken in."""
    if measured.resource is not None:
        return next((c.set_up.phase for c in case.captures if c.name == measured.resource), AS_ARRIVED)
    if measured.observation is None or measured.observation >= len(case.observations):
        return AS_ARRIVED
    return case.observations[measured.observation].phase


def _pairs(case: Case, before: Sequence[Measured], after: Sequence[Measured]) -> tuple[Pair, ...]:
    return pairs_of(before, after, case.engine, lambda m: taken_of(case, m))


def _untried(case: Case, after: Sequence[Measured]) -> Circumstances:
    """Conditions of the complaint that nothing was taken under since; nothing where one reading met them all."""
    wanted = case.complaint_when
    if not wanted:
        return UNKNOWN
    missing = [wanted.missing_in(taken_of(case, m).under) for m in after if m.usable]
    return min(missing, key=lambda left: len(left.words), default=wanted)


def _fitted_in_vain(phase: Phase, proof: Proof) -> list[Measured]:
    """A part that was renewed and changed nothing is cleared as by a change-over, for a new one is seldom bad too."""
    renewed = phase.part in SWAPPED_PARTS and phase.fitted not in (None, PartState.REWORKED)
    if proof.status is not ProofStatus.NOT_CURED or not renewed:
        return []
    part, fitted = swap.PART_WORDS[phase.part], FITTED_WORDS[phase.fitted or PartState.NEW]
    return [
        Measured(
            test=swap.TEST,
            findings=(
                Finding(
                    test=swap.TEST,
                    cylinder=cylinder,
                    quantity=f"{phase.part} renewed",
                    value=None,
                    unit="1",
                    spread=None,
                    events=len(proof.compared),
                    state=State.NORMAL,
                    statement=SUBSTITUTED(fitted=fitted, part=part, cylinder=cylinder),
                    word=swap.WORDS[False],
                    origin=Origin(code_version=__version__, parameters=(("phase", float(phase.number)),)),
                ),
            ),
            categorical=(
                CategoricalEvidence(
                    kind=f"{swap.TEST}:{phase.part}",
                    outcome="stayed",
                    cylinders=(cylinder,),
                    source=f"phase:{phase.number}:{cylinder}",
                ),
            ),
            facts={"group": f"{phase.part} renewed"},
        )
        for cylinder in phase.cylinders
    ]
