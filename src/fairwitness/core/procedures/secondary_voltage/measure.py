"""Secondary voltage: every spark read, each cylinder beside its peers.

Firing voltage, spark line, duration, rise of the line and ringing are five views of one spark; together they are one
witness. Pick-ups are rarely calibrated, so cylinders are compared with each other and absolute limits only added where
the peers' level is one that plugs have.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence

import numpy as np
from numpy.typing import NDArray

from fairwitness import __version__
from fairwitness.core import thresholds as limit
from fairwitness.core.messages.catalogue import template
from fairwitness.core.messages.words import BY_LEAD
from fairwitness.core.model.capture import Capture, CaptureTest, Role
from fairwitness.core.model.engine import Engine, Ignition
from fairwitness.core.model.measurement import CategoricalEvidence, Finding, Measured, Origin, State, refused
from fairwitness.core.model.reason import Reason
from fairwitness.core.procedures.secondary_voltage.comparison import compare
from fairwitness.core.procedures.secondary_voltage.readable import Figures
from fairwitness.core.procedures.sweep import judged_together
from fairwitness.core.signal.conditioning import step_of
from fairwitness.core.signal.ignition.averaged import averaged_sparks
from fairwitness.core.signal.ignition.leads import Leads, read_leads
from fairwitness.core.signal.ignition.secondary import Sparks
from fairwitness.core.signal.resampling import evenly_sampled
from fairwitness.core.signal.robust import robust_centre

PICK_UP_CYLINDER = template(
    "secondary_voltage.pick_up_cylinder",
    "The pick-up on cylinder {who} reads turn-on and spark by one factor differently: it was rescaled.",
)
TOO_SLOW = template(
    "secondary_voltage.too_slow",
    "{rate:.0f} samples a second pass a spark by: it lasts a thousandth of a second. Use {least:.0f} and more.",
)
ENGINE_HAS_COILS = template("secondary_voltage.engine_has_coils", "This engine has no coils.")
IGNITION_DISABLED_WHEN = template(
    "secondary_voltage.ignition_disabled_when", "Ignition was disabled when this was taken."
)
CYLINDER_DOES_ANSWER = template(
    "secondary_voltage.cylinder_does_answer",
    "Cylinder {cylinders} does not answer the snapped throttle: the energy goes another way.",
)
CYLINDER_ANSWERS_SNAPPED = template(
    "secondary_voltage.cylinder_answers_snapped", "Cylinder {cylinders} answers the snapped throttle."
)


FloatArray = NDArray[np.float64]
TEST = CaptureTest.SECONDARY_VOLTAGE.value
SNAP = "snap"
SAME_HEIGHT = 0.002
"""[M] breakdowns scatter by some per cent: two this alike were stopped by the range."""
GAIN_FOLLOWS = 0.6
"""[M] of its deviation that the others must share to be one gain."""


def applies(capture: Capture) -> bool:
    """Whether a capture can be read for this test: secondary voltage that is more than another test's sync."""
    return capture.taken_for(CaptureTest.SECONDARY_VOLTAGE, Role.SECONDARY_VOLTAGE)


