"""Any table of a scan tool with a figure per cylinder, unit unknown: who stands apart from the others.

Roughness, smoothness, contribution, injected correction: makers count differently; high is bad, or low, or nobody says.
Cylinders are compared with each other; what the crank's own signal says is heard before it. The plan asks for misfire
counts instead, whose unit is known; a table that the tool shows anyway is written down here.
"""

from __future__ import annotations

import math
from collections.abc import Mapping

import numpy as np
import scipy
from numpy.typing import NDArray

from fairwitness import __version__
from fairwitness.core.messages.catalogue import scope, template
from fairwitness.core.messages.message import Message, verbatim
from fairwitness.core.model.case import Observation
from fairwitness.core.model.engine import Engine
from fairwitness.core.model.measurement import Evidence, Finding, Measured, Origin, State, refused
from fairwitness.core.model.reason import Reason
from fairwitness.core.procedures.form import Choice, Data, Entry, Filled, Form, Row, Stage, options
from fairwitness.core.procedures.spec import TestSpec, Trust

FloatArray = NDArray[np.float64]
TEST = "roughness"
_say = scope(TEST)
LINE = "CON"
HIGH, LOW, UNSAID = "high", "low", "unknown"
APART_SIGMAS = 4.0
"""[M] how far from the others' middle, in their own spread, a cylinder stands apart."""
LEAST_SPREAD = 0.05
"""[M] share of the middle below which a difference is none: such tables are rounded."""
APART_SHARE, APART_SIGMA, QUIET_SIGMA = 0.6, 0.3, 0.45
"""[M] what standing apart says of a cylinder's work, and how loosely: no unit, no scale, a filter nobody knows."""
LEAST_CYLINDERS = 3
NO_TABLE = _say("no_table", "The table holds no number for each cylinder.")
TOO_FEW = _say("too_few", "Two cylinders cannot tell which of them stands apart.")
NOBODY_APART = _say("nobody", "Nobody stands apart: the table clears nobody, its filter may hide what comes and goes.")
HALF_APART = _say("half", "Half of the cylinders stand apart: the table does not tell sound from ill.")
UNKNOWN_WAY = _say("unknown_way", "Whether high or low is bad is not known: standing apart either way counts, less.")
NAME = _say("name", "the table")
STANDS = {
    True: template(
        "roughness.stands_high", "Cylinder {cylinder} reads {value:g} in {table}, the others about {usual:g}: higher."
    ),
    False: template(
        "roughness.stands_low", "Cylinder {cylinder} reads {value:g} in {table}, the others about {usual:g}: lower."
    ),
}
AS_OTHERS = template("roughness.as_others", "Cylinder {cylinder} reads {value:g} in {table}, as the others do.")
SOURCE, ASSIGNMENT = _say("source", "scan tool's table"), _say("assignment", "by the control unit")


def _readings(filled: Filled) -> list[Data]:
    name = str(filled.entries.get("name", "")).strip()
    return [
        {
            "values": filled.by_cylinder("value"),
            "bad": filled.choices["bad"],
            **({"name": name[:60]} if name else {}),
        }
    ]


SPEC = TestSpec(
    id=TEST,
    title=_say("title", "Roughness table"),
    owner=_say("owner", "how evenly the engine computer finds the cylinders work"),
    place=232,
    trust=Trust.REPORTED,
    unit="1",
    columns=(LINE,),
    high_is_sound=True,
    says_which=_say("says_which", "The control unit's table"),
    form=Form(
        stage=Stage.RUNNING,
        title=_say("form", "Roughness or contribution, from a scan tool"),
        hint=_say(
            "hint",
            "Any figure per cylinder, whatever its unit. Makers differ: say whether high or low is bad where you know.",
        ),
        kept=_say("kept", "The table"),
        choices=(
            Choice(
                key="bad",
                words=_say("choice.bad", "Bad is"),
                options=options("roughness.bad", unknown="Not known", high="High", low="Low"),
            ),
        ),
        rows=(Row(key="value", words=_say("row", "reads")),),
        entries=(Entry(key="name", words=_say("entry", "what the tool calls it"), optional=True, text=True),),
        readings=_readings,
    ),
)


