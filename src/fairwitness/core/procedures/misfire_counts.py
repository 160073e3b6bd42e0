"""Misfire counts of the control unit: useful, and to be verified by a signal of one's own."""

from __future__ import annotations

import math
from collections.abc import Mapping

import numpy as np
from numpy.typing import NDArray

from fairwitness import __version__
from fairwitness.core import thresholds as limit
from fairwitness.core.messages.catalogue import scope, template
from fairwitness.core.model.acts import Act
from fairwitness.core.model.case import Observation
from fairwitness.core.model.engine import Engine
from fairwitness.core.model.measurement import CategoricalEvidence, Evidence, Finding, Measured, Origin, State, refused
from fairwitness.core.model.reason import Reason
from fairwitness.core.model.tools import Tool
from fairwitness.core.procedures.form import Data, Entry, Filled, Form, Row, Stage
from fairwitness.core.procedures.spec import Offer, TestSpec, Trust

MISFIRES_REVOLUTIONS_CANNOT = template(
    "misfire_counts.misfires_revolutions_cannot",
    "{counts:.0f} misfires in {window:.0f} revolutions cannot be: a cylinder fires {events:.0f} times.",
)
EVERY_CYLINDER_SAID = template(
    "misfire_counts.every_cylinder_said",
    "Every cylinder is said to misfire in nearly every cycle: it would not run. Count again.",
)
MISFIRE_COUNTED_EITHER = template(
    "misfire_counts.misfire_counted_either",
    "No misfire was counted: either there is none, or counting has stopped, as it can when one is gross.",
)
OBSERVATION_HOLDS_COUNTS = template(
    "misfire_counts.observation_holds_counts", "The observation holds no counts per cylinder."
)
EVERYWHERE_PLACEHOLDER_COUNT = template(
    "misfire_counts.everywhere_placeholder_count", "{counts:.0f} everywhere is a placeholder, not a count."
)
OVER_HOW_MANY = template(
    "misfire_counts.over_how_many", "Over how many revolutions was counted is not known; 1000 are assumed."
)
CONTROL_UNIT = template("misfire_counts.control_unit", "control unit")
CONTROL_UNIT_2 = template("misfire_counts.control_unit_2", "by the control unit")
CYLINDER_HAS_COUNT = template("misfire_counts.cylinder_has_count", "Cylinder {cylinder} has no count in the table.")
MISFIRES_CYLINDER_COUNTED = template(
    "misfire_counts.misfires_cylinder_counted",
    "{counts:.0f} misfires of cylinder {c} were counted in {window:.0f} revolutions.",
)


FloatArray = NDArray[np.float64]
TEST = "misfire_counts"
_say = scope(TEST)
LINE = "CON"
COUNT = "misfire_count"
OUTCOMES = {State.LOW: "some", State.ABSENT: "most"}
"""A high count says much; that none was counted says little, so it is no outcome."""
PLACEHOLDERS = (255, 65_535)
"""[M] all bits set: the register was never filled."""
REVOLUTIONS_USUAL = (200, 1000)
"""[P: Cal. Code Regs. tit. 13 section 1968.2(e)(3)] windows over which a control unit evaluates misfire."""


def _sigmas(shares: FloatArray) -> FloatArray:
    """A weak cylinder is not counted, only one that fails to fire: no count says little, a high count says much."""
    counted = 1.0 - shares >= limit.MISFIRE_RATE_MIN.value
    return np.where(counted, limit.COUNTS_SIGMA.value, limit.COUNTS_QUIET_SIGMA.value)


def _readings(filled: Filled) -> list[Data]:
    data: Data = {"counts": filled.by_cylinder("count")}
    revolutions = filled.entries.get("revolutions")
    return [{**data, "revolutions": revolutions} if revolutions else data]


SPEC = TestSpec(
    id=TEST,
    title=_say("title", "Misfire counts"),
    owner=_say("owner", "how often the engine computer counted a missed firing"),
    place=230,
    trust=Trust.REPORTED,
    unit="counts",
    columns=("CON",),
    kinds=(COUNT,),
    high_is_sound=True,
    says_which=_say("says_which", "The control unit's misfire count"),
    offers=(
        Offer(
            id=TEST,
            title=_say("offer", "Misfire counts of the control unit"),
            tools=_say("tools", "scan tool"),
            splits=_say("splits", "names a cylinder; a signal of one's own is to confirm it"),
            needs=(Tool.SCAN_TOOL,),
            set_up=2,
            work=3,
            columns=("CON",),
            sigmas=_sigmas,
            misread=0.25,
            acts=frozenset({Act.READS_CONTROL_UNIT}),
        ),
    ),
    form=Form(
        stage=Stage.RUNNING,
        title=_say("form", "Misfire counts, from a scan tool"),
        hint=_say(
            "hint",
            "Counts can stop when a misfire is gross, and a weak cylinder is not counted: a signal of your own is "
            "believed over them.",
        ),
        kept=_say("kept", "Misfire counts"),
        rows=(Row(key="count", words=_say("row", "misfires")),),
        entries=(Entry(key="revolutions", words=_say("entry", "revolutions, if known"), optional=True),),
        readings=_readings,
    ),
)


