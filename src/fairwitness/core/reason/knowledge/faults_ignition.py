"""Faults of ignition, from the plug back to the control unit."""

from __future__ import annotations

from fairwitness.core.messages.catalogue import phrase
from fairwitness.core.reason.knowledge import proof
from fairwitness.core.reason.knowledge.fault_spec import Cause, FaultSpec, Repairs, Seat, lit_by_coils

PLUGS = Repairs(
    phrase("repair.plugs.part", "the plug"),
    phrase("repair.plugs.set", "all plugs"),
    phrase("repair.plugs.why", "The others have run as long and a worn plug loads its coil"),
)
LEADS = Repairs(
    phrase("repair.leads.part", "the lead or boot"),
    phrase("repair.leads.set", "all leads with the plugs"),
    phrase("repair.leads.why", "Rubber and resistance age together, and plugs are out anyway"),
)
COIL_SET = Repairs(
    phrase("repair.coil_set.part", "the coil"),
    phrase("repair.coil_set.set", "the coil with its plug and boot"),
    phrase("repair.coil_set.why", "What burnt this one burns the next"),
)
PLUG_AND_BOOT = Repairs(
    phrase("repair.plug_and_boot.part", "the plug with its boot"),
    phrase("repair.plug_and_boot.set", "all plugs and boots"),
    phrase("repair.plug_and_boot.why", "A track on one is burnt into both"),
)
"""[T] part, set, and why the set. A fault without has no set: a wire, a feed, a leak is mended where it is."""

