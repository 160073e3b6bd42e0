"""The next test: what it would tell, per minute of work, what each outcome would mean, and when to stop."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field, replace

import numpy as np
from numpy.typing import NDArray

from fairwitness.core.messages.message import NOTHING, Message
from fairwitness.core.model.engine import Engine
from fairwitness.core.model.tools import Turning
from fairwitness.core.procedures import safety
from fairwitness.core.procedures.cautions import VALVES_MET
from fairwitness.core.procedures.spec import Offer
from fairwitness.core.procedures.specs import OFFERS, TEST_OF
from fairwitness.core.reason.inference.hypotheses import Hypothesis
from fairwitness.core.reason.inference.posterior import Posterior
from fairwitness.core.reason.knowledge.fault_spec import Cause
from fairwitness.core.reason.knowledge.faults import FAULTS, NO_FAULT, UNLISTED
from fairwitness.core.reason.planning.approach import READY, USUAL, Approach, Bay, Proof, School
from fairwitness.core.reason.planning.catching import favour, leave_alone, said_under
from fairwitness.core.reason.planning.implications import Implication, implications
from fairwitness.core.reason.planning.minutes import minutes_of
from fairwitness.core.reason.planning.once_more import Pivot
from fairwitness.core.reason.planning.plan_records import Done, NextTest, Plan
from fairwitness.core.reason.planning.plan_words import (
    CONNECTED_ALREADY,
    ENABLE_FUEL,
    LOWER,
    NOT_AGREED,
    NOT_UNTIL_THEN,
    ON_CYLINDER,
    ONCE_MORE,
    REASON,
    STOP_ESTABLISHED,
    STOP_LITTLE,
    STOP_NOTHING,
    STOP_PENDING,
    STOP_UNMET,
    SURER,
)
from fairwitness.core.reason.planning.prediction import Claims, claims_of, predict
from fairwitness.core.reason.planning.probing import where_to_probe
from fairwitness.core.reason.verdict import SECOND_SOURCE

FloatArray = NDArray[np.float64]

WORTH_BITS = 0.02
"""[M] tests that would tell less are not offered."""
WORTH_PER_MINUTE = 0.006
"""[M] bits a minute below which a test is not worth its time, however much it would tell in the end."""
PROOF_BITS = 0.8
"""[M] what a condition of the discipline is worth that a test would meet, in bits, where its fault is certain."""
HYPOTHESES_WEIGHED = 150
"""Beyond these the rest is too improbable to plan for."""
SCHOOL_FACTOR = 1.15
"""[M] how much a school favours its own kind of test."""
FIRST_STEP = tuple(o.id for o in OFFERS.values() if "RC" in o.columns)
FIRST_STEP_FACTOR = 6.0
"""[T] minutes of work and no disassembly: before coils and injectors are hunted, sealing is asked."""
QUICK_MINUTES = 4.0
UNWANTED_PROOF = 0.4
"""[M] factor on a way of proving that the case's setting does not like; it is ranked lower, never hidden."""
QUANTITY = {"EX": "CON"}
"""Columns that show the same thing as another: a firing that is missing at the tailpipe is missing on the crank."""
NEW_OF_AGAIN = 0.4
"""[M] share of what a test would tell that is new where the same quantity was read before; it still is a witness."""
DECIDES, SHOWN = 0.35, 0.5
"""[M] how differently a test must come out to be named as deciding between two hypotheses, and to witness one."""
TURNED_LAST = 0.05
"""[T] after a slipped belt the engine is turned by hand until the marks were looked at."""
SUSPECTS_AT_ONCE = 2
SPELLED_OUT = 4
"""Offers whose outcomes are told."""
SUSPECT = 0.2
"""[M] chance of being ill from which a cylinder is looked at alone."""