def measure(capture: Capture, engine: Engine) -> Measured:
    """Read every spark and compare the cylinders.

    Parameters
    ----------
    capture : Capture
        All leads, some of them, or one pick-up over all with a sync.
    engine : Engine

    Returns
    -------
    Measured
        Unusable without sparks, or where nothing says whose they are. ``figures`` holds each cylinder's medians.
    """
    origin = Origin(resource=capture.name, capture_sha256=capture.sha256, code_version=__version__)
    if engine.ignition is Ignition.COMPRESSION_IGNITION:
        why = Reason("no_coils", ENGINE_HAS_COILS(), blocking=True)
        return refused(TEST, "kV", engine.firing_order, (why,), origin)
    if capture.set_up.ignition_disabled:
        why = Reason("spark_off", IGNITION_DISABLED_WHEN(), blocking=True)
        return refused(TEST, "kV", engine.firing_order, (why,), origin)
    if capture.time.rate_hz < limit.SPARK_RATE_MIN_HZ.value:
        text = TOO_SLOW(rate=capture.time.rate_hz, least=limit.SPARK_RATE_MIN_HZ.value)
        return refused(TEST, "kV", engine.firing_order, (Reason("aliased", text, blocking=True),), origin)
    even = evenly_sampled(capture)
    leads = read_leads(even, engine)
    if isinstance(leads, Reason):
        return refused(TEST, "kV", engine.firing_order, (leads,), origin)
    grids = {channel.cylinder: step_of(channel) / 1000.0 for channel in even.with_role(Role.SECONDARY_VOLTAGE)}
    figures: dict[int, Figures] = {
        c: {**_figures(s, leads, c), "grid_kv": round(grids.get(c, 0.0), 4)} for c, s in leads.sparks.items()
    }
    reasons = list(leads.reasons)
    figures, regained = _same_gain(figures)
    if regained:
        who = ", ".join(map(str, regained))
        text = PICK_UP_CYLINDER(who=who)
        reasons.append(Reason("pick_up_gain", text))
    gaps = _gaps(leads, figures, capture.name)
    snap: tuple[CategoricalEvidence, ...] = ()
    if capture.set_up.load == SNAP:
        snap = _snap(leads, capture.name)
    findings, lines, more = compare(figures, engine, origin=origin, source=f"capture:{capture.name}")
    longest = max(leads.sparks.values(), key=lambda s: s.count)
    speed = 120.0 / leads.cycle_s if np.isfinite(leads.cycle_s) else 0.0
    starts = capture.time.start_s + longest.at_s
    return Measured(
        test=TEST,
        resource=capture.name,
        reasons=(*reasons, *more),
        findings=(*findings, *_snap_findings(snap, origin)),
        lines=lines,
        categorical=(*snap, *gaps),
        averaged_cycle=averaged_sparks(even, leads, engine),
        facts={
            "cycles": longest.count,
            "speed_rpm": round(speed, 1),
            "source": leads.source,
            "assignment": BY_LEAD,
            "cylinders": len(figures),
        },
        figures=figures,
        cycle_starts_s=tuple(map(float, starts)),
    )


def together(parts: Sequence[Measured], engine: Engine) -> tuple[Measured, ...]:
    """Compare cylinders that were captured one after the other; see ``sweep.judged_together``."""
    return judged_together(parts, engine, compare)


def _figures(sparks: Sparks, leads: Leads, cylinder: int) -> Figures:
    """Medians over the sparks of a cylinder, with robust spreads and how many are missing."""
    if not sparks.count:
        return {"sparks": 0.0, "firing_kv": round(leads.level.get(cylinder, 0.0), 4), "missed": 1.0}
    figures = {"sparks": float(sparks.count)}
    for name in (
        "firing_kv",
        "line_kv",
        "duration_ms",
        "rise",
        "ringing",
        "roughness",
        "rings",
        "dwell_ms",
        "step_kv",
        "restrikes",
    ):
        values = getattr(sparks, name)
        if np.isfinite(values).any():
            centre, sigma = robust_centre(values[np.isfinite(values)])
            figures[name] = round(float(centre), 4)
            figures[f"{name}_spread"] = round(float(sigma), 4)
    figures["restrikes"] = round(float(np.mean(sparks.restrikes)), 3)  # of single sparks: a median would hide them
    figures["cut_off"] = round(float(np.mean(sparks.firing_kv >= (1 - SAME_HEIGHT) * sparks.firing_kv.max())), 3)
    figures["odd"] = round(_odd_share(sparks), 4)
    figures["energy"] = round(figures["line_kv"] * figures["duration_ms"], 4)
    due = leads.seconds / leads.cycle_s if np.isfinite(leads.cycle_s) else sparks.count
    missed = max(0.0, int(due) - sparks.count) / max(int(due), 1)
    figures["missed"] = round(missed if int(due) - sparks.count >= 2 else 0.0, 4)
    return figures


def _odd_share(sparks: Sparks) -> float:
    """Share of sparks that are nothing like the cylinder's usual one: no line, or a breakdown far above."""
    burns = float(np.median(sparks.line_kv)) > 0
    far = sparks.firing_kv > limit.SPARK_ODD_SHARE.value * float(np.median(sparks.firing_kv))
    return float(np.mean(far | ((sparks.line_kv <= 0) & burns)))


