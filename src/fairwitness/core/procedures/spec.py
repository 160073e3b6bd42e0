"""One record per test of the trade: all that board, plan, cards, bench, forms, simulator, study and docs need of it.

A test lives in a module of ``procedures`` that holds its ``SPEC`` and its ``measure``, or in a package with ``spec``
and ``measure`` where a capture is read. Whoever needs tests asks ``specs`` (records only) or ``registry``.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass, field
from enum import StrEnum
from typing import Any

import numpy as np
from numpy.typing import NDArray

from fairwitness.core.messages.message import NOTHING, Message
from fairwitness.core.model.acts import Act
from fairwitness.core.model.engine import Engine
from fairwitness.core.model.tools import Tool, Turning
from fairwitness.core.procedures.form import Form
from fairwitness.core.procedures.set_up_card import SetUpCard

FloatArray = NDArray[np.float64]


class Trust(StrEnum):
    """How what a test says came to be known; a case may take some kinds at less than full weight."""

    SIGNAL = "signal"
    """Recorded, and can be looked at again."""
    METERED = "metered"
    """A number read off an instrument by hand."""
    REPORTED = "reported"
    """Said by the control unit."""
    BY_HAND = "by_hand"
    """Seen or heard, without a record."""


def always(_engine: Engine) -> bool:
    """A test that can be done on any engine."""
    return True


def nothing_usual(_engine: Engine) -> Mapping[str, Message]:
    """A test whose sound readings have no usual range."""
    return {}


MISREAD = 0.12
"""[M] how often the outcome of a usual test is read as another one."""
GOOD_CAPTURE_SIGMA = 0.05
"""[M] how far a share that a good capture gives may be off."""


def all_alike(sigma: float) -> Callable[[FloatArray], FloatArray]:
    """Every share as sure as the other."""
    return lambda shares: np.full(shares.size, sigma)


as_a_good_capture = all_alike(GOOD_CAPTURE_SIGMA)


@dataclass(frozen=True, slots=True, kw_only=True)
class Offer:
    """One way to take a test in a bay, as the plan offers it.

    Parameters
    ----------
    id : str
        The test's own, or one of its forms (``resistance:coil_primary``).
    title, tools, splits : Message
        What it is called, what it is done with, what it tells apart.
    needs : tuple of Tool
        All of them.
    set_up, work : float, min
        Clipping on, and taking it on one cylinder or on all at once [T].
    each : float, min
        More for every further cylinder of a test done on one.
    columns : tuple of str
        Of the signature table; the first is what it is known by.
    kinds : tuple of str
        Rows of the table of outcomes it reads.
    turning : Turning
    per_cylinder : bool
    mechanical : bool
    disturbs : bool
        Unplugs or takes apart, which may hide an intermittent fault.
    swaps : bool
        Proves by changing a part over.
    sweeps : bool
        Compares readings of single cylinders: worth taking of all while nobody is suspected.
    cautions : tuple of Message
    fits : callable
        Whether it can be done on an engine.
    asks : mapping
        Fields that an observation must hold to be of this form.
    lead : mapping
        How the leads differ from the test's card (``at_unit``, ``unplugged``).
    acts : frozenset of Act
        What it does that may hurt; ``safety`` says what follows.
    works_cranking : bool
        Usually taken running, but cranking shows it too where the engine does not start.
    where_it_starts : bool
        Worth taking while the engine runs too; else only where it does not start.
    misread : float
        How often its outcome is read as another one, when it is planned.
    sigmas : callable
        From shares of its column to how sure each is, so that an imagined reading weighs as a real one.
    """

    id: str
    title: Message
    tools: Message
    splits: Message
    set_up: float
    work: float
    each: float = 0.0
    needs: tuple[Tool, ...] = ()
    columns: tuple[str, ...] = ()
    kinds: tuple[str, ...] = ()
    turning: Turning = Turning.RUNNING
    per_cylinder: bool = False
    mechanical: bool = False
    disturbs: bool = False
    swaps: bool = False
    sweeps: bool = False
    cautions: tuple[Message, ...] = ()
    fits: Callable[[Engine], bool] = always
    asks: Mapping[str, str] = field(default_factory=dict, hash=False, compare=False)
    lead: Mapping[str, bool] = field(default_factory=dict, hash=False, compare=False)
    acts: frozenset[Act] = frozenset()
    works_cranking: bool = False
    where_it_starts: bool = True
    misread: float = MISREAD
    sigmas: Callable[[FloatArray], FloatArray] = field(default=as_a_good_capture, hash=False, compare=False)

    @property
    def kind(self) -> str:
        """Row of the table of outcomes that is all a test by hand reads; empty for others."""
        return self.id if self.kinds == (self.id,) else ""

    @property
    def minutes(self) -> float:
        """With nothing connected, on one cylinder or on all at once."""
        return self.set_up + self.work


def one_part(id: str, title: Message, minutes: float, **changes: Any) -> Offer:
    """A test of one part of one cylinder, engine at rest, that reads one row of the table of outcomes.

    Parameters
    ----------
    id : str
        Also the row's name.
    title : Message
    minutes : float
        For the first cylinder; a further one takes six tenths of it [M].
    **changes
        Further fields of ``Offer``.

    Returns
    -------
    Offer
    """
    usual: dict[str, Any] = {
        "id": id,
        "title": title,
        "set_up": 0.4 * minutes,
        "work": 0.6 * minutes,
        "each": 0.6 * minutes,
        "kinds": (id,),
        "turning": Turning.STILL,
        "per_cylinder": True,
        "disturbs": True,
    }
    return Offer(**{**usual, **changes})


@dataclass(frozen=True, slots=True, kw_only=True)
class TestSpec:
    """All that is known of one test beside how it is measured.

    Parameters
    ----------
    id : str
        Key of its observations or captures in files.
    title : Message
        On the board.
    owner : Message
        What is looked at, in plain words after "We looked at".
    place : int
        On the board, in the plan and among the forms: sealing first, then work, ignition, fuel, pressure.
    trust : Trust
    unit : str
        Of its findings' values.
    offers : tuple of Offer
        Ways to take it, in the order of the plan.
    columns : tuple of str
        Of the signature table that it may emit.
    kinds : tuple of str
        Rows of the table of outcomes that it may emit.
    possible : callable
        Whether an engine has what the test looks at at all; offers may be narrower.
    high_is_sound : bool
        More than the peers is no fault, and abnormal means that which cylinder is open.
    says_which : Message
        Who disagrees, where two tests of one quantity name different cylinders.
    plural : Message
        "The sparks": even cylinders are told in one sentence. Nothing where each speaks for itself.
    shares_of : Message or None
        What its shares are shares of, where it gives shares.
    sound_in_one : bool
        Readings that found nothing are told in one sentence.
    items_are_sources : bool
        What it looks at are different things, each a source of its own.
    quiet_remarks : tuple of str
        Quantities of remarks that another sentence holds already.
    compared_later : bool
        Parts taken cylinder by cylinder are judged beside each other.
    card : SetUpCard or None
        How its capture is set up.
    form : Form or None
        How its observations are written down.
    usual : callable
        What sound parts of an engine read, by test and item, for the form.
    """

    __test__ = False

    id: str
    title: Message
    owner: Message
    place: int
    trust: Trust
    unit: str
    offers: tuple[Offer, ...] = ()
    columns: tuple[str, ...] = ()
    kinds: tuple[str, ...] = ()
    possible: Callable[[Engine], bool] = always
    high_is_sound: bool = False
    says_which: Message = NOTHING
    plural: Message = NOTHING
    shares_of: Message | None = None
    sound_in_one: bool = False
    items_are_sources: bool = False
    quiet_remarks: tuple[str, ...] = ()
    compared_later: bool = False
    card: SetUpCard | None = None
    form: Form | None = None
    usual: Callable[[Engine], Mapping[str, Message]] = nothing_usual

    def offered(self, id: str) -> Offer:
        """The offer of an id.

        Raises
        ------
        KeyError
            No such offer.
        """
        return {offer.id: offer for offer in self.offers}[id]
