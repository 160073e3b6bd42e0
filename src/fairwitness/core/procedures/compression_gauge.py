"""Compression by a gauge, dry and with a spoon of oil: how much each cylinder holds, in any unit."""

from __future__ import annotations

from collections.abc import Mapping

import numpy as np

from fairwitness import __version__
from fairwitness.core import thresholds as limit
from fairwitness.core.messages.catalogue import scope, template
from fairwitness.core.messages.message import NOTHING, Message
from fairwitness.core.messages.words import BY_HAND
from fairwitness.core.model.acts import Act
from fairwitness.core.model.case import Observation
from fairwitness.core.model.engine import Engine, Fuel
from fairwitness.core.model.measurement import CategoricalEvidence, Evidence, Finding, Measured, Origin, State, refused
from fairwitness.core.model.reason import Reason
from fairwitness.core.model.tools import Tool, Turning
from fairwitness.core.procedures.form import Choice, Data, Filled, Form, Row, Stage, options
from fairwitness.core.procedures.pressure_units import beyond_engines, short_of_engines
from fairwitness.core.procedures.reading_by_hand import number_of
from fairwitness.core.procedures.spec import Offer, TestSpec, Trust, all_alike
from fairwitness.core.signal.peers import healthy_level

UNIT_UNKNOWN = template(
    "compression_gauge.unit_unknown", "A compression in {unit} is not known; write bar, kPa or psi."
)
NO_READING = template("compression_gauge.no_reading", "No reading names a cylinder of this engine.")
ALL_ZERO = template(
    "compression_gauge.all_zero",
    "No cylinder shows any compression: was the gauge tight, the throttle open, the check valve sound?",
)
DRY = template(
    "compression_gauge.dry", "Cylinder {cylinder} reads {pa:pressure} dry, {share:.0f} % of the highest group"
)
WET_SEALS = template("compression_gauge.wet_seals", ", {pa:pressure} wet: oil seals it, rings")
WET_STAYS = template("compression_gauge.wet_stays", ", {pa:pressure} wet: oil does not help, valves or gasket")
LOW_ITSELF = template("compression_gauge.low_itself", "; low in itself, even where its peers are no better")
READING = template("compression_gauge.reading", "{dry}{wet}{low}.")
GAUGE = template("compression_gauge.source", "gauge")
USUAL = template("compression_gauge.usual", "{pa:pressure} and more, even")


TEST = "compression_gauge"
_say = scope(TEST)
LINE = "CP"
TO_BAR = {"bar": 1.0, "kPa": 0.01, "psi": 0.06894757293168361, "Pa": 1e-5}  # [P: NIST SP 811] psi
LEVELS = {Fuel.DIESEL: limit.PRESSURE_LOW_DIESEL_BAR}


def usual(engine: Engine) -> dict[str, Message]:
    """Pressure that sound cylinders of an engine reach."""
    return {TEST: USUAL(pa=1e5 * least_bar(engine))}


def _readings(filled: Filled) -> list[Data]:
    return [{"unit": filled.choices["unit"], "dry": filled.by_cylinder("dry"), "wet": filled.by_cylinder("wet")}]


SPEC = TestSpec(
    id=TEST,
    title=_say("title", "Compression gauge"),
    owner=_say("owner", "the pressure each cylinder builds, with a gauge"),
    place=300,
    trust=Trust.METERED,
    unit="bar",
    columns=("CP",),
    kinds=("gauge_wet", "pressure_best"),
    plural=_say("plural", "The compressions"),
    usual=usual,
    offers=(
        Offer(
            id=TEST,
            title=_say("offer", "Compression gauge, dry and with oil"),
            tools=_say("tools", "compression gauge, spoon of oil"),
            splits=_say("splits", "gives the absolute figure; rises with oil is rings, stays is valves or gasket"),
            needs=(Tool.COMPRESSION_GAUGE,),
            set_up=14,
            work=4,
            each=4,
            columns=("CP",),
            sigmas=all_alike(limit.GAUGE_SIGMA.value),
            kinds=("gauge_wet", "pressure_best"),
            turning=Turning.CRANKING,
            mechanical=True,
            disturbs=True,
            acts=frozenset({Act.OPENS_PLUG_HOLES, Act.ADDS_OIL}),
        ),
    ),
    form=Form(
        stage=Stage.MECHANICAL,
        title=_say("form", "Compression gauge, dry and with oil"),
        hint=_say(
            "hint",
            "All plugs out, throttle open, same number of strokes for each, battery charged. A spoon of oil in the low "
            "one: rises is rings, stays is valves or gasket. It says that it leaks, not where.",
        ),
        kept=_say("kept", "Compressions"),
        choices=(
            Choice(
                key="unit",
                words=_say("choice.unit", "In"),
                options=options("compression_gauge.unit", kPa="kPa", bar="bar", psi="psi"),
            ),
        ),
        rows=(
            Row(key="dry", words=_say("row.dry", "dry")),
            Row(key="wet", words=_say("row.wet", "with oil"), optional=True),
        ),
        least=1,
        usual_by="",
        readings=_readings,
    ),
)


