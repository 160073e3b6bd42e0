"""Relative compression from a scan tool's table of cranking speed per cylinder: faster is weaker."""

from __future__ import annotations

import math

import numpy as np
from numpy.typing import NDArray

from fairwitness import __version__
from fairwitness.core import thresholds as limit
from fairwitness.core.messages.catalogue import scope, template
from fairwitness.core.messages.message import Message
from fairwitness.core.model.acts import Act
from fairwitness.core.model.case import Observation
from fairwitness.core.model.engine import Engine
from fairwitness.core.model.measurement import Evidence, Finding, Measured, Origin, State, refused
from fairwitness.core.model.reason import Reason
from fairwitness.core.model.tools import Tool, Turning
from fairwitness.core.procedures.form import Data, Entry, Filled, Form, Row, Stage
from fairwitness.core.procedures.spec import Offer, TestSpec, Trust, all_alike

CYLINDER_LETS_STARTER = template(
    "cranking_speed.cylinder_lets_starter",
    "Cylinder {cylinder} lets the starter run {excess:.0f} % faster: {rpm:.0f} rpm. Faster is weaker.",
)
CYLINDER_HOLDS_STARTER = template(
    "cranking_speed.cylinder_holds_starter", "Cylinder {cylinder} holds the starter back like its peers: {rpm:.0f} rpm."
)
CRANKED_ONLY_TABLE = template(
    "cranking_speed.cranked_only_table", "Cranked for {seconds:g} s only; the table settles after 8 to 10 s."
)
SCAN_TOOL_TABLE = template("cranking_speed.scan_tool_table", "scan tool table")
CONTROL_UNIT = template("cranking_speed.control_unit", "by the control unit")
OBSERVATION_HOLDS_SPEEDS = template(
    "cranking_speed.observation_holds_speeds", "The observation holds no speeds per cylinder."
)
CYLINDER_HAS_SPEED = template("cranking_speed.cylinder_has_speed", "Cylinder {cylinder} has no speed in the table.")
RPM_CYLINDER_PLACEHOLDER = template(
    "cranking_speed.rpm_cylinder_placeholder",
    "{value:g} rpm for cylinder {cylinder} is a placeholder, not a cranking speed. Keep the values shown while "
    "cranking.",
)


FloatArray = NDArray[np.float64]

TEST = "cranking_speed"
_say = scope(TEST)
LINE = "RC"
TABLE_SIGMA = 0.16
"""[M] how well a speed table predicts a share of compression; it is averaged and rounded by the control unit."""
SIGMA_GROWS = 1.5
"""[M] power of the cylinders beyond four with which that becomes worse."""


def _readings(filled: Filled) -> list[Data]:
    return [{"cylinder_rpm": filled.by_cylinder("rpm"), "seconds": filled.entries["seconds"]}]


SPEC = TestSpec(
    id=TEST,
    title=_say("title", "Cranking speed"),
    owner=_say("owner", "how fast the starter turns the engine at each cylinder"),
    place=210,
    trust=Trust.REPORTED,
    unit="rpm",
    columns=("RC",),
    high_is_sound=True,
    says_which=_say("says_which", "The scan tool's speed table"),
    offers=(
        Offer(
            id=TEST,
            title=_say("offer", "Cranking speed of each cylinder from the scan tool"),
            tools=_say("tools", "scan tool"),
            splits=_say("splits", "shows the cylinder the starter runs through too easily"),
            needs=(Tool.SCAN_TOOL,),
            set_up=5,
            work=4,
            columns=("RC",),
            sigmas=all_alike(TABLE_SIGMA),
            misread=0.3,
            turning=Turning.CRANKING,
            mechanical=True,
            acts=frozenset({Act.READS_CONTROL_UNIT, Act.COMPARES}),
        ),
    ),
    form=Form(
        stage=Stage.CRANKING,
        title=_say("form", "Cranking speed per cylinder, from a scan tool"),
        hint=_say(
            "hint",
            "Wait until the table has settled, 8 to 10 s of cranking, and take the values while it still cranks. "
            "Faster is weaker.",
        ),
        kept=_say("kept", "Speed table"),
        rows=(Row(key="rpm", words=_say("row", "rpm")),),
        entries=(Entry(key="seconds", words=_say("entry", "seconds cranked")),),
        readings=_readings,
    ),
)


