"""The engine as data: firing order, intervals, companions, banks, slider-crank geometry."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, field
from enum import StrEnum
from functools import cached_property
from itertools import pairwise

import numpy as np
from numpy.typing import NDArray

from fairwitness.core.errors import EngineError
from fairwitness.core.model.wiring import PLACE_LENGTH, PLACES_MAX, Circuit, CircuitOf, Place, circuit_of

FloatArray = NDArray[np.float64]

CYCLE_DEG = 720.0
REVOLUTION_DEG = 360.0
UNTHROTTLED = "unthrottled"
"""Key of the further engine data: the valves' lift meters the air."""
CAM_EDGES = "cam_edges_deg_after_gap"
"""Key of the further engine data: crank degrees from the first tooth after the gap to each rising edge of the cam
sensor, as taken on an engine known to be timed right."""
VALVE_EVENTS = {True: "valve_events_running_deg", False: "valve_events_cranking_deg"}
"""Keys of the further engine data, running or not: where the intake closes and the exhaust opens on an engine known to
be timed right, degrees after top dead centre of compression."""
CYLINDERS_MAX = 16


class Fuel(StrEnum):
    """What the engine burns."""

    PETROL = "petrol"
    DIESEL = "diesel"
    LPG = "lpg"
    CNG = "cng"


class Ignition(StrEnum):
    """How the charge is lit."""

    COIL_ON_PLUG = "coil_on_plug"
    WASTE_SPARK = "waste_spark"
    DISTRIBUTOR = "distributor"
    COMPRESSION_IGNITION = "compression_ignition"


class Injection(StrEnum):
    """Where the fuel enters."""

    PORT = "port"
    DIRECT = "direct"
    COMMON_RAIL = "common_rail"
    THROTTLE_BODY = "throttle_body"
    CARBURETTOR = "carburettor"


class InjectorDrive(StrEnum):
    """How the injector is switched."""

    SATURATED = "saturated"
    PEAK_AND_HOLD = "peak_and_hold"
    BOOSTED = "boosted"
    PIEZO = "piezo"
    NONE = "none"


class Layout(StrEnum):
    """How the cylinders stand."""

    SINGLE = "single"
    INLINE = "inline"
    VEE = "vee"
    FLAT = "flat"
    W = "w"


DEFAULT_DRIVE = {
    Injection.PORT: InjectorDrive.SATURATED,
    Injection.THROTTLE_BODY: InjectorDrive.SATURATED,
    Injection.DIRECT: InjectorDrive.BOOSTED,
    Injection.COMMON_RAIL: InjectorDrive.BOOSTED,
    Injection.CARBURETTOR: InjectorDrive.NONE,
}


@dataclass(frozen=True, slots=True, kw_only=True)
class CrankWheel:
    """The toothed wheel the crank sensor reads."""

    teeth: int
    missing: int
    tdc1_deg_after_gap: float | None = None

    def __post_init__(self) -> None:
        if self.teeth < 1 or not 0 <= self.missing < self.teeth:
            raise EngineError(
                f"A crank wheel of {self.teeth} teeth with {self.missing} missing cannot be.",
                where="crank wheel",
                remedy="Give the full count of teeth and how many of them are missing.",
            )
        angle = self.tdc1_deg_after_gap
        if angle is not None and not math.isfinite(angle):
            raise EngineError("The angle from the gap to TDC 1 is not a number.", where="crank wheel")


