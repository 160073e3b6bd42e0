"""What an instrument recorded: channels over time, with what the technician says of them."""

from __future__ import annotations

import hashlib
import math
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass
from enum import StrEnum
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from fairwitness.core.errors import CaptureError
from fairwitness.core.model.circumstances import LOADS, TEMPERATURES, Circumstances
from fairwitness.core.model.lead import Lead, lead_block
from fairwitness.core.model.units import UNIT_TO_SI

SampleArray = NDArray[np.float32] | NDArray[np.float64]
FloatArray = NDArray[np.float64]


class Role(StrEnum):
    """What a channel is connected to."""

    TIME = "time"
    STARTER_CURRENT = "starter_current"
    BATTERY_VOLTAGE = "battery_voltage"
    CRANK_SENSOR = "crank_sensor"
    CAM_SENSOR = "cam_sensor"
    COIL_CONTROL = "coil_control"
    COIL_CURRENT = "coil_current"
    SECONDARY_VOLTAGE = "secondary_voltage"
    INJECTOR_VOLTAGE = "injector_voltage"
    INJECTOR_CURRENT = "injector_current"
    CYLINDER_PRESSURE = "cylinder_pressure"
    EXHAUST_PRESSURE = "exhaust_pressure"
    INTAKE_PRESSURE = "intake_pressure"
    CRANKCASE_PRESSURE = "crankcase_pressure"
    OTHER = "other"


ROLE_DIMENSION: dict[Role, str] = {
    Role.TIME: "s",
    Role.STARTER_CURRENT: "A",
    Role.BATTERY_VOLTAGE: "V",
    Role.COIL_CURRENT: "A",
    Role.INJECTOR_CURRENT: "A",
}
"""The one quantity these roles can have; clamps may also be written as volts (their gain is not known then)."""


class EngineState(StrEnum):
    """What the engine did while the capture was taken."""

    KEY_ON = "key_on"
    CRANKING = "cranking"
    RUNNING = "running"


class CaptureTest(StrEnum):
    """The test of the trade a capture was taken for."""

    RELATIVE_COMPRESSION = "relative_compression"
    CRANK_SPEED = "crank_speed"
    INJECTOR_CURRENT = "injector_current"
    INJECTOR_VOLTAGE = "injector_voltage"
    COIL_CURRENT = "coil_current"
    SECONDARY_VOLTAGE = "secondary_voltage"
    COIL_CONTROL = "coil_control"
    CYLINDER_PRESSURE = "cylinder_pressure"
    EXHAUST_PULSE = "exhaust_pulse"
    INTAKE_PULSE = "intake_pulse"
    CRANKCASE_PULSE = "crankcase_pulse"


@dataclass(frozen=True, slots=True, kw_only=True)
class SetUp:
    """How the capture was taken. None: not recorded."""

    test: CaptureTest | None = None
    engine_state: EngineState | None = None
    load: str | None = None
    fuel_disabled: bool | None = None
    ignition_disabled: bool | None = None
    temperature: str | None = None
    minutes_running: float | None = None
    wet: bool | None = None
    after_standing: bool | None = None
    happened: bool | None = None
    """Whether the complaint was there meanwhile."""
    watched_s: float | None = None
    """How long the same leads were watched in all, s; the capture is one stretch of that."""
    marks_s: tuple[float, ...] = ()
    """Moments of the capture at which something was lost, s from its start."""
    phase: int = 0
    """State of the vehicle it was taken in, as ``model.phase`` numbers them; 0 as it arrived."""

    @property
    def circumstances(self) -> Circumstances:
        """Under which conditions it was taken, as far as they are conditions a complaint may have."""
        return Circumstances(
            temperature=self.temperature if self.temperature in TEMPERATURES else None,
            minutes=self.minutes_running,
            load=self.load if self.load in LOADS else None,
            wet=self.wet,
            after_standing=self.after_standing,
        )


STAMPS_BLOCK = 65_536


@dataclass(frozen=True, slots=True, kw_only=True)
class TimeBase:
    """When each sample was taken: a rate, or a stamp per sample.

    Parameters
    ----------
    samples : int
    rate_hz : float
        Samples per second; the median rate where stamps are uneven.
    start_s : float
    stamps_s : (samples,) float or None
        Only where the steps are uneven.
    """

    samples: int
    rate_hz: float
    start_s: float = 0.0
    stamps_s: FloatArray | None = None

    def __post_init__(self) -> None:
        if not (math.isfinite(self.rate_hz) and self.rate_hz > 0):
            raise CaptureError(
                f"A sample rate of {self.rate_hz:g} Hz cannot be.", remedy="Give samples per second, above zero."
            )

    @classmethod
    def from_stamps(cls, stamps_s: FloatArray) -> TimeBase:
        """Read a time column.

        Parameters
        ----------
        stamps_s : (n,) float, s

        Returns
        -------
        TimeBase
            Without stamps where the steps are even within half a step.

        Raises
        ------
        CaptureError
            Fewer than two samples, a missing stamp, or time that does not rise.
        """
        if stamps_s.size < 2:
            raise CaptureError("One sample is not a capture.", remedy="Record at least a few seconds.")
        start, count = float(stamps_s[0]), stamps_s.size
        step = (float(stamps_s[-1]) - start) / (count - 1)
        smallest, drift = _smallest_step_and_drift(stamps_s, start, step)
        if not (smallest > 0 and math.isfinite(step)):
            raise _stamps_fault(stamps_s)
        if drift <= 0.5 * step:
            return cls(samples=count, rate_hz=1.0 / step, start_s=start)
        rate = 1.0 / float(np.median(np.diff(stamps_s)))
        return cls(samples=count, rate_hz=rate, start_s=start, stamps_s=np.asarray(stamps_s, dtype=np.float64))

    @property
    def duration_s(self) -> float:
        """Time from the first to the last sample, s."""
        if self.stamps_s is not None:
            return float(self.stamps_s[-1] - self.stamps_s[0])
        return (self.samples - 1) / self.rate_hz

    def at(self, index: NDArray[np.floating] | NDArray[np.integer]) -> FloatArray:
        """Time of (possibly fractional) sample numbers.

        Parameters
        ----------
        index : (k,) number

        Returns
        -------
        (k,) float, s
        """
        if self.stamps_s is not None:
            return np.asarray(np.interp(index, np.arange(self.samples), self.stamps_s), dtype=np.float64)
        return np.asarray(self.start_s + np.asarray(index, dtype=np.float64) / self.rate_hz, dtype=np.float64)


