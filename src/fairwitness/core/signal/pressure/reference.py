"""The pressure a sound cylinder would show, computed to lay beside a measured one, and its valve events."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from fairwitness.core import thresholds as limit
from fairwitness.core.messages.catalogue import template
from fairwitness.core.messages.message import Message
from fairwitness.core.model.capture import Capture, Channel, Role
from fairwitness.core.model.engine import CYCLE_DEG, Engine, cylinder_volume
from fairwitness.core.signal.pressure.events import EXPONENT, RATIO, RATIO_USUAL, ROD_RATIO, CycleEvents, cycle_events
from fairwitness.core.signal.pressure.trace import ATMOSPHERE_PA, read_pressure, wheel_of

INTAKE_CLOSES = template("pressure.reference.intake_closes", "intake closes")
EXHAUST_OPENS = template("pressure.reference.exhaust_opens", "exhaust opens")
INTAKE_OPENS = template("pressure.reference.intake_opens", "intake opens")


FloatArray = NDArray[np.float64]

BLOW_DOWN_DEG = 16.0
"""[M] crank angle in which most of what is left in a motored cylinder leaves once the exhaust opens."""
CRANKED_EXPONENT = 1.22
"""[M] at cranking speed there is time for heat and mass to leave: the lower end of 1.2 to 1.35."""
STEPS = 720
EVENTS = {"intake_closes": INTAKE_CLOSES(), "exhaust_opens": EXHAUST_OPENS(), "intake_opens": INTAKE_OPENS()}


@dataclass(frozen=True, slots=True, kw_only=True)
class Mark:
    """A valve event: where it belongs, and where it was found.

    Parameters
    ----------
    name : str
    usual_deg, measured_deg : float or None, degrees after top dead centre of compression
        None where no usual place is known, or nothing marks it in the trace.
    """

    name: Message
    usual_deg: float | None
    measured_deg: float | None


@dataclass(frozen=True, slots=True, kw_only=True)
class Reference:
    """One cylinder.

    Parameters
    ----------
    cylinder : int
    channel : int
        Position of its channel in the capture.
    lag_deg : float
        Top dead centre comes so much after the measured summit.
    values : (720,) float
        Computed pressure from 360 degrees before to 360 after top dead centre, in the channel's unit and as it was
        written: above the atmosphere or absolute.
    peak_pa, measured_peak_pa : float, Pa
        Absolute.
    marks : tuple of Mark
    """

    cylinder: int
    channel: int
    lag_deg: float
    values: FloatArray
    peak_pa: float
    measured_peak_pa: float
    marks: tuple[Mark, ...]


@dataclass(frozen=True, slots=True, kw_only=True)
class MotoredCylinder:
    """What the pressure of a sound cylinder that does not burn follows from.

    Parameters
    ----------
    ratio : float
        Compression ratio.
    intake_pa, exhaust_pa : float, Pa
        Absolute plateaus.
    closes_deg, opens_deg : float
        Effective closing of the intake and opening of the exhaust.
    exponent : float
        Of the polytropic law.
    """

    ratio: float
    intake_pa: float
    exhaust_pa: float
    closes_deg: float
    opens_deg: float
    exponent: float = EXPONENT

    def volume(self, angle_deg: FloatArray) -> FloatArray:
        """(n,) float: volume at angles after top dead centre, in clearance volumes."""
        return cylinder_volume(angle_deg, compression_ratio=self.ratio, rod_ratio=ROD_RATIO)


def computed_pressure(angle_deg: FloatArray, cylinder: MotoredCylinder) -> FloatArray:
    """Pressure of a sound, motored cylinder over the cycle.

    Parameters
    ----------
    angle_deg : (n,) float, degrees after top dead centre of compression
        From -360 to 360.
    cylinder : MotoredCylinder

    Returns
    -------
    (n,) float, Pa

    References
    ----------
    Polytropic law over the slider-crank volume: Heywood, Internal Combustion Engine Fundamentals, ch. 2 [P].
    """
    closing, opening = cylinder.volume(np.array([cylinder.closes_deg, cylinder.opens_deg]))
    sealed = cylinder.intake_pa * (closing / cylinder.volume(angle_deg)) ** cylinder.exponent
    at_opening = cylinder.intake_pa * (closing / opening) ** cylinder.exponent
    left = np.exp(-np.clip(angle_deg - cylinder.opens_deg, 0, None) / BLOW_DOWN_DEG)
    after = cylinder.exhaust_pa + (at_opening - cylinder.exhaust_pa) * left
    shut = np.where(angle_deg < cylinder.opens_deg, sealed, after)
    return np.asarray(np.where(angle_deg < cylinder.closes_deg, cylinder.intake_pa, shut))


def references(capture: Capture, engine: Engine) -> tuple[Reference, ...]:
    """A computed cycle for every cylinder whose pressure can be read.

    Parameters
    ----------
    capture : Capture
        Evenly sampled.
    engine : Engine
        ``extra["compression_ratio"]`` is used where given.

    Returns
    -------
    tuple of Reference
        Empty where no transducer shows a compression.
    """
    crank = wheel_of(capture, engine)
    ratio = known_ratio(engine)
    found = []
    for position, channel in _transducers(capture, engine):
        cycles = read_pressure(channel, capture, crank)
        events = cycle_events(cycles, engine.fuel, ratio=ratio) if cycles is not None else None
        if cycles is None or events is None or channel.cylinder is None:
            continue
        angle = np.arange(STEPS) * CYCLE_DEG / STEPS - CYCLE_DEG / 2
        sound = MotoredCylinder(
            ratio=ratio or RATIO.get(engine.fuel, RATIO_USUAL),
            intake_pa=events.intake_pa,
            exhaust_pa=max(events.exhaust_pa, ATMOSPHERE_PA),
            closes_deg=limit.INTAKE_CLOSES_DEG.value,
            opens_deg=limit.EXHAUST_OPENS_DEG.value,
            exponent=CRANKED_EXPONENT if cycles.speed_rpm < limit.ENGINE_STARTED_RPM.value else EXPONENT,
        )
        pressure = computed_pressure(angle, sound)
        found.append(
            Reference(
                cylinder=channel.cylinder,
                channel=position,
                lag_deg=events.tower.tdc_deg,
                values=(pressure - cycles.offset_pa) / channel.si_factor,
                peak_pa=float(pressure.max()),
                measured_peak_pa=events.peak_pa,
                marks=_marks(events),
            )
        )
    return tuple(found)


def known_ratio(engine: Engine) -> float | None:
    """Compression ratio of the engine data, where one is given that can be."""
    ratio = engine.extra.get("compression_ratio")
    plain = isinstance(ratio, int | float) and not isinstance(ratio, bool)
    return float(ratio) if plain and 4 < float(ratio) < 26 else None  # type: ignore[arg-type]


def _transducers(capture: Capture, engine: Engine) -> Iterable[tuple[int, Channel]]:
    for position, channel in enumerate(capture.channels):
        if channel.role is Role.CYLINDER_PRESSURE and channel.cylinder in engine.firing_order:
            yield position, channel


def _marks(events: CycleEvents) -> tuple[Mark, ...]:
    usual = {"intake_closes": limit.INTAKE_CLOSES_DEG.value, "exhaust_opens": limit.EXHAUST_OPENS_DEG.value}
    reported = []
    for name, words in EVENTS.items():
        event = getattr(events, name)
        reported.append(Mark(name=words, usual_deg=usual.get(name), measured_deg=None if event is None else event.deg))
    return tuple(reported)
