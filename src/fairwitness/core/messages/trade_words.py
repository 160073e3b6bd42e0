"""Words of the trade that somebody new to it stumbles over, each explained in a sentence where it stands."""

from __future__ import annotations

from dataclasses import dataclass

from fairwitness.core.messages.catalogue import phrase
from fairwitness.core.messages.message import Message

BETWEEN = "; "


@dataclass(frozen=True, slots=True)
class TradeWord:
    """One word and what it means.

    Parameters
    ----------
    id : str
        Unique among the words.
    said : Message
        The word as it stands in sentences; several forms are kept apart by ``BETWEEN``.
    meaning : Message
        One sentence, or two. Common practice; no source.
    """

    id: str
    said: Message
    meaning: Message


def _word(id: str, said: str, meaning: str) -> TradeWord:
    return TradeWord(id, phrase(f"trade_word.{id}.said", said), phrase(f"trade_word.{id}.meaning", meaning))


TRADE_WORDS = (
    _word(
        "attenuator",
        "attenuator",
        "A plug-in divider that makes a high voltage small enough for the scope, ten or twenty times smaller.",
    ),
    _word(
        "back_probe",
        "back-probe; back-probed",
        "Reach a pin from behind its connector with a thin probe, so that the circuit stays whole and working.",
    ),
    _word(
        "bank",
        "bank",
        "One row of cylinders of an engine with several; bank 1 is the one with cylinder 1.",
    ),
    _word(
        "change_over",
        "change-over; swap",
        "A part changes places with that of another cylinder: if the misfire goes with it, the part is bad.",
    ),
    _word(
        "coil_command",
        "coil command",
        "The wire by which the control unit tells a coil when to charge and when to fire.",
    ),
    _word(
        "companion",
        "companion",
        "The cylinder one turn of the crank away: its piston is at the top in the same moment, on another stroke.",
    ),
    _word(
        "contribution",
        "contribution; contributions",
        "What a cylinder adds to the turning of the crank, beside the others.",
    ),
    _word(
        "crankcase_pulse",
        "crankcase pulse",
        "The breath of pressure under the pistons. Gas that passes worn rings makes it larger at its cylinder.",
    ),
    _word(
        "dwell",
        "dwell",
        "How long the coil is charged before it fires.",
    ),
    _word(
        "exhaust_pulse",
        "exhaust pulse",
        "The breath of pressure at the tailpipe: a cylinder that did not burn leaves a dip or a gap in the rhythm.",
    ),
    _word(
        "feed",
        "feed",
        "The supply side of a circuit, from battery or relay through its fuse to the part.",
    ),
    _word(
        "firing_order",
        "firing order",
        "In which order the cylinders fire. What is measured in a row comes in this order, not in that of the numbers.",
    ),
    _word(
        "firing_voltage",
        "firing voltage",
        "How many kilovolts it takes until the spark jumps. A wide gap or high pressure needs more, a short less.",
    ),
    _word(
        "fuel_trim",
        "fuel trim; fuel trims; trims",
        "By how much the control unit adds fuel (+) or takes it away (-), as the exhaust says too lean or too rich.",
    ),
    _word(
        "intake_pulse",
        "intake pulse",
        "The pull of each cylinder felt in the intake. A valve that leaks or stays shut changes that of its cylinder.",
    ),
    _word(
        "kick",
        "kick",
        "The high voltage a winding gives back when its current is cut. None means that no current was flowing.",
    ),
    _word(
        "known_good",
        "known good",
        "A capture from a sound engine of the same kind, laid beside this one.",
    ),
    _word(
        "lean",
        "lean",
        "Too much air for the fuel.",
    ),
    _word(
        "leak_down",
        "leak-down",
        "Air is pressed into a cylinder with its piston at the top: how much escapes, and where it is heard.",
    ),
    _word(
        "needle",
        "needle",
        "The moving valve inside an injector. As it lifts and closes it leaves a small dip in current or voltage.",
    ),
    _word(
        "peers",
        "peers; peer",
        "The cylinders of this engine that agree with each other. The others are compared with them.",
    ),
    _word(
        "power_balance",
        "power balance",
        "One cylinder after the other is switched off while the engine runs. Where the speed hardly drops, it was not"
        " working.",
    ),
    _word(
        "relative_compression",
        "relative compression",
        "Starter current rises as each piston is pressed up. A cylinder that seals badly asks for less than others.",
    ),
    _word(
        "rich",
        "rich",
        "Too much fuel for the air.",
    ),
    _word(
        "roughness",
        "roughness",
        "How unevenly the crank turns at each cylinder, by the control unit. Each maker counts it in his own way.",
    ),
    _word(
        "runner",
        "runner",
        "The pipe of intake or exhaust that belongs to one cylinder.",
    ),
    _word(
        "shorted_turns",
        "shorted turns",
        "Layers of a winding touch each other: its current rises too fast and its voltage stays low.",
    ),
    _word(
        "snap",
        "snapped throttle; on the snap",
        "The throttle is opened wide for a moment at standstill. Cylinders fill fully and need their highest voltage.",
    ),
    _word(
        "spark_line",
        "spark line; spark lines",
        "The level part after the spark has jumped: as long as it burns. High and short means resistance, low and long"
        " a small gap.",
    ),
    _word(
        "sync",
        "sync",
        "A lead on a known cylinder that says which hump belongs to whom.",
    ),
    _word(
        "transducer",
        "transducer",
        "A sensor that turns pressure into a voltage the scope can draw.",
    ),
)  # fmt: skip
