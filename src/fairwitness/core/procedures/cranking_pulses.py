"""What pulses of a hose sensor while cranking have in common: one cylinder stands out of the even breathing of all.

Such sensors are rarely calibrated. A cylinder is judged by how far it stands out beside what the others and the cycles
scatter, not by pascals.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace
from itertools import product

import numpy as np
from numpy.typing import NDArray

from fairwitness import __version__
from fairwitness.core import thresholds as limit
from fairwitness.core.messages.catalogue import Template, template
from fairwitness.core.messages.message import Message
from fairwitness.core.messages.words import CYLINDER, ONE_CYLINDER, OPEN, SYNCED
from fairwitness.core.model.angles import signed
from fairwitness.core.model.capture import Capture, Role
from fairwitness.core.model.engine import CYCLE_DEG, Engine
from fairwitness.core.model.measurement import AveragedCycle, Evidence, Finding, Measured, Origin, State, refused
from fairwitness.core.model.reason import Reason
from fairwitness.core.signal.cranking.reading_reasons import turns_at_most
from fairwitness.core.signal.pressure.pulses import POINTS, folded_slow, marked_cycles, raised_cosines
from fairwitness.core.signal.resampling import evenly_sampled
from fairwitness.core.signal.robust import robust_sigma
from fairwitness.core.signal.sync import Anchor, Cycles

RPM_ENGINE_RAN = template(
    "cranking_pulses.rpm_engine_ran", "{speed:.0f} rpm: the engine ran. This test is read while cranking."
)
HOSE_SENSOR_SHOWS = template(
    "cranking_pulses.hose_sensor_shows",
    "The hose sensor shows nothing: is the hose tight, the breather closed, the sensor alive?",
)
SYNC_LEAVES_OPEN = template(
    "cranking_pulses.sync_leaves_open",
    "The sync leaves open which cylinder is which: a pulse stands out, whose it is stays open.",
)
EITHER = template(
    "cranking_pulses.either",
    "{first} Or: {second} In this trace the two look alike: another test has to tell them apart.",
)
HOSE_SENSOR_CRANKING = template("cranking_pulses.hose_sensor_cranking", "hose sensor, cranking")


FloatArray = NDArray[np.float64]

SECOND_SHARE = 0.4
TAILS_DEG = (0.0, 40.0, 100.0)
"""[M] over which the pressure of a manifold or a crankcase falls again, while a starter turns the engine."""
ALIKE_SHARE = 0.94
"""[M] of what the clearest pulse explains: one that explains more is as likely."""
OUTSTANDS, MANY = 7.5, 4
"""[M] times what the other cylinders differ among themselves, where there are so many others: less is how engines are
built. Few cylinders breathe so strongly together that the floor of a pulse says it already."""
STANDS_OUT = 1.5
"""Share told of a cylinder whose pulse stands out; its size in pascals says little."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Bumps:
    """A kind of pulse, one per cylinder and cycle.

    Parameters
    ----------
    centres_deg : tuple of float
        Places tried, degrees after TDC compression.
    width_deg : float
        Half the pulse's length.
    """

    centres_deg: tuple[float, ...]
    width_deg: float
    floor: float = limit.PULSE_FLOOR_SHARE.value
    """Of all that moves in the trace: smaller pulses are not believed."""
    floor_of_many: float | None = None
    """The same from six cylinders on, where their breathing together hardly moves anything; None where it is alike."""
    unless: float | None = None
    """Share of what it explains from which an earlier kind, at the same cylinder, is believed instead; None: never."""

    def least(self, cylinders: int) -> float:
        """Share of all that moves, below which a pulse of an engine is not believed."""
        return self.floor if self.floor_of_many is None or cylinders <= MANY + 1 else self.floor_of_many

    def shapes(self, events_deg: FloatArray, centre_deg: float, tail_deg: float) -> FloatArray:
        """(POINTS, cylinders) float: the pulse of every cylinder over one cycle, with a volume that empties slowly."""
        pulses = raised_cosines(events_deg + centre_deg, self.width_deg)
        if tail_deg <= 0:
            return pulses
        emptying = np.exp(-np.arange(POINTS) * CYCLE_DEG / POINTS / tail_deg)
        slow = np.fft.irfft(np.fft.rfft(pulses, axis=0) * np.fft.rfft(emptying)[:, None], POINTS, axis=0)
        return np.asarray(slow / np.abs(slow).max())


