"""How a case is worked: where people of the trade differ, what the bay owns, and what state it is in now."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass, field
from enum import StrEnum

from fairwitness.core.messages.message import NOTHING, Message
from fairwitness.core.model.acts import Act
from fairwitness.core.model.circumstances import UNKNOWN, Circumstances
from fairwitness.core.model.measurement import Measured
from fairwitness.core.model.tools import Tool
from fairwitness.core.procedures.spec import Trust
from fairwitness.core.procedures.specs import SPECS
from fairwitness.core.reason.inference.misread import REPORTED


class School(StrEnum):
    """What to try first. It re-ranks, it never hides."""

    MECHANICAL_FIRST = "mechanical_first"
    CODES_FIRST = "codes_first"
    QUICKEST_FIRST = "quickest_first"


class ScanData(StrEnum):
    """How far values are believed that a control unit reports."""

    ENOUGH = "enough_to_start"
    WEIGHED = "weighed"
    RAW_ONLY = "raw_only"


class ByHand(StrEnum):
    """How far readings without a record are believed: lamp, spark, smoke, eye, a part changed over."""

    TRUSTED = "trusted"
    WEIGHED = "weighed"


class Proof(StrEnum):
    """How a part is proven."""

    EITHER = "either"
    SWAP = "swap_to_prove"
    IN_PLACE = "measure_in_place"


class Repair(StrEnum):
    """What is offered to the owner first."""

    PART = "part_only"
    SET = "the_set"


SCAN_TRUST = {ScanData.ENOUGH: 1.0, ScanData.WEIGHED: 0.8, ScanData.RAW_ONLY: 0.3}
HAND_TRUST = {ByHand.TRUSTED: 1.0, ByHand.WEIGHED: 0.6}
"""[M] weight of such evidence beside a recorded signal's 1."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Approach:
    """Settings of one case.

    Parameters
    ----------
    order : School
    scan_data : ScanData
    by_hand : ByHand
    proof : Proof
    repair : Repair
    tools : frozenset of Tool
        What the bay owns.
    minutes : mapping of test id to float
        Own minutes of this engine where access differs from the usual.
    """

    order: School = School.MECHANICAL_FIRST
    scan_data: ScanData = ScanData.WEIGHED
    by_hand: ByHand = ByHand.TRUSTED
    proof: Proof = Proof.EITHER
    repair: Repair = Repair.PART
    tools: frozenset[Tool] = frozenset(Tool)
    minutes: Mapping[str, float] = field(default_factory=dict)

    def trust(self, measured: Iterable[Measured]) -> dict[str, float]:
        """Weight of each source whose kind this case does not take at full weight."""
        weights = {}
        for m in measured:
            trust = SPECS[m.test].trust if m.test in SPECS else Trust.SIGNAL
            weight = SCAN_TRUST[self.scan_data] if trust is Trust.REPORTED else 1.0
            weight *= HAND_TRUST[self.by_hand] if trust is Trust.BY_HAND else 1.0
            if weight != 1.0:
                weights.update(dict.fromkeys(m.sources, weight))
        return weights

    def misread(self, measured: Iterable[Measured]) -> dict[str, float]:
        """How often sources are misread that are so more often than others."""
        reported = [m for m in measured if m.test in SPECS and SPECS[m.test].trust is Trust.REPORTED]
        return {source: REPORTED for m in reported for source in m.sources}


USUAL = Approach()


@dataclass(frozen=True, slots=True, kw_only=True)
class Bay:
    """The state of vehicle and bay now.

    Parameters
    ----------
    fuel_disabled : bool
        Before a running test fuel must be re-enabled, before a cranking test it is disabled already.
    connected : frozenset of Tool
        Clipped on since the last test: a second test with them is cheap.
    held : Message
        Why nothing may turn, start or feed the engine now; empty where it may.
    runs : bool
        The engine runs at all, however badly; tests that need it running are offered then only.
    turns : bool
        The starter turns the engine.
    valves_may_have_met : bool
        A cylinder shows no compression: cranking is not without risk.
    complaint_when : Circumstances
        When the complaint comes: what is taken next is taken then.
    uncaught : bool
        The complaint comes and goes, and was not there yet while something was taken.
    happening : bool
        It does it now: what disturbs nothing comes first, before it goes away again.
    not_agreed : frozenset of Act
        What the owner was asked about and did not agree to: no test that does it is offered.
    """

    fuel_disabled: bool = False
    connected: frozenset[Tool] = frozenset()
    held: Message = NOTHING
    runs: bool = True
    turns: bool = True
    valves_may_have_met: bool = False
    complaint_when: Circumstances = UNKNOWN
    uncaught: bool = False
    happening: bool = False
    not_agreed: frozenset[Act] = frozenset()


READY = Bay()
