"""Fuel trims of a bank: what the mixture control adds or takes away, and what that hides."""

from __future__ import annotations

from fairwitness.core import thresholds as limit
from fairwitness.core.model.case import Observation
from fairwitness.core.model.engine import Engine
from fairwitness.core.model.measurement import Measured, State
from fairwitness.core.procedures.by_hand import number_of, seen, unread

TEST = "fuel_trim"


def measure(observation: Observation, index: int, engine: Engine) -> Measured:
    """Judge the trims of one bank.

    Parameters
    ----------
    observation : Observation
        ``bank`` (1 is the first of the engine's banks), ``short_percent``, ``long_percent``.
    index : int
    engine : Engine

    Returns
    -------
    Measured
        Speaks of the cylinders of the bank; of all where the engine has one.
    """
    data = observation.data
    bank = data.get("bank", 1)
    banks = engine.banks or (tuple(sorted(engine.firing_order)),)
    if isinstance(bank, bool) or not isinstance(bank, int) or not 1 <= bank <= len(banks):
        return unread(TEST, index, engine, f"The engine has bank 1 to {len(banks)}." if len(banks) > 1 else "One bank.")
    parts = [number_of(data, key, low=-100.0, high=100.0) for key in ("short_percent", "long_percent")]
    known = [part for part in parts if part is not None]
    if not known:
        return unread(TEST, index, engine, "The reading holds neither a short nor a long trim.")
    total = sum(known)
    most = limit.TRIM_MAX_PERCENT.value
    outcome = "lean" if total > most else "rich" if total < -most else "normal"
    reported = {
        "lean": "fuel is added: lean, or air counted that a dead cylinder passes on unburnt",
        "rich": "fuel is taken away: too much arrives",
        "normal": "within the usual reach",
    }[outcome]
    everyone = tuple(sorted(banks[bank - 1]))
    about = f"Trims of bank {bank}" if len(banks) > 1 else "Trims"
    return seen(
        TEST,
        index,
        kind=TEST,
        outcome=outcome,
        cylinders=everyone,
        cylinder=None,
        state=State.NORMAL if outcome == "normal" else State.ABNORMAL,
        statement=f"{about} add up to {total:+.0f} %: {reported}.",
        word="",
        value=round(total, 1),
        unit="%",
        group=f"fuel trim, bank {bank}" if len(banks) > 1 else "",
    )