@dataclass(frozen=True, slots=True, kw_only=True)
class Pulse:
    """A pulse that one cylinder alone makes.

    Parameters
    ----------
    kind : int
        Which of the kinds looked for.
    place : int
        In firing order.
    amplitude : float
        Unit of the channel, always upwards.
    times : float
        Its size beside what the cycles scatter.
    explains : float
        Share of what the common breathing leaves.
    """

    kind: int
    place: int
    amplitude: float
    times: float
    explains: float


@dataclass(frozen=True, kw_only=True, eq=False)
class Solved:
    """What stands out of the common breathing.

    Parameters
    ----------
    pulses : tuple of Pulse
        The clearest first; none where all cylinders are alike.
    folded : (cycles, POINTS) float
    cycles : Cycles
    events_deg : (cylinders,) float
        TDC compressions within the folded cycle.
    """

    pulses: tuple[Pulse, ...]
    folded: FloatArray
    cycles: Cycles
    events_deg: FloatArray
    rival: Pulse | None = None
    """Another kind of pulse at another cylinder that explains the clearest one as well."""

    def of(self, kind: int, place: int) -> Pulse | None:
        """The pulse of a kind at a cylinder."""
        return next((p for p in self.pulses if p.kind == kind and p.place == place), None)

    def heights(self, centre_deg: float) -> FloatArray:
        """(cylinders,) float: how high the cycle stands at each cylinder's own moment over what lies to both sides."""
        middle = np.median(self.folded, axis=0)
        grid = np.arange(POINTS) * CYCLE_DEG / POINTS
        aside = 0.5 * CYCLE_DEG / self.events_deg.size

        def level(offset_deg: float) -> FloatArray:
            apart = np.abs(signed(grid[None, :] - (self.events_deg + centre_deg + offset_deg)[:, None]))
            near = apart <= aside / 3
            return np.asarray((near * middle).sum(axis=1) / near.sum(axis=1))

        return level(0.0) - 0.5 * (level(-aside) + level(aside))


@dataclass(frozen=True, slots=True)
class Judgement:
    """What a cylinder's pulses say: its share, its state, a word for the board, and the sentence that names ``who``."""

    share: float
    state: State
    word: Message
    statement: Template


Judge = Callable[[Solved, int], Judgement]
"""Judges the cylinder at a place of the firing order."""


@dataclass(frozen=True, slots=True, kw_only=True)
class PulseTest:
    """A test that reads pulses of a hose sensor.

    Parameters
    ----------
    test, line : str
        Its id, and its column of the signature table.
    role : Role
        Of the hose sensor.
    kinds : tuple of Bumps
        Pulses looked for.
    judge : callable
    """

    test: str
    line: str
    role: Role
    kinds: tuple[Bumps, ...]
    judge: Judge


