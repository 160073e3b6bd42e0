"""On which engines a test can be done: predicates that several tests share, each with its reason."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

from fairwitness.core.messages.catalogue import scope
from fairwitness.core.messages.message import Message
from fairwitness.core.model.engine import Engine, Fuel, Ignition, Injection, InjectorDrive
from fairwitness.core.model.wiring import CircuitOf

_why = scope("unfit")
NOT_HERE = _why("not_here", "It cannot be done on this engine.")


@dataclass(frozen=True, slots=True)
class Fits:
    """A predicate over engines that can say why an engine does not fit."""

    holds: Callable[[Engine], bool]
    why: Message

    def __call__(self, engine: Engine) -> bool:
        """Whether an engine fits."""
        return self.holds(engine)


def does_not_fit(fits: Callable[[Engine], bool]) -> Message:
    """Why an engine does not fit, where the predicate says so."""
    return fits.why if isinstance(fits, Fits) else NOT_HERE


has_coils = Fits(
    lambda engine: engine.ignition is not Ignition.COMPRESSION_IGNITION,
    _why("no_coils", "This engine lights by compression: it has neither coils nor leads."),
)
has_injectors = Fits(
    lambda engine: engine.injection is not Injection.CARBURETTOR,
    _why("no_injectors", "This engine has a carburettor and no injectors."),
)
has_wound_injectors = Fits(
    lambda engine: has_injectors(engine) and engine.injector_drive is not InjectorDrive.PIEZO,
    _why("no_winding", "These injectors have no winding: a meter tells nothing of a carburettor or of a piezo stack."),
)
has_a_known_circuit = Fits(
    lambda engine: has_wound_injectors(engine) and len(engine.circuit(CircuitOf.INJECTOR)) > 1,
    _why("no_circuit", "No places along the injector's circuit are written down for this engine."),
)
pulsed_by_a_tester = Fits(
    lambda engine: has_injectors(engine) and engine.injection not in (Injection.DIRECT, Injection.COMMON_RAIL),
    _why("not_pulsed", "Injectors are pulsed by a tester on port injection only: never at the pressures of a rail."),
)
marks_its_cranking = Fits(
    has_coils.holds, _why("unmarked", "With the fuel disabled nothing marks a diesel's cycle while it cranks.")
)
mixes_petrol = Fits(
    lambda engine: engine.fuel is not Fuel.DIESEL,
    _why("not_mixed", "A diesel is not throttled and has air to spare: it holds no vacuum and has no trims."),
)
has_a_neighbour = Fits(
    lambda engine: engine.cylinders > 1, _why("alone", "There is no other cylinder to change over with.")
)
coil_on_each_plug = Fits(
    lambda engine: engine.ignition is Ignition.COIL_ON_PLUG and has_a_neighbour(engine),
    _why("not_on_plugs", "Coils are changed over one by one where each plug has its own."),
)
has_leads = Fits(
    lambda engine: has_coils(engine) and engine.ignition is not Ignition.COIL_ON_PLUG and has_a_neighbour(engine),
    _why("no_leads", "This engine has no leads between coil and plug to change over."),
)
