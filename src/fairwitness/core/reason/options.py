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
from fairwitness.core.model.engine import Engine, Ignition
from fairwitness.core.procedures.specs import OFFERS
from fairwitness.core.reason.inference.hypotheses import Hypothesis
from fairwitness.core.reason.inference.posterior import Posterior
from fairwitness.core.reason.knowledge.faults import FAULTS
from fairwitness.core.reason.knowledge.remedies import PART_NAMES, REMEDIES, Remedy
from fairwitness.core.reason.planning.plan_records import NextTest
from fairwitness.core.reason.planning.prediction import claims_of, predict

FloatArray = NDArray[np.float64]
HOUR = 60.0
CENT = 0.01
COIL = "coil"
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
    found = [_proper(leading, posterior, engine, prices)]
    if leading.remedy.whole:
        found.append(_whole(leading, posterior, engine, prices))
    field = leading.remedy.field
    if field is not None and field.possible(engine):
        words = FIELD(what=_at(field.words, leading.cylinders, engine))
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
    test = _test_first(posterior, engine, prices, offers)
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


def _proper(leading: _Leading, posterior: Posterior, engine: Engine, prices: Prices) -> Option:
    minutes, counted = _job(leading.remedy, leading.cylinders, engine)
    return _priced(
        Option(
            kind=OptionKind.PROPER,
            words=_at(leading.remedy.proper, leading.cylinders, engine),
            risk=NOTHING,
            minutes=minutes,
            parts=counted,
            cures=_cured(posterior, leading.remedy, leading.cylinders),
            opens_engine=leading.remedy.opens_engine,
        ),
        prices,
    )


def _job(remedy: Remedy, cylinders: Sequence[int], engine: Engine) -> tuple[float, dict[str, int]]:
    """Minutes of labour, and how many of each part: at every place, and once."""
    places = max(len(cylinders), 1)
    counted = {part: _coils(cylinders, engine) if part == COIL else places for part in remedy.parts}
    return remedy.minutes + remedy.each * (places - 1), counted | dict.fromkeys(remedy.once, 1)


def _coils(cylinders: Sequence[int], engine: Engine) -> int:
    """Coils that some cylinders hang on: one each, one for two, or one for all."""
    if engine.ignition is Ignition.DISTRIBUTOR:
        return 1
    pairs = engine.coil_pairs or (engine.companion_pairs if engine.ignition is Ignition.WASTE_SPARK else ())
    return len({next((pair for pair in pairs if c in pair), (c, c)) for c in cylinders}) or 1


def _whole(leading: _Leading, posterior: Posterior, engine: Engine, prices: Prices) -> Option:
    remedy = leading.remedy
    every = engine.firing_order
    counted = {part: _coils(every, engine) if part == COIL else len(every) for part in remedy.whole}
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


def _at(words: Message, cylinders: tuple[int, ...], engine: Engine) -> Message:
    """With the places, where it is not the whole engine."""
    some = 0 < len(cylinders) < max(engine.cylinders, 2)
    return PART_AT(what=words, which=cylinders) if some else words


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


def _price(minutes: float, counted: Mapping[str, int], prices: Prices) -> float | None:
    """Parts and labour; None where something of it has no price."""
    labour = _labour(minutes, prices)
    if labour is None or not counted.keys() <= prices.parts.keys():
        return None
    return labour + sum(prices.parts[part] * count for part, count in counted.items())


def _priced(option: Option, prices: Prices) -> Option:
    counted = option.parts or {}
    price = _price(option.minutes, counted, prices)
    unpriced = tuple(part for part in counted if part not in prices.parts)
    return replace(
        option, price=price, unpriced=unpriced, wrong=None if price is None else (1.0 - option.cures) * price
    )


def _test_first(posterior: Posterior, engine: Engine, prices: Prices, offers: Sequence[NextTest]) -> Option | None:
    """The test that lowers the cost of being wrong most for its minutes; of about six minutes where there is one."""
    known = [o for o in offers if o.id in OFFERS]
    quick = [o for o in known if o.minutes <= TEST_MINUTES] or known[:1]
    if not quick:
        return None
    worth = [(saved_by(posterior, o, engine, prices), o) for o in quick]
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


def saved_by(posterior: Posterior, offer: NextTest, engine: Engine, prices: Prices) -> float | None:
    """By how much a test lowers what is spent in vain on average, less the labour of the test.

    Without it the ways to mend are tried one after the other, most chance for the money first, until one cures; what
    failed was spent in vain. After the test they are tried in the order of what it showed. Never below minus its own
    labour: nobody is the worse for knowing more.

    Parameters
    ----------
    posterior : Posterior
    offer : NextTest
    engine : Engine
    prices : Prices

    Returns
    -------
    float or None
        None where nothing is priced.
    """
    listed = [i for i, h in enumerate(posterior.hypotheses) if h.placed][:WEIGHED]
    labour = _labour(offer.minutes, prices)
    hypotheses = tuple(posterior.hypotheses[i] for i in listed)
    cured, costs = _ways(hypotheses, engine, prices)
    if labour is None or not costs.size:
        return None
    chances = posterior.probabilities[listed]
    chances = chances / chances.sum()
    scope = offer.cylinders or tuple(sorted({c for h in hypotheses for c in h.everywhere}))
    seen = predict(OFFERS[offer.id], claims_of(hypotheses), scope)
    usual = _order(chances, cured, costs)
    then = 0.0
    for joint in (chances[:, None] * seen.table[seen.row_of]).T:
        then += min(_in_vain(joint, cured, costs, order) for order in (usual, _order(joint, cured, costs)))
    return _in_vain(chances, cured, costs, usual) - then - labour


def _ways(hypotheses: Sequence[Hypothesis], engine: Engine, prices: Prices) -> tuple[NDArray[np.bool_], FloatArray]:
    """Every way to mend what is likely: (hypotheses, ways) what it cures, and its price; unpriced ones are left out."""
    ways: dict[tuple[str, tuple[int, ...]], float] = {}
    for placed in (p for h in hypotheses for p in h.placed):
        remedy, at = REMEDIES[FAULTS[placed.fault].remedy], tuple(sorted(placed.cylinders))
        price = _price(*_job(remedy, at, engine), prices)
        if price is not None:
            ways.setdefault((remedy.id, at), price)
    cured = [[_cures(REMEDIES[remedy], set(at), h) for remedy, at in ways] for h in hypotheses]
    return np.array(cured, dtype=bool).reshape(len(hypotheses), len(ways)), np.array(list(ways.values()))


def _order(chances: FloatArray, cured: NDArray[np.bool_], costs: FloatArray) -> NDArray[np.intp]:
    """Ways by chance for the money."""
    return np.argsort(-(chances @ cured) / np.maximum(costs, CENT), kind="stable")


def _in_vain(chances: FloatArray, cured: NDArray[np.bool_], costs: FloatArray, order: NDArray[np.intp]) -> float:
    """What ways tried in this order cost that do not cure, on average over chances that need not sum to 1."""
    not_yet = ~np.logical_or.accumulate(cured[:, order], axis=1)
    curable = cured.any(axis=1)  # what no way mends is the same whatever is tried first
    return float((chances * curable) @ not_yet @ costs[order])
