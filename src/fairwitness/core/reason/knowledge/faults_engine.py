"""Faults of the whole engine: what all cylinders hang on. Most of them keep it from starting at all."""

from __future__ import annotations

from fairwitness.core.messages.catalogue import phrase
from fairwitness.core.model.engine import Engine, Injection
from fairwitness.core.reason.knowledge.fault_spec import NO_PROOF_KNOWN, Cause, FaultSpec, Seat, lit_by_coils
from fairwitness.core.reason.knowledge.proof import Predicate, outcome


def fed_by_injectors(engine: Engine) -> bool:
    """Engines with a control unit that injects."""
    return engine.injection is not Injection.CARBURETTOR


def _wants(id: str, words: str, kind: str, *outcomes: str, by: tuple[str, ...] = ()) -> Predicate:
    return outcome(id, phrase(f"proof.{id}", words), kind, *outcomes, by=by)


CRANK_SIGNAL_SEEN = _wants(
    "crank_signal", "The crank signal, measured while cranking.", "no_start:crank_signal", "none", "broken"
)
NO_COIL_CURRENT = _wants(
    "no_coil_current", "Coil current while cranking: none in any coil.", "no_start:coil_ramp", "none"
)
SIGNALS_REACH_IT = Predicate(
    "signals_reach_it",
    phrase("proof.signals_reach_it", "That the control unit knows the engine turns: crank signal, or injector pulse."),
    ("no_start:injector_pulse", "no_start:crank_signal"),
    lambda seen: seen.has("no_start:injector_pulse", "flashes") or seen.has("no_start:crank_signal", "present"),
)
FEED_OR_REFERENCE = Predicate(
    "feed_or_reference",
    phrase("proof.feed_or_reference", "The common coil feed measured missing, or the 5 V reference measured good."),
    ("voltage:coil_feed", "engine_circuits:reference"),
    lambda seen: (
        seen.has("voltage:coil_feed", "absent", "low")
        or seen.has("load_lamp:feed", "dark", "dim")
        or seen.has("engine_circuits:reference", "good")
    ),
)
"""A control unit whose reference is pulled down may leave the coils alone and command the injectors all the same."""
SUPPLY_MEASURED = _wants(
    "supply_measured",
    "Supply and earth of the control unit, measured missing under load.",
    "engine_circuits:unit_supply",
    "low",
)
REFERENCE_MEASURED = _wants(
    "reference_measured",
    "The 5 V reference or the sensor earth, measured bad.",
    "engine_circuits:*",
    "low",
    "bad",
    by=("engine_circuits:reference", "engine_circuits:sensor_earth"),
)
REST_SEEN = _wants(
    "rest_seen", "What it commands with the key on and the crank at rest.", "engine_circuits:key_on", "held", "fires"
)
SUPPLY_GOOD = _wants(
    "supply_good", "Supply and earth of the control unit, good under load.", "engine_circuits:unit_supply", "good"
)
REFERENCE_GOOD = _wants("reference_good", "The 5 V reference, good.", "engine_circuits:reference", "good")
EARTH_GOOD = _wants("sensor_earth_good", "The sensor earth, good.", "engine_circuits:sensor_earth", "good")
QUIET = _wants(
    "no_interference",
    "No interference from outside on the signals.",
    "engine_circuits:interference",
    "none",
    "with_coils",
)
LAMP_SEEN = _wants(
    "immobiliser_lamp", "The immobiliser lamp, or what its own unit reports.", "first_look:dash_lamp", "immobiliser"
)
SPIKES_SEEN = _wants(
    "spikes_seen", "Spikes that are not the coils' own, seen on the signals.", "engine_circuits:interference", "others"
)
PLUGS_LOOKED = _wants("plugs_looked_at", "The plugs, out and looked at.", "visual:plug", "worn", "fouled", "burnt")
NO_PRESSURE = _wants("no_pressure", "Fuel pressure, measured missing.", "fuel_pressure", "low")
BORES_SEEN = _wants(
    "bores_seen",
    "A gauge with and without oil: washed bores rise with it.",
    "gauge_wet",
    "rises",
    by=("compression_gauge",),
)
BATTERY_SEEN = _wants(
    "battery_seen", "How it cranks: labouring, or its voltage while cranking.", "first_look:cadence", "labouring"
)

