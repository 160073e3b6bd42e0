"""Looking again with a part changed over: the trouble went with the part, stayed where it was, or is gone.

From the same tests before and after, measured; the outcome goes to the reasoning as what a swap shows, with its
certainty, and nobody has to say whether anything moved.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from enum import StrEnum

from fairwitness import __version__
from fairwitness.core.messages.catalogue import phrase, template
from fairwitness.core.messages.message import NOTHING, Message
from fairwitness.core.model.measurement import CategoricalEvidence, Finding, Measured, Origin, State
from fairwitness.core.model.phase import SWAPPED_PARTS, Phase
from fairwitness.core.procedures import swap
from fairwitness.core.procedures.specs import SPECS
from fairwitness.core.reason.phases.side_by_side import Pair, Share, titles

CERTAIN = 0.9
"""[M] chance from which the outcome of a change-over is weighed."""
APART_SIGMAS, APART_SHARE = 1.5, 0.1
"""[M] how far the two cylinders must have been apart before, for a test to tell anything of what moved."""
SIGMA_AT_SEA = 0.35
"""[M] shares less sure than this tell nobody from his neighbour, whatever the findings say."""
REPEATS = 0.2
"""[M] how much of a difference an engine changes by itself from one run to the next."""
GONE_PRIOR = 0.1
"""[M] how often unplugging alone ends a trouble, beside 1 for each of moved and stayed."""
STRAY = 0.02
"""[M] how often a comparison says something else altogether."""
STATE_WRONG = 0.1
"""[M] how often a reading without a share names the wrong cylinder."""

LOOKED = template(
    "change_over.looked",
    "Measured again with the {part}s of cylinders {suspect} and {other} changed over, {tests:and}: ",
)
MOVED = template(
    "change_over.moved",
    "the trouble moved to cylinder {other}, {percent:chance}. The {part} of cylinder {suspect} is at fault.",
)
STAYED = template("change_over.stayed", "it stayed at cylinder {suspect}, {percent:chance}. The {part} is cleared.")
GONE = template(
    "change_over.gone",
    "no cylinder is off any more, {percent:chance}. Unplugging may have cured a contact, or it comes and goes: "
    "put back, and watch the connectors of cylinders {suspect} and {other}.",
)
OPEN = phrase("change_over.open", "it does not tell whether anything moved. Take the same test once more.")
WANTED = template(
    "change_over.wanted",
    "The {part}s of cylinders {suspect} and {other} are changed over: take {tests:or} again, set up as before. What "
    "moved is then measured.",
)
NOTHING_BEFORE = template(
    "change_over.nothing_before",
    "The {part}s of cylinders {suspect} and {other} were changed over before any test showed a difference between "
    "them: what moves cannot be told.",
)


class Went(StrEnum):
    """Where the trouble is after the change-over."""

    MOVED = "moved"
    STAYED = "stayed"
    GONE = "gone"
    OPEN = "open"


@dataclass(frozen=True, slots=True, kw_only=True)
class Looked:
    """What looking again after one change-over says.

    Parameters
    ----------
    phase : Phase
    suspect, other : int
        The cylinder that was off before, and the one its part went to.
    went : Went
    chance : float
        Of that outcome.
    tests : tuple of str
        That were compared.
    words : Message
    missing : tuple of str
        Tests any of which, taken again, would show what moved; empty once it is known.
    """

    phase: Phase
    suspect: int
    other: int
    went: Went
    chance: float
    tests: tuple[str, ...]
    words: Message
    missing: tuple[str, ...] = ()


def looked_again(phase: Phase, before: Sequence[Measured], pairs: Sequence[Pair]) -> Looked | None:
    """Judge one change-over.

    Parameters
    ----------
    phase : Phase
    before : sequence of Measured
        Usable, of the state it was begun in.
    pairs : sequence of Pair
        Tests taken in both states.

    Returns
    -------
    Looked or None
        None for a phase that is no change-over of two cylinders.
    """
    if phase.part not in SWAPPED_PARTS or len(phase.cylinders) != 2:
        return None
    one, other = phase.cylinders
    telling = [p for p in pairs if p.comparable and _tells(p, one, other)]
    suspect, neighbour = _suspect_first(one, other, telling)
    tests = tuple(p.test for p in telling)
    if not telling:
        left = _to_take_again(before, one, other)
        words = _what_to_take(phase.part, left, one, other)
        return Looked(
            phase=phase, suspect=one, other=other, went=Went.OPEN, chance=0.0, tests=(), words=words, missing=left
        )
    chances = _chances(telling, suspect, neighbour)
    went = max(chances, key=lambda w: chances[w])
    chance = chances[went]
    went = went if chance >= CERTAIN else Went.OPEN
    words = _words(phase.part, suspect, neighbour, went, chance, tests)
    return Looked(
        phase=phase,
        suspect=suspect,
        other=neighbour,
        went=went,
        chance=chance,
        tests=tests,
        words=words,
        missing=tests if went is Went.OPEN else (),
    )


def as_evidence(looked: Looked) -> Measured | None:
    """The outcome in the form the reasoning weighs; None where it tells nothing of the part."""
    if looked.went not in (Went.MOVED, Went.STAYED):
        return None
    moved = looked.went is Went.MOVED
    kind = f"{swap.TEST}:{looked.phase.part}"
    source = f"phase:{looked.phase.number}"
    finding = Finding(
        test=swap.TEST,
        cylinder=looked.suspect,
        quantity=f"{looked.phase.part} changed over",
        value=None,
        unit="1",
        spread=None,
        events=len(looked.tests),
        state=State.ABNORMAL if moved else State.NORMAL,
        statement=looked.words,
        word=swap.WORDS[moved],
        origin=Origin(code_version=__version__, parameters=(("phase", float(looked.phase.number)),)),
    )
    return Measured(
        test=swap.TEST,
        findings=(finding,),
        categorical=(
            CategoricalEvidence(kind=kind, outcome=looked.went.value, cylinders=(looked.suspect,), source=source),
        ),
        facts={"group": f"{looked.phase.part} changed over"},
    )


def _tells(pair: Pair, one: int, other: int) -> bool:
    """Whether one of the two cylinders stood out before, and both were looked at again."""
    a, b = pair.shares_before.get(one), pair.shares_before.get(other)
    if a is None or b is None or one not in pair.shares_after or other not in pair.shares_after:
        return False
    return a.ill != b.ill and (_by_flags(pair, one, other) or _apart(a, b))


def _apart(a: Share, b: Share) -> bool:
    return abs(a.share - b.share) > max(APART_SHARE, APART_SIGMAS * math.hypot(a.sigma, b.sigma))


def _by_flags(pair: Pair, one: int, other: int) -> bool:
    """Whether who stands out is told by the findings: there are no shares, or they are near and not all at sea."""
    a, b = pair.shares_before[one], pair.shares_before[other]
    shares = (a, b, pair.shares_after[one], pair.shares_after[other])
    if any(math.isnan(s.share) for s in shares):
        return True
    return not _apart(a, b) and max(s.sigma for s in shares) <= SIGMA_AT_SEA


def _suspect_first(one: int, other: int, telling: Sequence[Pair]) -> tuple[int, int]:
    against = sum(p.shares_before[other].ill for p in telling)
    return (other, one) if against > len(telling) / 2 else (one, other)


def _chances(telling: Sequence[Pair], suspect: int, other: int) -> dict[Went, float]:
    logs = {Went.MOVED: 0.0, Went.STAYED: 0.0, Went.GONE: math.log(GONE_PRIOR)}
    for pair in telling:
        for went, log in _logs(pair, suspect, other).items():
            logs[went] += log
    top = max(logs.values())
    weights = {went: math.exp(log - top) for went, log in logs.items()}
    total = sum(weights.values())
    return {went: weight / total for went, weight in weights.items()}


def _logs(pair: Pair, suspect: int, other: int) -> dict[Went, float]:
    """How likely what is seen now is under each outcome, from the difference between the two cylinders."""
    a0, b0 = pair.shares_before[suspect], pair.shares_before[other]
    a1, b1 = pair.shares_after[suspect], pair.shares_after[other]
    if _by_flags(pair, suspect, other):
        seen = (a1.ill, b1.ill)
        expected = {Went.MOVED: (False, True), Went.STAYED: (True, False), Went.GONE: (False, False)}
        return {
            went: sum(math.log(1 - STATE_WRONG if s == e else STATE_WRONG) for s, e in zip(seen, told, strict=True))
            for went, told in expected.items()
        }
    before, after = a0.share - b0.share, a1.share - b1.share
    sigma = math.sqrt(a0.sigma**2 + b0.sigma**2 + a1.sigma**2 + b1.sigma**2 + (REPEATS * before) ** 2)
    middles = {Went.MOVED: -before, Went.STAYED: before, Went.GONE: 0.0}
    flat = STRAY / (4.0 * abs(before))
    return {
        went: math.log(
            (1 - STRAY) * math.exp(-0.5 * ((after - middle) / sigma) ** 2) / (sigma * math.sqrt(2 * math.pi)) + flat
        )
        for went, middle in middles.items()
    }


def _to_take_again(before: Sequence[Measured], one: int, other: int) -> tuple[str, ...]:
    """Tests that told the two cylinders apart before."""
    names = {f.test for m in before for f in m.findings if f.cylinder in (one, other) and f.state is not State.NORMAL}
    return tuple(t for t in SPECS if t in names and t != swap.TEST)


def _what_to_take(part: str, tests: Sequence[str], one: int, other: int) -> Message:
    name = swap.PART_WORDS[part]
    if not tests:
        return NOTHING_BEFORE(part=name, suspect=one, other=other)
    return WANTED(part=name, suspect=one, other=other, tests=titles(tests))


def _words(part: str, suspect: int, other: int, went: Went, chance: float, tests: Sequence[str]) -> Message:
    name, percent = swap.PART_WORDS[part], 100 * chance
    looked = LOOKED(part=name, suspect=suspect, other=other, tests=titles(tests))
    said = {
        Went.MOVED: lambda: MOVED(other=other, suspect=suspect, part=name, percent=percent),
        Went.STAYED: lambda: STAYED(suspect=suspect, part=name, percent=percent),
        Went.GONE: lambda: GONE(suspect=suspect, other=other, percent=percent),
        Went.OPEN: lambda: OPEN,
    }[went]()
    return looked + said if said != NOTHING else looked
