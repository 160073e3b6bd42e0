"""A bench as data for the screen."""

from __future__ import annotations

from typing import Any

from fairwitness.core.messages.message import Message
from fairwitness.core.model.engine import Engine
from fairwitness.core.procedures.safety import cautions_of
from fairwitness.core.procedures.set_up_card import SetUpCard
from fairwitness.core.procedures.specs import CARDS, SPECS
from fairwitness.instruments.bay import CRANK_MAX_S, STARTER_HEAT_S, EngineMotion
from fairwitness.instruments.scope_link import Lead
from fairwitness.server.bench.session import BATTERY_MIN_V, BenchSession
from fairwitness.server.bench.stage import InBay, Stage
from fairwitness.server.bench.watch import Watch


def describe(session: BenchSession, *, title: str = "") -> dict[str, Any]:
    """Everything the Bench view shows but samples.

    Parameters
    ----------
    session : BenchSession
    title : str
        Of the case the vehicle belongs to.

    Returns
    -------
    dict
    """
    with session.lock:
        bay, in_bay, card, recording = session.bay, session.in_bay, session.card, session.recording
        motion = bay.motion if bay else EngineMotion.OFF
        return {
            "version": session.version,
            "vehicle": None
            if in_bay is None
            else {
                "model": in_bay.vehicle.label,
                "case": in_bay.case_id,
                "case_title": title,
                "cylinders": in_bay.vehicle.engine.cylinders,
                "hidden": in_bay.hidden,
                "fault": session.revealed if in_bay.hidden else fault_words(session),
            },
            "scope": _scope_state(session),
            "scope_identity": session.scope.identity if session.scope else "",
            "scan_connected": session.scan is not None,
            "engine": motion.value,
            "fuel_disabled": bool(bay and bay.fuel_disabled),
            "battery_v": round(bay.battery_v, 2) if bay else None,
            "battery_low": bool(bay and bay.battery_v < BATTERY_MIN_V),
            "starter_heat": round(bay.starter_heat_s / STARTER_HEAT_S, 2) if bay else 0.0,
            "elapsed_s": round(min(bay.elapsed_s, 3600.0), 2) if bay and motion is not EngineMotion.OFF else 0.0,
            "crank_max_s": CRANK_MAX_S,
            "stage": session.stage.value,
            "test": card.test.value if card else "",
            "test_title": card.title if card else "",
            "cranks": bool(card and card.cranking),
            "seconds": card.seconds if card else 0.0,
            "recorded_s": round(recording.count / recording.rate_hz, 2) if recording else 0.0,
            "rate_hz": card.rate_hz if card else 0.0,
            **_watched(session.watching),
            "leads": [_lead(lead) for lead in session.leads],
            "checks": [{"id": c.id, "words": c.words} for c in card.checks] if card else [],
            "cautions": _cautions(card, in_bay) if card and in_bay else [],
            "big": big_words(session, motion),
            "problem": session.problem,
            "kept": session.kept_id,
            "balance": {
                "running": session.guided.now.running,
                "cylinder": session.guided.now.cylinder,
                "phase": session.guided.now.phase,
                "drops": session.guided.now.drops,
            },
        }


def _watched(watching: Watch | None) -> dict[str, Any]:
    """How long was watched, and what was lost."""
    if watching is None:
        return {"watched_s": None, "losses": []}
    losses = [{"at_s": loss.at_s, "lead": loss.lead} for loss in watching.losses]
    return {"watched_s": round(watching.watched_s, 1), "losses": losses}


def _lead(lead: Lead) -> dict[str, Any]:
    return {
        "channel": lead.channel,
        "name": lead.clip.label,
        "role": lead.clip.role.value,
        "unit": lead.unit,
        "reach": lead.reach,
        "probe": lead.probe,
        "place": lead.clip.place,
        "sync": lead.clip.sync,
    }


def _cautions(card: SetUpCard, in_bay: InBay) -> list[Message]:
    """What the plan says of the test, and what the card alone knows."""
    spec = SPECS[card.test.value]
    return list(dict.fromkeys((*cautions_of(spec, in_bay.vehicle.engine), *card.cautions)))


def _scope_state(session: BenchSession) -> str:
    if session.scope is not None:
        return "connected"
    return "lost" if session.problem and session.in_bay is not None else "off"


def big_words(session: BenchSession, motion: EngineMotion) -> str:
    """The state in a few words that can be read from two metres."""
    if session.bay is None:
        return "No vehicle in the bay"
    if session.stage is Stage.RECORDING and session.card is not None:
        return "Cranking" if session.card.cranking else "Engine running, recording"
    if session.stage is Stage.WATCHING:
        return "Watching"
    if session.stage is Stage.CAPTURED and session.watching is not None:
        return "Caught it" if session.watching.losses else "Not seen"
    by_stage = {
        Stage.CAPTURED: "Captured",
        Stage.BROKEN_OFF: "Scope lost",
        Stage.KEPT: "Kept in the case",
    }
    if session.stage in by_stage:
        return by_stage[session.stage]
    if session.problem and session.scope is None:
        return "Scope lost"
    if motion is EngineMotion.RUNNING:
        return "Engine running"
    if session.scope is None:
        return "Connect the scope"
    if session.bay.fuel_disabled:
        return "Fuel disabled"
    return "Set up" if session.stage is Stage.SET_UP else "Ready"


def fault_words(session: BenchSession) -> str:
    """What is wrong with the vehicle, for whoever chose it or gave up."""
    if session.in_bay is None:
        return ""
    faults = session.in_bay.vehicle.faults
    if not faults:
        return "nothing wrong"
    return "; ".join(
        f"{f.fault.replace('_', ' ')}{' on cylinder ' + ', '.join(map(str, f.cylinders)) if f.cylinders else ''}"
        for f in faults
    )


def tests_for(engine: Engine) -> list[dict[str, Any]]:
    """Tests the bench can set up for an engine."""
    return [
        {"test": test.value, "title": card.title, "cranks": card.cranking}
        for test, card in CARDS.items()
        if SPECS[test.value].possible(engine)
    ]