@dataclass(frozen=True, slots=True)
class _Question:
    """What is open: the hypotheses that still count."""

    hypotheses: tuple[Hypothesis, ...]
    claims: Claims
    probabilities: FloatArray
    wanted: Mapping[str, tuple[str, ...]] = field(default_factory=dict)
    leading: float = 0.0
    second_source: bool = False
    sealing_known: bool = False
    read: frozenset[str] = frozenset()
    """Quantities that were read before."""
    second_source_comes: bool = False
    """What must be done anyway is a second witness."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Standing:
    """Where the case stands with the discipline.

    Parameters
    ----------
    accused : tuple of int
        Cylinders a test of one cylinder would be done on; empty: those most probably ill.
    wanted : mapping of test id to tuple of str
        Tests that would meet conditions the discipline still wants, and those conditions' names.
    advice : frozenset of str
        Conditions among them that are worth meeting though the status does not hang on them.
    second_source : bool
        One more, different test that shows the same cylinder is wanted.
    established : bool
        The discipline is met.
    pivots : tuple of Pivot
        Readings the accusation hangs on.
    """

    accused: tuple[int, ...] = ()
    wanted: Mapping[str, tuple[str, ...]] = field(default_factory=dict)
    advice: frozenset[str] = frozenset()
    second_source: bool = False
    established: bool = False
    pivots: tuple[Pivot, ...] = ()


def next_tests(
    posterior: Posterior,
    engine: Engine,
    *,
    done: Done,
    standing: Standing,
    approach: Approach = USUAL,
    bay: Bay = READY,
) -> Plan:
    """Tests not yet done, by expected information per minute.

    Parameters
    ----------
    posterior : Posterior
    engine : Engine
    done : Done
    standing : Standing
    approach : Approach
        Tools, access minutes and schools.
    bay : Bay
        State of the vehicle now.

    Returns
    -------
    Plan
        Tests that would tell next to nothing are left out.
    """
    accused, established = standing.accused, standing.established
    asked = replace(
        _question(posterior, standing),
        second_source=standing.second_source,
        sealing_known=bool(set(FIRST_STEP) & set(done.tests)),
        read=frozenset(QUANTITY.get(c, c) for c in done.columns),
    )
    suspects = accused[:SUSPECTS_AT_ONCE] or _suspects(asked, engine)
    if standing.second_source and accused:
        possible = {t.id: t for t in OFFERS.values() if _possible(t, engine, approach, bay)}
        asked = replace(asked, second_source_comes=_second_source_comes(asked, possible, done, suspects, engine))
    offers, held_back, not_agreed = [], [], []
    for test in OFFERS.values():
        if not _possible(test, engine, approach, bay):
            continue
        scope = done.left(test, _scope(test, suspects, engine))
        if not scope:
            continue
        if bay.held and safety.stirs(test):
            held_back.append(test.title)
            continue
        if bay.not_agreed.intersection(test.acts):
            not_agreed.append(test.title)
            continue
        offers.append(_offer(test, scope, asked, approach, bay, engine))
    offers.sort(key=lambda offer: -offer.rank)
    worth = [o for o in offers if _tells(o) or set(o.proves) & standing.advice or (o.proves and not established)]
    if not established:
        worth += _once_more(standing.pivots, asked, approach, bay, engine)
    # Where nothing is worth its minutes the best of the rest is still named while somebody is accused: it proves.
    kept = worth or [o for o in offers[:1] if accused and not established]
    pending = any(set(o.proves) & standing.advice for o in worth)
    held = [NOT_UNTIL_THEN(why=bay.held, count=len(held_back))] if held_back else []
    held += [NOT_AGREED(titles=tuple(LOWER(title=t) for t in not_agreed))] if not_agreed else []
    spelled = [replace(o, implications=_implications(o, asked, engine)) for o in kept[:SPELLED_OUT]]
    return Plan(
        offers=(*spelled, *kept[SPELLED_OUT:]),
        stop=_stop(kept, worth=bool(worth), established=established, pending=pending),
        done=(established and not pending) or not worth,
        held_back=tuple(held),
        leave_alone=leave_alone([OFFERS[o.id] for o in offers], bay),
        deciding=_deciding(kept, asked),
    )


def _once_more(
    pivots: Sequence[Pivot], asked: _Question, approach: Approach, bay: Bay, engine: Engine
) -> list[NextTest]:
    """Readings the accusation hangs on, offered again where that would tell something."""
    offers = []
    for pivot in pivots:
        test = OFFERS[pivot.test]
        withheld = (bay.held and safety.stirs(test)) or bay.not_agreed.intersection(test.acts)
        if _possible(test, engine, approach, bay) and not withheld:
            # What is doubted is the one reading, not the quantity: another one is as new as the first was.
            anew = replace(asked, read=frozenset())
            offer = _offer(test, pivot.cylinders or engine.firing_order, anew, approach, bay, engine)
            offers.append(replace(offer, again=True, proves=(), reason=offer.reason + ONCE_MORE))
    return [offer for offer in offers if _tells(offer)]


def _tells(offer: NextTest) -> bool:
    return offer.information_bits >= max(WORTH_BITS, WORTH_PER_MINUTE * offer.minutes)


def _scope(test: Offer, suspects: tuple[int, ...], engine: Engine) -> tuple[int, ...]:
    """Where a test would be done: on the suspects; with none, where it compares or speaks for the whole engine."""
    if not test.per_cylinder:
        return engine.firing_order
    if suspects:
        return suspects
    if test.sweeps:
        return engine.firing_order
    return engine.firing_order[:1] if test.mechanical else ()


def _question(posterior: Posterior, standing: Standing) -> _Question:
    # What is unlisted explains anything and foretells nothing: tests are asked of what is listed.
    listed = [i for i, h in enumerate(posterior.hypotheses) if h.fault not in UNLISTED][:HYPOTHESES_WEIGHED]
    kept = posterior.probabilities[listed]
    leading = float(posterior.probabilities[0]) if kept.size and standing.accused else 0.0
    known = tuple(posterior.hypotheses[i] for i in listed)
    return _Question(known, claims_of(known), kept / kept.sum(), standing.wanted, leading)


def _suspects(asked: _Question, engine: Engine) -> tuple[int, ...]:
    """The cylinders most probably ill, where any stands out."""
    ill = dict.fromkeys(engine.firing_order, 0.0)
    for h, p in zip(asked.hypotheses, asked.probabilities, strict=True):
        for c in h.everywhere if len(h.everywhere) < engine.cylinders else ():
            ill[c] += float(p)
    likely = sorted((c for c, p in ill.items() if p >= SUSPECT), key=lambda c: -ill[c])
    return tuple(likely[:SUSPECTS_AT_ONCE]) or (engine.firing_order if engine.cylinders == 1 else ())


def information_bits(test: Offer, posterior: Posterior, scope: Sequence[int]) -> float:
    """Mutual information between the hypotheses and a test's outcome, each outcome misread now and then.

    Parameters
    ----------
    test : Offer
    posterior : Posterior
    scope : sequence of int
        Cylinders the test looks at.

    Returns
    -------
    float, bits
    """
    return predict(test, claims_of(posterior.hypotheses), tuple(scope)).information_bits(posterior.probabilities)


def _possible(test: Offer, engine: Engine, approach: Approach, bay: Bay) -> bool:
    """Whether a test may be done on this engine at all, with these tools, in what the engine still does."""
    if safety.barred(test, engine) is not None or not set(test.needs) <= approach.tools:
        return False
    if (test.turning is Turning.CRANKING and not bay.turns) or (bay.runs and not test.where_it_starts):
        return False
    return bay.runs or test.turning is not Turning.RUNNING or (test.works_cranking and bay.turns)


def _offer(
    test: Offer, scope: tuple[int, ...], asked: _Question, approach: Approach, bay: Bay, engine: Engine
) -> NextTest:
    seen = predict(test, asked.claims, scope)
    bits = seen.information_bits(asked.probabilities)
    if test.columns and not test.kinds and {QUANTITY.get(c, c) for c in test.columns} <= asked.read:
        bits *= NEW_OF_AGAIN
    minutes = minutes_of(test, scope, approach, bay)
    proves = asked.wanted.get(test.id, ())
    if (
        asked.second_source
        and (test.id in asked.wanted or not asked.second_source_comes)
        and _shows(test, asked.hypotheses[0], scope)
    ):
        proves = (*proves, SECOND_SOURCE)
    worth = bits + PROOF_BITS * asked.leading * bool(proves)
    connected = bool(test.needs) and set(test.needs) <= bay.connected
    reason = REASON(
        minutes=minutes,
        tools=test.tools,
        where=ON_CYLINDER(cylinders=scope) if test.per_cylinder else NOTHING,
        connected=CONNECTED_ALREADY if connected else NOTHING,
        splits=test.splits,
        under=said_under(test, bay),
    )
    mechanics = approach.order is School.MECHANICAL_FIRST and not asked.sealing_known
    first = FIRST_STEP_FACTOR if mechanics and test.id in FIRST_STEP else 1.0
    cautions = safety.cautions(test, engine)
    bent = bay.valves_may_have_met and any(FAULTS[p.fault].bends_valves for p in asked.hypotheses[0].placed)
    spared = TURNED_LAST if bent and test.turning in (Turning.CRANKING, Turning.RUNNING) else 1.0
    if bay.valves_may_have_met and (test.turning is Turning.CRANKING or spared < 1.0):
        cautions = (VALVES_MET, *cautions)
    if bay.fuel_disabled and test.turning is Turning.RUNNING:
        cautions = (ENABLE_FUEL, *cautions)
    return NextTest(
        test=TEST_OF[test.id],
        id=test.id,
        kind=test.kind,
        title=test.title,
        cylinders=scope if test.per_cylinder else (),
        minutes=minutes,
        information_bits=round(bits, 3),
        tools=test.tools,
        reason=reason,
        cautions=cautions,
        probe=where_to_probe(test, engine, scope),
        proves=proves,
        rank=worth / minutes * _favour(test, minutes, approach) * favour(test, bay) * first * spared,
    )


def _implications(offer: NextTest, asked: _Question, engine: Engine) -> tuple[Implication, ...]:
    test = OFFERS[offer.id]
    seen = predict(test, asked.claims, offer.cylinders or engine.firing_order)
    return implications(test, seen, asked.hypotheses, asked.probabilities)


def _second_source_comes(
    asked: _Question, possible: Mapping[str, Offer], done: Done, suspects: tuple[int, ...], engine: Engine
) -> bool:
    """Whether a condition of the discipline can only be met by tests that show the leading fault as well.

    Then no other test needs to be taken for a witness's sake.
    """
    by_condition: dict[str, list[Offer]] = {}
    for name, conditions in asked.wanted.items():
        for condition in conditions if name in possible else ():
            by_condition.setdefault(condition, []).append(possible[name])
    scopes = {t.id: done.left(t, _scope(t, suspects, engine)) for tests in by_condition.values() for t in tests}
    return any(
        all(scopes[t.id] and _shows(t, asked.hypotheses[0], scopes[t.id]) for t in tests)
        for tests in by_condition.values()
    )


def _shows(test: Offer, leading: Hypothesis, scope: tuple[int, ...]) -> bool:
    """Whether a test would show the leading fault at all."""
    healthy = Hypothesis(NO_FAULT, Cause.NONE, (), 0.0)
    return predict(test, claims_of((leading, healthy)), scope).apart(0, 1) >= SHOWN


def _favour(test: Offer, minutes: float, approach: Approach) -> float:
    favour = 1.0
    if approach.order is School.MECHANICAL_FIRST:
        favour = SCHOOL_FACTOR if test.mechanical else 1.0
    elif approach.order is School.CODES_FIRST:
        favour = SCHOOL_FACTOR if not test.mechanical else 1.0
    else:
        favour = QUICK_MINUTES / minutes
    if approach.proof is Proof.IN_PLACE and test.disturbs and not test.mechanical:
        favour *= UNWANTED_PROOF
    if approach.proof is Proof.SWAP and test.swaps:
        favour /= UNWANTED_PROOF
    return favour


def _stop(kept: Sequence[NextTest], *, worth: bool, established: bool, pending: bool) -> Message:
    if established and pending:
        return STOP_PENDING
    if established:
        return STOP_ESTABLISHED + SURER if kept else STOP_ESTABLISHED
    if not kept:
        return STOP_NOTHING
    return STOP_UNMET if worth else STOP_LITTLE


def _deciding(kept: Sequence[NextTest], asked: _Question) -> Message:
    """The title of the offer that best tells the leading hypothesis from the next one of another fault or place."""
    if len(asked.hypotheses) < 2:
        return NOTHING
    top = asked.hypotheses[0]
    rival = next((i for i, h in enumerate(asked.hypotheses) if i and _differs(h, top)), None)
    if rival is None:
        return NOTHING
    pair = claims_of((top, asked.hypotheses[rival]))

    def apart(offer: NextTest) -> float:
        scope = offer.cylinders or tuple(sorted({*top.everywhere, *asked.hypotheses[rival].everywhere}))
        return predict(OFFERS[offer.id], pair, scope).apart(0, 1)

    best = max(kept, key=lambda o: apart(o) / o.minutes, default=None)
    return best.title if best is not None and apart(best) >= DECIDES else NOTHING


def _differs(one: Hypothesis, other: Hypothesis) -> bool:
    return bool(one.placed or one.cause is Cause.NONE) and one.placed != other.placed
