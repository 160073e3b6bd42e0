"""What each test without a scale says of each fault: how often which outcome, in per cent [M].

One block per test. Its first row is a cylinder without the fault; the rows below are faults that change the outcome at
the cylinder where they sit. A fault that is not named leaves the outcome as on a sound cylinder. ``@`` opens a block,
and further kinds on that line share it. In brackets stands in which of its ways a fault shows itself, as
``fault_spec.Mode`` names them; ``(intermittent)`` alone is any fault that comes and goes,
``(common)`` one that all cylinders share: a dead coil among four leaves the engine its spark, a distributor's does not.
"""

from __future__ import annotations

from collections.abc import Mapping
from functools import cache

from fairwitness.core.messages.words import outcome_word
from fairwitness.core.reason.knowledge.fault_spec import FaultMode, Mode
from fairwitness.core.reason.knowledge.outcome_table import TABLE

FLOOR = 0.02
"""[M] share kept for the unforeseen, spread evenly over what a test can say: no outcome multiplies by zero."""


def _parse(table: str) -> dict[str, dict[str, dict[str, float]]]:
    blocks: dict[str, dict[str, dict[str, float]]] = {}
    rows: dict[str, dict[str, float]] = {}
    for line in table.splitlines():
        if line.startswith("@"):
            rows = rows if not rows else {}  # a second line of kinds before any row shares the block
            blocks.update(dict.fromkeys(line[1:].split(), rows))
        elif line.strip():
            name, _, cells = line.partition("|")
            shares = {word: float(share) for word, share in (cell.split() for cell in cells.split(","))}
            total = sum(shares.values())
            rows[name.strip()] = {word: share / total for word, share in shares.items()}
    return blocks


OUTCOMES: Mapping[str, Mapping[str, Mapping[str, float]]] = _parse(TABLE)
SOUND = "sound"
ANY_INTERMITTENT = FaultMode("", Mode.INTERMITTENT).row.strip()
"""Row of any fault that comes and goes, in the blocks that count it."""


def of_all(fault: str) -> str:
    """Row of a fault that all cylinders share, as the one coil of a distributor: what asks the whole engine sees it."""
    return f"{fault} (common)"


def faults_of(kind: str) -> Mapping[str, Mapping[str, float]]:
    """Rows of one test: the faults that change its outcome, and ``sound``; empty for an unknown test."""
    return OUTCOMES.get(kind, {})


@cache
def outcomes_of(kind: str) -> tuple[str, ...]:
    """Every way a test can come out, the sound one first; empty for an unknown test."""
    rows = OUTCOMES.get(kind, {})
    named = {outcome: None for row in (rows.get(SOUND, {}), *rows.values()) for outcome in row}
    return tuple(named)


def chances(kind: str, fault: str) -> Mapping[str, float]:
    """Chance of each outcome of a test at a cylinder with a fault.

    Parameters
    ----------
    kind : str
        A row of the table.
    fault : str
        Any fault id, or ``sound``.

    Returns
    -------
    mapping of outcome to float
    """
    rows = OUTCOMES[kind]
    return rows.get(fault, rows[SOUND])


def chance(kind: str, outcome: str, fault: str) -> float:
    """Chance of one outcome, never zero. An outcome or a kind that is not known says nothing: always the same."""
    if kind not in OUTCOMES:
        return 1.0
    return (1 - FLOOR) * chances(kind, fault).get(outcome, 0.0) + FLOOR / len(outcomes_of(kind))


for _kind in OUTCOMES:  # so that the catalogue of messages holds a word for every outcome a stored case may name
    for _outcome in outcomes_of(_kind):
        outcome_word(_outcome)
