"""Coil command on logic-level coils: does it switch, does it reach earth, and where along the wire is it lost."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from fairwitness import __version__
from fairwitness.core import thresholds as limit
from fairwitness.core.messages.catalogue import template
from fairwitness.core.messages.message import NOTHING
from fairwitness.core.messages.words import BY_LEAD
from fairwitness.core.model.capture import Capture, CaptureTest, Channel, Role
from fairwitness.core.model.engine import Engine, Ignition
from fairwitness.core.model.measurement import CategoricalEvidence, Finding, Measured, Origin, State, refused
from fairwitness.core.model.reason import Reason
from fairwitness.core.procedures.short_capture import silence_tells
from fairwitness.core.signal.conditioning import block_means, bridge_gaps, crossings
from fairwitness.core.signal.resampling import evenly_sampled

COIL = template("coil_control.coil", "at the coil")
CONTROL_UNIT_OWN = template("coil_control.control_unit_own", "at the control unit's own pin")
COMMAND_CYLINDER = template("coil_control.command_cylinder", "Command of cylinder {cylinder} {where}")
COMMAND_SWITCHES_ANYWHERE = template(
    "coil_control.command_switches_anywhere",
    "No command switches anywhere: does the engine run, and are the probes on the command wires?",
)
LEAD_SITS_COIL = template(
    "coil_control.lead_sits_coil",
    "The lead sits on the coil's primary, not on a logic command: levels are read, the kick is left out.",
)
AT = template("coil_control.at", "at {place}")
COIL_UNPLUGGED = template("coil_control.coil_unplugged", ", coil unplugged")
SWITCHES_V_MS = template(
    "coil_control.switches_v_ms", "{who} switches: {low_v:.1f} to {high_v:.1f} V, {dwell_ms:.1f} ms."
)
NEVER_REACHES_EARTH = template(
    "coil_control.never_reaches_earth",
    "{who} never reaches earth: its low level stands at {low_v:.1f} V, its peers' at {low:.1f} V. It looks like a "
    "pulse and switches nothing.",
)
STANDS_V_NEVER = template(
    "coil_control.stands_v_never",
    "{who} stands at {low_v:.1f} V and never switches; its peers go from {low:.1f} to {high:.1f} V.",
)
STAYS_V_COMMAND = template("coil_control.stays_v_command", "{who} stays at {low_v:.1f} V: no command arrives.")
CUT_SHORT = template(
    "coil_control.cut_short", "Wires on which no command fell into the short capture were left out: record longer."
)
COMMAND_WIRES = template("coil_control.command_wires", "command wires")


TEST = CaptureTest.COIL_CONTROL.value
KIND = "command"
WORKING_RATE_HZ = 50_000.0
PULSE_MIN_S, PULSE_MAX_S = 0.3e-3, 20e-3
"""[M] a dwell lies in this range; shorter is a spike."""
PLACES = {"part": COIL(), "control_unit": CONTROL_UNIT_OWN()}


@dataclass(frozen=True, slots=True, kw_only=True)
class Command:
    """Levels and pulses of one command wire.

    Parameters
    ----------
    low_v, high_v : float
        Both the same where it never changes.
    pulses : int
    dwell_ms : float
        NaN without pulses.
    """

    cylinder: int
    place: str
    unplugged: bool
    low_v: float
    high_v: float
    pulses: int
    dwell_ms: float
    on_primary: bool


def applies(capture: Capture) -> bool:
    """Whether a capture can be read for this test: commands taken to be looked at, not one as a sync."""
    wires = [c for c in capture.with_role(Role.COIL_CONTROL) if c.cylinder is not None]
    if capture.set_up.test is CaptureTest.COIL_CONTROL:
        return bool(wires)
    return capture.set_up.test is None and len(wires) > 1


def measure(capture: Capture, engine: Engine) -> Measured:
    """Read the levels of each command and say which switch their coil.

    Parameters
    ----------
    capture : Capture
        Channels may say where they were clipped on and whether the coil was unplugged.
    engine : Engine

    Returns
    -------
    Measured
        Unusable where no command changes anywhere: then nothing was switched.
    """
    origin = Origin(resource=capture.name, capture_sha256=capture.sha256, code_version=__version__)
    even = evenly_sampled(capture)
    wires = [c for c in even.with_role(Role.COIL_CONTROL) if c.cylinder in engine.firing_order]
    commands = [_read(channel, even.time.rate_hz) for channel in wires]
    if not any(c.pulses for c in commands):
        text = COMMAND_SWITCHES_ANYWHERE()
        return refused(TEST, "V", engine.firing_order, (Reason("no_commands", text, blocking=True),), origin)
    reasons = []
    due = silence_tells(even.time.duration_s, (c.pulses for c in commands))
    told = [c for c in commands if due or c.pulses]
    if len(told) < len(commands):
        reasons.append(Reason("cut_short", CUT_SHORT()))
    commands = told
    if any(c.on_primary for c in commands):
        text = LEAD_SITS_COIL()
        reasons.append(Reason("on_primary", text))
    usual_low = float(np.median([c.low_v for c in commands if c.pulses]))
    usual_high = float(np.median([c.high_v for c in commands if c.pulses]))
    outcomes = [_outcome(c, usual_low) for c in commands]
    worst: dict[int, int] = {}
    for i, command in enumerate(commands):
        if command.cylinder not in worst or outcomes[worst[command.cylinder]] == "pulses":
            worst[command.cylinder] = i
    findings = tuple(
        _finding(c, o, usual_low, usual_high, origin, is_remark=worst[c.cylinder] != i)
        for i, (c, o) in enumerate(zip(commands, outcomes, strict=True))
    )
    categorical = tuple(
        CategoricalEvidence(
            kind=f"{KIND}:{c.place}{'_unplugged' if c.unplugged else ''}",
            outcome=o,
            cylinders=_served(c.cylinder, engine),
            source=f"capture:{capture.name}",
        )
        for c, o in zip(commands, outcomes, strict=True)
    )
    return Measured(
        test=TEST,
        resource=capture.name,
        reasons=tuple(reasons),
        findings=findings,
        categorical=categorical,
        facts={"source": COMMAND_WIRES(), "assignment": BY_LEAD, "cylinders": len(worst)},
    )


def _served(cylinder: int, engine: Engine) -> tuple[int, ...]:
    """A waste-spark coil's command is both cylinders'."""
    partner = engine.companion(cylinder)
    if engine.ignition is Ignition.WASTE_SPARK and partner is not None:
        return tuple(sorted((cylinder, partner)))
    return (cylinder,)


def _read(channel: Channel, rate_hz: float) -> Command:
    block = max(1, int(rate_hz // WORKING_RATE_HZ))
    values = block_means(channel.samples, block) * channel.si_factor
    values = bridge_gaps(values) if np.isfinite(values).any() else np.zeros(1)
    kicks = float(np.percentile(np.abs(values), 99.95)) > limit.PRIMARY_KICK_V.value
    if kicks:
        values = np.clip(values, -limit.PRIMARY_KICK_V.value, limit.PRIMARY_KICK_V.value / 2)
    rate = rate_hz / block
    bottom, top = np.percentile(values, (0.3, 99.7))
    still = float(np.median(values))
    middle = 0.5 * (bottom + top)
    assert channel.cylinder is not None
    place = channel.measured_at or "part"
    constant = Command(
        cylinder=channel.cylinder, place=place, unplugged=bool(channel.unplugged), low_v=still, high_v=still,
        pulses=0, dwell_ms=float("nan"), on_primary=kicks,
    )  # fmt: skip
    if top - bottom < limit.COMMAND_SWING_MIN_V.value:
        return constant
    high, low = float(np.median(values[values > middle])), float(np.median(values[values <= middle]))
    if high - low < limit.COMMAND_SWING_MIN_V.value:
        return constant
    resting_high = still > middle
    active = (middle - values) if resting_high else (values - middle)
    rises, falls = crossings(active, arm=-0.2 * (high - low), fire=0.2 * (high - low))
    lengths = (falls - rises) / rate
    real = (lengths >= PULSE_MIN_S) & (lengths <= PULSE_MAX_S) & (falls < values.size)
    if not real.any():
        return constant
    return Command(
        cylinder=channel.cylinder,
        place=place,
        unplugged=bool(channel.unplugged),
        low_v=low,
        high_v=high,
        pulses=int(np.count_nonzero(real)),
        dwell_ms=1e3 * float(np.median(lengths[real])),
        on_primary=kicks,
    )


def _outcome(command: Command, usual_low: float) -> str:
    if not command.pulses:
        return "stuck" if command.low_v > limit.COMMAND_STUCK_HIGH_V.value else "absent"
    floor = min(usual_low, 0.0) if abs(usual_low) > limit.COMMAND_LOW_ABOVE_V.value else usual_low
    return "elevated" if command.low_v - floor > limit.COMMAND_LOW_ABOVE_V.value else "pulses"


STATES = {"pulses": State.NORMAL, "elevated": State.ABNORMAL, "stuck": State.ABNORMAL, "absent": State.ABSENT}


def _finding(command: Command, outcome: str, low: float, high: float, origin: Origin, *, is_remark: bool) -> Finding:
    where = PLACES.get(command.place, AT(place=command.place)) + (COIL_UNPLUGGED() if command.unplugged else NOTHING)
    who = COMMAND_CYLINDER(cylinder=command.cylinder, where=where)
    text = {
        "pulses": SWITCHES_V_MS(who=who, low_v=command.low_v, high_v=command.high_v, dwell_ms=command.dwell_ms),
        "elevated": NEVER_REACHES_EARTH(who=who, low_v=command.low_v, low=low),
        "stuck": STANDS_V_NEVER(who=who, low_v=command.low_v, low=low, high=high),
        "absent": STAYS_V_COMMAND(who=who, low_v=command.low_v),
    }[outcome]
    return Finding(
        test=TEST, cylinder=command.cylinder, quantity="low_level", value=round(command.low_v, 3), unit="V",
        spread=None, events=command.pulses, state=STATES[outcome], statement=text, origin=origin, is_remark=is_remark,
    )  # fmt: skip
