"""Kinds of engine that the trade tells apart when it asks what may be done: one made-up example of each.

For the written table of what may be offered and for the tests that walk it; nothing is decided by these.
"""

from __future__ import annotations

from collections.abc import Mapping

from fairwitness.core.model.engine import Engine, Fuel, Ignition, Injection, InjectorDrive, even_engine
from fairwitness.core.procedures.safety import COIL_DRIVER, HIGH_VOLTAGE_VEHICLE, IN_UNIT, PROHIBITED

FOUR = (1, 3, 4, 2)
PAIRS = ((1, 4), (2, 3))
DIESEL: Mapping[str, object] = {"fuel": Fuel.DIESEL, "ignition": Ignition.COMPRESSION_IGNITION}


def _single() -> Engine:
    return Engine(
        cylinders=1,
        firing_order=(1,),
        fuel=Fuel.PETROL,
        ignition=Ignition.DISTRIBUTOR,
        injection=Injection.CARBURETTOR,
        extra={COIL_DRIVER: IN_UNIT},
    )


KINDS: Mapping[str, Engine] = {
    "port, coil on plug": even_engine(FOUR),
    "port, waste spark": even_engine(
        FOUR, ignition=Ignition.WASTE_SPARK, coil_pairs=PAIRS, extra={COIL_DRIVER: IN_UNIT}
    ),
    "carburettor, distributor": even_engine(
        FOUR, ignition=Ignition.DISTRIBUTOR, injection=Injection.CARBURETTOR, extra={COIL_DRIVER: IN_UNIT}
    ),
    "gas, port": even_engine(FOUR, fuel=Fuel.LPG),
    "direct": even_engine(FOUR, injection=Injection.DIRECT),
    "direct, piezo": even_engine(FOUR, injection=Injection.DIRECT, injector_drive=InjectorDrive.PIEZO),
    "diesel, common rail": even_engine(FOUR, injection=Injection.COMMON_RAIL, **DIESEL),
    "hybrid, direct": even_engine(FOUR, injection=Injection.DIRECT, extra={HIGH_VOLTAGE_VEHICLE: True}),
    "coils never unplugged": even_engine(FOUR, extra={PROHIBITED: ["unplugs_coil_running"]}),
    "single, carburettor": _single(),
}