def measured(capture: Capture, engine: Engine, about: PulseTest) -> Measured:
    """Fold, solve and judge.

    Parameters
    ----------
    capture : Capture
    engine : Engine
    about : PulseTest

    Returns
    -------
    Measured
        Unusable without cycles.
    """
    origin = Origin(resource=capture.name, capture_sha256=capture.sha256, code_version=__version__)
    test = about.test
    capture = evenly_sampled(capture)
    cycles = marked_cycles(capture, engine)
    if isinstance(cycles, Reason):
        return refused(test, "1", engine.firing_order, (cycles,), origin)
    speed = float(np.median(cycles.speed_rpm))
    if speed > turns_at_most(capture.set_up):
        text = RPM_ENGINE_RAN(speed=speed)
        return refused(test, "1", engine.firing_order, (Reason("engine_started", text, blocking=True),), origin)
    solved = _solve(capture, cycles, engine, about)
    if solved is None:
        text = HOSE_SENSOR_SHOWS()
        return refused(test, "1", engine.firing_order, (Reason("silent", text, blocking=True),), origin)
    judged = [about.judge(solved, place) for place in range(engine.cylinders)]
    readings = [np.array([j.share for j in judged])]
    order_offsets = _order_offsets(engine, cycles)
    certain = len(order_offsets) == 1
    findings = tuple(
        Finding(
            test=test, cylinder=c if certain else None, quantity=test, value=None, unit="1",
            spread=None, events=cycles.count, state=judged[i].state, word=judged[i].word, origin=origin,
            statement=judged[i].statement(who=CYLINDER(cylinder=c) if certain else ONE_CYLINDER),
        )
        for i, c in enumerate(engine.firing_order)
    )  # fmt: skip
    if not certain:
        findings = (max(findings, key=lambda f: f.state is not State.NORMAL),)
    if certain and solved.rival is not None:
        instead = replace(solved, pulses=(solved.rival,), rival=None)
        as_well = [about.judge(instead, place) for place in range(engine.cylinders)]
        readings.append(np.array([j.share for j in as_well]))
        findings = (_either(findings, as_well[solved.rival.place], engine.firing_order[solved.rival.place]),)
    reasons = list(cycles.reasons)
    if not certain:
        text = SYNC_LEAVES_OPEN()
        reasons.append(Reason("offset_unknown", text))
    evidence = Evidence(
        line=about.line, source=f"capture:{capture.name}",
        alternatives=tuple(np.roll(shares, -t) for shares in readings for t in order_offsets),
        sigmas=np.full(engine.cylinders, limit.PULSE_SHARE_SIGMA.value),
    )  # fmt: skip
    return Measured(
        test=test,
        resource=capture.name,
        reasons=tuple(reasons),
        findings=findings,
        lines=(evidence,) if engine.cylinders > 1 else (),
        facts={
            "cycles": cycles.count,
            "speed_rpm": round(speed, 1),
            "source": HOSE_SENSOR_CRANKING(),
            "assignment": SYNCED if certain else OPEN,
        },
        averaged_cycle=_averaged_cycle(solved, engine, capture.with_role(about.role)[0].si_unit) if certain else None,
        cycle_starts_s=(*map(float, cycles.starts_s), float(cycles.ends_s[-1])),
    )


def _either(findings: Sequence[Finding], second: Judgement, cylinder: int) -> Finding:
    """One finding in place of a cylinder's own, where another explains the trace as well."""
    first = max(findings, key=lambda f: f.state is not State.NORMAL)
    said = EITHER(first=first.statement, second=second.statement(who=CYLINDER(cylinder=cylinder)))
    return replace(first, cylinder=None, state=State.ABNORMAL, word=OPEN, statement=said)


def _solve(capture: Capture, cycles: Cycles, engine: Engine, about: PulseTest) -> Solved | None:
    """Take the clearest pulse of a single cylinder out, then the next, while they are clear.

    What all cylinders share is taken out first: breathing at the firing frequency, and what the pistons together move
    once and twice per revolution. A pulse of one cylinder comes once per cycle, and so is never all of that.
    """
    folded = folded_slow(capture.with_role(about.role)[0], capture.time, cycles)
    if not float(np.abs(folded).max()) > 0:
        return None
    first = engine.firing_order.index(cycles.cylinder) if cycles.cylinder in engine.firing_order else 0
    events = (engine.event_angles_deg - engine.event_angles_deg[first]) % CYCLE_DEG
    angle = np.deg2rad(np.arange(POINTS) * CYCLE_DEG / POINTS)
    orders = sorted({engine.cylinders / 2, float(engine.cylinders), 1.0, 2.0})
    common = np.column_stack([np.ones(POINTS), *(f(o * angle) for o in orders for f in (np.sin, np.cos))])
    basis, _ = np.linalg.qr(common)
    rows = folded - folded.mean(axis=1, keepdims=True)
    left = rows - (rows @ basis) @ basis.T
    candidates = []
    for kind, bumps in enumerate(about.kinds):
        for centre, tail in product(bumps.centres_deg, TAILS_DEG):
            shapes = bumps.shapes(events, centre, tail)
            shapes = shapes - basis @ (basis.T @ shapes)
            candidates += [(kind, place, shapes) for place in range(engine.cylinders)]
    moved = float(np.ptp(np.median(folded, axis=0)))
    floors = [bumps.least(engine.cylinders) * moved for bumps in about.kinds]
    pulses: list[Pulse] = []
    rival = None
    while len(pulses) < engine.cylinders:
        best = _clearest(left, candidates, floors)
        stands_out = bool(pulses) or (best is not None and _outstands(np.median(left, axis=0), best[1], best[0].place))
        best = _instead(left, candidates, floors, about.kinds, best)
        if best is None or any(p.kind == best[0].kind and p.place == best[0].place for p in pulses):
            break
        if not pulses:
            if not stands_out:
                break
            rival = _rival(left, candidates, floors, best[0])
        if pulses and best[0].amplitude < SECOND_SHARE * pulses[0].amplitude:
            break  # what taking the first one out left behind
        pulses.append(best[0])
        left = left - best[0].amplitude * best[1][:, best[0].place]
    return Solved(pulses=tuple(pulses), folded=folded, cycles=cycles, events_deg=events, rival=rival)


