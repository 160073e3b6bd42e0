"""A fit from a pool of vehicles, and the file it is written to.

How often a fault shows which symbol is used. How far it goes then is told and not used: severities are drawn, and a fit
would give back what was drawn and call it knowledge. So are outcomes of tests without a scale: many speak only where
something stands out (a count of misfires), so that those who speak are no fair sample.
"""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Mapping, Sequence

from fairwitness import __version__
from fairwitness.core.reason.inference.likelihood import BESIDE
from fairwitness.core.reason.knowledge.densities import FIRST_GUESSES, TOLD, read
from fairwitness.core.reason.knowledge.first_guesses import Form
from fairwitness.core.reason.knowledge.outcomes import SOUND
from fairwitness.study.fitting.dependence import Choice, best_powers
from fairwitness.study.fitting.estimate import ColumnFit, cell_of, fit_columns, fit_outcomes
from fairwitness.study.fitting.labels import outcomes_seen, readings_of
from fairwitness.study.fitting.readings import KnownVehicle

EYES = (
    "visual",
    "swap",
    "first_look",
    "no_start",
    "engine_circuits",
    "key_cycle",
    "load_lamp",
    "spark_check",
    "runner_check",
    "voltage",
)
"""Tests whose simulated outcome is a rule and no physics: a fit would only give the rule back."""
BY_HAND = "by hand"
DEPENDENCE_OF = 500
"""Vehicles that the powers are chosen on; more change nothing and take long."""


def fitted(
    pool: Sequence[KnownVehicle], *, without: Iterable[tuple[str, str]] = (), command: str = "", by_hand: str = ""
) -> str:
    """Estimate from a pool and write down.

    Parameters
    ----------
    pool : sequence of KnownVehicle
    without : iterable of (question, answer)
        Vehicles of worlds with any of these answers are left out.
    command : str
        What makes the same again.
    by_hand : str
        Lines that overrule the estimate, each with its reason.

    Returns
    -------
    str
        As ``densities.read`` reads it.
    """
    barred = tuple(without)
    kept = [known for known in pool if not known.world.has(barred)]
    readings = list(readings_of(kept))
    columns = fit_columns(readings)
    outcomes = fit_outcomes(list(outcomes_seen(kept)), EYES)
    head = [
        f"# Made by: {command}",
        f"# Version {__version__}; {len(kept)} vehicles of as many worlds, {len(readings)} readings",
        f"# Left out: {', '.join(f'{q} {a}' for q, a in barred) or 'nothing'}",
        "# centre, width and weight of each form | readings; weight of each symbol | readings",
    ]
    body = list(_cells(columns))
    powers = _powers(kept, by_hand)
    told = [f"\n[{TOLD}]", *(line for line in (*_forms(columns), *_outcomes(outcomes)) if "|" in line)]
    return "\n".join([*head, *body, *_dependence(powers), *told, "", f"[{BY_HAND}]", by_hand.strip(), ""])


def _powers(kept: Sequence[KnownVehicle], by_hand: str) -> Choice:
    """Powers by vehicles whose readings had no part in the densities they are scored with."""
    known, scored = kept[::2], kept[1::2][:DEPENDENCE_OF]
    if not scored:
        return Choice(FIRST_GUESSES.temper, FIRST_GUESSES.views_count_as, float("nan"))
    cells = _cells(fit_columns(list(readings_of(known))))
    return best_powers(read("\n".join([*cells, f"[{BY_HAND}]", by_hand])), scored)


def _forms(columns: Mapping[str, ColumnFit]) -> Iterator[str]:
    yield "\n[forms]"
    for column, fit in columns.items():
        for symbol, forms in sorted(fit.forms.items()):
            if fit.counts.get(symbol, 0.0) >= 1:
                yield f"{column} {symbol} | {', '.join(map(_form, forms))} | {fit.counts[symbol]:.0f}"


def _form(form: Form) -> str:
    return f"{form.centre:.3f} {form.width:.3f} {form.weight:.3f}"


def _cells(columns: Mapping[str, ColumnFit]) -> Iterator[str]:
    yield "\n[cells]"
    for column, fit in columns.items():
        for row in sorted(fit.cells):
            if row not in (SOUND, BESIDE):
                weights = ", ".join(f"{symbol} {weight:.3f}" for symbol, weight in cell_of(fit, row))
                yield f"{row} {column} | {weights} | {fit.counts[row]:.0f}"


def _outcomes(tables: Mapping[tuple[str, str], tuple[int, Mapping[str, float]]]) -> Iterator[str]:
    yield "\n[outcomes]"
    for (test, row), (count, shares) in tables.items():
        told = ", ".join(f"{outcome} {share:.3f}" for outcome, share in sorted(shares.items(), key=lambda i: -i[1]))
        yield f"{test} {row} | {told} | {count}"


def _dependence(powers: Choice) -> Iterator[str]:
    yield "\n[dependence]"
    yield f"of captures | {powers.temper:.2f} | mean log score {powers.score:.3f}"
    yield f"of views | {powers.views_count_as:.2f} |"


def shipped_by_hand(text: str) -> str:
    """Lines by hand of a file that is about to be written again."""
    _, _, own = text.partition(f"[{BY_HAND}]")
    return own.strip()
