"""Power balance: how far the speed drops when one cylinder is taken out. No drop: it was not working."""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import replace

import numpy as np
from numpy.typing import NDArray

from fairwitness import __version__
from fairwitness.core import thresholds as limit
from fairwitness.core.messages.catalogue import scope, template
from fairwitness.core.model.acts import Act
from fairwitness.core.model.case import Observation
from fairwitness.core.model.engine import Engine
from fairwitness.core.model.measurement import Evidence, Finding, Measured, Origin, State, refused
from fairwitness.core.model.reason import Reason
from fairwitness.core.procedures import cautions, engines
from fairwitness.core.procedures.form import Choice, Data, Filled, Form, Row, Stage, each, options
from fairwitness.core.procedures.spec import Offer, TestSpec, Trust, all_alike
from fairwitness.core.signal.peers import healthy_level

SPEED_DROPS_RPM = template(
    "power_balance.speed_drops_rpm",
    "The speed drops by {level:.0f} rpm at most: idle control fills the hole. Fix it, or load the engine.",
)
DROP_WITHOUT_CYLINDER = template(
    "power_balance.drop_without_cylinder",
    "A drop without cylinder of this engine, or without two speeds, was left out.",
)
TAKING_CYLINDER_OUT = template(
    "power_balance.taking_cylinder_out", "Taking cylinder {cylinder} out changes nothing: {drop:.0f} rpm."
)
FEWER_THAN_TWO = template(
    "power_balance.fewer_than_two", "Fewer than two cylinders were tried; there is nothing to compare."
)
IDLE_CONTROL_ACTIVE = template(
    "power_balance.idle_control_active", "Idle control was active: drops look smaller than they are."
)
SPEED_BEFORE_EACH = template(
    "power_balance.speed_before_each", "The speed before each try differs by {ptp:.0f} rpm; repeat."
)
SPEED_DROPS = template("power_balance.speed_drops", "speed drops")
HAND = template("power_balance.hand", "by hand")
OBSERVATION_HOLDS_DROPS = template("power_balance.observation_holds_drops", "The observation holds no drops.")
CYLINDER_DROPS_SPEED = template(
    "power_balance.cylinder_drops_speed",
    "Cylinder {cylinder} drops the speed by {drop:.0f} rpm, {share:.0f} % of its peers.",
)
CYLINDER_DROPS_SPEED_LIKE = template(
    "power_balance.cylinder_drops_speed_like", "Cylinder {cylinder} drops the speed like its peers: {drop:.0f} rpm."
)


BY_EAR = template("power_balance.by_ear", "Only heard: it tells a cylinder that does nothing, not a weak one.")
BY_EAR_WORD = template("power_balance.by_ear_word", "by ear")
NOTHING_CHANGED = template(
    "power_balance.nothing_changed",
    "No cylinder's removal changed anything: idle control fills the hole, or it was not taken out. Fix the idle, or "
    "load the engine.",
)
HEARD_TO_CHANGE = template("power_balance.heard_to_change", "Taking cylinder {cylinder} out is heard at once.")
HEARD_UNCHANGED = template("power_balance.heard_unchanged", "Taking cylinder {cylinder} out changes nothing.")

FloatArray = NDArray[np.float64]

TEST = "power_balance"
_say = scope(TEST)
LINE = "CON"


def _readings(filled: Filled) -> list[Data]:
    before, after = filled.values.get("before", {}), filled.values.get("after", {})
    heard = filled.values.get("heard", {})

    def of(cylinder: int) -> Data:
        if cylinder in before and cylinder in after:
            return {"cylinder": cylinder, "rpm_before": before[cylinder], "rpm_after": after[cylinder]}
        return {"cylinder": cylinder, "changed": heard.get(cylinder) == "changed"}

    named = {key: filled.choices[key] for key in ("by", "load")}
    return [{"idle_control": filled.choices["idle"], **named, "drops": each(filled, of)}]


