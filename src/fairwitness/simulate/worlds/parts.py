"""What a world changes about parts, pipes, leads and people: plain numbers, all of them harmless by default."""

from __future__ import annotations

from dataclasses import dataclass, field


@dataclass(frozen=True, slots=True, kw_only=True)
class GasColumn:
    """A pipe between valve and sensor."""

    echo: float = 0.0
    """Share that comes back; negative from an open end."""
    echo_s: float = 0.0
    ring_hz: float = 0.0
    ring_gain: float = 0.0
    ring_q: float = 3.0
    paths_s: tuple[float, ...] = ()
    """Additional travel of each cylinder, cylinder 1 first."""

    def path_s(self, cylinder: int) -> float:
        """Additional travel time of one cylinder, s."""
        return self.paths_s[cylinder - 1] if self.paths_s else 0.0


@dataclass(frozen=True, slots=True, kw_only=True)
class Acoustics:
    """The pipes of an engine."""

    exhaust: GasColumn = field(default_factory=GasColumn)
    intake: GasColumn = field(default_factory=GasColumn)
    leak_takes_pull: float = 0.0
    """Share of the pull that a cylinder without any sealing loses."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Leads:
    """Dynamics between what happens and the number; 0 where there are none."""

    pulse_lag_s: float = 0.0
    pulse_delay_s: float = 0.0
    pulse_high_pass_hz: float = 0.0
    small_clamp_high_pass_hz: float = 0.0
    small_clamp_low_pass_hz: float = 0.0
    large_clamp_low_pass_hz: float = 0.0
    pick_up_high_pass_hz: float = 0.0
    pick_up_gain: float = 1.0
    transducer_hz: float = 0.0
    transducer_damping: float = 0.3
    transducer_drift_bar_s: float = 0.0


@dataclass(frozen=True, slots=True, kw_only=True)
class Habit:
    """How this operator takes a capture."""

    cycles: float = 0.0
    """So many engine cycles; 0 as long as the card says."""
    rate_share: float = 1.0
    bits: int = 0
    """Of the converter; 0 as the level says."""
    singly: bool = False
    sync_cylinder: int = 0
    """Where the mark is put; 0 as the card says."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Hands:
    """Gauges, eyes and scan tool."""

    scatter: float = 1.0
    """Factor on what gauges scatter."""
    sound_leak: float = 6.0
    """Leak-down of a sound cylinder, %."""
    wet_plugs: bool = False
    """A plug is wet wherever fuel came and nothing burnt."""
    slip: float = 0.0
    """How often an eye, a change-over or a scan tool is wrong."""
    smear: float = 0.0
    """Share of misfires that a control unit books on the cylinder fired next."""
