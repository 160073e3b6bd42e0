"""From a capture of secondary voltage to the sparks of each cylinder: whose they are, and which of them count.

Pick-ups on all leads name their cylinders. One pick-up over all of them needs a sync. On waste spark every cylinder
sparks twice a cycle; the pressure of the compression stroke makes one of the two taller, and all leads together say
which revolution that was.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from fairwitness.core import thresholds as limit
from fairwitness.core.messages.catalogue import template
from fairwitness.core.messages.message import Message
from fairwitness.core.model.angles import signed
from fairwitness.core.model.capture import Capture, Channel, Role
from fairwitness.core.model.engine import CYCLE_DEG, REVOLUTION_DEG, Engine, Ignition
from fairwitness.core.model.reason import Reason
from fairwitness.core.signal.ignition.secondary import Sparks, find_sparks
from fairwitness.core.signal.sync import find_events, sync_channel

COMPRESSION_WASTE_SPARKS = template(
    "ignition.leads.compression_waste_sparks",
    "Compression and waste sparks could not be told apart: all of them were compared.",
)
CYLINDERS_SPARK_ANOTHER = template(
    "ignition.leads.cylinders_spark_another",
    "Cylinders {who} spark in another order than the engine data say: check firing order and pick-up leads.",
)
COMPRESSION_WASTE_SPARKS_TOLD = template(
    "ignition.leads.compression_waste_sparks_told",
    "Compression and waste sparks were told apart by their height, over all leads together.",
)
LEAD_SHOWS_SPARK = template(
    "ignition.leads.lead_shows_spark", "No lead shows a spark: are the pick-ups on, and does the engine run?"
)
ONE_PICK_UP = template("ignition.leads.one_pick_up", "One pick-up over all leads needs a sync on one known cylinder.")
TOO_FEW_SPARKS = template(
    "ignition.leads.too_few_sparks",
    "Too few sparks for one pick-up over all leads; on a single lead, name its cylinder.",
)
SYNC_CARRIES_EVENTS = template(
    "ignition.leads.sync_carries_events", "The sync carries no events: is it on a working cylinder?"
)
ONE_PICK_UP_OVER = template("ignition.leads.one_pick_up_over", "one pick-up over all leads")
PICK_UPS_ALL = template("ignition.leads.pick_ups_all", "pick-ups on all leads")
PICK_UP_LEADS = template("ignition.leads.pick_up_leads", "pick-up on {named} of the leads")


FloatArray = NDArray[np.float64]

WEAK_SHARE = 0.4
"""[M] below this share of the usual lead a polarity is not trusted."""
SAME_MOMENT_S = 0.5e-3
"""Two leads that spark this close together share a coil, or one hears the other."""
CROSS_TALK_RATIO = 4.5
"""[M] a lead this many times smaller than another at the same moment only hears it."""
PARITY_CLEAR = 0.2
"""[M] mean log ratio of compression to waste sparks from which the revolution is certain."""


@dataclass(frozen=True, kw_only=True, eq=False)
class Leads:
    """Sparks by cylinder.

    Parameters
    ----------
    sparks : dict of cylinder to Sparks
        Sparks of the compression stroke; a cylinder that was listened to and never sparks has none.
    level : dict of cylinder to float
        Largest excursion of a lead without sparks, kV.
    cycle_s : float
        Length of an engine cycle; NaN where too few sparks show it.
    seconds : float
        Length of the capture.
    """

    sparks: dict[int, Sparks]
    level: dict[int, float]
    cycle_s: float
    seconds: float
    source: Message
    reasons: tuple[Reason, ...] = ()


def read_leads(capture: Capture, engine: Engine) -> Leads | Reason:
    """Find the sparks of every lead and say whose they are.

    Parameters
    ----------
    capture : Capture
        Evenly sampled.
    engine : Engine

    Returns
    -------
    Leads or Reason
        A blocking reason where no lead sparks, or nothing says whose the sparks are.
    """
    channels = [c for c in capture.with_role(Role.SECONDARY_VOLTAGE) if c.cylinder is not None]
    over_all = [c for c in capture.with_role(Role.SECONDARY_VOLTAGE) if c.cylinder is None]
    if over_all:
        return _over_all(capture, engine, over_all[0])
    named = {c.cylinder: c for c in channels if c.cylinder is not None and c.cylinder in engine.firing_order}
    found = {c: find_sparks(_kv(channel), capture.time.rate_hz) for c, channel in named.items()}
    if engine.ignition is not Ignition.WASTE_SPARK:
        found = _one_polarity(found, named, capture.time.rate_hz)
    found = _without_cross_talk(found, engine)
    heights = [float(np.median(s.firing_kv)) for s in found.values() if s.count]
    if not heights:
        return Reason("no_sparks", LEAD_SHOWS_SPARK(), True)
    usual = float(np.median(heights))
    dead = {c for c, s in found.items() if not s.count or _only_heard(s, usual)}
    level = {c: float(np.median(found[c].firing_kv)) if found[c].count else found[c].noise_kv for c in dead}
    sparks = {c: s for c, s in found.items() if c not in dead}
    reasons: list[Reason] = []
    twice = engine.ignition is Ignition.WASTE_SPARK
    gap = _usual_gap(sparks)
    cycle_s = gap * (2 if twice else 1)
    if twice:
        sparks, reported = _compression_only(sparks, engine, gap)
        reasons.append(reported)
    elif reason := _out_of_order(sparks, engine, gap):
        reasons.append(reason)
    empty = {c: found[c].chosen(np.zeros(found[c].count, dtype=np.bool_)) for c in dead}
    return Leads(
        sparks={**sparks, **empty},
        level=level,
        cycle_s=cycle_s,
        seconds=capture.time.duration_s,
        source=PICK_UPS_ALL() if len(named) == engine.cylinders else PICK_UP_LEADS(named=len(named)),
        reasons=tuple(reasons),
    )


def _one_polarity(found: dict[int, Sparks], channels: Mapping[int, Channel], rate_hz: float) -> dict[int, Sparks]:
    """Leads too weak to show which way they point are read as the strong ones are: their coils are alike."""
    heights = {c: float(np.median(s.firing_kv)) for c, s in found.items() if s.count}
    if not heights:
        return found
    # A lead where nothing burns swings up to all that its coil has: it is no measure of the others.
    burning = [kv for c, kv in heights.items() if float(np.median(found[c].line_kv)) > 0]
    usual = float(np.median(burning or list(heights.values())))
    strong = [c for c, kv in heights.items() if kv > WEAK_SHARE * usual]
    inverted = sum(found[c].inverted for c in strong) * 2 > len(strong)
    weak = [c for c, s in found.items() if c not in strong and s.inverted is not inverted]
    return {**found, **{c: find_sparks(_kv(channels[c]), rate_hz, inverted=inverted) for c in weak}}


def _only_heard(sparks: Sparks, usual: float) -> bool:
    """Whether a lead shows nothing of its own: far too little, and no spark line after it."""
    share = float(np.median(sparks.firing_kv)) / usual
    burns = float(np.median(sparks.line_kv)) > 0
    return share < (limit.SPARK_HEARD_SHARE if burns else limit.SPARK_ABSENT_SHARE).value


def _kv(channel: Channel) -> NDArray[np.floating]:
    factor = channel.si_factor / 1e3
    return channel.samples if factor == 1.0 else np.asarray(channel.samples * np.float32(factor))


def _usual_gap(sparks: dict[int, Sparks]) -> float:
    gaps = [float(np.median(np.diff(s.at_s))) for s in sparks.values() if s.count >= 2]
    return float(np.median(gaps)) if gaps else float("nan")


def _without_cross_talk(found: dict[int, Sparks], engine: Engine) -> dict[int, Sparks]:
    """Leave out what a lead only hears of another one."""
    heard = {}
    for c, own in found.items():
        keep = np.ones(own.count, dtype=np.bool_)
        for other, theirs in found.items():
            if other == c or not theirs.count or not own.count:
                continue
            at = np.clip(np.searchsorted(theirs.at_s, own.at_s), 1, max(theirs.count - 1, 1))
            before = theirs.at_s[at - 1]
            nearest = np.where(
                np.abs(own.at_s - before) <= np.abs(own.at_s - theirs.at_s[np.minimum(at, theirs.count - 1)]),
                at - 1,
                np.minimum(at, theirs.count - 1),
            )
            together = np.abs(theirs.at_s[nearest] - own.at_s) < SAME_MOMENT_S
            ratio = CROSS_TALK_RATIO * (2.0 if engine.companion(c) == other else 1.0)
            keep &= ~(together & (theirs.firing_kv[nearest] > ratio * own.firing_kv))
        heard[c] = own if keep.all() else own.chosen(keep)
    return heard


def _compression_only(sparks: dict[int, Sparks], engine: Engine, gap_s: float) -> tuple[dict[int, Sparks], Reason]:
    """Sparks of the compression stroke, told for all leads together by the revolution in which they are taller."""
    lead = max(sparks, key=lambda c: sparks[c].count)
    marks = sparks[lead].at_s
    order_offsets = (
        np.concatenate(([0.0], np.cumsum(np.rint(np.diff(marks) / gap_s)))) if marks.size > 1 else np.zeros(1)
    )

    def angle(times: FloatArray) -> FloatArray:
        if marks.size < 2 or not np.isfinite(gap_s):
            return np.zeros(times.size)
        inside = np.interp(times, marks, order_offsets)
        beyond = np.where(times < marks[0], (times - marks[0]) / gap_s, 0.0)
        beyond += np.where(times > marks[-1], (times - marks[-1]) / gap_s, 0.0)
        return np.asarray((inside + beyond) * REVOLUTION_DEG)

    away = {
        c: (angle(s.at_s) + engine.tdc_deg(lead) - engine.tdc_deg(c) + 180.0) % CYCLE_DEG < REVOLUTION_DEG
        for c, s in sparks.items()
    }
    votes = []
    for c, s in sparks.items():
        if away[c].any() and not away[c].all():
            ratio = float(np.median(s.firing_kv[away[c]])) / float(np.median(s.firing_kv[~away[c]]))
            votes.append(np.clip(np.log(ratio), -1.0, 1.0))
    score = float(np.mean(votes)) if votes else 0.0
    reported = {c: s.chosen(away[c] if score >= 0 else ~away[c]) for c, s in sparks.items()}
    if abs(score) >= PARITY_CLEAR:
        text = COMPRESSION_WASTE_SPARKS_TOLD()
        return {c: s for c, s in reported.items() if s.count}, Reason("waste_spark_told", text)
    text = COMPRESSION_WASTE_SPARKS()
    return sparks, Reason("waste_spark_open", text)


def _out_of_order(sparks: dict[int, Sparks], engine: Engine, cycle_s: float) -> Reason | None:
    """Whether the leads spark in another order than the engine data say."""
    places = {c: s for c, s in sparks.items() if s.count}
    if len(places) < 3 or not np.isfinite(cycle_s):
        return None
    lead = max(places, key=lambda c: places[c].count)
    start = float(places[lead].at_s[0])
    wrong = []
    for c, s in places.items():
        seen = float(np.median((s.at_s - start) / cycle_s % 1.0)) * CYCLE_DEG
        expected = (engine.tdc_deg(c) - engine.tdc_deg(lead)) % CYCLE_DEG
        if abs(signed(seen - expected)) > 0.5 * CYCLE_DEG / engine.cylinders:
            wrong.append(c)
    if len(wrong) < 2:
        return None
    who = ", ".join(map(str, sorted(wrong)))
    text = CYLINDERS_SPARK_ANOTHER(who=who)
    return Reason("order_differs", text)


def _over_all(capture: Capture, engine: Engine, channel: Channel) -> Leads | Reason:
    """One pick-up that hears every lead: each spark goes to the cylinder whose turn it is."""
    sync = sync_channel(capture)
    if sync is None or sync.cylinder is None or sync is channel:
        return Reason("unsynced", ONE_PICK_UP(), blocking=True)
    sparks = find_sparks(_kv(channel), capture.time.rate_hz)
    if sparks.count < engine.cylinders:
        return Reason(
            "no_sparks",
            TOO_FEW_SPARKS(),
            blocking=True,
        )
    events = find_events(sync, capture.time, engine)
    marks = events.times_s - capture.time.start_s
    if marks.size < 2:
        return Reason("sync_silent", SYNC_CARRIES_EVENTS(), blocking=True)
    cycle_s = float(np.median(np.diff(marks)))
    place = np.interp(sparks.at_s, marks, np.arange(marks.size), left=np.nan, right=np.nan)
    degrees = (place % 1.0) * CYCLE_DEG
    first = engine.position(sync.cylinder)
    turn = (engine.event_angles_deg - engine.event_angles_deg[first]) % CYCLE_DEG
    apart = np.abs((degrees[:, None] - turn[None, :] + 180.0 * 2) % CYCLE_DEG - 360.0)
    whose = np.argmin(apart, axis=1)
    known = np.isfinite(degrees) & (apart.min(axis=1) < 0.35 * CYCLE_DEG / engine.cylinders)
    reported = {c: sparks.chosen(known & (whose == i)) for i, c in enumerate(engine.firing_order)}
    return Leads(
        sparks=reported,
        level={c: sparks.noise_kv for c, s in reported.items() if not s.count},
        cycle_s=cycle_s,
        seconds=float(marks[-1] - marks[0]),
        source=ONE_PICK_UP_OVER(),
        reasons=events.reasons,
    )