FAULTS: tuple[FaultSpec, ...] = (
    FaultSpec(
        id="crank_signal_lost",
        cause=Cause.CONTROL,
        seat=Seat.ENGINE,
        words=phrase("fault.crank_signal_lost", "no crank signal"),
        owner=phrase("owner.fault.crank_signal_lost", "the engine computer cannot see that the engine turns"),
        prior=2.5,
        remedy="crank_sensor",
        proof=(CRANK_SIGNAL_SEEN,),
        no_start=0.93,
        misfires=0.5,
        possible=fed_by_injectors,
    ),
    FaultSpec(
        id="cam_signal_wrong",
        cause=Cause.CONTROL,
        seat=Seat.ENGINE,
        words=phrase("fault.cam_signal_wrong", "cam signal missing or wrong"),
        owner=phrase("owner.fault.cam_signal_wrong", "the engine computer does not know which cylinder comes next"),
        prior=0.4,
        remedy="cam_sensor",
        proof=NO_PROOF_KNOWN,
        no_start=0.35,
        misfires=0.5,
        possible=fed_by_injectors,
    ),
    FaultSpec(
        id="ignition_common_lost",
        cause=Cause.IGNITION,
        seat=Seat.ENGINE,
        words=phrase("fault.ignition_common_lost", "common coil feed or igniter lost"),
        owner=phrase("owner.fault.ignition_common_lost", "the part that all ignition coils share has failed"),
        prior=1.5,
        remedy="common_ignition",
        proof=(NO_COIL_CURRENT, SIGNALS_REACH_IT, FEED_OR_REFERENCE),
        no_start=0.96,
        misfires=0.5,
        possible=lit_by_coils,
    ),
    FaultSpec(
        id="unit_unpowered",
        cause=Cause.CONTROL,
        seat=Seat.ENGINE,
        words=phrase("fault.unit_unpowered", "control unit without supply or earth"),
        owner=phrase("owner.fault.unit_unpowered", "the engine computer gets no power"),
        prior=1.2,
        remedy="unit_supply",
        proof=(SUPPLY_MEASURED,),
        no_start=0.97,
        misfires=0.3,
        possible=fed_by_injectors,
    ),
    FaultSpec(
        id="reference_bad",
        cause=Cause.CONTROL,
        seat=Seat.ENGINE,
        words=phrase("fault.reference_bad", "5 V reference or sensor earth bad"),
        owner=phrase("owner.fault.reference_bad", "a circuit that all sensors share is bad"),
        prior=0.6,
        remedy="unit_supply",
        proof=(REFERENCE_MEASURED,),
        no_start=0.55,
        misfires=0.5,
        possible=fed_by_injectors,
    ),
    FaultSpec(
        id="unit_misbehaves",
        cause=Cause.CONTROL,
        seat=Seat.ENGINE,
        words=phrase("fault.unit_misbehaves", "control unit that does what nothing asks for"),
        owner=phrase("owner.fault.unit_misbehaves", "the engine computer itself does what nothing asks it for"),
        prior=0.4,
        remedy="control_unit",
        proof=(REST_SEEN, SUPPLY_GOOD, REFERENCE_GOOD, EARTH_GOOD, QUIET),
        no_start=0.75,
        floods=True,
        possible=fed_by_injectors,
    ),
    FaultSpec(
        id="immobiliser_locked",
        cause=Cause.CONTROL,
        seat=Seat.ENGINE,
        words=phrase("fault.immobiliser_locked", "immobiliser locked"),
        owner=phrase("owner.fault.immobiliser_locked", "the engine computer does not accept the key"),
        prior=1.0,
        remedy="key",
        proof=(LAMP_SEEN,),
        no_start=0.9,
        misfires=0.02,
        possible=fed_by_injectors,
    ),
    FaultSpec(
        id="outside_interference",
        cause=Cause.CONTROL,
        seat=Seat.ENGINE,
        words=phrase("fault.outside_interference", "interference from outside on the signals"),
        owner=phrase("owner.fault.outside_interference", "something else disturbs the signals of the engine"),
        prior=0.2,
        remedy="screening",
        proof=(SPIKES_SEEN,),
        no_start=0.3,
        possible=fed_by_injectors,
    ),
    FaultSpec(
        id="plugs_all_worn",
        cause=Cause.IGNITION,
        seat=Seat.ENGINE,
        words=phrase("fault.plugs_all_worn", "all plugs worn"),
        owner=phrase("owner.fault.plugs_all_worn", "all spark plugs are worn out"),
        prior=0.5,
        remedy="all_plugs",
        proof=(PLUGS_LOOKED,),
        no_start=0.25,
        possible=lit_by_coils,
    ),
    FaultSpec(
        id="fuel_supply_none",
        cause=Cause.FUEL,
        seat=Seat.ENGINE,
        words=phrase("fault.fuel_supply_none", "no fuel pressure"),
        owner=phrase("owner.fault.fuel_supply_none", "no fuel reaches the engine"),
        prior=3.0,
        remedy="fuel_supply",
        proof=(NO_PRESSURE,),
        no_start=0.97,
        misfires=0.3,
    ),
    FaultSpec(
        id="washed_bores",
        cause=Cause.MECHANICAL,
        seat=Seat.ENGINE,
        words=phrase("fault.washed_bores", "bores washed by fuel"),
        owner=phrase(
            "owner.fault.washed_bores", "fuel has washed the oil from the cylinders, so that they no longer seal"
        ),
        prior=0.8,
        remedy="washed",
        proof=(BORES_SEEN,),
        no_start=0.85,
        misfires=0.1,
    ),
    FaultSpec(
        id="weak_battery",
        cause=Cause.CONTROL,
        seat=Seat.ENGINE,
        words=phrase("fault.weak_battery", "battery too weak to crank by"),
        owner=phrase("owner.fault.weak_battery", "the battery is too weak to start the engine"),
        prior=2.0,
        remedy="battery",
        proof=(BATTERY_SEEN,),
        no_start=0.8,
        misfires=0.05,
    ),
)