def measure(observation: Observation, index: int, engine: Engine) -> Measured:
    """Compare what the gauge showed.

    Parameters
    ----------
    observation : Observation
        ``unit`` (bar, kPa, psi), ``dry`` and ``wet`` by cylinder.
    index : int
    engine : Engine

    Returns
    -------
    Measured
        The absolute figure speaks too: an engine equally low everywhere is low.
    """
    origin = Origin(observation=index, code_version=__version__)
    unit = observation.data.get("unit", "kPa")
    if unit not in TO_BAR:
        text = UNIT_UNKNOWN(unit=unit)
        return refused(TEST, "bar", engine.firing_order, (Reason("unit_unknown", text, blocking=True),), origin)
    dry, wet = (_table(observation.data.get(key), engine, TO_BAR[unit]) for key in ("dry", "wet"))
    if not dry:
        text = NO_READING()
        return refused(TEST, "bar", engine.firing_order, (Reason("no_readings", text, blocking=True),), origin)
    usual = healthy_level(np.array(list(dry.values())))
    if not usual > 0:
        text = ALL_ZERO()
        return refused(TEST, "bar", engine.firing_order, (Reason("all_zero", text, blocking=True),), origin)
    doubtful = beyond_engines(1e5 * max(dry.values()), unit) or _all_too_low(dry, unit)
    if doubtful is not None:
        return refused(TEST, "bar", tuple(c for c in engine.firing_order if c in dry), (doubtful,), origin)
    least = least_bar(engine)
    source = f"observation:{index}"
    shares, sigmas = np.ones(engine.cylinders), np.full(engine.cylinders, limit.NOT_TRIED_SIGMA.value)
    findings, categorical = [], []
    for i, c in enumerate(engine.firing_order):
        if c not in dry:
            continue
        share = dry[c] / usual
        shares[i], sigmas[i] = float(np.clip(share, 0.0, 1.6)), limit.GAUGE_SIGMA.value
        state = _state(share)
        wet_words, low_words = NOTHING, NOTHING
        if c in wet:
            rises = wet[c] > dry[c] + limit.WET_RISES_SHARE.value * max(usual - dry[c], 0.05 * usual)
            if state is not State.NORMAL or dry[c] < least:
                outcome = "rises" if rises else "stays"
                categorical.append(
                    CategoricalEvidence(kind="gauge_wet", outcome=outcome, cylinders=(c,), source=source)
                )
            wet_words = (WET_SEALS if rises else WET_STAYS)(pa=1e5 * wet[c])
        if state is State.NORMAL and dry[c] < least:
            state = State.LOW
            low_words = LOW_ITSELF()
        words = DRY(cylinder=c, pa=1e5 * dry[c], share=100 * share)
        findings.append(
            Finding(
                test=TEST, cylinder=c, quantity=TEST, value=round(dry[c], 2), unit="bar", spread=None, events=1,
                state=state, statement=READING(dry=words, wet=wet_words, low=low_words), origin=origin,
            )
        )  # fmt: skip
    everyone = tuple(sorted(engine.firing_order))
    # Shares cannot tell an engine that is low everywhere; the best of its cylinders can.
    best = CategoricalEvidence(
        kind="pressure_best", outcome="low" if usual < least else "normal", cylinders=everyone, source=source
    )
    categorical.append(best)
    line = Evidence(line=LINE, source=source, alternatives=(shares,), sigmas=sigmas)
    return Measured(
        test=TEST,
        observation=index,
        findings=tuple(findings),
        lines=(line,) if len(dry) > 1 else (),
        categorical=tuple(categorical),
        facts={"source": GAUGE(), "assignment": BY_HAND, "cylinders": len(dry)},
    )


def _all_too_low(dry: Mapping[int, float], unit: str) -> Reason | None:
    """Why readings of next to nothing everywhere, and alike, are the gauge's, its hose's or the unit's."""
    even = len(dry) > 1 and min(dry.values()) > limit.GAUGE_LOW_SHARE.value * max(dry.values())
    return short_of_engines(1e5 * max(dry.values()), unit) if even else None


def least_bar(engine: Engine) -> float:
    """Pressure above the atmosphere that a sound cylinder reaches at least, bar."""
    return LEVELS.get(engine.fuel, limit.PRESSURE_LOW_BAR).value


def _table(rows: object, engine: Engine, factor: float) -> dict[int, float]:
    table = rows if isinstance(rows, Mapping) else {}
    read = {c: number_of(table, str(c), low=0.0, high=1e7) for c in engine.firing_order}
    return {c: factor * v for c, v in read.items() if v is not None}


def _state(share: float) -> State:
    if share < limit.PRESSURE_ABSENT_SHARE.value:
        return State.ABSENT
    return State.LOW if share < limit.GAUGE_LOW_SHARE.value else State.NORMAL