OFFER = Offer(
    id=TEST,
    title=_say("offer", "Power balance"),
    tools=_say("tools", "scan tool"),
    splits=_say("splits", "shows which cylinder's removal changes nothing"),
    set_up=4,
    work=6,
    columns=("CON",),
    sigmas=all_alike(limit.BALANCE_SIGMA.value),
    acts=frozenset({Act.COMPARES, Act.NEEDS_IDLE}),
    cautions=(
        cautions.NEVER_OPEN,
        cautions.SHORT_CUTS,
        cautions.HIGH_VOLTAGE,
    ),
    asks={"by": "command"},
)
SPEC = TestSpec(
    id=TEST,
    title=_say("title", "Power balance"),
    owner=_say("owner", "how much the engine slows down without each cylinder"),
    place=220,
    trust=Trust.METERED,
    unit="rpm",
    columns=("CON",),
    high_is_sound=True,
    says_which=_say("says_which", "The power balance"),
    offers=(
        OFFER,
        replace(
            OFFER,
            id=f"{TEST}:unplugging",
            title=_say("unplugging", "Power balance, injectors unplugged in turn"),
            tools=_say("unplugging.tools", "none, or the dash's speed"),
            set_up=5,
            work=8,
            asks={"by": "unplugging"},
            acts=OFFER.acts | {Act.UNPLUGS_INJECTOR_RUNNING, Act.TOUCHES_INJECTOR, Act.PULLS_CONNECTOR},
            fits=engines.has_injectors,
            disturbs=True,
        ),
        replace(
            OFFER,
            id=f"{TEST}:shorting",
            title=_say("shorting", "Power balance, sparks led away in turn"),
            tools=_say("shorting.tools", "grounded test lead"),
            set_up=5,
            work=8,
            asks={"by": "shorting"},
            acts=OFFER.acts | {Act.TOUCHES_COIL, Act.SPARKS},
            fits=engines.has_coils,
            disturbs=True,
        ),
    ),
    form=Form(
        stage=Stage.RUNNING,
        title=_say("form", "Power balance"),
        hint=_say(
            "hint",
            "Read the speed, take one cylinder out, read at once, put it back and wait for the first speed. Without "
            "a speed write down whether its sound changed. Cylinders may be left empty.",
        ),
        kept=_say("kept", "Power balance"),
        choices=(
            Choice(
                key="idle",
                words=_say("choice.idle", "Idle control was"),
                options=options("power_balance.idle", active="Active", fixed="Fixed"),
            ),
            Choice(
                key="by",
                words=_say("choice.by", "Taken out by"),
                options=options(
                    "power_balance.by",
                    command="Scan tool",
                    unplugging="Injector unplugged",
                    shorting="Spark led away",
                ),
            ),
            Choice(
                key="load",
                words=_say("choice.load", "Engine at"),
                options=options("power_balance.load", idle="Idle", load="Load"),
            ),
        ),
        rows=(
            Row(key="before", words=_say("row.before", "rpm before")),
            Row(key="after", words=_say("row.after", "rpm after")),
            Row(
                key="heard",
                words=_say("row.heard", "or by ear"),
                options=options("power_balance.heard", changed="changed", unchanged="unchanged"),
                alone=True,
            ),
        ),
        least=2,
        readings=_readings,
    ),
)


def measure(observation: Observation, index: int, engine: Engine) -> Measured:
    """Compare the drops of speed.

    Parameters
    ----------
    observation : Observation
        ``drops``: one entry per try with ``cylinder``, ``rpm_before`` and ``rpm_after``, or with ``changed`` where it
        was only heard; a cylinder may be tried often.
        ``idle_control``: active or fixed.
    index : int
    engine : Engine

    Returns
    -------
    Measured
        Cylinders that were not tried get no finding and weigh nothing. Unusable where no drop stands out at all.
    """
    origin = Origin(observation=index, code_version=__version__)
    reasons: list[Reason] = []
    rows = observation.data.get("drops")
    heard = _heard(rows, engine)
    if heard:
        return _by_ear(heard, index, engine, origin)
    tries = _tries(rows, engine, reasons)
    tried = [c for c in engine.firing_order if tries[c]]
    if len(tried) < 2 and not any(r.blocking for r in reasons):
        reasons.append(Reason("too_few", FEWER_THAN_TWO(), True))
    if any(r.blocking for r in reasons):
        return refused(TEST, "rpm", engine.firing_order, tuple(reasons), origin)
    drops = {c: float(np.median([before - after for before, after in tries[c]])) for c in tried}
    baselines = [before for c in tried for before, _ in tries[c]]
    usual = float(np.median(baselines))
    level = healthy_level(np.array(list(drops.values())))
    if level < limit.BALANCE_DROP_MIN_SHARE.value * usual:
        text = SPEED_DROPS_RPM(level=level)
        return refused(TEST, "rpm", engine.firing_order, (Reason("no_drop", text, blocking=True),), origin)
    active = observation.data.get("idle_control") == "active"
    if active:
        reasons.append(Reason("idle_active", IDLE_CONTROL_ACTIVE()))
    if float(np.ptp(baselines)) > limit.BALANCE_DRIFT_MAX_SHARE.value * usual:
        reasons.append(Reason("baseline_drift", SPEED_BEFORE_EACH(ptp=np.ptp(baselines))))
    noise = limit.BALANCE_READING_RPM.value + (0.5 * float(np.std(baselines)) if len(baselines) > 2 else 0.0)
    findings, shares, sigmas = [], [], []
    for cylinder in engine.firing_order:
        if cylinder not in drops:
            shares.append(1.0)
            sigmas.append(limit.NOT_TRIED_SIGMA.value)
            continue
        share = drops[cylinder] / level
        sigma = math.hypot(limit.BALANCE_SIGMA.value * (1.5 if active else 1.0), noise / level)
        shares.append(max(0.0, min(share, 1.6)))
        sigmas.append(sigma / math.sqrt(len(tries[cylinder])))
        findings.append(_finding(cylinder, drops[cylinder], share, len(tries[cylinder]), origin))
    evidence = Evidence(
        line=LINE, source=f"observation:{index}", alternatives=(np.array(shares),), sigmas=np.array(sigmas)
    )
    return Measured(
        test=TEST,
        observation=index,
        reasons=tuple(reasons),
        findings=tuple(findings),
        lines=(evidence,),
        facts={"source": SPEED_DROPS(), "assignment": HAND(), "speed_rpm": round(usual, 1)},
    )


