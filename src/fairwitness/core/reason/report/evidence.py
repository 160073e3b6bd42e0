"""What was seen, in sentences: every measurement's own words, the even ones gathered into one.

From measurements with numbered findings; the sentences go to the statement.
"""

from __future__ import annotations

from collections.abc import Sequence

from fairwitness.core.messages.catalogue import phrase, template
from fairwitness.core.messages.message import NOTHING, Message, joined
from fairwitness.core.model.measurement import Finding, Measured, State
from fairwitness.core.procedures.spec import TestSpec
from fairwitness.core.procedures.specs import SPECS
from fairwitness.core.reason.accusations import CAPTURE, compared
from fairwitness.core.reason.planning.what_if import IMAGINED
from fairwitness.core.reason.report.sentence import Sentence

CANNOT_BE_USED = template("evidence.cannot_be_used", "{source} cannot be used. {why}")
THE_TEST = template("evidence.the_test", "The {title:lower}")
OVER_CYCLES = template("evidence.over_cycles", " over {cycles} cycles")
WHO_LIES = {
    "all": phrase("evidence.all_lie", "All cylinders lie"),
    "others": phrase("evidence.others_lie", "The others lie"),
    "other": phrase("evidence.other_lies", "The other lies"),
}
BETWEEN = template("evidence.between", "{who} between {low} and {high} % of their peers{shares_of}{over}.")
AT = template("evidence.at", "{who} at {low} % of their peers{shares_of}{over}.")
ALL_ALIKE = template("evidence.all_alike", "{plural} of all cylinders are alike{over}.")
OTHERS_ALIKE = template("evidence.others_alike", "{plural} of the others are alike{over}.")
AS_IT_SHOULD = template("evidence.as_it_should", "{title} of {cylinders:cylinders}: as it should be.")
LIKEWISE = template("evidence.likewise", "The same of {cylinders:cylinders}, between these two.")
ROW = 5
"""Sentences of one kind from which they are told as a range."""
TITLE_OF_KIND = template("evidence.title_of_kind", "{title} ({kind})")


def seen(measured: Sequence[Measured]) -> list[Sentence]:
    """Everything that was measured, each sentence once.

    Parameters
    ----------
    measured : sequence of Measured
        Findings carry their ids.

    Returns
    -------
    list of Sentence
    """
    sentences: list[Sentence] = []
    for m in measured:
        if not m.usable:
            why = joined(*(r.statement for r in m.reasons if r.blocking), by=" ")
            ids = tuple(f.id for f in m.findings if compared(f))
            sentences.append(Sentence(CANNOT_BE_USED(source=_source(m), why=why), ids))
        elif IMAGINED in m.facts:
            own = [f for f in m.findings if compared(f)]
            sentences += _own_words([f for f in own if f.state is not State.NORMAL] or own[:1])
        elif not _found_nothing(m):
            sentences += _of_measurement(m, SPECS[m.test])
    return _each_once([*sentences, *_sound_readings(measured)])


def _of_measurement(m: Measured, spec: TestSpec) -> list[Sentence]:
    own = [f for f in m.findings if compared(f)]
    ill = [f for f in own if f.state is not State.NORMAL]
    rest = [f for f in own if f.state is State.NORMAL and f.cylinder is not None]
    cycles = m.facts.get("cycles")
    over = OVER_CYCLES(cycles=cycles) if isinstance(cycles, int | float) and cycles else NOTHING
    sentences = _own_words(ill)
    if rest and spec.shares_of is not None and len(own) > 1:
        sentences.append(_range_of(rest, spec.shares_of, over, ill=bool(ill)))
    elif len(rest) > 1 and spec.plural:
        words = (OTHERS_ALIKE if ill else ALL_ALIKE)(plural=spec.plural, over=over)
        sentences.append(Sentence(words, tuple(f.id for f in rest)))
    elif len(rest) == 1 and len(own) > 1 and spec.plural:
        sentences += _own_words(rest)
    elif not ill:
        sentences += _own_words(own[:1])
    return sentences + _own_words([f for f in m.findings if not compared(f) and f.quantity not in spec.quiet_remarks])


def _own_words(findings: Sequence[Finding]) -> list[Sentence]:
    """Each in its own words; of many that say the same with other figures the outermost, and who lies between them."""
    rows: dict[str, list[Finding]] = {}
    for f in findings:
        alone = f.cylinder is None or f.value is None
        rows.setdefault(f.id if alone else f.statement.id, []).append(f)
    return [sentence for alike in rows.values() for sentence in _of_row(alike)]


def _of_row(alike: Sequence[Finding]) -> list[Sentence]:
    if len(alike) < ROW:
        return [Sentence(f.statement, (f.id,)) for f in alike]
    ranked = sorted(alike, key=lambda f: f.value or 0.0)
    between = tuple(sorted(f.cylinder for f in ranked[1:-1] if f.cylinder is not None))
    return [
        Sentence(ranked[0].statement, (ranked[0].id,)),
        Sentence(ranked[-1].statement, (ranked[-1].id,)),
        Sentence(LIKEWISE(cylinders=between), tuple(f.id for f in ranked[1:-1])),
    ]


def _range_of(rest: Sequence[Finding], shares_of: Message, over: Message, *, ill: bool) -> Sentence:
    """Between which shares the even cylinders lie."""
    shares = [f"{100 * f.value:.0f}" for f in sorted(rest, key=lambda f: f.value or 0.0) if f.value is not None]
    who = WHO_LIES["all" if not ill else "others" if len(rest) > 1 else "other"]
    ids = tuple(f.id for f in rest)
    if shares[0] == shares[-1]:
        return Sentence(AT(who=who, low=shares[0], shares_of=shares_of, over=over), ids)
    return Sentence(BETWEEN(who=who, low=shares[0], high=shares[-1], shares_of=shares_of, over=over), ids)


def _found_nothing(m: Measured) -> bool:
    """Whether a reading by hand found nothing: told in one sentence with its like."""
    by_hand = m.test in SPECS and SPECS[m.test].sound_in_one
    return m.usable and IMAGINED not in m.facts and by_hand and all(f.state is State.NORMAL for f in m.findings)


def _sound_readings(measured: Sequence[Measured]) -> list[Sentence]:
    """Readings that found nothing, one sentence for each kind."""
    kinds: dict[tuple[str, str], list[Measured]] = {}
    for m in measured:
        if _found_nothing(m):
            kinds.setdefault((m.test, str(m.facts.get("group", m.test))), []).append(m)
    sentences = []
    for (test, group), alike in kinds.items():
        findings = [f for m in alike for f in m.findings]
        cylinders = tuple(sorted({f.cylinder for f in findings if f.cylinder is not None}))
        title = SPECS[test].title
        kind = alike[0].facts.get("group_words")
        if group != test and isinstance(kind, Message):
            title = TITLE_OF_KIND(title=title, kind=kind)
        words = AS_IT_SHOULD(title=title, cylinders=cylinders) if cylinders else findings[0].statement
        sentences.append(Sentence(words, tuple(f.id for f in findings)))
    return sentences


def _each_once(sentences: Sequence[Sentence]) -> list[Sentence]:
    """Each message once, with all the findings that carry it."""
    found: dict[Message, tuple[str, ...]] = {}
    for sentence in sentences:
        found[sentence.text] = found.get(sentence.text, ()) + sentence.findings
    return [Sentence(text, findings) for text, findings in found.items()]


def _source(m: Measured) -> Message:
    if m.resource is not None:
        return CAPTURE(resource=m.resource)
    return SPECS[m.test].says_which or THE_TEST(title=SPECS[m.test].title)
