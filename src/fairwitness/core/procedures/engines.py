"""On which engines a test can be done: predicates that several tests share."""

from __future__ import annotations

from fairwitness.core.model.engine import Engine, Fuel, Ignition, Injection


def has_coils(engine: Engine) -> bool:
    """Sparks lit by coils: no coil is measured on a diesel."""
    return engine.ignition is not Ignition.COMPRESSION_IGNITION


def has_injectors(engine: Engine) -> bool:
    """Injectors at all: a carburettor has none."""
    return engine.injection is not Injection.CARBURETTOR


def pulsed_by_a_tester(engine: Engine) -> bool:
    """Injectors a tester may pulse: never at the pressures of direct injection or a common rail."""
    return has_injectors(engine) and engine.injection not in (Injection.DIRECT, Injection.COMMON_RAIL)


def marks_its_cranking(engine: Engine) -> bool:
    """Something marks the cycle while cranking: with the fuel disabled nothing does on a diesel."""
    return engine.ignition is not Ignition.COMPRESSION_IGNITION


def mixes_petrol(engine: Engine) -> bool:
    """Air and fuel are metered to each other: a diesel has air to spare, and no trims."""
    return engine.fuel is not Fuel.DIESEL


def has_a_neighbour(engine: Engine) -> bool:
    """Another cylinder to change a part over with."""
    return engine.cylinders > 1


def coil_on_each_plug(engine: Engine) -> bool:
    """Coils that can be changed over one by one."""
    return engine.ignition is Ignition.COIL_ON_PLUG and has_a_neighbour(engine)


def has_leads(engine: Engine) -> bool:
    """Leads between coil and plug that can be changed over."""
    return has_coils(engine) and engine.ignition is not Ignition.COIL_ON_PLUG and has_a_neighbour(engine)
