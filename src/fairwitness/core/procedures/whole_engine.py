"""What tests that look at the whole engine share: a few things to look at, each with a few ways to come out.

A record made here has one offer and one choice of its form for every item; what was not looked at makes no observation.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, field

from fairwitness.core.messages.catalogue import phrase
from fairwitness.core.messages.message import NOTHING, Message
from fairwitness.core.model.acts import Act
from fairwitness.core.model.case import Observation
from fairwitness.core.model.engine import Engine
from fairwitness.core.model.measurement import Measured, State
from fairwitness.core.model.tools import Tool, Turning
from fairwitness.core.procedures.engines import Fits
from fairwitness.core.procedures.form import Choice, Data, Filled, Form, Option, Stage
from fairwitness.core.procedures.reading_by_hand import Came, reading, unread
from fairwitness.core.procedures.spec import Offer, TestSpec, Trust, always

NOT_LOOKED = Option("", phrase("whole_engine.not_looked", "not looked at"))
UNKNOWN = phrase("whole_engine.unknown", "What was looked at, or what was seen, is not one of the known words.")


@dataclass(frozen=True, slots=True)
class Way:
    """One way an item may come out: its word, the sentence it makes, and whether it is as it should be."""

    word: Message
    sentence: Message
    state: State = State.ABNORMAL


def way_of(
    say: Callable[[str, str], Message],
    item: str,
    outcome: str,
    word: str,
    sentence: str,
    state: State = State.ABNORMAL,
) -> Way:
    """A way an item may come out, its words declared under the item's name."""
    return Way(say(f"{item}.{outcome}.word", word), say(f"{item}.{outcome}", sentence), state)


@dataclass(frozen=True, slots=True, kw_only=True)
class Item:
    """One thing that is looked at.

    Parameters
    ----------
    title, asked, splits, tools : Message
        As an offer, as a question of the form, what it tells, and with what.
    ways : mapping of outcome to Way
        The sound one first.
    minutes : float
        Common practice, alone.
    needs, turning, acts, fits
        As of an offer.
    """

    title: Message
    asked: Message
    splits: Message
    tools: Message
    ways: Mapping[str, Way]
    minutes: float
    needs: tuple[Tool, ...] = ()
    turning: Turning = Turning.STILL
    acts: frozenset[Act] = frozenset()
    cautions: tuple[Message, ...] = ()
    mechanical: bool = False
    fits: Fits | None = None


@dataclass(frozen=True, slots=True, kw_only=True)
class Looks:
    """A test made of such items."""

    test: str
    where_it_starts: bool = True
    items: Mapping[str, Item] = field(default_factory=dict)

    def spec(
        self, *, title: Message, owner: Message, place: int, hint: Message, kept: Message, stage: Stage = Stage.LOOK
    ) -> TestSpec:
        """The record of the test."""
        return TestSpec(
            id=self.test,
            title=title,
            owner=owner,
            place=place,
            trust=Trust.BY_HAND,
            unit="1",
            kinds=tuple(f"{self.test}:{name}" for name in self.items),
            sound_in_one=True,
            items_are_sources=True,
            offers=tuple(self._offer(name, item) for name, item in self.items.items()),
            form=Form(
                stage=stage,
                title=title,
                hint=hint,
                kept=kept,
                choices=tuple(
                    Choice(
                        key=name,
                        words=item.asked,
                        options=(NOT_LOOKED, *(Option(outcome, way.word) for outcome, way in item.ways.items())),
                    )
                    for name, item in self.items.items()
                ),
                least=0,
                readings=self._readings,
            ),
        )

    def _offer(self, name: str, item: Item) -> Offer:
        return Offer(
            id=f"{self.test}:{name}",
            title=item.title,
            tools=item.tools,
            splits=item.splits,
            set_up=0.4 * item.minutes,
            work=0.6 * item.minutes,
            needs=item.needs,
            kinds=(f"{self.test}:{name}",),
            turning=item.turning,
            acts=item.acts,
            cautions=item.cautions,
            mechanical=item.mechanical,
            fits=item.fits or always,
            asks={"item": name},
            where_it_starts=self.where_it_starts,
        )

    def _readings(self, filled: Filled) -> Sequence[Data]:
        seen = {name: filled.choices.get(name, "") for name in self.items}
        return [{"item": name, "seen": outcome} for name, outcome in seen.items() if outcome]

    def measure(self, observation: Observation, index: int, engine: Engine) -> Measured:
        """Read one look.

        Parameters
        ----------
        observation : Observation
            ``item`` and ``seen``, of ``items``.
        index : int
            Of the observation in its case.
        engine : Engine

        Returns
        -------
        Measured
            Unusable where the item or what was seen is not one of the known words.
        """
        name, seen = str(observation.data.get("item", "")), str(observation.data.get("seen", ""))
        item = self.items.get(name)
        way = item.ways.get(seen) if item else None
        if item is None or way is None:
            return unread(self.test, index, engine, UNKNOWN)
        return reading(
            self.test,
            index,
            Came(
                kind=f"{self.test}:{name}",
                outcome=seen,
                speaks_of=tuple(engine.firing_order),
                state=way.state,
                statement=way.sentence,
                word=way.word,
                group=f"{self.test}, {'sound' if way.state is State.NORMAL else name}",
                group_words=NOTHING if way.state is State.NORMAL else item.title,
            ),
        )
