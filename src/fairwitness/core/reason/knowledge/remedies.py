"""How each fault is mended: the proper way, the set, what gets it home, what is to be had, what follows if it is left.

Minutes are of labour, from common practice; prices are the shop's own and none is known here.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass, replace

from fairwitness.core.messages.catalogue import scope
from fairwitness.core.messages.message import NOTHING, Message
from fairwitness.core.model.engine import Engine, Injection
from fairwitness.core.reason.knowledge.fault_spec import any_engine

_say = scope("remedy")


@dataclass(frozen=True, slots=True, kw_only=True)
class FieldRepair:
    """What gets it home.

    Parameters
    ----------
    words : Message
    then : Message
        How long it may hold, and what must follow.
    minutes : float, min
    possible : callable (Engine) -> bool
        Where it may be done at all.
    """

    words: Message
    then: Message
    minutes: float
    possible: Callable[[Engine], bool] = any_engine


@dataclass(frozen=True, slots=True, kw_only=True)
class Remedy:
    """One way that faults of a family are mended.

    Parameters
    ----------
    id : str
    proper : Message
    minutes, each : float, min
        Of labour at the first place, and at each further one. [C]
    parts : tuple of str
        What is fitted at each place, by the names of the price list; empty where something is mended.
    once : tuple of str
        What is fitted once, however many places there are.
    whole : tuple of str
        The same at every cylinder, where there is a set.
    field : FieldRepair or None
    available : Message
        What is to be heeded with a used or another maker's part; nothing where no part is fitted.
    nothing : Message
        What follows where it is left.
    opens_engine : bool
        The owner must have said yes to that.
    """

    id: str
    proper: Message
    minutes: float
    nothing: Message
    each: float = 0.0
    parts: tuple[str, ...] = ()
    once: tuple[str, ...] = ()
    whole: tuple[str, ...] = ()
    field: FieldRepair | None = None
    available: Message = NOTHING
    opens_engine: bool = False


RAW_FUEL = _say("raw_fuel", "unburnt fuel overheats the catalyst: do not drive far, and never under load")
LIMPS = _say("limps", "it goes on shaking, and what misfires long spoils plugs, catalyst and engine mounts")
FLOODS = _say("floods", "fuel washes the bore and thins the oil: do not run it; change the oil afterwards")
BREAKS = _say("breaks", "it gets worse, and may break the engine: do not run it")
STANDS = _say("stands", "it stays where it stands")
MAY_STOP = _say("may_stop", "it may stop on the road without a warning")
USED_FITS = _say("used_fits", "a used one of known origin, measured beside its peers first")
PROGRAMMED = _say("programmed", "a used one must be programmed to the vehicle, and may carry its own faults")
CODED = _say("coded", "another one may need its code entered; seals and pipe are not used twice")


def at_its_port(engine: Engine) -> bool:
    """Injectors at the port: low pressure and battery voltage. Rails and boosted drivers are left alone by the road."""
    return engine.injection is Injection.PORT


UNPLUG_INJECTOR = FieldRepair(
    possible=at_its_port,
    words=_say("field.unplug", "unplug the injector of that cylinder, so that no raw fuel is burnt in the catalyst"),
    then=_say("field.unplug.then", "home at low load only; the repair follows at once"),
    minutes=5.0,
)
BY_PASS = FieldRepair(
    words=_say("field.wire", "a fused wire beside the broken one, fastened and insulated"),
    then=_say("field.wire.then", "days, not weeks; the break itself is then found and mended"),
    minutes=20.0,
)
BY_PASS_INJECTOR = replace(BY_PASS, possible=at_its_port)
SEALED = FieldRepair(
    words=_say("field.seal", "the leak taped or clamped over, where no heat reaches it"),
    then=_say("field.seal.then", "days; the part follows"),
    minutes=10.0,
)
CLEANED = FieldRepair(
    words=_say("field.clean", "the plug cleaned, dried and gapped"),
    then=_say("field.clean.then", "as long as what fouled it is gone"),
    minutes=12.0,
)
CHARGED = FieldRepair(
    words=_say("field.charge", "charged or helped by another battery"),
    then=_say("field.charge.then", "one start; what drained it is then looked for"),
    minutes=10.0,
)


def _remedy(id: str, proper: str, minutes: float, nothing: Message, **more: object) -> Remedy:
    return Remedy(id=id, proper=_say(id, proper), minutes=minutes, nothing=nothing, **more)  # type: ignore[arg-type]


REMEDIES: Mapping[str, Remedy] = {
    r.id: r
    for r in (
        _remedy("plug", "a new plug", 15, RAW_FUEL, each=6, parts=("plug",), whole=("plug",), field=CLEANED),
        _remedy("plug_and_boot", "a new plug with its boot", 18, RAW_FUEL, each=7, parts=("plug", "boot"),
                whole=("plug", "boot")),
        _remedy("lead", "a new lead or boot", 10, RAW_FUEL, each=5, parts=("lead",), whole=("lead", "plug"),
                available=USED_FITS),
        _remedy("coil", "a new coil", 12, RAW_FUEL, each=6, parts=("coil",), whole=("coil", "plug", "boot"),
                field=UNPLUG_INJECTOR, available=USED_FITS),
        _remedy("ignition_wiring", "the wire or connector of the coil mended", 40, RAW_FUEL, each=20, field=BY_PASS),
        _remedy("injector", "a new injector", 60, LIMPS, each=20, parts=("injector", "injector_seal"),
                whole=("injector", "injector_seal"), available=CODED),
        _remedy("injector_floods", "a new injector, and the oil changed", 90, FLOODS, each=20,
                parts=("injector", "injector_seal"), once=("oil",), available=CODED),
        _remedy("injector_wiring", "the wire or connector of the injector mended", 40, LIMPS, each=20,
                field=BY_PASS_INJECTOR),
        _remedy("control_unit", "the control unit repaired or replaced", 90, LIMPS, once=("control_unit",),
                available=PROGRAMMED),
        _remedy("air_leak", "the gasket or hose of that runner", 60, LIMPS, each=10, once=("intake_gasket",),
                field=SEALED),
        _remedy("fuel_supply", "the pump, its filter or its feed, whichever was shown", 90, MAY_STOP,
                once=("fuel_pump", "fuel_filter"), available=USED_FITS),
        _remedy("why_cut", "what makes the control unit cut it, found and mended", 40, LIMPS),
        _remedy("rings", "the engine taken apart: rings, piston, bore", 1200, BREAKS, each=60,
                parts=("piston_rings",), once=("head_gasket",), opens_engine=True, available=USED_FITS),
        _remedy("valves", "the head off: valves and seats", 600, BREAKS, each=45, parts=("valve",),
                once=("head_gasket",), opens_engine=True, available=USED_FITS),
        _remedy("head_gasket", "the head off: gasket, head checked for straightness", 540, BREAKS,
                once=("head_gasket", "head_bolts"), opens_engine=True),
        _remedy("valve_train", "cover off: what does not open its valve", 180, BREAKS, each=30, parts=("valve_train",),
                opens_engine=True),
        _remedy("timing", "belt or chain set anew, with what let it slip", 240, BREAKS, once=("timing_set",),
                opens_engine=True),
        _remedy("worn_out", "the engine overhauled, or another one", 1800, LIMPS, once=("engine",), opens_engine=True,
                available=USED_FITS),
        _remedy("crank_sensor", "the crank sensor, its wire or its wheel", 45, STANDS, once=("crank_sensor",)),
        _remedy("cam_sensor", "the cam sensor, its wire or its wheel", 40, STANDS, once=("cam_sensor",)),
        _remedy("common_ignition", "the common feed, igniter or coil", 40, STANDS, once=("igniter",), field=BY_PASS),
        _remedy("unit_supply", "fuse, relay, wire or earth of the control unit", 40, STANDS, field=BY_PASS),
        _remedy("key", "the key taught anew by who may do so", 40, STANDS),
        _remedy("screening", "the source of the interference moved, screened or earthed", 40, MAY_STOP),
        _remedy("all_plugs", "all plugs", 15, RAW_FUEL, each=6, parts=("plug",)),
        _remedy("washed", "the bores dried and oiled, the oil changed, what flooded them mended", 60, BREAKS,
                once=("oil",)),
        _remedy("battery", "the battery charged, tested, replaced if it fails", 30, STANDS, once=("battery",),
                field=CHARGED),
    )
}  # fmt: skip
PRICED = tuple(dict.fromkeys(p for r in REMEDIES.values() for p in (*r.parts, *r.once, *r.whole)))
"""Every part that a price may be asked for."""
PART_NAMES: Mapping[str, Message] = {
    "plug": _say("part.plug", "plug"),
    "boot": _say("part.boot", "boot"),
    "lead": _say("part.lead", "lead"),
    "coil": _say("part.coil", "coil"),
    "injector": _say("part.injector", "injector"),
    "injector_seal": _say("part.injector_seal", "injector seal"),
    "oil": _say("part.oil", "oil and filter"),
    "control_unit": _say("part.control_unit", "control unit"),
    "intake_gasket": _say("part.intake_gasket", "intake gasket"),
    "fuel_pump": _say("part.fuel_pump", "fuel pump"),
    "fuel_filter": _say("part.fuel_filter", "fuel filter"),
    "piston_rings": _say("part.piston_rings", "piston rings"),
    "head_gasket": _say("part.head_gasket", "head gasket set"),
    "valve": _say("part.valve", "valve"),
    "head_bolts": _say("part.head_bolts", "head bolts"),
    "valve_train": _say("part.valve_train", "tappet, rocker or cam part"),
    "timing_set": _say("part.timing_set", "timing set"),
    "engine": _say("part.engine", "another engine"),
    "crank_sensor": _say("part.crank_sensor", "crank sensor"),
    "cam_sensor": _say("part.cam_sensor", "cam sensor"),
    "igniter": _say("part.igniter", "igniter or common coil"),
    "battery": _say("part.battery", "battery"),
}
"""What a part is called in a price list."""