def measure(observation: Observation, index: int, engine: Engine) -> Measured:
    """Compare the cylinders' cranking speeds.

    Parameters
    ----------
    observation : Observation
        ``cylinder_rpm`` maps cylinder numbers to rpm; ``seconds`` is how long was cranked.
    index : int
        Place of the observation in the case.
    engine : Engine

    Returns
    -------
    Measured
        Unusable where values are placeholders or cylinders are missing.
    """
    reasons: list[Reason] = []
    speeds = _speeds(observation.data.get("cylinder_rpm"), engine, reasons)
    seconds = observation.data.get("seconds")
    if isinstance(seconds, int | float) and seconds < limit.SPEED_TABLE_SECONDS_MIN.value:
        reasons.append(Reason("table_unsettled", CRANKED_ONLY_TABLE(seconds=seconds), blocking=True))
    origin = Origin(observation=index, code_version=__version__)
    if speeds is None or any(r.blocking for r in reasons):
        return refused(TEST, "rpm", engine.firing_order, tuple(reasons), origin)
    flatter = _flatter(engine.cylinders)
    excess = speeds / _sound_speed(speeds) - 1.0
    findings = tuple(
        Finding(
            test=TEST,
            cylinder=c,
            quantity=TEST,
            value=float(speeds[i]),
            unit="rpm",
            spread=None,
            events=1,
            state=_state(float(excess[i]) / flatter),
            statement=_sentence(c, float(speeds[i]), float(excess[i]), flatter),
            origin=origin,
        )
        for i, c in enumerate(engine.firing_order)
    )
    shares = np.clip(1.0 - excess / limit.SPEED_TABLE_DEAD_RPM_SHARE.value, 0.0, 1.2)
    evidence = Evidence(
        line=LINE,
        source=f"observation:{index}",
        alternatives=(shares,),
        sigmas=np.full(shares.size, TABLE_SIGMA * flatter**SIGMA_GROWS),
    )
    return Measured(
        test=TEST,
        observation=index,
        reasons=tuple(reasons),
        findings=findings,
        lines=(evidence,) if engine.cylinders > 1 else (),
        facts={"source": SCAN_TOOL_TABLE(), "assignment": CONTROL_UNIT()},
    )


def _speeds(table: object, engine: Engine, reasons: list[Reason]) -> FloatArray | None:
    """(cylinders,) float rpm in firing order, or None with the reason."""
    if not isinstance(table, dict):
        reasons.append(Reason("table_missing", OBSERVATION_HOLDS_SPEEDS(), blocking=True))
        return None
    speeds = []
    for cylinder in engine.firing_order:
        value = table.get(str(cylinder), table.get(cylinder))
        if isinstance(value, bool) or not isinstance(value, int | float) or not math.isfinite(value):
            reasons.append(Reason("table_gap", CYLINDER_HAS_SPEED(cylinder=cylinder), blocking=True))
            return None
        if not limit.SPEED_TABLE_RPM_MIN.value <= value <= limit.SPEED_TABLE_RPM_MAX.value:
            reasons.append(
                Reason(
                    "placeholder",
                    RPM_CYLINDER_PLACEHOLDER(value=value, cylinder=cylinder),
                    blocking=True,
                )
            )
            return None
        speeds.append(float(value))
    return np.array(speeds)


def _sound_speed(speeds: FloatArray) -> float:
    """Speed of the sound cylinders: the slower ones, the starter works hardest there."""
    ranked = np.sort(speeds)
    mark = ranked[1] if ranked.size >= 4 else ranked[0]
    peers = speeds[speeds <= mark * (1 + limit.SPEED_TABLE_WEAK_RPM_SHARE.value)]
    return float(np.median(peers))


def _flatter(cylinders: int) -> float:
    """How much further a cylinder must stand out: compressions overlap, and one of many moves the starter less than
    bearings and cables do."""
    return max(1.0, cylinders / 4)


def _state(excess: float) -> State:
    if excess >= limit.SPEED_TABLE_DEAD_RPM_SHARE.value:
        return State.ABSENT
    return State.LOW if excess >= limit.SPEED_TABLE_WEAK_RPM_SHARE.value else State.NORMAL


def _sentence(cylinder: int, rpm: float, excess: float, flatter: float) -> Message:
    state = _state(excess / flatter)
    if state is State.NORMAL:
        return CYLINDER_HOLDS_STARTER(cylinder=cylinder, rpm=rpm)
    return CYLINDER_LETS_STARTER(cylinder=cylinder, excess=100 * excess, rpm=rpm)
