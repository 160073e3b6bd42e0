"""A complaint that comes and goes: under which conditions it is asked for, and what is left alone until it was caught.

From the state of the bay; to the plan. What is unplugged, cleaned or changed over may take the fault away without
anybody having seen it.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace

from fairwitness.core.messages.message import NOTHING, Message
from fairwitness.core.model.circumstances import Circumstances
from fairwitness.core.model.tools import Turning
from fairwitness.core.procedures.spec import Offer
from fairwitness.core.reason.planning.approach import Bay
from fairwitness.core.reason.planning.plan_words import KEY_ON, TAKEN_NOW, TAKEN_WHEN, UNTIL_CAUGHT, WAIT_FOR_IT

DISTURBS = 0.95
"""[M] of two tests that tell as much the one that takes nothing apart comes first."""
DISTURBS_UNCAUGHT = 0.4
"""[T] the same while nobody has seen the complaint yet."""
DISTURBS_NOW = 0.02
"""[T] while it is there nothing is unplugged, however much it would tell."""
WAITING_NAMED = 6


def favour(test: Offer, bay: Bay) -> float:
    """Factor on the rank of a test for what it disturbs."""
    if bay.happening and waits(test, bay):
        return DISTURBS_NOW
    if not test.disturbs:
        return 1.0
    return DISTURBS_UNCAUGHT if bay.uncaught else DISTURBS


def waits(test: Offer, bay: Bay) -> bool:
    """Whether a test waits until it was caught: it unplugs something, or stops an engine that runs to crank it."""
    return test.disturbs or (bay.happening and bay.runs and test.turning is Turning.CRANKING)


def asked_under(test: Offer, when: Circumstances) -> Circumstances:
    """What of the complaint's conditions a test can be taken under: a part at rest knows no load, a cranked engine no
    minutes since the start."""
    if test.turning is Turning.RUNNING:
        return when
    cranked = test.turning is Turning.CRANKING
    return replace(when, load=None, minutes=None, after_standing=when.after_standing if cranked else None)


def said_under(test: Offer, bay: Bay) -> Message:
    """When a test is to be taken, in words; nothing where the complaint is always there."""
    if bay.happening:
        return NOTHING if waits(test, bay) else TAKEN_NOW
    when = asked_under(test, bay.complaint_when)
    return TAKEN_WHEN(conditions=when.words) if when and bay.uncaught else NOTHING


def leave_alone(offered: Sequence[Offer], bay: Bay) -> tuple[Message, ...]:
    """What must not be touched until the complaint was caught; nothing where it is always there or was caught.

    Parameters
    ----------
    offered : sequence of Offer
        In the order of the plan.
    bay : Bay

    Returns
    -------
    tuple of Message
    """
    if not (bay.uncaught or bay.happening):
        return ()
    waiting = [test.title for test in offered if waits(test, bay)][:WAITING_NAMED]
    said = [*UNTIL_CAUGHT, *([KEY_ON] if bay.happening else [])]
    return (*said, WAIT_FOR_IT(titles=tuple(waiting))) if waiting else tuple(said)
