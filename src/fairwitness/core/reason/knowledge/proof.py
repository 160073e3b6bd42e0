"""What must have been seen before a part is called: named predicates, one set per kind of part."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace

from fairwitness.core.messages.catalogue import phrase, template
from fairwitness.core.messages.message import Message
from fairwitness.core.model.measurement import CategoricalEvidence, Measured, State

INJECTOR_WHOLE_COMMAND = template(
    "proof.injector_whole_command",
    "The injector whole and no command at the control unit's own pin: a wire or a driver looks the same elsewhere.",
)
WHICH_PART_OPEN = template(
    "proof.which_part_open",
    "Which part is open: lead or boot measured, looked at or changed over. A plug that never breaks down looks alike.",
)
WHAT_INJECTOR_DELIVERS = template(
    "proof.what_injector_delivers",
    "What the injector delivers beside its peers, or the injector changed over: current tells nothing of its holes.",
)
NEEDLE_DOES_MOVE = template(
    "proof.needle_does_move",
    "That the needle does not move: no dip or bump of it, or nothing delivered. A blocked injector acts alike.",
)
WHY_COIL_DIED = template(
    "proof.why_coil_died",
    "Why the coil died: its plug, and its lead or boot. An open lead or a worn plug burns the next one too.",
)
PLUG_ITSELF_LOOKED = template(
    "proof.plug_itself_looked",
    "The plug itself: looked at, or changed over. Plug, lead and coil look alike from outside.",
)
WIRING_COMMAND_CLEARED = template(
    "proof.wiring_command_cleared",
    "Wiring and command cleared: resistance at the plug and a loaded bulb, or the injector changed over.",
)
FEED_MEASURED_UNDER = template("proof.feed_measured_under", "The {circuit} feed, measured under load.")
SIGNAL_UNPLUGGED = template("proof.signal_unplugged", "The signal with the {circuit} unplugged.")
WIRE_ITSELF_MEASURED = template(
    "proof.wire_itself_measured",
    "The wire itself: measured open, or the command present at the control unit's own pin and absent at the part.",
)
FEED_MEASURED_MISSING = template("proof.feed_measured_missing", "The {circuit} feed, measured missing at the part.")

CIRCUIT_WORDS = {"coil": phrase("proof.coil", "coil"), "injector": phrase("proof.injector", "injector")}


@dataclass(frozen=True, slots=True)
class Seen:
    """What bears on the accused cylinders.

    Parameters
    ----------
    categorical : tuple of CategoricalEvidence
        At those cylinders, or at none in particular.
    deviating : frozenset of str
        Tests that found one of them out of line.
    good_commands : int
        Commands of other cylinders that were seen to switch in the same capture.
    """

    categorical: tuple[CategoricalEvidence, ...]
    deviating: frozenset[str]
    good_commands: int

    def has(self, kind: str, *outcomes: str) -> bool:
        """Whether a test of a kind (or of a kind that begins so, with ``*``) came out one of these ways."""
        return any(
            (s.kind.startswith(kind[:-1]) if kind.endswith("*") else s.kind == kind)
            and (not outcomes or s.outcome in outcomes)
            for s in self.categorical
        )


@dataclass(frozen=True, slots=True)
class Predicate:
    """One condition; ``words`` say what is missing where it is not met, ``by`` the tests that would meet it."""

    id: str
    words: Message
    by: tuple[str, ...]
    met: Callable[[Seen], bool]


def outcome(id: str, words: Message, kind: str, *outcomes: str, by: tuple[str, ...] = ()) -> Predicate:
    """A condition that is met by one test of a kind coming out one of some ways; ``by`` where its offer has a name
    of its own."""
    return Predicate(id, words, by or (kind,), lambda seen: seen.has(kind, *outcomes))


def heard_leaving(categorical: Sequence[CategoricalEvidence]) -> bool:
    """Whether a test said where the pressure goes: air that is heard, or valves seen, or marked, to move wrongly."""
    return any(
        (s.kind == "leak_down" and s.outcome != "silent")
        or (s.kind in ("valve_events", "cam_timing") and s.outcome != "usual")
        or (s.kind == "first_look:timing_marks" and s.outcome == "off")
        for s in categorical
    )


def seen_at(cylinders: Sequence[int], measured: Sequence[Measured]) -> Seen:
    """Collect what bears on the accused cylinders.

    Parameters
    ----------
    cylinders : sequence of int
    measured : sequence of Measured
        Usable ones.

    Returns
    -------
    Seen
    """
    accused = set(cylinders)
    categorical = [s for m in measured for s in m.categorical]
    ill = (State.LOW, State.HIGH, State.ABSENT, State.ABNORMAL)
    return Seen(
        categorical=tuple(s for s in categorical if not s.cylinders or accused & set(s.cylinders)),
        deviating=frozenset(
            m.test for m in measured for f in m.findings if not f.is_remark and f.cylinder in accused and f.state in ill
        ),
        good_commands=sum(
            s.kind.startswith(("command:", "injector_command:"))
            and s.outcome == "pulses"
            and not accused & set(s.cylinders)
            for s in categorical
        ),
    )


def _feed(circuit: str) -> Predicate:
    return Predicate(
        "feed_loaded",
        FEED_MEASURED_UNDER(circuit=CIRCUIT_WORDS[circuit]),
        (f"voltage:{circuit}_feed",),
        lambda s: s.has(f"voltage:{circuit}_feed", "normal") or s.has("load_lamp:feed", "bright"),
    )


EARTH = Predicate(
    "earth_loaded",
    phrase("proof.coil_earth_under", "The coil earth, under load."),
    ("voltage:coil_earth",),
    lambda s: s.has("voltage:coil_earth", "normal"),
)
PEER = Predicate(
    "good_peer",
    phrase("proof.good_output_same", "A good output of the same unit on the same scale."),
    ("coil_control", "injector_voltage"),
    lambda s: s.good_commands > 0,
)


def _command(circuit: str) -> str:
    """Kind of the tests that see a circuit's command."""
    return "command" if circuit == "coil" else "injector_command"