@dataclass(frozen=True, kw_only=True)
class Engine:
    """A four-stroke engine, checked on creation.

    Parameters
    ----------
    cylinders : int
        1 to 16.
    firing_order : sequence of int
        A permutation of 1..cylinders.
    firing_intervals_deg : sequence of float, optional
        Crank angle from the i-th event of ``firing_order`` to the next, summing to 720; even if left out.
    banks : sequence of sequences of int, optional
        Cylinders of each bank in the order they stand in the block.
    coil_pairs : sequence of (int, int), optional
        Cylinders that share a coil; companions 360 degrees apart if left out on waste spark.
    injector_feeds : sequence of sequences of int, optional
        Cylinders whose injectors hang on one feed, behind the same fuse or splice.
    injector_path : sequence of str, optional
        Places along an injector's circuit where it can be measured, from the feed to the driver; those of ``wiring``
        where left out.
    wiring : sequence of Circuit, optional
        The same by the pin.

    Raises
    ------
    EngineError
        Names the field and what is wrong with it.
    """

    cylinders: int
    firing_order: tuple[int, ...]
    fuel: Fuel
    ignition: Ignition
    injection: Injection
    firing_intervals_deg: tuple[float, ...] = ()
    layout: Layout | None = None
    banks: tuple[tuple[int, ...], ...] = ()
    coil_pairs: tuple[tuple[int, int], ...] = ()
    injector_drive: InjectorDrive | None = None
    injector_ohms: float | None = None
    injector_feeds: tuple[tuple[int, ...], ...] = ()
    injector_path: tuple[str, ...] = ()
    wiring: tuple[Circuit, ...] = ()
    crank_wheel: CrankWheel | None = None
    label: str = ""
    extra: dict[str, object] = field(default_factory=dict, compare=False)

    def __post_init__(self) -> None:
        _check_cylinders(self.cylinders)
        object.__setattr__(self, "firing_order", _checked_order(self.firing_order, self.cylinders))
        intervals = self.firing_intervals_deg or (CYCLE_DEG / self.cylinders,) * self.cylinders
        object.__setattr__(self, "firing_intervals_deg", _checked_intervals(intervals, self.cylinders))
        object.__setattr__(self, "banks", _checked_groups(self.banks, self.cylinders, "banks"))
        pairs = _checked_groups(self.coil_pairs, self.cylinders, "coil pairs")
        if any(len(pair) != 2 for pair in pairs):
            raise EngineError("A coil pair holds two cylinders.", where="coil pairs")
        object.__setattr__(self, "coil_pairs", pairs)
        feeds = _checked_groups(self.injector_feeds, self.cylinders, "injector feeds")
        object.__setattr__(self, "injector_feeds", feeds)
        object.__setattr__(self, "wiring", tuple(self.wiring))
        if any(circuit.cylinder not in (None, *self.firing_order) for circuit in self.wiring):
            raise EngineError("A circuit names a cylinder the engine has not.", where="wiring")
        path = self.injector_path or [place.name for place in circuit_of(self.wiring, CircuitOf.INJECTOR, None)]
        object.__setattr__(self, "injector_path", _checked_path(path))
        ohms = self.injector_ohms
        if ohms is not None and not (math.isfinite(ohms) and ohms > 0):
            raise EngineError("Injector resistance must be above zero.", where="injector resistance")
        if self.injector_drive is None:
            object.__setattr__(self, "injector_drive", DEFAULT_DRIVE[self.injection])

    @cached_property
    def event_angles_deg(self) -> FloatArray:
        """(cylinders,) float: TDC compression of each event of the firing order, the first at 0."""
        return np.concatenate(([0.0], np.cumsum(self.firing_intervals_deg)[:-1]))

    def circuit(self, part: CircuitOf, cylinder: int | None = None) -> tuple[Place, ...]:
        """Places of a part's circuit by the pin; of an injector at least their names. Empty where nothing is known."""
        known = circuit_of(self.wiring, part, cylinder)
        if known or part is not CircuitOf.INJECTOR:
            return known
        return tuple(Place(name=name) for name in self.injector_path)

    @cached_property
    def is_even(self) -> bool:
        """Whether all firing intervals agree within a degree."""
        return float(np.ptp(self.firing_intervals_deg)) <= 1.0

    def position(self, cylinder: int) -> int:
        """Place of a cylinder in the firing order, from 0.

        Raises
        ------
        EngineError
            The engine has no such cylinder.
        """
        if cylinder not in self.firing_order:
            raise EngineError(f"This engine has no cylinder {cylinder}.", remedy=f"It has 1 to {self.cylinders}.")
        return self.firing_order.index(cylinder)

    def tdc_deg(self, cylinder: int) -> float:
        """Crank angle of a cylinder's TDC compression, the first of the firing order at 0.

        Raises
        ------
        EngineError
            The engine has no such cylinder.
        """
        return float(self.event_angles_deg[self.position(cylinder)])

    def companion(self, cylinder: int) -> int | None:
        """The cylinder 360 degrees away, or None where there is none (odd-fire, odd counts)."""
        own = self.tdc_deg(cylinder)
        for other in self.firing_order:
            apart = abs((self.tdc_deg(other) - own) % CYCLE_DEG - REVOLUTION_DEG)
            if other != cylinder and apart <= 1.0:
                return other
        return None

    @cached_property
    def companion_pairs(self) -> tuple[tuple[int, int], ...]:
        """Pairs 360 degrees apart, each once, smaller number first."""
        pairs = {tuple(sorted((c, other))) for c in self.firing_order if (other := self.companion(c)) is not None}
        return tuple(sorted((pair[0], pair[1]) for pair in pairs))

    @cached_property
    def block_rows(self) -> tuple[tuple[int, ...], ...]:
        """Cylinders as they stand side by side: the banks, or one row in number order.

        A vee without stated banks has no known rows.
        """
        if self.banks:
            return self.banks
        if self.layout in (None, Layout.INLINE, Layout.SINGLE):
            return (tuple(range(1, self.cylinders + 1)),)
        return ()

    @cached_property
    def block_neighbours(self) -> tuple[tuple[int, int], ...]:
        """Pairs that share a gasket web."""
        return tuple((a, b) for row in self.block_rows for a, b in pairwise(row))

    def firing_neighbours(self, cylinder: int) -> tuple[int, ...]:
        """The cylinders fired just before and just after, without repeats."""
        i = self.position(cylinder)
        around = (self.firing_order[i - 1], self.firing_order[(i + 1) % self.cylinders])
        return tuple(dict.fromkeys(c for c in around if c != cylinder))


