"""Parts that were to be fitted: measured beside their peers, found bad or broken, and claimed from the supplier."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime

from fairwitness.core.errors import ObservationError
from fairwitness.core.messages.rendering import render
from fairwitness.core.model.fitted_part import CONDITION_WORDS, PartCondition, beside_peers
from fairwitness.core.model.phase import PARTS, PartState
from fairwitness.core.model.phase_words import PART_WORDS
from fairwitness.formats.engine_block import read_engine
from fairwitness.server.accounts.models import User
from fairwitness.server.accounts.permissions import require
from fairwitness.server.cases.changing import changing, note, refuse_closed, touch
from fairwitness.server.cases.models import StoredCase, StoredPart

PEERS_MOST = 16
CLAIMED = (PartCondition.STANDS_OFF, PartCondition.BROKEN_FITTING)


@dataclass(frozen=True, slots=True, kw_only=True)
class PartGiven:
    """A part as somebody writes it down.

    Parameters
    ----------
    part : str
        One of ``PARTS``.
    cylinder : int or None
        Where it was to go.
    fitted : PartState
    value : float or None
        Read before fitting.
    peers : sequence of float
        The same of those that stay in.
    unit, quantity : str
    broken : bool
        It broke while it was fitted.
    supplier, words : str
    """

    part: str
    cylinder: int | None
    fitted: PartState
    value: float | None = None
    peers: Sequence[float] = ()
    unit: str = "ohm"
    quantity: str = ""
    broken: bool = False
    supplier: str = ""
    words: str = ""


def record_part(case: StoredCase, given: PartGiven, *, by: User, at: datetime) -> StoredPart:
    """Keep a part with its reading; whether it is like its peers is worked out here.

    Raises
    ------
    PermissionDenied
    ObservationError
        No such part or cylinder, too few peers, or the case is closed.
    """
    require(by, "add_evidence")
    if given.part not in PARTS:
        raise ObservationError("Say which part.", where="part")
    if given.cylinder is not None and given.cylinder not in read_engine(case.engine).firing_order:
        raise ObservationError("The engine has no such cylinder.", where="cylinder")
    condition = _condition(given)
    with changing(case, conclude=False) as held:
        refuse_closed(held)
        kept = StoredPart.objects.create(
            case=held,
            part=given.part,
            cylinder=given.cylinder,
            fitted=given.fitted.value,
            condition=condition.value,
            quantity=given.quantity.strip()[:100],
            unit=given.unit.strip()[:16],
            value=given.value,
            peers=list(given.peers)[:PEERS_MOST],
            supplier=given.supplier.strip()[:200],
            words=given.words.strip()[:300],
            by=by,
            at=at,
        )
        touch(held, at)
        where = f" for cylinder {given.cylinder}" if given.cylinder else ""
        said = f"{render(PART_WORDS[given.part])}{where}: {render(CONDITION_WORDS[condition])}"
        note(held, "part looked at", said, by=by, at=at)
    return kept


def _condition(given: PartGiven) -> PartCondition:
    if given.broken:
        return PartCondition.BROKEN_FITTING
    if given.value is None:
        return PartCondition.UNMEASURED
    return PartCondition.FITS if beside_peers(given.value, given.peers).fits else PartCondition.STANDS_OFF