def _on(circuit: str, kind: str) -> bool:
    """Whether a kind of test speaks of a circuit; a plain command is a coil's."""
    return circuit in kind or (circuit == "coil" and kind.startswith("command:"))


def _own_pin(circuit: str) -> Predicate:
    return Predicate(
        "own_pin",
        phrase("proof.signal_control_unit", "The signal at the control unit's own pin."),
        (f"{_command(circuit)}:control_unit",),
        lambda s: any(":control_unit" in x.kind and _on(circuit, x.kind) for x in s.categorical),
    )


def _unplugged(circuit: str) -> Predicate:
    return Predicate(
        "load_off",
        SIGNAL_UNPLUGGED(circuit=CIRCUIT_WORDS[circuit]),
        (f"{_command(circuit)}:part_unplugged",),
        lambda s: any(x.kind.endswith("_unplugged") and _on(circuit, x.kind) for x in s.categorical),
    )


def wire_open(circuit: str) -> Predicate:
    """A command wire seen open."""
    command = _command(circuit)
    return Predicate(
        "wire_open",
        WIRE_ITSELF_MEASURED(),
        ("resistance:control_wire", f"{command}:control_unit"),
        lambda s: (
            s.has("resistance:control_wire", "open", "high")
            or (s.has(f"{command}:part*", "absent") and s.has(f"{command}:control_unit*", "pulses"))
        ),
    )


def feed_gone(circuit: str) -> Predicate:
    """A feed seen missing."""
    return Predicate(
        "feed_gone",
        FEED_MEASURED_MISSING(circuit=CIRCUIT_WORDS[circuit]),
        (f"voltage:{circuit}_feed",),
        lambda s: (
            s.has(f"voltage:{circuit}_feed", "absent", "low")
            or s.has("load_lamp:feed", "dark", "dim")
            or s.has("resistance:feed_wire", "open")
        ),
    )


CUT = Predicate(
    "cut_proven",
    INJECTOR_WHOLE_COMMAND(),
    ("resistance:injector", "injector_command:control_unit", "key_cycle"),
    lambda s: (
        s.has("key_cycle", "returns")
        or (s.has("resistance:injector", "normal") and s.has("injector_command:control_unit*", "absent"))
    ),
)
OPEN_WHERE = Predicate(
    "open_where",
    WHICH_PART_OPEN(),
    ("resistance:plug_lead", "swap:lead", "visual:lead"),
    lambda s: (
        s.has("resistance:plug_lead", "open", "high")
        or s.has("swap:lead", "moved")
        or s.has("visual:lead", "burnt", "damaged", "corroded", "cracked")
    ),
)
SUPPLY_MEASURED = Predicate(
    "supply_measured",
    phrase("proof.fuel_pressure_volume", "Fuel pressure or volume against the maker's figures."),
    ("fuel_pressure",),
    lambda s: s.has("fuel_pressure", "low") or s.has("fuel_pressure:volume", "low"),
)
LEAK_FOUND = Predicate(
    "leak_found",
    phrase("proof.leak_itself_smoke", "The leak itself, by smoke or propane."),
    ("runner_check:runner",),
    lambda s: s.has("runner_check:*", "leak"),
)
DELIVERED = Predicate(
    "delivery",
    WHAT_INJECTOR_DELIVERS(),
    ("delivery", "swap:injector"),
    lambda s: s.has("swap:injector", "moved") or "delivery" in s.deviating,
)
NEEDLE = Predicate(
    "needle",
    NEEDLE_DOES_MOVE(),
    ("injector_voltage", "delivery", "injector_current"),
    lambda s: s.has("injector_bump", "missing") or bool({"delivery", "injector_current"} & s.deviating),
)