def cylinder_volume(angle_deg: FloatArray, *, compression_ratio: float, rod_ratio: float) -> FloatArray:
    """Volume above the piston as a multiple of the clearance volume.

    Parameters
    ----------
    angle_deg : (n,) float, degrees of crank
        0 at TDC.
    compression_ratio : float, above 1
    rod_ratio : float, above 1
        Connecting rod length over crank radius.

    Returns
    -------
    (n,) float, 1
        V / V_clearance: 1 at TDC, ``compression_ratio`` at BDC.

    Raises
    ------
    EngineError
        Ratios of 1 or below.

    References
    ----------
    Heywood, Internal Combustion Engine Fundamentals, ch. 2, slider-crank volume [P].
    """
    if compression_ratio <= 1 or rod_ratio <= 1:
        raise EngineError("Compression ratio and rod ratio must be above 1.")
    theta = np.deg2rad(angle_deg)
    travel = rod_ratio + 1 - np.cos(theta) - np.sqrt(rod_ratio**2 - np.sin(theta) ** 2)
    return np.asarray(1 + 0.5 * (compression_ratio - 1) * travel, dtype=np.float64)


def even_engine(firing_order: Sequence[int], **changes: object) -> Engine:
    """A petrol, coil-on-plug, port-injected, even-firing engine; any field can be given otherwise."""
    fields: dict[str, object] = {
        "cylinders": len(firing_order),
        "firing_order": tuple(firing_order),
        "fuel": Fuel.PETROL,
        "ignition": Ignition.COIL_ON_PLUG,
        "injection": Injection.PORT,
    }
    return Engine(**(fields | changes))  # type: ignore[arg-type]


def _check_cylinders(cylinders: int) -> None:
    if isinstance(cylinders, bool) or not isinstance(cylinders, int) or not 1 <= cylinders <= CYLINDERS_MAX:
        raise EngineError(
            f"An engine with {cylinders!r} cylinders cannot be read.",
            where="cylinders",
            remedy=f"Give a whole number from 1 to {CYLINDERS_MAX}.",
        )


def _checked_order(order: Sequence[int], cylinders: int) -> tuple[int, ...]:
    order = tuple(order)
    if any(isinstance(c, bool) or not isinstance(c, int) for c in order):
        raise EngineError("The firing order holds something that is not a cylinder number.", where="firing order")
    if len(order) != cylinders:
        raise EngineError(
            f"The firing order names {len(order)} cylinders, the engine has {cylinders}.", where="firing order"
        )
    twice = sorted({c for c in order if order.count(c) > 1})
    if twice:
        raise EngineError(f"Cylinder {twice[0]} stands in the firing order more than once.", where="firing order")
    missing = sorted(set(range(1, cylinders + 1)) - set(order))
    if missing:
        raise EngineError(
            f"The firing order leaves out cylinder {missing[0]}.",
            where="firing order",
            remedy=f"It names each of 1 to {cylinders} once.",
        )
    return order


def _checked_intervals(intervals: Sequence[float], cylinders: int) -> tuple[float, ...]:
    values = tuple(float(i) for i in intervals)
    if len(values) != cylinders:
        raise EngineError(f"{len(values)} firing intervals for {cylinders} cylinders.", where="firing intervals")
    if any(not math.isfinite(i) or i <= 0 for i in values):
        raise EngineError("A firing interval must be above zero degrees.", where="firing intervals")
    if abs(sum(values) - CYCLE_DEG) > 1.0:
        raise EngineError(f"The firing intervals sum to {sum(values):g} degrees, not 720.", where="firing intervals")
    return values


def _checked_path(path: Sequence[str]) -> tuple[str, ...]:
    places = tuple(path)
    if any(not isinstance(place, str) or not place.strip() or len(place) > PLACE_LENGTH for place in places):
        raise EngineError("A place along the circuit needs a short name.", where="injector path")
    if len(set(places)) != len(places) or len(places) > PLACES_MAX:
        raise EngineError("Each place along the circuit is named once.", where="injector path")
    return places


def _checked_groups(groups: Sequence[Sequence[int]], cylinders: int, where: str) -> tuple[tuple[int, ...], ...]:
    checked = tuple(tuple(group) for group in groups)
    named = [c for group in checked for c in group]
    if len(named) != len(set(named)):
        raise EngineError("A cylinder is named twice.", where=where)
    if any(isinstance(c, bool) or not isinstance(c, int) or not 1 <= c <= cylinders for c in named):
        raise EngineError(f"Only cylinders 1 to {cylinders} can be named.", where=where)
    return checked
