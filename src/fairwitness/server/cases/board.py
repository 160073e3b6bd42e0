"""The board: one axis of 720 degrees in firing order, one row per test, measured or waiting."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

import numpy as np

from fairwitness.core.messages.catalogue import phrase, template
from fairwitness.core.messages.message import Message, verbatim
from fairwitness.core.model.case import Observation
from fairwitness.core.model.engine import CYCLE_DEG, Engine
from fairwitness.core.model.measurement import Finding, Measured, State
from fairwitness.core.model.phase import phase_number
from fairwitness.core.procedures.registry import measure_observation, swept
from fairwitness.core.procedures.spec import Offer
from fairwitness.core.procedures.specs import OFFERS, SPECS
from fairwitness.core.reason.accusations import compared, high_is_sound
from fairwitness.server.captures.models import StoredCapture
from fairwitness.server.cases.evidence import measured_of
from fairwitness.server.cases.models import StoredCase, StoredObservation
from fairwitness.server.engines.records import engine_of

STRIP_POINTS = 240
CYCLES = template("board.cycles", "{cycles} cycles at {speed:.0f} rpm")
NUMBERS = {decimals: template(f"board.number_{decimals}", f"{{value:.{decimals}f}}") for decimals in range(3)}
PERCENT = template("board.percent", "{value:.0f} %")
PRESSURE, PRESSURE_UNIT = (
    template("board.pressure", "{pa:pressure.number}"),
    template("board.pressure_unit", "{pa:pressure.symbol}"),
)
FINE_PRESSURE, FINE_PRESSURE_UNIT = (
    template("board.fine_pressure", "{pa:fuel_pressure.number}"),
    template("board.fine_pressure_unit", "{pa:fuel_pressure.symbol}"),
)
VACUUM, VACUUM_UNIT = (
    template("board.vacuum", "{pa:vacuum.number}"),
    template("board.vacuum_unit", "{pa:vacuum.symbol}"),
)
DOUBTED = template("board.doubted", "Does not fit the others: misread, {percent:chance}. Take it again.")
NO_TEST = phrase("board.no_test", "Kept. No test reads this capture yet, so it says nothing here.")
FINE_BELOW_A = 3.0
"""Currents of injectors: a tenth of an ampere is a finding there."""
STATE_WORDS = {
    State.NORMAL: phrase("board.even", "even"),
    State.LOW: phrase("board.low", "low"),
    State.HIGH: phrase("board.high", "high"),
    State.ABSENT: phrase("board.absent", "absent"),
    State.ABNORMAL: phrase("board.off", "off"),
    State.UNUSABLE: phrase("board.unusable", "unusable"),
}
OPEN_WORD = phrase("board.open", "open")


def board(case: StoredCase) -> dict[str, Any]:
    """Everything the board shows.

    Parameters
    ----------
    case : StoredCase

    Returns
    -------
    dict
        JSON-ready: columns, rows and the tests not taken.
    """
    engine = engine_of(case)
    rows: list[dict[str, Any]] = []
    spoken: list[_Spoken] = []
    for capture in case.captures.select_related("kept_by", "withdrawn_by").prefetch_related("measurements"):
        measurements = measured_of(capture, engine)
        spoken += [_Spoken(m, capture) for m in measurements]
        rows += [] if measurements else [_unread_row(engine, capture)]
    in_force = 0
    for kept in case.observations.select_related("kept_by", "withdrawn_by"):
        measured = _observed(kept, in_force, engine)
        if kept.withdrawn_at is None:
            in_force += 1
        if measured is not None:
            spoken.append(_Spoken(measured, kept))
    for phase in {_phase(s.kept) for s in spoken}:
        in_use = [s for s in spoken if s.kept.withdrawn_at is None and _phase(s.kept) == phase]
        for s, judged in zip(in_use, swept([s.measured for s in in_use], engine), strict=True):
            s.measured = judged
    doubts = {d["source"]: d["chance"] for d in case.diagnosis.get("doubted", [])}
    rows += [_row(own, engine, doubts) for own in _rows(spoken)]
    first: dict[str, int] = {}
    for row in rows:
        first.setdefault(row["test"], len(first))
    rows.sort(key=lambda row: (row["withdrawn"], not row["usable"], first[row["test"]], row["phase"]))
    taken = {row["test"] for row in rows if row["usable"] and not row["withdrawn"]}
    return {
        "columns": columns(engine),
        "rows": rows,
        "waiting": [
            {"test": t.id, "title": t.title, "minutes": t.minutes, "tools": t.tools}
            for t in _by_rank(case)
            if t.id not in taken
        ],
    }


@dataclass(slots=True)
class _Spoken:
    """What one kept piece of evidence says."""

    measured: Measured
    kept: StoredCapture | StoredObservation


def _phase(kept: StoredCapture | StoredObservation) -> int:
    """State of the vehicle a piece of evidence was taken in."""
    return phase_number((kept.set_up if isinstance(kept, StoredCapture) else kept.data).get("phase"))


def _rows(spoken: list[_Spoken]) -> list[list[_Spoken]]:
    """Readings of one kind written down together are one row; all else stands alone."""
    rows: dict[object, list[_Spoken]] = {}
    for s in spoken:
        kept, measured = s.kept, s.measured
        together: object = (id(s),)
        if isinstance(kept, StoredObservation) and measured.usable and "group" in measured.facts:
            when = (_phase(kept), kept.kept_at, kept.kept_by_id, kept.withdrawn_at)
            together = (measured.test, measured.facts["group"], *when)
        rows.setdefault(together, []).append(s)
    return list(rows.values())


def _by_rank(case: StoredCase) -> list[Offer]:
    """The tests on offer, the one to ask next first."""
    known = {o.id: o for o in OFFERS.values() if not (o.kind and o.per_cylinder)}
    return [known[n["test"]] for n in case.diagnosis.get("next_tests", []) if n["test"] in known]


def columns(engine: Engine) -> list[dict[str, Any]]:
    """One column per cylinder in firing order, each around its own TDC, with its true width.

    A column reaches from halfway since the last event to halfway to the next, so odd-fire columns differ.
    """
    intervals = np.array(engine.firing_intervals_deg)
    before = np.roll(intervals, 1) / 2
    starts = engine.event_angles_deg - before
    widths = (before + intervals / 2) / CYCLE_DEG
    shift = float(starts[0])
    return [
        {
            "cylinder": c,
            "tdc_deg": float(engine.event_angles_deg[i]),
            "start": float((starts[i] - shift) / CYCLE_DEG),
            "width": float(widths[i]),
        }
        for i, c in enumerate(engine.firing_order)
    ]


def _observed(kept: StoredObservation, index: int, engine: Engine) -> Measured | None:
    return measure_observation(Observation(test=kept.test, data=kept.data), index, engine)


def _row(spoken: list[_Spoken], engine: Engine, doubts: Mapping[str, float]) -> dict[str, Any]:
    measured, kept = spoken[0].measured, spoken[0].kept
    capture = kept if isinstance(kept, StoredCapture) else None
    observation = kept if isinstance(kept, StoredObservation) else None
    facts = measured.facts
    about = [facts[key] for key in ("source", "group_words") if key in facts]
    if "cycles" in facts and measured.usable:
        about.append(CYCLES(cycles=facts["cycles"], speed=facts["speed_rpm"]))
    own = [f for s in spoken for f in s.measured.findings if compared(f)]
    named = {f.cylinder: f for f in own if f.cylinder is not None}
    reasons = dict.fromkeys((r.statement, r.blocking) for s in spoken for r in s.measured.reasons)
    doubt = max((doubts.get(source, 0.0) for s in spoken for source in s.measured.sources), default=0.0)
    return {
        "id": f"{'capture' if capture else 'observation'}-{kept.pk}-{measured.test}",
        "phase": _phase(kept),
        "test": measured.test,
        "title": SPECS[measured.test].title,
        "about": about,
        "capture": capture.pk if capture and not (capture.unreadable or capture.changed) else None,
        "observation": observation.pk if observation else None,
        "usable": measured.usable,
        "withdrawn": kept.withdrawn_at is not None,
        "withdrawn_reason": kept.withdrawn_reason,
        "doubted": DOUBTED(percent=100 * doubt) if doubt and kept.withdrawn_at is None else "",
        "kept_by": kept.kept_by.shown_name,
        "kept_at": kept.kept_at,
        "assigned": bool(named) or not own,
        "assignment": facts.get("assignment", ""),
        "overall": own[0].statement if own and own[0].cylinder is None else "",
        "reasons": [{"statement": statement, "blocking": blocking} for statement, blocking in reasons],
        "strip": _averaged_cycle(measured, engine),
        "cells": [_cell(c, named.get(c)) for c in engine.firing_order],
    }


def _unread_row(engine: Engine, capture: StoredCapture) -> dict[str, Any]:
    """A capture no test reads yet: kept, shown, not used."""
    test = capture.set_up.get("test", "capture")
    reason = verbatim(capture.changed or capture.unreadable) or NO_TEST
    return {
        "id": f"capture-{capture.pk}",
        "phase": _phase(capture),
        "test": test,
        "title": SPECS[test].title if test in SPECS else verbatim(test.replace("_", " ").capitalize()),
        "about": [capture.name],
        "capture": None if capture.unreadable or capture.changed else capture.pk,
        "observation": None,
        "usable": False,
        "withdrawn": capture.withdrawn_at is not None,
        "doubted": "",
        "withdrawn_reason": capture.withdrawn_reason,
        "kept_by": capture.kept_by.shown_name,
        "kept_at": capture.kept_at,
        "assigned": True,
        "assignment": "",
        "overall": "",
        "reasons": [{"statement": reason, "blocking": bool(capture.unreadable or capture.changed)}],
        "strip": None,
        "cells": [_cell(c, None) for c in engine.firing_order],
    }


def _cell(cylinder: int, finding: Finding | None) -> dict[str, Any]:
    if finding is not None and finding.value is None and finding.state is not State.UNUSABLE:
        return {
            "cylinder": cylinder,
            "shown": finding.word or _word(finding),
            "unit": "",
            "deviation": None,
            "spread": None,
            "state": finding.state.value,
            "word": "",
            "statement": finding.statement,
        }
    if finding is None or finding.value is None:
        state = "unusable" if finding is not None else ""
        return {
            "cylinder": cylinder,
            "shown": "",
            "unit": "",
            "deviation": None,
            "spread": None,
            "state": state,
            "word": "",
            "statement": finding.statement if finding else "",
        }
    shown, unit = _figure(finding)
    return {
        "cylinder": cylinder,
        "shown": shown,
        "unit": unit,
        "deviation": round(finding.value - 1.0, 4) if finding.unit == "1" else None,
        "spread": finding.spread,
        "state": finding.state.value,
        "word": _word(finding),
        "statement": finding.statement,
    }


def _word(finding: Finding) -> Message:
    """A state in a word; a comparison of companions that stays undecided is open, a pattern that is wrong is off."""
    if finding.state is State.ABNORMAL and high_is_sound(finding.test):
        return OPEN_WORD
    return STATE_WORDS[finding.state]


def _figure(finding: Finding) -> tuple[Message, Message | str]:
    """A number as a technician writes it down, and its unit."""
    value, unit = finding.value or 0.0, finding.unit
    if unit == "1":
        return NUMBERS[0](value=100 * value), "%"
    if unit == "bar":
        return PRESSURE(pa=1e5 * value), PRESSURE_UNIT(pa=0.0)
    if unit == "kPa" and finding.test != "vacuum":
        return FINE_PRESSURE(pa=1e3 * value), FINE_PRESSURE_UNIT(pa=0.0)
    if finding.test == "vacuum":
        return VACUUM(pa=1e3 * value), VACUUM_UNIT(pa=0.0)
    if unit == "ohm":
        if value >= 1000:
            return NUMBERS[1](value=value / 1000), "k\u03a9"
        return NUMBERS[2 if value < 10 else 1](value=value), "\u03a9"
    if unit == "%":
        return PERCENT(value=value), ""
    if unit == "A" and value < FINE_BELOW_A:
        return NUMBERS[2](value=value), unit
    return NUMBERS[1 if unit in ("kV", "A", "V") else 0](value=value), unit


def _averaged_cycle(measured: Measured, engine: Engine) -> dict[str, Any] | None:
    """The averaged cycle, starting at the left edge of the first column."""
    strip = measured.averaged_cycle
    if strip is None:
        return None
    lead = engine.firing_intervals_deg[-1] / 2  # left edge of the first column, before its TDC
    drawn_lead = CYCLE_DEG / engine.cylinders / 2
    at = (np.arange(STRIP_POINTS) * CYCLE_DEG / STRIP_POINTS + drawn_lead - lead) % CYCLE_DEG
    values = {
        key: np.round(np.interp(at, strip.angle_deg, getattr(strip, key), period=CYCLE_DEG), 3).tolist()
        for key in ("middle", "low", "high")
    }
    return {"unit": strip.unit, **values}
