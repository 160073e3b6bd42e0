"""Faults of fuel: injectors, their circuits, mixture and supply; and a cylinder that is cut on purpose."""

from __future__ import annotations

from fairwitness.core.messages.catalogue import phrase
from fairwitness.core.reason.knowledge import proof
from fairwitness.core.reason.knowledge.fault_spec import (
    Cause,
    FaultSpec,
    Mode,
    Repairs,
    Seat,
    injector_each,
    metered_air,
)

SPRAY_SET = Repairs(
    phrase("repair.spray_set.part", "the injector"),
    phrase("repair.spray_set.set", "all injectors, cleaned and measured or new, with their seals"),
    phrase("repair.spray_set.why", "The same fuel went through all of them"),
)
WINDING_SET = Repairs(
    phrase("repair.winding_set.part", "the injector"),
    phrase("repair.winding_set.set", "all injectors of that age"),
    phrase("repair.winding_set.why", "Windings of one make tend to fail one after the other"),
)
"""[T] part, set, and why the set. A fault without has no set: a wire, a feed, a leak is mended where it is."""

FAULTS: tuple[FaultSpec, ...] = (
    FaultSpec(
        id="injector_open_circuit",
        cause=Cause.FUEL,
        seat=Seat.CYLINDER,
        words=phrase("fault.injector_open_circuit", "open injector"),
        owner=phrase("owner.fault.injector_open_circuit", "its fuel injector is broken electrically"),
        owner_of_several=phrase(
            "owner.fault.several.injector_open_circuit", "their fuel injector is broken electrically"
        ),
        prior=3.5,
        proof=(proof.INJECTOR_PROVEN,),
        possible=injector_each,
        in_two=0.02,
        intermittent=0.06,
        repair=WINDING_SET,
    ),
    FaultSpec(
        id="injector_high_resistance",
        cause=Cause.FUEL,
        seat=Seat.CYLINDER,
        words=phrase("fault.injector_high_resistance", "resistance in the injector circuit"),
        owner=phrase("owner.fault.injector_high_resistance", "a poor connection weakens its fuel injector"),
        owner_of_several=phrase(
            "owner.fault.several.injector_high_resistance", "a poor connection weakens their fuel injector"
        ),
        prior=2.0,
        proof=(proof.INJECTOR_PROVEN,),
        possible=injector_each,
        in_two=0.08,
    ),
    FaultSpec(
        id="injector_shorted",
        cause=Cause.FUEL,
        seat=Seat.CYLINDER,
        words=phrase("fault.injector_shorted", "shorted injector"),
        owner=phrase("owner.fault.injector_shorted", "its fuel injector has a short circuit"),
        owner_of_several=phrase("owner.fault.several.injector_shorted", "their fuel injector has a short circuit"),
        prior=1.0,
        proof=(proof.INJECTOR_PROVEN,),
        possible=injector_each,
        in_two=0.02,
        repair=WINDING_SET,
    ),
    FaultSpec(
        id="injector_stuck_closed",
        cause=Cause.FUEL,
        seat=Seat.CYLINDER,
        words=phrase("fault.injector_stuck_closed", "injector stuck closed"),
        owner=phrase("owner.fault.injector_stuck_closed", "its fuel injector is stuck shut"),
        owner_of_several=phrase("owner.fault.several.injector_stuck_closed", "their fuel injector is stuck shut"),
        prior=2.5,
        proof=(proof.DELIVERED, proof.NEEDLE),
        possible=injector_each,
        in_two=0.02,
        repair=SPRAY_SET,
        is_spray=True,
    ),
    FaultSpec(
        id="injector_restricted",
        cause=Cause.FUEL,
        seat=Seat.CYLINDER,
        words=phrase("fault.injector_restricted", "restricted injector"),
        owner=phrase("owner.fault.injector_restricted", "its fuel injector lets too little fuel through"),
        owner_of_several=phrase(
            "owner.fault.several.injector_restricted", "their fuel injector lets too little fuel through"
        ),
        prior=4.5,
        proof=(proof.DELIVERED,),
        possible=injector_each,
        in_two=0.05,
        repair=SPRAY_SET,
        is_spray=True,
    ),
    FaultSpec(
        id="injector_leaking",
        cause=Cause.FUEL,
        seat=Seat.CYLINDER,
        words=phrase("fault.injector_leaking", "leaking injector"),
        owner=phrase("owner.fault.injector_leaking", "its fuel injector drips"),
        owner_of_several=phrase("owner.fault.several.injector_leaking", "their fuel injector drips"),
        prior=2.0,
        proof=(proof.DELIVERED,),
        possible=injector_each,
        in_two=0.04,
        repair=SPRAY_SET,
        is_spray=True,
        no_start=0.05,
    ),
    FaultSpec(
        id="injector_feed_lost",
        cause=Cause.FUEL,
        seat=Seat.FEED,
        words=phrase("fault.injector_feed_lost", "injector feed lost"),
        owner=phrase("owner.fault.injector_feed_lost", "its fuel injector gets no electricity"),
        owner_of_several=phrase("owner.fault.several.injector_feed_lost", "their fuel injector gets no electricity"),
        prior=1.0,
        proof=(proof.feed_gone("injector"),),
        possible=injector_each,
        in_two=0.02,
        intermittent=0.06,
        is_feed=True,
    ),
    FaultSpec(
        id="injector_control_open",
        cause=Cause.FUEL,
        seat=Seat.CYLINDER,
        words=phrase("fault.injector_control_open", "open injector command wire"),
        owner=phrase("owner.fault.injector_control_open", "the wire that opens its fuel injector is broken"),
        owner_of_several=phrase(
            "owner.fault.several.injector_control_open", "the wire that opens their fuel injector is broken"
        ),
        prior=1.8,
        proof=(proof.wire_open("injector"),),
        possible=injector_each,
        in_two=0.02,
        intermittent=0.08,
    ),
    FaultSpec(
        id="injector_driver_failed",
        cause=Cause.FUEL,
        seat=Seat.CYLINDER,
        words=phrase("fault.injector_driver_failed", "injector driver of the control unit"),
        owner=phrase(
            "owner.fault.injector_driver_failed", "the engine computer does not switch its fuel injector properly"
        ),
        owner_of_several=phrase(
            "owner.fault.several.injector_driver_failed",
            "the engine computer does not switch their fuel injector properly",
        ),
        prior=0.8,
        proof=proof.of_driver("injector"),
        possible=injector_each,
        in_two=0.02,
        ways={Mode.DEAD: 0.55, Mode.HELD_ON: 0.45},
        intermittent=0.06,
        floods=True,
        driver_of="injector",
        no_start=0.08,
    ),
    FaultSpec(
        id="unmetered_air_at_runner",
        cause=Cause.FUEL,
        seat=Seat.CYLINDER,
        words=phrase("fault.unmetered_air_at_runner", "air leak at one intake runner"),
        owner=phrase("owner.fault.unmetered_air_at_runner", "extra air leaks in beside it"),
        prior=2.5,
        proof=(proof.LEAK_FOUND,),
        possible=metered_air,
    ),
    FaultSpec(
        id="fuel_supply_low",
        cause=Cause.FUEL,
        seat=Seat.ENGINE,
        words=phrase("fault.fuel_supply_low", "low fuel supply"),
        owner=phrase("owner.fault.fuel_supply_low", "too little fuel reaches the engine"),
        prior=2.0,
        proof=(proof.SUPPLY_MEASURED,),
        no_start=0.15,
    ),
    FaultSpec(
        id="cut_by_ecu",
        cause=Cause.CONTROL,
        seat=Seat.CYLINDER,
        words=phrase("fault.cut_by_ecu", "cylinder cut by the control unit"),
        owner=phrase("owner.fault.cut_by_ecu", "the engine computer has switched it off on purpose"),
        prior=1.0,
        proof=(proof.CUT,),
    ),
)