@dataclass(frozen=True, kw_only=True, eq=False)
class Channel:
    """One signal. Samples are as written in the file; ``si`` gives them in the unit used inside."""

    name: str
    role: Role
    unit: str
    samples: SampleArray
    """(n,) float; NaN where a sample is missing."""
    cylinder: int | None = None
    feeds: tuple[int, ...] = ()
    sync: bool = False
    measured_at: str | None = None
    unplugged: bool | None = None
    lead: Lead | None = None
    """Through which the samples came; reckoned in already where it is known."""

    @property
    def described(self) -> tuple[object, ...]:
        """What says where the samples were taken; where along a wire and through what only if that was recorded."""
        along = () if self.measured_at is None and self.unplugged is None else (self.measured_at, self.unplugged)
        through = () if self.lead is None else (sorted((lead_block(self.lead) or {}).items()),)
        return (self.role.value, self.unit, self.cylinder, self.feeds, self.sync, *along, *through)

    @property
    def si_factor(self) -> float:
        """What one written unit is in the unit used inside."""
        return UNIT_TO_SI[self.unit][0]

    @property
    def si_unit(self) -> str:
        """The unit used inside."""
        return UNIT_TO_SI[self.unit][1]


@dataclass(frozen=True, kw_only=True, eq=False)
class Capture:
    """Channels recorded together over one time base. Never edited."""

    name: str
    time: TimeBase
    channels: tuple[Channel, ...]
    set_up: SetUp = SetUp()

    def __post_init__(self) -> None:
        for channel in self.channels:
            if channel.samples.shape != (self.time.samples,):
                raise CaptureError(
                    f"Channel {channel.name} holds {channel.samples.size} samples, the time base {self.time.samples}.",
                    where=self.name,
                )

    @cached_property
    def sha256(self) -> str:
        """Fingerprint of samples, time and channel roles.

        SHA-256 over what describes the channels and a BLAKE2b digest of each one's samples, which is several times as
        fast and no weaker.
        """
        digest = hashlib.sha256()
        digest.update(f"{self.time.samples}|{self.time.rate_hz!r}|{self.time.start_s!r}".encode())
        if self.time.stamps_s is not None:
            digest.update(np.ascontiguousarray(self.time.stamps_s).data)
        with ThreadPoolExecutor() as pool:  # hashing leaves the interpreter: one channel per core
            prints = pool.map(_samples_print, (channel.samples for channel in self.channels))
            for channel, samples_print in zip(self.channels, prints, strict=True):
                digest.update(repr(channel.described).encode() + samples_print)
        return digest.hexdigest()

    def with_role(self, *roles: Role) -> tuple[Channel, ...]:
        """Channels of the given roles, in file order."""
        return tuple(c for c in self.channels if c.role in roles)

    def taken_for(self, test: CaptureTest, role: Role) -> bool:
        """Whether the channels of a role are what the capture was taken for, and not only another test's sync.

        A capture that says its test is believed; one that does not must hold such a channel beside the sync.
        """
        own = self.with_role(role)
        if self.set_up.test is not None:
            return self.set_up.test is test and bool(own)
        return any(not c.sync for c in own)


def _smallest_step_and_drift(stamps_s: FloatArray, start_s: float, step_s: float) -> tuple[float, float]:
    """Smallest step (NaN where a stamp is missing) and largest distance from even steps; blocks stay in the cache."""
    smallest, drift = np.inf, 0.0
    even = start_s + step_s * np.arange(STAMPS_BLOCK + 1)
    for first in range(0, stamps_s.size - 1, STAMPS_BLOCK):
        block = stamps_s[first : first + STAMPS_BLOCK + 1]
        least = float(np.diff(block).min())
        if not least > 0:
            return least, np.inf
        smallest = min(smallest, least)
        apart = block - even[: block.size] - step_s * first
        drift = max(drift, float(apart.max()), -float(apart.min()))
    return smallest, drift


def _stamps_fault(stamps_s: FloatArray) -> CaptureError:
    """What is wrong with a time column that does not rise, with its place."""
    finite = np.isfinite(stamps_s)
    if not finite.all():
        row = int(np.flatnonzero(~finite)[0]) + 1
        return CaptureError(f"The time column has no number at sample {row}.", remedy="Export the time again.")
    falls = np.flatnonzero(np.diff(stamps_s) <= 0)
    if falls.size:
        row = int(falls[0]) + 2
        return CaptureError(f"Time does not rise at sample {row}.", remedy="Sort the rows or export the capture again.")
    return CaptureError("The time column spans no finite time.", remedy="Export the time again.")


def _samples_print(samples: SampleArray) -> bytes:
    return hashlib.blake2b(np.ascontiguousarray(samples, dtype=np.float32).data).digest()


@dataclass(frozen=True, slots=True, kw_only=True)
class UnreadableCapture:
    """A capture of a package whose samples could not be read; kept so that nothing is dropped silently."""

    name: str
    set_up: SetUp
    reason: str
