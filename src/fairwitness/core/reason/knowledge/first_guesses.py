"""How a share may turn out under each symbol of the signature table, before any world was simulated.

The fit starts here and stays near it where readings are few.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass


@dataclass(frozen=True, slots=True)
class Form:
    """One way a share (1 is as the peers) may turn out: a normal of this centre and width.

    Parameters
    ----------
    centre, width : float
        The reading's own uncertainty comes on top of the width.
    weight : float
        How often, beside the other ways of its symbol.
    """

    centre: float
    width: float
    weight: float = 1.0


FORMS: Mapping[str, tuple[Form, ...]] = {
    "=": (Form(1.0, 0.0),),
    "-": (Form(0.6, 0.2), Form(0.15, 0.2)),
    "--": (Form(0.15, 0.18),),
    "<": (Form(0.9, 0.06),),
    "0": (Form(0.03, 0.08),),
    "+": (Form(1.4, 0.3),),
    "++": (Form(2.0, 0.5),),
    "~": (Form(0.95, 0.3),),
    "+-": (Form(1.3, 0.2), Form(0.7, 0.2)),
    "beside": (Form(1.0, 0.0), Form(1.0, 0.16)),
}
"""[M] one or more equally likely forms; ``beside`` is a sound cylinder fired next to an ill one.

Widths cover a fault from barely there to complete.
"""

COLUMN_FORMS: Mapping[str, Mapping[str, tuple[Form, ...]]] = {
    "FV": {
        "+": (Form(1.5, 0.3), Form(1.2, 0.1)),
        "++": (Form(2.6, 0.8),),
        "-": (Form(0.72, 0.12), Form(0.35, 0.18)),
    },
    "SV": {
        "+": (Form(1.3, 0.18), Form(1.12, 0.07)),
        "++": (Form(2.6, 0.9), Form(1.7, 0.25)),
        "-": (Form(0.55, 0.2),),
        "~": (Form(0.9, 0.35),),
    },
    "SD": {
        "+": (Form(1.35, 0.25), Form(1.12, 0.07)),
        "-": (Form(0.72, 0.15),),
        "~": (Form(1.0, 0.3),),
    },
    "SL": {"+": (Form(1.35, 0.2), Form(1.12, 0.08)), "+-": (Form(1.4, 0.3), Form(0.6, 0.3))},
    "RG": {"0": (Form(0.1, 0.12),), "+-": (Form(1.2, 0.25), Form(0.75, 0.25))},
    "IC": {
        "-": (Form(0.87, 0.04), Form(0.7, 0.12)),
        "+": (Form(1.5, 0.25), Form(3.0, 0.8)),
    },
    "PD": {"0": (Form(0.1, 0.12),), "+-": (Form(1.3, 0.3), Form(0.7, 0.3))},
    "DL": {"-": (Form(0.74, 0.12), Form(0.4, 0.2)), "+": (Form(1.3, 0.3), Form(1.15, 0.06))},
    "CC": {"+": (Form(1.4, 0.2), Form(2.4, 0.8))},
    "EX": {"beside": (Form(1.0, 0.0), Form(1.0, 0.16), Form(1.6, 0.4, 0.5))},
    "XT": {"0": (Form(0.22, 0.12),), "-": (Form(0.75, 0.12), Form(0.45, 0.15)), "+": (Form(1.2, 0.12),)},
}
"""[M] where a column's own scale differs from the rest. What leaks past an exhaust valve during its compression arrives
with the push of the cylinder fired before."""


def first_guess(column: str, symbol: str) -> tuple[Form, ...]:
    """Ways a symbol of a column may turn out, their weights summing to one."""
    forms = COLUMN_FORMS.get(column, {}).get(symbol, FORMS[symbol])
    total = sum(form.weight for form in forms)
    return tuple(Form(form.centre, form.width, form.weight / total) for form in forms)