def measure(observation: Observation, index: int, engine: Engine) -> Measured:
    """Compare the figures of a table.

    Parameters
    ----------
    observation : Observation
        ``values`` maps cylinder numbers to figures; ``bad`` is high, low or unknown; ``name`` what the tool calls it.
    index : int
    engine : Engine

    Returns
    -------
    Measured
        Nobody standing apart clears nobody.
    """
    origin = Origin(observation=index, code_version=__version__)
    values = _values(observation.data.get("values"), engine)
    if values is None or len(values) < LEAST_CYLINDERS:
        why = Reason("table_missing", NO_TABLE if values is None else TOO_FEW, blocking=True)
        return refused(TEST, "1", engine.firing_order, (why,), origin)
    bad = observation.data.get("bad")
    bad = bad if bad in (HIGH, LOW) else UNSAID
    gaps = _gaps(values)
    apart = gaps > APART_SIGMAS if bad == HIGH else gaps < -APART_SIGMAS if bad == LOW else abs(gaps) > APART_SIGMAS
    if apart.sum() * 2 >= apart.size:
        return refused(TEST, "1", engine.firing_order, (Reason("half_apart", HALF_APART, blocking=True),), origin)
    reasons = []
    if not apart.any():
        reasons.append(Reason("nobody_apart", NOBODY_APART))
    if bad == UNSAID and apart.any():
        reasons.append(Reason("way_unknown", UNKNOWN_WAY))
    shares = np.where(apart, APART_SHARE, 1.0)
    loose = np.sqrt(2.0) if bad == UNSAID else 1.0
    sigmas = loose * np.where(apart, APART_SIGMA, QUIET_SIGMA)
    name = observation.data.get("name")
    table = verbatim(name) if isinstance(name, str) and name.strip() else NAME
    usual = float(np.median(values[~apart]))
    return Measured(
        test=TEST,
        observation=index,
        reasons=tuple(reasons),
        findings=tuple(
            Finding(
                test=TEST,
                cylinder=c,
                quantity=TEST,
                value=float(values[i]),
                unit="",
                spread=None,
                events=1,
                state=State.LOW if apart[i] else State.NORMAL,
                statement=_said(c, float(values[i]), usual, table, bool(apart[i])),
                origin=origin,
            )
            for i, c in enumerate(engine.firing_order)
        ),
        lines=(
            Evidence(
                line=LINE,
                source=f"observation:{index}",
                alternatives=(shares,),
                sigmas=sigmas,
            ),
        ),
        facts={"source": SOURCE, "assignment": ASSIGNMENT},
    )


def _values(table: object, engine: Engine) -> FloatArray | None:
    if not isinstance(table, Mapping):
        return None
    read = [table.get(str(c), table.get(c)) for c in engine.firing_order]
    if any(isinstance(v, bool) or not isinstance(v, int | float) or not math.isfinite(v) for v in read):
        return None
    return np.array(read, dtype=np.float64)


def _gaps(values: FloatArray) -> FloatArray:
    """How far each stands from the others' middle, in the others' spread; with three, in the least one."""
    gaps = np.zeros(values.size)
    for i, value in enumerate(values):
        others = np.delete(values, i)
        middle = float(np.median(others))
        spread = float(scipy.stats.median_abs_deviation(others, scale="normal")) if others.size > 2 else 0.0
        least = LEAST_SPREAD * max(abs(middle), float(np.median(abs(values))))
        gaps[i] = (value - middle) / max(spread, least, 1e-12)
    return gaps


def _said(cylinder: int, value: float, usual: float, table: Message, apart: bool) -> Message:
    if not apart:
        return AS_OTHERS(cylinder=cylinder, value=value, table=table)
    return STANDS[value > usual](cylinder=cylinder, value=value, table=table, usual=usual)
