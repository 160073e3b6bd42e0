"""States of a vehicle, parts and what was fitted, in words: for statements, the board, forms and papers."""

from __future__ import annotations

from fairwitness.core.messages.catalogue import phrase, template
from fairwitness.core.messages.message import Message
from fairwitness.core.model.phase import PartState, Phase, PhaseKind

PART_WORDS = {
    part: phrase(f"part.{part}", words)
    for part, words in {
        "coil": "coil", "plug": "plug", "lead": "lead", "injector": "injector", "wiring": "wiring", "fuse": "fuse",
        "relay": "relay", "fuel_pump": "fuel pump", "fuel_filter": "fuel filter", "valve_gear": "valve gear",
        "valves": "valves", "head_gasket": "head gasket", "rings": "rings or piston", "timing_drive": "timing drive",
        "intake_gasket": "intake gasket", "control_unit": "control unit", "other": "part",
    }.items()
}  # fmt: skip
FITTED_WORDS = {
    PartState.NEW: phrase("part.fitted.new", "new"),
    PartState.USED: phrase("part.fitted.used", "used"),
    PartState.OTHER_MAKE: phrase("part.fitted.other_make", "of another make"),
    PartState.REWORKED: phrase("part.fitted.reworked", "cleaned or repaired"),
}
AS_ARRIVED_WORDS = phrase("phase.as_arrived", "As arrived")
CHANGED = template("phase.changed_over", "{part:capital}s {one} and {other} changed over")
PUT_BACK = phrase("phase.put_back", "Put back")
REPAIRED = template("phase.repaired", "After repair: {part}, {fitted}")
REPAIRED_AT = template("phase.repaired_at", "After repair: {part}, {which:cylinders}, {fitted}")


def phase_words(phase: Phase) -> Message:
    """What was done, in a few words."""
    part = PART_WORDS[phase.part or "other"]
    if phase.kind is PhaseKind.PUT_BACK:
        return PUT_BACK
    if phase.kind is PhaseKind.CHANGED_OVER and len(phase.cylinders) == 2:
        return CHANGED(part=part, one=phase.cylinders[0], other=phase.cylinders[1])
    fitted = FITTED_WORDS[phase.fitted or PartState.NEW]
    if phase.cylinders:
        return REPAIRED_AT(part=part, which=phase.cylinders, fitted=fitted)
    return REPAIRED(part=part, fitted=fitted)
