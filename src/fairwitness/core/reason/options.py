"""The ways to go on once a fault is named, with what each costs, and what it costs to be wrong.

From the posterior and the shop's own prices; goes to the board and to the owner's sheet. Chances are the same that the
statement says; nothing is priced that the shop has not priced.
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, replace
from enum import StrEnum

import numpy as np
from numpy.typing import NDArray

from fairwitness.core.messages.catalogue import phrase, template
from fairwitness.core.messages.message import NOTHING, Message
from fairwitness.core.model.engine import Engine
from fairwitness.core.procedures.specs import OFFERS
from fairwitness.core.reason.inference.hypotheses import Hypothesis
from fairwitness.core.reason.inference.posterior import Posterior
from fairwitness.core.reason.knowledge.faults import FAULTS
from fairwitness.core.reason.knowledge.remedies import PART_NAMES, REMEDIES, Remedy
from fairwitness.core.reason.planning.plan_records import NextTest
from fairwitness.core.reason.planning.prediction import claims_of, predict

FloatArray = NDArray[np.float64]
HOUR = 60.0
TEST_MINUTES = 6.0
"""[T] so much more testing is always worth asking about."""
WEIGHED = 150
"""Hypotheses that are looked at; the rest is cured by nothing here."""

PART_AT = template("options.at", "{what}, {which:cylinders}")
WHOLE_SET = template("options.whole", "the set: {parts:and} at every cylinder")
FIELD = template("options.field", "to get home: {what}")
AVAILABLE = template("options.available", "what is to be had: {what}")
TEST_FIRST = template("options.test_first", "first {test:lower}, {minutes:g} min")
NOTHING_DONE = phrase("options.nothing", "nothing for now")
SAME_AGE = phrase("options.same_age", "the others have run as long")
NOT_CURED = phrase("options.not_cured", "it cures nothing")


class OptionKind(StrEnum):
    """A way to go on."""

    PROPER = "proper"
    WHOLE = "whole"
    FIELD = "field"
    AVAILABLE = "available"
    TEST_FIRST = "test_first"
    NOTHING = "nothing"


@dataclass(frozen=True, slots=True, kw_only=True)
class Prices:
    """What the shop charges, in its own money.

    Parameters
    ----------
    parts : mapping of part to float
        Of one piece; a part without a price is not priced.
    hour : float or None
        Of labour.
    """

    parts: Mapping[str, float]
    hour: float | None = None


UNPRICED = Prices(parts={})


@dataclass(frozen=True, slots=True, kw_only=True)
class Option:
    """One way to go on.

    Parameters
    ----------
    kind : OptionKind
    words : Message
        What is done.
    risk : Message
        What may follow, or must.
    minutes : float
    parts : mapping of part to int
        How many of each.
    price : float or None
        Parts and labour; None where something of it has no price.
    unpriced : tuple of str
        Parts without a price.
    cures : float
        Chance that it cures what is there.
    wrong : float or None
        What being wrong costs on average: the chance that it does not cure, times its price.
    saves : float or None
        Of testing first: by how much it lowers that, on average, less the labour it takes.
    opens_engine : bool
    """

    kind: OptionKind
    words: Message
    risk: Message
    minutes: float = 0.0
    parts: Mapping[str, int] | None = None
    price: float | None = None
    unpriced: tuple[str, ...] = ()
    cures: float = 0.0
    wrong: float | None = None
    saves: float | None = None
    opens_engine: bool = False


@dataclass(frozen=True, slots=True)
class _Leading:
    """The fault that is named, where, and how it is mended."""

    fault: str
    cylinders: tuple[int, ...]
    remedy: Remedy


def options(
    posterior: Posterior, faults: Sequence[str], engine: Engine, prices: Prices, offers: Sequence[NextTest] = ()
) -> tuple[Option, ...]:
    """Ways to go on with a fault that is supported or established.

    Parameters
    ----------
    posterior : Posterior
    faults : sequence of str
        That are named; the first leads.
    engine : Engine
    prices : Prices
    offers : sequence of NextTest
        What the plan offers, best first.

    Returns
    -------
    tuple of Option
        Empty where no fault is named.
    """
    leading = _leading(posterior, faults)
    if leading is None:
        return ()
    found = [_proper(leading, posterior, prices)]
    if leading.remedy.whole:
        found.append(_whole(leading, posterior, engine, prices))
    if leading.remedy.field is not None:
        field = leading.remedy.field
        words = FIELD(what=_at(field.words, leading.cylinders))
        found.append(
            Option(
                kind=OptionKind.FIELD,
                words=words,
                risk=field.then,
                minutes=field.minutes,
                price=_labour(field.minutes, prices),
            )
        )
    if leading.remedy.available != NOTHING:
        words = AVAILABLE(what=leading.remedy.available)
        found.append(
            Option(
                kind=OptionKind.AVAILABLE,
                words=words,
                risk=NOTHING,
                minutes=found[0].minutes,
                cures=found[0].cures,
                opens_engine=leading.remedy.opens_engine,
            )
        )
    test = _test_first(posterior, prices, offers)
    found += [test] if test is not None else []
    found.append(Option(kind=OptionKind.NOTHING, words=NOTHING_DONE, risk=leading.remedy.nothing, price=0.0))
    return tuple(found)


def _leading(posterior: Posterior, faults: Sequence[str]) -> _Leading | None:
    for fault in faults:
        spec = FAULTS.get(fault)
        named = next((h for h in posterior.hypotheses if any(p.fault == fault for p in h.placed)), None)
        if spec is not None and spec.remedy and named is not None:
            cylinders = tuple(sorted({c for p in named.placed if p.fault == fault for c in p.cylinders}))
            return _Leading(fault, cylinders, REMEDIES[spec.remedy])
    return None


def _proper(leading: _Leading, posterior: Posterior, prices: Prices) -> Option:
    remedy, places = leading.remedy, max(len(leading.cylinders), 1)
    minutes = remedy.minutes + remedy.each * (places - 1)
    counted = dict.fromkeys(remedy.parts, places)
    cures = _cured(posterior, remedy, leading.cylinders)
    words = _at(remedy.proper, leading.cylinders)
    return _priced(
        Option(
            kind=OptionKind.PROPER,
            words=words,
            risk=NOTHING,
            minutes=minutes,
            parts=counted,
            cures=cures,
            opens_engine=remedy.opens_engine,
        ),
        prices,
    )


def _whole(leading: _Leading, posterior: Posterior, engine: Engine, prices: Prices) -> Option:
    remedy = leading.remedy
    counted = dict.fromkeys(remedy.whole, engine.cylinders)
    others = max(remedy.each, 5.0) * (engine.cylinders - 1)
    part_words = tuple(PART_NAMES[p] for p in remedy.whole)
    return _priced(
        Option(
            kind=OptionKind.WHOLE,
            words=WHOLE_SET(parts=part_words),
            risk=SAME_AGE,
            minutes=remedy.minutes + others,
            parts=counted,
            cures=_cured(posterior, remedy, engine.firing_order),
        ),
        prices,
    )


def _at(words: Message, cylinders: tuple[int, ...]) -> Message:
    return PART_AT(what=words, which=cylinders) if cylinders else words


def _cured(posterior: Posterior, remedy: Remedy, cylinders: Iterable[int]) -> float:
    """Chance that what is there is mended by a remedy at some places."""
    places = set(cylinders)
    return float(
        sum(
            p
            for h, p in zip(posterior.hypotheses, posterior.probabilities.tolist(), strict=True)
            if _cures(remedy, places, h)
        )
    )


def _cures(remedy: Remedy, places: set[int], hypothesis: Hypothesis) -> bool:
    """Whether everything a hypothesis claims is mended."""
    return bool(hypothesis.placed) and all(
        FAULTS[p.fault].remedy == remedy.id and set(p.cylinders) <= places for p in hypothesis.placed
    )


def _labour(minutes: float, prices: Prices) -> float | None:
    return None if prices.hour is None else prices.hour * minutes / HOUR


def _priced(option: Option, prices: Prices) -> Option:
    counted = option.parts or {}
    unpriced = tuple(part for part in counted if part not in prices.parts)
    labour = _labour(option.minutes, prices)
    if unpriced or labour is None:
        return _with(option, unpriced=unpriced)
    price = labour + sum(prices.parts[part] * count for part, count in counted.items())
    return _with(option, price=price, wrong=(1.0 - option.cures) * price)


def _with(option: Option, **changes: object) -> Option:
    return replace(option, **changes)  # type: ignore[arg-type]


def _test_first(posterior: Posterior, prices: Prices, offers: Sequence[NextTest]) -> Option | None:
    """The test that lowers the cost of being wrong most for its minutes; of about six minutes where there is one."""
    quick = [o for o in offers if o.minutes <= TEST_MINUTES and o.id in OFFERS] or [
        o for o in offers if o.id in OFFERS
    ][:1]
    if not quick:
        return None
    worth = [(saved_by(posterior, o, prices), o) for o in quick]
    saves, best = max(worth, key=lambda pair: (pair[0] if pair[0] is not None else 0.0, -pair[1].minutes))
    words = TEST_FIRST(test=best.title, minutes=best.minutes)
    return Option(
        kind=OptionKind.TEST_FIRST,
        words=words,
        risk=NOT_CURED,
        minutes=best.minutes,
        price=_labour(best.minutes, prices),
        saves=saves,
    )


def saved_by(posterior: Posterior, offer: NextTest, prices: Prices) -> float | None:
    """By how much a test lowers what being wrong costs on average, less the labour of the test.

    Whoever mends chooses the way that is least expensive to be wrong with; after the test the choice is made anew for
    each of its outcomes. Never below minus its own labour: nobody is the worse for knowing more.

    Parameters
    ----------
    posterior : Posterior
    offer : NextTest
    prices : Prices

    Returns
    -------
    float or None
        None where nothing is priced.
    """
    listed = [i for i, h in enumerate(posterior.hypotheses) if h.placed][:WEIGHED]
    if not listed:
        return None
    hypotheses = tuple(posterior.hypotheses[i] for i in listed)
    chances = posterior.probabilities[listed]
    chances = chances / chances.sum()
    losses = _losses(hypotheses, prices)
    labour = _labour(offer.minutes, prices)
    if losses is None or labour is None:
        return None
    scope = offer.cylinders or tuple(sorted({c for h in hypotheses for c in h.everywhere}))
    seen = predict(OFFERS[offer.id], claims_of(hypotheses), scope)
    now = float((chances @ losses).min())
    joint = chances[:, None] * seen.table[seen.row_of]
    then = float((joint.T @ losses).min(axis=1).sum())
    return now - then - labour


def _losses(hypotheses: Sequence[Hypothesis], prices: Prices) -> FloatArray | None:
    """(hypotheses, ways) what a way costs in vain under each hypothesis; None where no way is priced."""
    ways: dict[tuple[str, tuple[int, ...]], float] = {}
    for h in hypotheses:
        for placed in h.placed:
            remedy, at = REMEDIES.get(FAULTS[placed.fault].remedy), tuple(sorted(placed.cylinders))
            if remedy is None or (remedy.id, at) in ways or prices.hour is None:
                continue
            if all(part in prices.parts for part in remedy.parts):
                places = max(len(at), 1)
                labour = prices.hour * (remedy.minutes + remedy.each * (places - 1)) / HOUR
                ways[(remedy.id, at)] = labour + sum(prices.parts[p] for p in remedy.parts) * places
    if not ways:
        return None
    table = np.zeros((len(hypotheses), len(ways)))
    for j, ((remedy_id, at), price) in enumerate(ways.items()):
        for i, h in enumerate(hypotheses):
            table[i, j] = 0.0 if _cures(REMEDIES[remedy_id], set(at), h) else price
    return table
