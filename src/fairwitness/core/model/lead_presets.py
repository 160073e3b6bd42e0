"""Leads that many benches hold, what each is put on, and which of them a trace looks like it came through."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from fairwitness.core import thresholds as limit
from fairwitness.core.model.capture import Role
from fairwitness.core.model.lead import Lead, LeadKind, Reference
from fairwitness.core.model.units import UNIT_TO_SI


@dataclass(frozen=True, slots=True, kw_only=True)
class Preset:
    """A lead and the roles it is put on."""

    lead: Lead
    roles: tuple[Role, ...]


def _clamp(mv_per_a: float) -> Preset:
    return Preset(lead=Lead(kind=LeadKind.CLAMP, unit="A", per_volt=1000.0 / mv_per_a), roles=CLAMPED)


def _attenuator(times: float) -> Preset:
    return Preset(lead=Lead(kind=LeadKind.ATTENUATOR, per_volt=times), roles=HIGH)


def _pick_up(kv_per_volt: float | None) -> Preset:
    lead = Lead(kind=LeadKind.PICK_UP, unit="kV", per_volt=kv_per_volt)
    return Preset(lead=lead, roles=(Role.SECONDARY_VOLTAGE,))


def _transducer(bar_per_volt: float | None, zero_v: float = 0.0) -> Preset:
    lead = Lead(kind=LeadKind.TRANSDUCER, unit="bar", per_volt=bar_per_volt, zero_v=zero_v, reference=Reference.GAUGE)
    return Preset(lead=lead, roles=(Role.CYLINDER_PRESSURE,))


CLAMPED = (Role.STARTER_CURRENT, Role.COIL_CURRENT, Role.INJECTOR_CURRENT)
HIGH = (Role.INJECTOR_VOLTAGE, Role.COIL_CONTROL, Role.BATTERY_VOLTAGE, Role.CRANK_SENSOR, Role.CAM_SENSOR)
BREATHED = (Role.EXHAUST_PRESSURE, Role.INTAKE_PRESSURE, Role.CRANKCASE_PRESSURE)
PRESETS: Mapping[str, Preset] = {
    "clamp_1": _clamp(1.0),
    "clamp_10": _clamp(10.0),
    "clamp_100": _clamp(100.0),
    "clamp_unknown": Preset(lead=Lead(kind=LeadKind.CLAMP, unit="A"), roles=CLAMPED),
    "attenuator_10": _attenuator(10.0),
    "attenuator_20": _attenuator(20.0),
    "attenuator_100": _attenuator(100.0),
    "pick_up_1": _pick_up(1.0),
    "pick_up_10": _pick_up(10.0),
    "pick_up_unknown": _pick_up(None),
    "transducer_20_bar": _transducer(5.0, zero_v=0.5),
    "transducer_10_bar_per_v": _transducer(10.0),
    "transducer_unknown": _transducer(None),
    "hose_unknown": Preset(lead=Lead(kind=LeadKind.HOSE_SENSOR, unit="kPa"), roles=BREATHED),
}
"""Common practice (no source); a shop adds its own."""
LEVELS: Mapping[Role, tuple[float, float]] = {
    Role.STARTER_CURRENT: (limit.STARTER_DRAWS_MIN_A.value, limit.STARTER_DRAWS_MAX_A.value),
    Role.COIL_CURRENT: (limit.COIL_DRAWS_MIN_A.value, limit.COIL_DRAWS_MAX_A.value),
    Role.INJECTOR_CURRENT: (limit.INJECTOR_DRAWS_MIN_A.value, limit.INJECTOR_DRAWS_MAX_A.value),
    Role.SECONDARY_VOLTAGE: (1e3 * limit.KV_PLAUSIBLE_MIN.value, 1e3 * limit.KV_PLAUSIBLE_MAX.value),
    Role.CYLINDER_PRESSURE: (limit.TOWER_MIN_PA.value, 1e5 * limit.COMPRESSION_CEILING_BAR.value),
}
"""From the least to the most that such a trace stands above its rest, in the unit used inside."""


def fitting(role: Role, height_v: float, leads: Sequence[Lead]) -> list[Lead]:
    """Leads through which a trace would reach a height that its role can have; unknown ones always fit, last.

    Parameters
    ----------
    role : Role
    height_v : float, V
        How high the trace stands above its rest, as the instrument wrote it.
    leads : sequence of Lead
        Candidates, the likelier first.
    """

    def fits(lead: Lead) -> bool:
        return lead.per_volt is not None and fits_level(role, height_v * abs(lead.per_volt) * UNIT_TO_SI[lead.unit][0])

    return [*(one for one in leads if fits(one)), *(one for one in leads if not one.known)]


def fits_level(role: Role, height: float) -> bool:
    """Whether such a trace can reach so far above its rest, in the unit used inside."""
    least, most = LEVELS.get(role, (0.0, float("inf")))
    return least <= height <= most


def presets_of(role: Role) -> list[Lead]:
    """Built-in leads of a role, the likelier first."""
    return [p.lead for p in PRESETS.values() if role in p.roles]
