"""What a technician said a file is, from the shape it travels in to the records the formats take."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from fairwitness.core.errors import TableError
from fairwitness.core.model.capture import CaptureTest, EngineState, Role, SetUp
from fairwitness.core.model.engine import Engine
from fairwitness.core.model.lead import Lead, LeadKind, Reference
from fairwitness.formats.columns import ColumnUse
from fairwitness.formats.file_guess import Kept

Plan = Mapping[str, Any]
"""As the serializer of plans gives it."""


def uses_of(plan: Plan, engine: Engine) -> list[ColumnUse]:
    """The columns, as they are used.

    Raises
    ------
    TableError
        A cylinder the engine does not have.
    """
    return [_use(column, engine) for column in plan["columns"]]


def kept_of(plan: Plan) -> Kept:
    """What of the file is kept, under which name and set-up."""
    return Kept(
        name=plan["name"],
        set_up=SetUp(
            test=CaptureTest(plan["test"]),
            engine_state=EngineState(plan["engine_state"]),
            load=plan["load"] or None,
            fuel_disabled=plan["fuel_disabled"],
            temperature=plan["temperature"] or None,
            minutes_running=plan["minutes_running"],
            wet=plan["wet"],
            after_standing=plan["after_standing"],
            happened=plan["happened"],
        ),
        sample_rate_hz=plan["sample_rate_hz"],
        segment=plan["segment"],
        part=(plan["part"][0], plan["part"][1]) if plan["part"] else None,
    )


def _use(given: Plan, engine: Engine) -> ColumnUse:
    cylinder = given["cylinder"]
    if cylinder is not None and cylinder not in engine.firing_order:
        raise TableError(f"This engine has no cylinder {cylinder}.", where=given["column"])
    return ColumnUse(
        column=given["column"],
        role=Role(given["role"]),
        unit=given["unit"],
        cylinder=cylinder,
        sync=given["sync"],
        lead=_lead(given["lead"]),
    )


def _lead(given: Plan | None) -> Lead | None:
    if given is None:
        return None
    reference = Reference(given["reference"]) if given["reference"] else None
    return Lead(
        kind=LeadKind(given["kind"]),
        unit=given["unit"],
        per_volt=given["per_volt"],
        zero_v=given["zero_v"],
        reference=reference,
    )