def _heard(rows: object, engine: Engine) -> dict[int, bool]:
    """Cylinders whose removal was heard to change the engine, or not; empty where speeds were read."""
    if not isinstance(rows, list | tuple):
        return {}
    entries = [row for row in rows if isinstance(row, Mapping)]
    if any(_is_speed(row.get("rpm_before")) for row in entries):
        return {}
    changed = {row.get("cylinder"): row.get("changed") for row in entries}
    return {c: bool(changed[c]) for c in engine.firing_order if isinstance(changed.get(c), bool)}


def _by_ear(heard: Mapping[int, bool], index: int, engine: Engine, origin: Origin) -> Measured:
    """What is only heard tells a cylinder that does nothing from one that works; how well it works stays open."""
    refusal = FEWER_THAN_TWO() if len(heard) < 2 else None if any(heard.values()) else NOTHING_CHANGED()
    if refusal is not None:
        return refused(TEST, "rpm", engine.firing_order, (Reason("no_drop", refusal, blocking=True),), origin)
    shares = [limit.BALANCE_UNCHANGED_SHARE.value if heard.get(c) is False else 1.0 for c in engine.firing_order]
    sigmas = [
        limit.BALANCE_HEARD_SIGMA.value if c in heard else limit.NOT_TRIED_SIGMA.value for c in engine.firing_order
    ]
    findings = tuple(
        Finding(
            test=TEST, cylinder=c, quantity=TEST, value=None, unit="rpm", spread=None, events=1,
            state=State.NORMAL if heard[c] else State.ABSENT,
            statement=(HEARD_TO_CHANGE if heard[c] else HEARD_UNCHANGED)(cylinder=c), origin=origin,
        )
        for c in engine.firing_order if c in heard
    )  # fmt: skip
    evidence = Evidence(
        line=LINE, source=f"observation:{index}", alternatives=(np.array(shares),), sigmas=np.array(sigmas)
    )
    return Measured(
        test=TEST,
        observation=index,
        reasons=(Reason("by_ear", BY_EAR()),),
        findings=findings,
        lines=(evidence,),
        facts={"source": BY_EAR_WORD(), "assignment": HAND()},
    )


def _tries(rows: object, engine: Engine, reasons: list[Reason]) -> dict[int, list[tuple[float, float]]]:
    tries: dict[int, list[tuple[float, float]]] = {c: [] for c in engine.firing_order}
    if not isinstance(rows, list | tuple) or not rows:
        reasons.append(Reason("no_drops", OBSERVATION_HOLDS_DROPS(), blocking=True))
        return tries
    for row in rows:
        cylinder = row.get("cylinder") if isinstance(row, Mapping) else None
        before, after = (row.get("rpm_before"), row.get("rpm_after")) if isinstance(row, Mapping) else (None, None)
        if cylinder not in tries or not _is_speed(before) or not _is_speed(after):
            text = DROP_WITHOUT_CYLINDER()
            reasons.append(Reason("bad_row", text))
            continue
        assert isinstance(before, int | float)
        assert isinstance(after, int | float)
        tries[cylinder].append((float(before), float(after)))
    return tries


def _is_speed(value: object) -> bool:
    return isinstance(value, int | float) and not isinstance(value, bool) and 0 <= value <= 12_000


def _finding(cylinder: int, drop: float, share: float, times: int, origin: Origin) -> Finding:
    if share < limit.CONTRIBUTION_ABSENT_SHARE.value:
        state, text = State.ABSENT, TAKING_CYLINDER_OUT(cylinder=cylinder, drop=drop)
    elif share < limit.BALANCE_LOW_SHARE.value:
        state, text = (
            State.LOW,
            CYLINDER_DROPS_SPEED(cylinder=cylinder, drop=drop, share=100 * share),
        )
    else:
        state, text = State.NORMAL, CYLINDER_DROPS_SPEED_LIKE(cylinder=cylinder, drop=drop)
    return Finding(
        test=TEST, cylinder=cylinder, quantity=TEST, value=round(drop, 1), unit="rpm", spread=None, events=times,
        state=state, statement=text, origin=origin,
    )  # fmt: skip