def measure(observation: Observation, index: int, engine: Engine) -> Measured:
    """Compare the counts.

    Parameters
    ----------
    observation : Observation
        ``counts`` maps cylinder numbers to counts; ``revolutions`` is the window they were taken over.
    index : int
    engine : Engine

    Returns
    -------
    Measured
        Zero everywhere clears nobody: counting can stop when the misfire is gross.
    """
    origin = Origin(observation=index, code_version=__version__)
    counts = _counts(observation.data.get("counts"), engine)
    if isinstance(counts, Reason):
        return refused(TEST, "1", engine.firing_order, (counts,), origin)
    revolutions = observation.data.get("revolutions")
    known = isinstance(revolutions, int | float) and not isinstance(revolutions, bool) and revolutions > 0
    window = float(revolutions) if known else float(REVOLUTIONS_USUAL[1])  # type: ignore[arg-type]
    events = window / 2  # a cylinder fires every second revolution
    reasons: list[Reason] = []
    if not known:
        reasons.append(Reason("window_unknown", OVER_HOW_MANY()))
    if max(counts) > limit.COUNTS_OVER_EVENTS.value * events:
        text = MISFIRES_REVOLUTIONS_CANNOT(counts=max(counts), window=window, events=events)
        return refused(TEST, "1", engine.firing_order, (Reason("impossible_count", text, blocking=True),), origin)
    rates = np.minimum(np.array(counts) / events, 1.0)
    if engine.cylinders > 1 and rates.min() >= limit.MISFIRE_DEAD_RATE.value:
        text = EVERY_CYLINDER_SAID()
        return refused(TEST, "1", engine.firing_order, (Reason("impossible_count", text, blocking=True),), origin)
    silent = not rates.any()
    if silent:
        text = MISFIRE_COUNTED_EITHER()
        reasons.append(Reason("counts_silent", text))
    findings = tuple(
        Finding(
            test=TEST,
            cylinder=c,
            quantity=TEST,
            value=float(counts[i]),
            unit="counts",
            spread=None,
            events=round(events),
            state=_state(float(rates[i])),
            statement=MISFIRES_CYLINDER_COUNTED(counts=counts[i], c=c, window=window),
            origin=origin,
        )
        for i, c in enumerate(engine.firing_order)
    )
    scatter = np.sqrt(np.array(counts) + 1.0) / events
    sigmas = np.full(rates.size, limit.COUNTS_SILENT_SIGMA.value) if silent else _sigmas(1.0 - rates)
    evidence = Evidence(
        line=LINE,
        source=f"observation:{index}",
        alternatives=(1.0 - rates,),
        sigmas=np.where(rates >= limit.MISFIRE_RATE_MIN.value, np.hypot(limit.COUNTS_SIGMA.value, scatter), sigmas),
    )
    categorical = tuple(
        CategoricalEvidence(kind=COUNT, outcome=OUTCOMES[f.state], cylinders=(c,), source=f"observation:{index}")
        for c, f in zip(engine.firing_order, findings, strict=True)
        if f.state in OUTCOMES
    )
    return Measured(
        test=TEST,
        observation=index,
        reasons=tuple(reasons),
        findings=findings,
        lines=(evidence,) if engine.cylinders > 1 else (),
        categorical=categorical,
        facts={"source": CONTROL_UNIT(), "assignment": CONTROL_UNIT_2()},
    )


def _counts(table: object, engine: Engine) -> list[float] | Reason:
    if not isinstance(table, Mapping):
        return Reason("table_missing", OBSERVATION_HOLDS_COUNTS(), blocking=True)
    counts = []
    for cylinder in engine.firing_order:
        value = table.get(str(cylinder), table.get(cylinder))
        if isinstance(value, bool) or not isinstance(value, int | float) or not math.isfinite(value) or value < 0:
            return Reason("table_gap", CYLINDER_HAS_COUNT(cylinder=cylinder), blocking=True)
        counts.append(float(value))
    if len(set(counts)) == 1 and counts[0] in PLACEHOLDERS:
        return Reason("placeholder", EVERYWHERE_PLACEHOLDER_COUNT(counts=counts[0]), blocking=True)
    return counts


def _state(rate: float) -> State:
    if rate >= limit.MISFIRE_DEAD_RATE.value:
        return State.ABSENT
    return State.LOW if rate >= limit.MISFIRE_RATE_MIN.value else State.NORMAL