def _gaps(leads: Leads, figures: Mapping[int, Figures], name: str) -> tuple[CategoricalEvidence, ...]:
    """Which cylinders lose single sparks while most are sound: medians hide what comes and goes."""
    reported = []
    for c, own in figures.items():
        if own["sparks"] < limit.SPARKS_FOR_GAPS_MIN.value:
            continue
        lost = own["odd"] * own["sparks"] + own["missed"] * own["sparks"]
        others = [f["odd"] + f["missed"] for d, f in figures.items() if d != c and f["sparks"] > 0]
        usual = float(np.median(others)) if others else 0.0
        share = lost / own["sparks"]
        some = lost >= 2 and share >= limit.SPARKS_LOST_SHARE.value and share > 2 * usual
        reported.append(
            CategoricalEvidence(
                kind="spark_gaps", outcome="some" if some else "none", cylinders=(c,), source=f"capture:{name}"
            )
        )
    return tuple(reported)


def _same_gain(figures: dict[int, Figures]) -> tuple[dict[int, Figures], list[int]]:
    """A pick-up that reads turn-on, breakdown and line by one factor apart is the pick-up's, not the coil's."""
    steps = {c: f["step_kv"] for c, f in figures.items() if f.get("step_kv", 0.0) > 0 and f["sparks"] > 0}
    if len(steps) < 3:
        return figures, []
    usual = {n: float(np.median([figures[c][n] for c in steps])) for n in ("step_kv", "firing_kv", "line_kv")}
    put_right: dict[int, Figures] = dict(figures)
    apart = []
    for c, step in steps.items():
        factor = step / usual["step_kv"]
        line = figures[c]["line_kv"] / usual["line_kv"] if usual["line_kv"] > 0 else 0.0
        firing = figures[c]["firing_kv"] / usual["firing_kv"]
        # Line and breakdown must be off themselves, the same way and nearly as far: a turn-on alone may be misread.
        follow = all((share - 1) / (factor - 1) > GAIN_FOLLOWS for share in (line, firing)) if factor != 1 else False
        apart_enough = abs(factor - 1) > limit.PICK_UP_GAIN_OFF.value
        if apart_enough and follow and abs(line / factor - 1) < 0.2 and abs(firing / factor - 1) < 0.3:
            scaled = {k: v / factor if "_kv" in k else v for k, v in figures[c].items()}
            put_right[c] = {**scaled, "energy": figures[c]["energy"] / factor}
            apart.append(c)
    return put_right, sorted(apart)


def _snap(leads: Leads, name: str) -> tuple[CategoricalEvidence, ...]:
    """Which cylinders' breakdown rises when the throttle is snapped open."""
    rises = {
        c: float(np.percentile(s.firing_kv, 92) / np.percentile(s.firing_kv, 25)) - 1
        for c, s in leads.sparks.items()
        if s.count >= 8
    }
    if len(rises) < 2 or np.median(list(rises.values())) < limit.SNAP_RISES_SHARE.value - 1:
        return ()
    usual = float(np.median(list(rises.values())))
    return tuple(
        CategoricalEvidence(
            kind="snap_reaction",
            outcome="none" if rise < limit.SNAP_STILL_SHARE.value * usual else "rises",
            cylinders=(c,),
            source=f"capture:{name}",
        )
        for c, rise in rises.items()
    )


def _snap_findings(categorical: Sequence[CategoricalEvidence], origin: Origin) -> list[Finding]:
    return [
        Finding(
            test=TEST, cylinder=s.cylinders[0], quantity="snap_reaction", value=None, unit="1", spread=None, events=1,
            state=State.ABNORMAL if s.outcome == "none" else State.NORMAL, origin=origin,
            statement=CYLINDER_DOES_ANSWER(cylinders=s.cylinders[0])
            if s.outcome == "none" else CYLINDER_ANSWERS_SNAPPED(cylinders=s.cylinders[0]),
            is_remark=True,
        )
        for s in categorical
    ]  # fmt: skip
