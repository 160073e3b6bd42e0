"""What is offered once a fault is named: the failed part alone, or the set, each with its reason."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from fairwitness.core.reason.planning.approach import Repair

_PLUGS = ("the plug", "all plugs", "the others have run as long and a worn plug loads its coil")
_LEADS = (
    "the lead or boot",
    "all leads with the plugs",
    "rubber and resistance age together, and plugs are out anyway",
)
_COIL = ("the coil", "the coil with its plug and boot", "what burnt this one burns the next")
_SPRAY = (
    "the injector",
    "all injectors, cleaned and measured or new, with their seals",
    "the same fuel went through all of them",
)
_WINDING = ("the injector", "all injectors of that age", "windings of one make tend to fail one after the other")
OFFERS: Mapping[str, tuple[str, str, str]] = {
    "plug_gap_wide": _PLUGS,
    "plug_shorted": _PLUGS,
    "plug_tracking": ("the plug with its boot", "all plugs and boots", "a track on one is burnt into both"),
    "secondary_high_resistance": _LEADS,
    "secondary_open": _LEADS,
    "secondary_leak": _LEADS,
    "coil_secondary_shorted": _COIL,
    "coil_output_dead": _COIL,
    "coil_primary_open": _COIL,
    "injector_restricted": _SPRAY,
    "injector_leaking": _SPRAY,
    "injector_stuck_closed": _SPRAY,
    "injector_open_circuit": _WINDING,
    "injector_shorted": _WINDING,
}
"""[T] part, set, and why the set. A fault not named here has no set: a wire, a feed, a leak is mended where it is."""
ONE_PART = "Least cost, and the next test shows at once whether it was that"


@dataclass(frozen=True, slots=True)
class Offer:
    """One way to repair, with its reason; the first is what the case's setting prefers."""

    words: str
    why: str


def offers(faults: Sequence[str], repair: Repair) -> tuple[Offer, ...]:
    """Both schools of a named fault, the preferred one first.

    Parameters
    ----------
    faults : sequence of str
        Of two the root first; each is offered.
    repair : Repair

    Returns
    -------
    tuple of Offer
        Empty where no part with a set is named.
    """
    known = [OFFERS[fault] for fault in dict.fromkeys(faults) if fault in OFFERS]
    if not known:
        return ()
    part = Offer(f"The part: {' and '.join(dict.fromkeys(k[0] for k in known))}", ONE_PART)
    whole = Offer(f"The set: {' and '.join(dict.fromkeys(k[1] for k in known))}", _capital(known[0][2]))
    return (whole, part) if repair is Repair.SET else (part, whole)


def _capital(text: str) -> str:
    return text[0].upper() + text[1:]