def _wire(circuit: str) -> Predicate:
    command = _command(circuit)
    return Predicate(
        "wire",
        phrase("proof.command_wire_end", "The command wire from end to end."),
        ("resistance:control_wire",),
        lambda s: (
            s.has("resistance:control_wire", "normal")
            or (s.has(f"{command}:part*") and s.has(f"{command}:control_unit*"))
        ),
    )


WHY_DIED = Predicate(
    "why_died",
    WHY_COIL_DIED(),
    ("visual:lead", "visual:plug", "resistance:plug_lead"),
    lambda s: s.has("visual:plug") or s.has("visual:lead") or s.has("resistance:plug_lead"),
)
ROOT_SEEN = Predicate(
    "root_seen",
    phrase("proof.both_ends_why", "Both ends of why it died: the plug looked at, and the lead or boot."),
    ("visual:plug", "visual:lead", "resistance:plug_lead"),
    lambda s: (s.has("visual:plug") or s.has("swap:plug")) and (s.has("visual:lead") or s.has("resistance:plug_lead")),
)
COIL_PROVEN = Predicate(
    "coil_proven",
    phrase("proof.coil_changed_over", "The coil changed over with a neighbour's, or measured itself."),
    ("swap:coil", "resistance:coil_primary", "resistance:coil_secondary", "coil_current"),
    lambda s: (
        s.has("swap:coil", "moved")
        or s.has("resistance:coil_primary", "open", "low")
        or s.has("resistance:coil_secondary", "open", "low", "high")
        or s.has("spark_check:coil", "none", "weak")
        or "coil_current" in s.deviating
    ),
)
PLUG_PROVEN = Predicate(
    "plug_seen",
    PLUG_ITSELF_LOOKED(),
    ("visual:plug", "swap:plug"),
    lambda s: (
        s.has("swap:plug", "moved") or s.has("visual:plug", "worn", "fouled", "tracked", "cracked", "burnt", "wet")
    ),
)
LEAD_PROVEN = Predicate(
    "lead_seen",
    phrase("proof.lead_boot_itself", "Lead or boot itself: measured, looked at, or changed over."),
    ("visual:lead", "resistance:plug_lead", "swap:lead", "swap:plug"),
    lambda s: (
        s.has("swap:lead", "moved")
        or s.has("resistance:plug_lead", "high", "open")
        or s.has("visual:lead", "burnt", "cracked", "damaged", "corroded", "tracked")
        or s.has("swap:plug", "stayed")
    ),
)
INJECTOR_PROVEN = Predicate(
    "wiring_cleared",
    WIRING_COMMAND_CLEARED(),
    ("resistance:injector", "load_lamp:injector", "swap:injector"),
    lambda s: (
        s.has("swap:injector", "moved") or (s.has("resistance:injector") and s.has("load_lamp:injector", "flashing"))
    ),
)


WHERE = Predicate(
    "where",
    phrase("proof.where_pressure_goes", "Where the pressure goes: crankcase, intake, tailpipe or the neighbour."),
    ("leak_down", "cylinder_pressure", "cam_timing"),
    lambda s: heard_leaving(s.categorical),
)


def where(*by: str) -> tuple[Predicate, ...]:
    """Where the pressure goes, told by the tests that would say so if the fault is what it seems."""
    return (replace(WHERE, by=by),)


EXCLUDED_WORDS = {
    "feed_loaded": phrase("proof.short.feed", "feed under load"),
    "earth_loaded": phrase("proof.short.earth", "earth under load"),
    "own_pin": phrase("proof.short.own_pin", "signal at the control unit's own pin"),
    "load_off": phrase("proof.short.load_off", "signal with the part unplugged"),
    "wire": phrase("proof.short.wire", "wire from end to end"),
    "good_peer": phrase("proof.short.good_peer", "a good output of the same unit"),
}
"""Short names of what a driver is called after."""


def of_driver(circuit: str) -> tuple[Predicate, ...]:
    """What a fault of the control unit's driver of a circuit wants: all else excluded, and a good output beside it."""
    earth = (EARTH,) if circuit == "coil" else ()
    return (_feed(circuit), *earth, _own_pin(circuit), _unplugged(circuit), _wire(circuit), PEER)


def unmet(wanted: Sequence[Predicate], cylinders: Sequence[int], measured: Sequence[Measured]) -> tuple[Predicate, ...]:
    """Predicates that the evidence does not meet yet."""
    seen = seen_at(cylinders, measured)
    return tuple(p for p in wanted if not p.met(seen))