FAULTS: tuple[FaultSpec, ...] = (
    FaultSpec(
        id="plug_gap_wide",
        cause=Cause.IGNITION,
        seat=Seat.CYLINDER,
        words=phrase("fault.plug_gap_wide", "plug gap worn wide"),
        owner=phrase("owner.fault.plug_gap_wide", "its spark plug is worn"),
        owner_of_several=phrase("owner.fault.several.plug_gap_wide", "their spark plug is worn"),
        prior=5.0,
        proof=(proof.PLUG_PROVEN,),
        possible=lit_by_coils,
        in_two=0.06,
        repair=PLUGS,
    ),
    FaultSpec(
        id="plug_shorted",
        cause=Cause.IGNITION,
        seat=Seat.CYLINDER,
        words=phrase("fault.plug_shorted", "plug fouled or shorted"),
        owner=phrase("owner.fault.plug_shorted", "its spark plug is fouled and sparks poorly"),
        owner_of_several=phrase("owner.fault.several.plug_shorted", "their spark plug is fouled and sparks poorly"),
        prior=4.0,
        proof=(proof.PLUG_PROVEN,),
        possible=lit_by_coils,
        in_two=0.06,
        repair=PLUGS,
    ),
    FaultSpec(
        id="plug_tracking",
        cause=Cause.IGNITION,
        seat=Seat.CYLINDER,
        words=phrase("fault.plug_tracking", "plug tracking outside"),
        owner=phrase("owner.fault.plug_tracking", "the spark runs down the outside of its plug"),
        owner_of_several=phrase("owner.fault.several.plug_tracking", "the spark runs down the outside of their plug"),
        prior=3.0,
        proof=(proof.PLUG_PROVEN,),
        possible=lit_by_coils,
        in_two=0.06,
        repair=PLUG_AND_BOOT,
    ),
    FaultSpec(
        id="secondary_high_resistance",
        cause=Cause.IGNITION,
        seat=Seat.CYLINDER,
        words=phrase("fault.secondary_high_resistance", "high resistance in lead or boot"),
        owner=phrase(
            "owner.fault.secondary_high_resistance",
            "the high-voltage lead or cap to its plug has become a poor conductor",
        ),
        owner_of_several=phrase(
            "owner.fault.several.secondary_high_resistance",
            "the high-voltage lead or cap to their plug has become a poor conductor",
        ),
        prior=2.5,
        proof=(proof.LEAD_PROVEN,),
        possible=lit_by_coils,
        in_two=0.03,
        repair=LEADS,
    ),
    FaultSpec(
        id="secondary_open",
        cause=Cause.IGNITION,
        seat=Seat.CYLINDER,
        words=phrase("fault.secondary_open", "open lead or boot"),
        owner=phrase("owner.fault.secondary_open", "the high-voltage lead or cap to its plug is broken"),
        owner_of_several=phrase(
            "owner.fault.several.secondary_open", "the high-voltage lead or cap to their plug is broken"
        ),
        prior=3.0,
        proof=(proof.OPEN_WHERE,),
        possible=lit_by_coils,
        in_two=0.03,
        intermittent=0.06,
        repair=LEADS,
        no_spark=True,
    ),
    FaultSpec(
        id="secondary_leak",
        cause=Cause.IGNITION,
        seat=Seat.CYLINDER,
        words=phrase("fault.secondary_leak", "high voltage leaking from lead or boot"),
        owner=phrase(
            "owner.fault.secondary_leak", "its spark escapes from the lead or cap instead of reaching the plug"
        ),
        owner_of_several=phrase(
            "owner.fault.several.secondary_leak",
            "their spark escapes from the lead or cap instead of reaching the plug",
        ),
        prior=3.0,
        proof=(proof.LEAD_PROVEN,),
        possible=lit_by_coils,
        in_two=0.03,
        intermittent=0.05,
        repair=LEADS,
    ),
    FaultSpec(
        id="coil_secondary_shorted",
        cause=Cause.IGNITION,
        seat=Seat.COIL,
        words=phrase("fault.coil_secondary_shorted", "coil with shorted turns"),
        owner=phrase("owner.fault.coil_secondary_shorted", "its ignition coil is failing"),
        owner_of_several=phrase("owner.fault.several.coil_secondary_shorted", "their ignition coil is failing"),
        prior=3.0,
        proof=(proof.WHY_DIED, proof.COIL_PROVEN),
        possible=lit_by_coils,
        in_two=0.03,
        advised=(proof.ROOT_SEEN,),
        died_of={"secondary_open": 0.06, "secondary_high_resistance": 0.04, "plug_gap_wide": 0.05},
        repair=COIL_SET,
        is_coil=True,
        no_spark=True,
    ),
    FaultSpec(
        id="coil_output_dead",
        cause=Cause.IGNITION,
        seat=Seat.COIL_OR_END,
        words=phrase("fault.coil_output_dead", "coil without output"),
        owner=phrase("owner.fault.coil_output_dead", "its ignition coil gives no spark"),
        owner_of_several=phrase("owner.fault.several.coil_output_dead", "their ignition coil gives no spark"),
        prior=5.0,
        proof=(proof.WHY_DIED, proof.COIL_PROVEN),
        possible=lit_by_coils,
        in_two=0.03,
        intermittent=0.06,
        advised=(proof.ROOT_SEEN,),
        died_of={"secondary_open": 0.06, "plug_gap_wide": 0.03},
        repair=COIL_SET,
        is_coil=True,
        no_spark=True,
    ),
    FaultSpec(
        id="coil_primary_open",
        cause=Cause.IGNITION,
        seat=Seat.COIL,
        words=phrase("fault.coil_primary_open", "open coil primary"),
        owner=phrase("owner.fault.coil_primary_open", "its ignition coil is broken inside"),
        owner_of_several=phrase("owner.fault.several.coil_primary_open", "their ignition coil is broken inside"),
        prior=2.0,
        proof=(proof.WHY_DIED, proof.COIL_PROVEN),
        possible=lit_by_coils,
        intermittent=0.06,
        advised=(proof.ROOT_SEEN,),
        repair=COIL_SET,
        is_coil=True,
        no_spark=True,
    ),
    FaultSpec(
        id="coil_feed_lost",
        cause=Cause.IGNITION,
        seat=Seat.COIL,
        words=phrase("fault.coil_feed_lost", "coil feed lost"),
        owner=phrase("owner.fault.coil_feed_lost", "its ignition coil gets no electricity"),
        owner_of_several=phrase("owner.fault.several.coil_feed_lost", "their ignition coil gets no electricity"),
        prior=1.5,
        proof=(proof.feed_gone("coil"),),
        possible=lit_by_coils,
        intermittent=0.08,
        no_spark=True,
    ),
    FaultSpec(
        id="coil_control_open",
        cause=Cause.IGNITION,
        seat=Seat.COIL,
        words=phrase("fault.coil_control_open", "open coil command wire"),
        owner=phrase("owner.fault.coil_control_open", "the wire that tells its ignition coil when to spark is broken"),
        owner_of_several=phrase(
            "owner.fault.several.coil_control_open", "the wire that tells their ignition coil when to spark is broken"
        ),
        prior=1.5,
        proof=(proof.wire_open("coil"),),
        possible=lit_by_coils,
        intermittent=0.08,
        no_spark=True,
    ),
    FaultSpec(
        id="coil_driver_failed",
        cause=Cause.IGNITION,
        seat=Seat.COIL,
        words=phrase("fault.coil_driver_failed", "coil driver of the control unit"),
        owner=phrase(
            "owner.fault.coil_driver_failed", "the engine computer does not switch its ignition coil properly"
        ),
        owner_of_several=phrase(
            "owner.fault.several.coil_driver_failed", "the engine computer does not switch their ignition coil properly"
        ),
        prior=0.8,
        proof=proof.of_driver("coil"),
        possible=lit_by_coils,
        no_spark=True,
        intermittent=0.06,
        driver_of="coil",
    ),
)
