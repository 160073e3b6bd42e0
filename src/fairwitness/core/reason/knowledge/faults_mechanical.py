"""Faults of the engine itself: what no longer seals, opens or stands in time."""

from __future__ import annotations

from fairwitness.core.messages.catalogue import phrase
from fairwitness.core.reason.knowledge import proof
from fairwitness.core.reason.knowledge.fault_spec import Cause, FaultSpec, Seat

FAULTS: tuple[FaultSpec, ...] = (
    FaultSpec(
        id="ring_or_piston_leak",
        cause=Cause.MECHANICAL,
        seat=Seat.CYLINDER,
        words=phrase("fault.ring_or_piston_leak", "leak past rings or piston"),
        owner=phrase("owner.fault.ring_or_piston_leak", "its piston or piston rings no longer seal"),
        owner_of_several=phrase(
            "owner.fault.several.ring_or_piston_leak", "their piston or piston rings no longer seal"
        ),
        prior=3.5,
        proof=proof.where("leak_down"),
        in_two=0.06,
        died_of={"injector_leaking": 0.08, "injector_driver_failed": 0.08},
    ),
    FaultSpec(
        id="intake_valve_leak",
        cause=Cause.MECHANICAL,
        seat=Seat.CYLINDER,
        words=phrase("fault.intake_valve_leak", "leaking intake valve"),
        owner=phrase("owner.fault.intake_valve_leak", "its intake valve no longer seals"),
        owner_of_several=phrase("owner.fault.several.intake_valve_leak", "their intake valve no longer seals"),
        prior=2.5,
        proof=proof.where("leak_down"),
        in_two=0.06,
        died_of={"valve_timing_shifted": 0.05},
    ),
    FaultSpec(
        id="exhaust_valve_leak",
        cause=Cause.MECHANICAL,
        seat=Seat.CYLINDER,
        words=phrase("fault.exhaust_valve_leak", "leaking exhaust valve"),
        owner=phrase("owner.fault.exhaust_valve_leak", "its exhaust valve no longer seals"),
        owner_of_several=phrase("owner.fault.several.exhaust_valve_leak", "their exhaust valve no longer seals"),
        prior=4.0,
        proof=proof.where("leak_down"),
        in_two=0.06,
        died_of={"valve_timing_shifted": 0.04},
    ),
    FaultSpec(
        id="head_gasket_leak",
        cause=Cause.MECHANICAL,
        seat=Seat.NEIGHBOURS,
        words=phrase("fault.head_gasket_leak", "head gasket blown between neighbours"),
        owner=phrase("owner.fault.head_gasket_leak", "the gasket between neighbouring cylinders leaks"),
        prior=2.5,
        proof=proof.where("leak_down"),
    ),
    FaultSpec(
        id="intake_valve_not_opening",
        cause=Cause.MECHANICAL,
        seat=Seat.CYLINDER,
        words=phrase("fault.intake_valve_not_opening", "intake valve not opening"),
        owner=phrase("owner.fault.intake_valve_not_opening", "its intake valve does not open"),
        owner_of_several=phrase("owner.fault.several.intake_valve_not_opening", "their intake valve does not open"),
        prior=1.0,
        proof=proof.where("leak_down"),
    ),
    FaultSpec(
        id="exhaust_valve_not_opening",
        cause=Cause.MECHANICAL,
        seat=Seat.CYLINDER,
        words=phrase("fault.exhaust_valve_not_opening", "exhaust valve not opening"),
        owner=phrase("owner.fault.exhaust_valve_not_opening", "its exhaust valve does not open"),
        owner_of_several=phrase("owner.fault.several.exhaust_valve_not_opening", "their exhaust valve does not open"),
        prior=0.8,
        proof=proof.where("cylinder_pressure"),
    ),
    FaultSpec(
        id="valve_timing_shifted",
        cause=Cause.MECHANICAL,
        seat=Seat.GROUP,
        words=phrase("fault.valve_timing_shifted", "valve timing shifted"),
        owner=phrase("owner.fault.valve_timing_shifted", "the valves open and close at the wrong time"),
        prior=2.0,
        proof=proof.where("cam_timing", "cylinder_pressure", "first_look:timing_marks"),
        bends_valves=True,
        no_start=0.25,
    ),
    FaultSpec(
        id="low_compression_all",
        cause=Cause.MECHANICAL,
        seat=Seat.ENGINE,
        words=phrase("fault.low_compression_all", "low compression in every cylinder"),
        owner=phrase("owner.fault.low_compression_all", "the whole engine has lost compression"),
        prior=1.0,
        proof=proof.where("leak_down"),
        no_start=0.25,
    ),
)
