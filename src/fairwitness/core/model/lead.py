"""What a signal passes through on its way to the instrument: clamp, attenuator, pick-up, transducer, or nothing.

An instrument writes the volts at its input. What one volt means is a property of the lead; where nobody knows it, the
volts stay as they are, cylinders are compared by shares, and no ampere or bar is told.
"""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass
from enum import StrEnum
from typing import Any

import numpy as np
from numpy.typing import NDArray

from fairwitness.core.errors import CaptureError
from fairwitness.core.messages.catalogue import phrase, template
from fairwitness.core.messages.message import Message
from fairwitness.core.model.units import UNIT_TO_SI


class LeadKind(StrEnum):
    """What stands between the engine and the input of the instrument; a plain wire is no lead."""

    CLAMP = "clamp"
    ATTENUATOR = "attenuator"
    PICK_UP = "pick_up"
    TRANSDUCER = "transducer"
    HOSE_SENSOR = "hose_sensor"


class Reference(StrEnum):
    """What a pressure transducer calls zero."""

    GAUGE = "gauge"
    ABSOLUTE = "absolute"


MEASURES: Mapping[LeadKind, frozenset[str]] = {
    LeadKind.CLAMP: frozenset({"A"}),
    LeadKind.ATTENUATOR: frozenset({"V"}),
    LeadKind.PICK_UP: frozenset({"V"}),
    LeadKind.TRANSDUCER: frozenset({"Pa"}),
    LeadKind.HOSE_SENSOR: frozenset({"Pa"}),
}
"""The quantity behind each kind, by the unit used inside."""
GAIN_MOST = 1e9
MILLIVOLTS_PER_AMPERE = template("lead.clamp", "clamp {mv:g} mV/A")
CLAMP_UNKNOWN = phrase("lead.clamp_unknown", "clamp, not known which")
ATTENUATED = template("lead.attenuator", "attenuator {times:g}:1")
ATTENUATOR_UNKNOWN = phrase("lead.attenuator_unknown", "attenuator, not known which")
PICKED_UP = template("lead.pick_up", "pick-up {per_volt:g} {unit} per V")
PICK_UP_UNKNOWN = phrase("lead.pick_up_unknown", "pick-up, uncalibrated")
TRANSDUCED = template("lead.transducer", "transducer {per_volt:g} {unit} per V, {zero:g} V at zero")
TRANSDUCER_UNKNOWN = phrase("lead.transducer_unknown", "transducer, not known which")
HOSED = template("lead.hose_sensor", "hose sensor {per_volt:g} {unit} per V")
HOSE_UNKNOWN = phrase("lead.hose_unknown", "hose sensor, uncalibrated")


@dataclass(frozen=True, slots=True, kw_only=True)
class Lead:
    """One lead.

    Parameters
    ----------
    kind : LeadKind
    unit : str
        Of what it measures.
    per_volt : float or None
        So many of that unit make one volt at the input; None where nobody knows.
    zero_v : float
        Volts at zero.
    reference : Reference or None
        Of a transducer.

    Raises
    ------
    CaptureError
        A unit that such a lead does not measure, or a gain that cannot be.
    """

    kind: LeadKind
    unit: str = "V"
    per_volt: float | None = None
    zero_v: float = 0.0
    reference: Reference | None = None

    def __post_init__(self) -> None:
        if self.unit not in UNIT_TO_SI or UNIT_TO_SI[self.unit][1] not in MEASURES[self.kind]:
            raise CaptureError(f"A {self.kind.value.replace('_', ' ')} does not measure {self.unit!r}.", where="lead")
        gain = self.per_volt
        if gain is not None and not (math.isfinite(gain) and 0 < abs(gain) <= GAIN_MOST):
            words = f"A lead of {gain:g} {self.unit} per V cannot be."
            raise CaptureError(words, where="lead", remedy="Read its label.")
        if not math.isfinite(self.zero_v):
            raise CaptureError("The volts at zero are no number.", where="lead", remedy="Read its label.")

    @property
    def known(self) -> bool:
        """Whether a volt of it means something."""
        return self.per_volt is not None

    def measured(
        self, written: NDArray[np.float32] | NDArray[np.float64], unit: str
    ) -> tuple[NDArray[np.float32] | NDArray[np.float64], str]:
        """What the lead measured, of what the instrument wrote.

        Parameters
        ----------
        written : (n,) float
        unit : str
            A unit of voltage.

        Returns
        -------
        (samples, unit) : (n,) float, str
            As written where the lead is not known.

        Raises
        ------
        CaptureError
            The instrument did not write volts.
        """
        factor, si = UNIT_TO_SI[unit]
        if si != "V":
            raise CaptureError(
                f"It is written in {unit}: the instrument has reckoned the lead in already.",
                where="lead",
                remedy="Leave the lead away, or say that the column is in V or mV.",
            )
        if self.per_volt is None:
            return written, unit
        gain = self.per_volt
        values = np.asarray(written, dtype=np.float64) * (factor * gain) - self.zero_v * gain
        return (values if written.dtype == np.float64 else values.astype(np.float32)), self.unit

    @property
    def said(self) -> Message:
        """In a few words."""
        gain = self.per_volt
        match self.kind:
            case LeadKind.CLAMP:
                si = UNIT_TO_SI[self.unit][0]
                return CLAMP_UNKNOWN if gain is None else MILLIVOLTS_PER_AMPERE(mv=_short(1000.0 / (gain * si)))
            case LeadKind.ATTENUATOR:
                si = UNIT_TO_SI[self.unit][0]
                return ATTENUATOR_UNKNOWN if gain is None else ATTENUATED(times=_short(gain * si))
            case LeadKind.PICK_UP:
                return PICK_UP_UNKNOWN if gain is None else PICKED_UP(per_volt=_short(gain), unit=self.unit)
            case LeadKind.TRANSDUCER:
                if gain is None:
                    return TRANSDUCER_UNKNOWN
                return TRANSDUCED(per_volt=_short(gain), unit=self.unit, zero=_short(self.zero_v))
            case LeadKind.HOSE_SENSOR:
                return HOSE_UNKNOWN if gain is None else HOSED(per_volt=_short(gain), unit=self.unit)


def lead_block(lead: Lead | None) -> dict[str, Any] | None:
    """A lead as it is written in files; what is usual is left out."""
    if lead is None:
        return None
    block = {
        "kind": lead.kind.value,
        "unit": lead.unit,
        "per_volt": lead.per_volt,
        "zero_v": lead.zero_v or None,
        "reference": lead.reference.value if lead.reference else None,
    }
    return {k: v for k, v in block.items() if v is not None}


def read_lead(block: object) -> Lead | None:
    """A lead as files carry it; None for what is none, or none that can be."""
    if not isinstance(block, Mapping):
        return None
    kind, unit, reference = block.get("kind"), block.get("unit", "V"), block.get("reference")
    if kind not in list(LeadKind) or not isinstance(unit, str):
        return None
    try:
        return Lead(
            kind=LeadKind(str(kind)),
            unit=unit,
            per_volt=_number(block.get("per_volt")),
            zero_v=_number(block.get("zero_v")) or 0.0,
            reference=Reference(str(reference)) if reference in list(Reference) else None,
        )
    except CaptureError:
        return None


def _short(value: float) -> float:
    return float(f"{value:.4g}")


def _number(value: object) -> float | None:
    if isinstance(value, int | float) and not isinstance(value, bool) and math.isfinite(value):
        return float(value)
    return None
