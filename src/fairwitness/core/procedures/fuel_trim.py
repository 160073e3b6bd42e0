"""Fuel trims of a bank: what the mixture control adds or takes away, and what that hides."""

from __future__ import annotations

from fairwitness.core import thresholds as limit
from fairwitness.core.messages.catalogue import scope, template
from fairwitness.core.messages.message import NOTHING
from fairwitness.core.model.acts import Act
from fairwitness.core.model.case import Observation
from fairwitness.core.model.engine import Engine
from fairwitness.core.model.measurement import Measured, State
from fairwitness.core.model.tools import Tool
from fairwitness.core.procedures import engines
from fairwitness.core.procedures.form import Data, Entry, Filled, Form, Stage
from fairwitness.core.procedures.reading_by_hand import (
    Came,
    number_of,
    reading,
    unread,
)
from fairwitness.core.procedures.spec import Offer, TestSpec, Trust

TEST = "fuel_trim"
_say = scope(TEST)
JUDGEMENTS = {
    "lean": _say("lean", "fuel is added: lean, or air counted that a dead cylinder passes on unburnt"),
    "rich": _say("rich", "fuel is taken away: too much arrives"),
    "normal": _say("normal", "within the usual reach"),
}
OF_BANK = template("fuel_trim.of_bank", "Trims of bank {bank} add up to {total:+.0f} %: {judgement}.")
OF_ENGINE = template("fuel_trim.of_engine", "Trims add up to {total:+.0f} %: {judgement}.")
BANKS = template("fuel_trim.banks", "The engine has bank 1 to {banks}.")
ONE_BANK = _say("one_bank", "One bank.")
NO_TRIM = _say("no_trim", "The reading holds neither a short nor a long trim.")
GROUP = template("fuel_trim.group", "fuel trim, bank {bank}")


def _readings(filled: Filled) -> list[Data]:
    entries = filled.entries
    return [{"bank": entries.get("bank", 1), **{key: entries[key] for key in ("short_percent", "long_percent")}}]


SPEC = TestSpec(
    id=TEST,
    title=_say("title", "Fuel trim"),
    owner=_say("owner", "how much the engine computer corrects the fuel"),
    place=330,
    trust=Trust.REPORTED,
    unit="%",
    kinds=(TEST,),
    offers=(
        Offer(
            id=TEST,
            title=_say("offer", "Fuel trims of each bank"),
            tools=_say("tools", "scan tool"),
            splits=_say(
                "splits", "shows whether the control unit adds or takes away fuel: all lean, one bank, or none"
            ),
            needs=(Tool.SCAN_TOOL,),
            set_up=2,
            work=1,
            kinds=(TEST,),
            acts=frozenset({Act.READS_CONTROL_UNIT}),
            fits=engines.mixes_petrol,
        ),
    ),
    form=Form(
        stage=Stage.FUEL,
        title=_say("form", "Fuel trims, from a scan tool"),
        hint=_say(
            "hint",
            "Short and long trim of one bank, engine warm. A dead cylinder passes its air on unburnt and can look "
            "lean.",
        ),
        kept=_say("kept", "Fuel trims"),
        entries=(
            Entry(key="bank", words=_say("entry.bank", "bank, if more than one"), optional=True),
            Entry(key="short_percent", words=_say("entry.short", "short, per cent"), signed=True),
            Entry(key="long_percent", words=_say("entry.long", "long, per cent"), signed=True),
        ),
        least=0,
        readings=_readings,
    ),
)


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
        return unread(TEST, index, engine, BANKS(banks=len(banks)) if len(banks) > 1 else ONE_BANK)
    parts = [number_of(data, key, low=-100.0, high=100.0) for key in ("short_percent", "long_percent")]
    known = [part for part in parts if part is not None]
    if not known:
        return unread(TEST, index, engine, NO_TRIM)
    total = sum(known)
    most = limit.TRIM_MAX_PERCENT.value
    outcome = "lean" if total > most else "rich" if total < -most else "normal"
    several = len(banks) > 1
    said = {"total": total, "judgement": JUDGEMENTS[outcome]}
    return reading(
        TEST,
        index,
        Came(
            kind=TEST,
            outcome=outcome,
            speaks_of=tuple(sorted(banks[bank - 1])),
            state=State.NORMAL if outcome == "normal" else State.ABNORMAL,
            statement=OF_BANK(bank=bank, **said) if several else OF_ENGINE(**said),
            value=round(total, 1),
            unit="%",
            group=f"fuel trim, bank {bank}" if several else "",
            group_words=GROUP(bank=bank) if several else NOTHING,
        ),
    )
