"""The catalogue of faults, with what is no fault and what is not listed."""

from __future__ import annotations

from collections.abc import Mapping
from types import MappingProxyType

from fairwitness.core.reason.knowledge import faults_engine, faults_fuel, faults_ignition, faults_mechanical
from fairwitness.core.reason.knowledge.fault_spec import FaultSpec

CATALOGUE: tuple[FaultSpec, ...] = (
    *faults_ignition.FAULTS,
    *faults_fuel.FAULTS,
    *faults_mechanical.FAULTS,
    *faults_engine.FAULTS,
)
FAULTS: Mapping[str, FaultSpec] = MappingProxyType({fault.id: fault for fault in CATALOGUE})

NO_FAULT = "no_fault"
OTHER, OTHER_MECHANICAL = "other", "other_mechanical"
"""Something that is not in the catalogue. Only a mechanical one keeps a cylinder from sealing: uneven compression that
no fault of the catalogue explains is still mechanical."""
UNLISTED = (OTHER, OTHER_MECHANICAL)
PRIOR_OF: Mapping[str, float] = MappingProxyType({NO_FAULT: 14.0, OTHER: 0.7, OTHER_MECHANICAL: 0.5})
"""[T] how often nothing is wrong, or something unlisted, beside the faults' own ``prior``."""
TWO_FAULTS = 0.03
"""[M] how often a vehicle brings two faults that have nothing to do with each other."""