def _outstands(mean: FloatArray, shapes: FloatArray, place: int) -> bool:
    """Whether one cylinder differs from the others by more than they differ among themselves."""
    power = (shapes**2).sum(axis=0)
    own = float(shapes[:, place] @ mean / power[place])
    beside = [place, (place + power.size // 2) % power.size]  # what one lacks looks like what its companion has
    others = np.delete(shapes.T @ (mean - own * shapes[:, place]) / power, beside)
    return others.size < MANY or own > OUTSTANDS * float(np.sqrt(np.mean(others**2)))


def _clearest(
    left: FloatArray, candidates: Sequence[tuple[int, int, FloatArray]], floors: Sequence[float]
) -> tuple[Pulse, FloatArray] | None:
    """The one pulse that explains most of what is left, if it is clear, with the shapes it was found by."""
    mean = np.median(left, axis=0)
    total = float(mean @ mean)
    found = None
    for kind, place, shapes in candidates:
        shape = shapes[:, place]
        power = float(shape @ shape)
        amplitude = float(shape @ mean) / power
        explained = amplitude * float(shape @ mean) / max(total, 1e-30)
        if amplitude <= 0 or (found is not None and explained <= found[0]):
            continue
        found = (explained, kind, place, shapes, amplitude, left @ shape / power)
    if found is None:
        return None
    explained, kind, place, shapes, amplitude, each = found
    scatter = robust_sigma(each) / np.sqrt(each.size)
    times = amplitude / max(scatter, 1e-12)
    clear = explained > limit.PULSE_EXPLAINS.value and times > limit.PULSE_OUT_SIGMA.value and amplitude > floors[kind]
    pulse = Pulse(kind=kind, place=place, amplitude=amplitude, times=times, explains=explained)
    return (pulse, shapes) if clear else None


def _instead(
    left: FloatArray,
    candidates: Sequence[tuple[int, int, FloatArray]],
    floors: Sequence[float],
    kinds: Sequence[Bumps],
    best: tuple[Pulse, FloatArray] | None,
) -> tuple[Pulse, FloatArray] | None:
    """The clearest pulse, or an earlier kind of the same cylinder whose shoulder it may be."""
    if best is None or (unless := kinds[best[0].kind].unless) is None:
        return best
    earlier = [c for c in candidates if c[0] < best[0].kind and c[1] == best[0].place]
    found = _clearest(left, earlier, floors)
    return found if found is not None and found[0].explains >= unless * best[0].explains else best


def _rival(
    left: FloatArray,
    candidates: Sequence[tuple[int, int, FloatArray]],
    floors: Sequence[float],
    clearest: Pulse,
) -> Pulse | None:
    """A pulse of another kind and cylinder that explains nearly as much as the clearest one."""
    others = [c for c in candidates if c[0] != clearest.kind and c[1] != clearest.place]
    found = _clearest(left, others, floors)
    return found[0] if found is not None and found[0].explains > ALIKE_SHARE * clearest.explains else None


def _order_offsets(engine: Engine, cycles: Cycles) -> tuple[int, ...]:
    if cycles.anchor is Anchor.CYCLE or cycles.cylinder not in engine.firing_order:
        return tuple(range(engine.cylinders))
    if cycles.anchor is Anchor.REVOLUTION and engine.cylinders % 2 == 0:
        return (0, engine.cylinders // 2)
    return (0,)


def _averaged_cycle(solved: Solved, engine: Engine, unit: str) -> AveragedCycle:
    cycles = solved.cycles
    first = engine.firing_order.index(cycles.cylinder) if cycles.cylinder in engine.firing_order else 0
    lead = CYCLE_DEG / engine.cylinders / 2 + engine.event_angles_deg[first]
    folded = np.roll(solved.folded, round(lead * POINTS / CYCLE_DEG), axis=1)
    low, middle, high = np.percentile(folded, (25, 50, 75), axis=0)
    return AveragedCycle(angle_deg=np.arange(POINTS) * CYCLE_DEG / POINTS, middle=middle, low=low, high=high, unit=unit)
