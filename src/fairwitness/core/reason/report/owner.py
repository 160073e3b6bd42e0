"""The same statement for the owner: no trade words, nothing left out that matters."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

from fairwitness.core.model.measurement import Measured
from fairwitness.core.reason.knowledge.faults import Cause
from fairwitness.core.reason.verdict import Condition, Status, Verdict

PLAIN: Mapping[str, str] = {
    "plug_gap_wide": "its spark plug is worn",
    "plug_shorted": "its spark plug is fouled and sparks poorly",
    "plug_tracking": "the spark runs down the outside of its plug",
    "secondary_high_resistance": "the high-voltage lead or cap to its plug has become a poor conductor",
    "secondary_open": "the high-voltage lead or cap to its plug is broken",
    "secondary_leak": "its spark escapes from the lead or cap instead of reaching the plug",
    "coil_secondary_shorted": "its ignition coil is failing",
    "coil_output_dead": "its ignition coil gives no spark",
    "coil_primary_open": "its ignition coil is broken inside",
    "coil_feed_lost": "its ignition coil gets no electricity",
    "coil_control_open": "the wire that tells its ignition coil when to spark is broken",
    "coil_driver_failed": "the engine computer does not switch its ignition coil properly",
    "injector_open_circuit": "its fuel injector is broken electrically",
    "injector_high_resistance": "a poor connection weakens its fuel injector",
    "injector_shorted": "its fuel injector has a short circuit",
    "injector_stuck_closed": "its fuel injector is stuck shut",
    "injector_restricted": "its fuel injector lets too little fuel through",
    "injector_leaking": "its fuel injector drips",
    "injector_feed_lost": "its fuel injector gets no electricity",
    "injector_control_open": "the wire that opens its fuel injector is broken",
    "injector_driver_failed": "the engine computer does not switch its fuel injector properly",
    "unmetered_air_at_runner": "extra air leaks in beside it",
    "fuel_supply_low": "too little fuel reaches the engine",
    "ring_or_piston_leak": "its piston or piston rings no longer seal",
    "intake_valve_leak": "its intake valve no longer seals",
    "exhaust_valve_leak": "its exhaust valve no longer seals",
    "head_gasket_leak": "the gasket between neighbouring cylinders leaks",
    "intake_valve_not_opening": "its intake valve does not open",
    "exhaust_valve_not_opening": "its exhaust valve does not open",
    "valve_timing_shifted": "the valves open and close at the wrong time",
    "low_compression_all": "the whole engine has lost compression",
    "cut_by_ecu": "the engine computer has switched it off on purpose",
}
"""After "because"."""
CAUSES = {
    Cause.IGNITION: "the fault is in the ignition: plug, lead, coil or their wiring",
    Cause.FUEL: "the fault is in the fuel side: injector, its wiring, or the supply",
    Cause.MECHANICAL: "the fault is inside the engine itself, not in the electrics",
    Cause.CONTROL: "the engine computer keeps it switched off",
}
SURE = {
    Status.ESTABLISHED: "Different tests agree, and the other explanations were ruled out.",
    Status.SUPPORTED: "More than one test shows it; which part exactly still has to be proven.",
    Status.SUSPECTED: "One test shows it; a second one has to confirm it before anything is bought.",
}
LOOKED_AT = {
    "RC": "how well the cylinders seal",
    "CON": "how much work each one does",
    "FV": "the sparks",
    "IC": "the injectors' current",
    "CP": "the pressure inside",
}


def for_the_owner(verdict: Verdict, measured: Sequence[Measured], next_title: str = "") -> tuple[str, ...]:
    """Plain sentences: what is wrong, how sure, what was looked at, what comes next.

    Parameters
    ----------
    verdict : Verdict
    measured : sequence of Measured
    next_title : str
        The next test, where one is offered.

    Returns
    -------
    tuple of str
    """
    looked = [words for line, words in LOOKED_AT.items() if any(e.line == line for m in measured for e in m.lines)]
    reported = [_what(verdict)]
    if verdict.status in SURE:
        reported.append(SURE[verdict.status])
    if looked:
        reported.append(f"We looked at {_and(looked)}.")
    missing = [c for c in verdict.conditions if not c.met]
    if missing and verdict.status in SURE:
        reported.append(f"Before a part is ordered {_count(missing)} still to be seen.")
    if next_title and verdict.status is not Status.ESTABLISHED:
        reported.append(f"Next step: {next_title[0].lower()}{next_title[1:]}.")
    return tuple(reported)


def _what(verdict: Verdict) -> str:
    if verdict.status is Status.NO_FAULT_FOUND:
        return (
            "Nothing wrong was found in what was tested today. A fault that comes and goes may not have shown itself."
        )
    if verdict.status is Status.INCONCLUSIVE:
        return "The tests so far do not allow an answer; guessing would cost you parts that change nothing."
    who = "One of the cylinders" if not verdict.cylinders else f"Cylinder {_and([str(c) for c in verdict.cylinders])}"
    plural = len(verdict.cylinders) > 1
    verb = "do not do their share" if plural else "does not do its share"
    if verdict.cause_open:
        return f"{who} of the engine {verb}; why is not clear yet."
    if verdict.faults and verdict.faults[0] in PLAIN:
        because = " and ".join(dict.fromkeys(PLAIN[f] for f in verdict.faults if f in PLAIN))
        because = because.replace("its ", "their ") if plural else because
        return f"{who} of the engine {verb}, because {because}."
    return f"{who} of the engine {verb}: {CAUSES.get(verdict.cause, 'why is not clear yet')}."


def _count(missing: Sequence[Condition]) -> str:
    return "one thing has" if len(missing) == 1 else f"{len(missing)} things have"


def _and(words: Sequence[str]) -> str:
    return words[0] if len(words) == 1 else f"{', '.join(words[:-1])} and {words[-1]}"
