"""Where people of the trade differ, and the words for each side; a case chooses among them."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from enum import StrEnum

from fairwitness.core.messages.catalogue import scope
from fairwitness.core.messages.message import Message
from fairwitness.core.reason.planning.approach import ByHand, Proof, Repair, ScanData, School

_say = scope("setting")


@dataclass(frozen=True, slots=True)
class Setting:
    """One question on which the schools differ; ``key`` is a field of ``Approach``."""

    key: str
    words: Message
    sides: Mapping[StrEnum, Message]


SETTINGS: tuple[Setting, ...] = (
    Setting(
        "order",
        _say("order", "Which tests come first"),
        {
            School.MECHANICAL_FIRST: _say("order.mechanical_first", "Mechanical first"),
            School.CODES_FIRST: _say("order.codes_first", "Electrical first, from the codes"),
            School.QUICKEST_FIRST: _say("order.quickest_first", "Quickest test first"),
        },
    ),
    Setting(
        "scan_data",
        _say("scan_data", "What the control unit reports"),
        {
            ScanData.ENOUGH: _say("scan_data.enough_to_start", "Enough to start with"),
            ScanData.WEIGHED: _say("scan_data.weighed", "Weighed, a little less than a signal"),
            ScanData.RAW_ONLY: _say("scan_data.raw_only", "Raw signals first, hardly believed"),
        },
    ),
    Setting(
        "by_hand",
        _say("by_hand", "Readings without a record"),
        {
            ByHand.TRUSTED: _say("by_hand.trusted", "Trusted"),
            ByHand.WEIGHED: _say("by_hand.weighed", "Weighed less than a record"),
        },
    ),
    Setting(
        "proof",
        _say("proof", "How a part is proven"),
        {
            Proof.EITHER: _say("proof.either", "Either way"),
            Proof.SWAP: _say("proof.swap_to_prove", "Change it over"),
            Proof.IN_PLACE: _say("proof.measure_in_place", "Measure in place, disturb nothing"),
        },
    ),
    Setting(
        "repair",
        _say("repair", "What the owner is offered first"),
        {
            Repair.PART: _say("repair.part_only", "The failed part"),
            Repair.SET: _say("repair.the_set", "The set"),
        },
    ),
)
