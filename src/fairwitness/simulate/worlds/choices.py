"""Which worlds there are: one choice per modelling question, the first of each the world the simulator grew up in."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass

from numpy.random import Generator

from fairwitness.core.errors import SimulationError

CHOICES: Mapping[str, Mapping[str, str]] = {
    "gas": {
        "polytropic": "compressed and expanded along one line, blown down within 22 degrees",
        "cooling": "loses heat to the walls around TDC, burns later and longer, blows down slowly",
    },
    "starter": {
        "magnets": "torque in proportion to current",
        "series": "series-wound: its field, and so its torque, grows with the current",
        "overrunning": "its clutch lets the crank run ahead, and the current never falls below what idling takes",
    },
    "battery": {
        "sagging": "one resistance and a slow loss",
        "polarising": "a second resistance behind a time constant of about a second",
    },
    "friction": {
        "viscous": "the same at every angle",
        "uneven": "more at some angles of each turn than at others",
    },
    "combustion": {
        "normal": "cycles scatter by a normal law, cylinders are alike",
        "straggling": "now and then a sound cylinder burns badly, a strong cycle follows, cylinders differ for good",
    },
    "wheel": {
        "scattered": "each tooth a little off",
        "eccentric": "the wheel runs out once a turn",
        "twisting": "the crank winds up and rings after each firing",
    },
    "exhaust": {
        "damped": "a gas column that smooths",
        "echoing": "pulses come back from the open end, and each cylinder has its own way to go",
        "ringing": "a silencer that resonates",
    },
    "intake": {
        "damped": "a gas column that smooths",
        "plenum": "a plenum that resonates, runners of unlike length, a leak that takes away the pull as well",
    },
    "hose": {
        "fast": "the pulse sensor follows at once",
        "long": "a hose delays and smooths",
        "piezo": "the sensor does not hold a level: slow parts are lost",
    },
    "clamp": {
        "steady": "holds direct current to any frequency",
        "drooping": "small clamps lose a steady current within tenths of a second",
        "slow": "clamps follow to a few kilohertz only",
    },
    "transducer": {
        "true": "pressure in the cylinder as it is",
        "ringing": "a hose that rings, and a zero that drifts while it warms",
    },
    "spark": {
        "steady": "the pick-up follows the voltage, breakdowns scatter by 6 %",
        "restless": "the pick-up loses the level of the line, breakdowns scatter widely, idle sparks strike again",
    },
    "coil": {
        "linear": "an inductance that stays, ringing while it is switched on",
        "saturating": "iron that saturates: the current bends upward at the end, no ringing",
    },
    "injector": {
        "plain": "one resistance and one inductance, a clear dip",
        "eddies": "eddy currents: a fast and a slow rise, a faint dip, a slow decay, another clamp voltage",
    },
    "unit": {
        "protective": "withholds fuel without spark, holds the idle",
        "plain": "withholds nothing, leaves the idle alone, injects twice a cycle",
    },
    "habit": {
        "by the card": "as long, as fast and on the leads the card says",
        "short": "three to six cycles",
        "coarse": "eight bits and a quarter of the rate",
        "singly": "one lead after the other, each with its mark",
        "anywhere": "the mark on whatever cylinder was near",
    },
    "entries": {
        "right": "the engine is entered as it is",
        "off": "resistance of injectors and place of the wheel's gap entered wrongly",
    },
    "hands": {
        "careful": "gauges that repeat, eyes that see",
        "rough": "gauges that scatter, worn engines that leak, plugs wet where nothing burnt, slips of the eye",
    },
    "severity": {
        "plain": "from just visible to complete",
        "whole": "from a trace of it to complete",
    },
}
"""Questions, their answers, and what each means."""


def known_of(question: str) -> str:
    """The answer the simulator grew up with."""
    return next(iter(CHOICES[question]))


@dataclass(frozen=True, slots=True)
class World:
    """One answer to some of the questions; the others as the simulator grew up with them.

    Parameters
    ----------
    answers : tuple of (question, answer)
        Sorted, without those that are as usual.

    Raises
    ------
    SimulationError
        There is no such question or answer.
    """

    answers: tuple[tuple[str, str], ...] = ()

    def __post_init__(self) -> None:
        for question, answer in self.answers:
            if answer not in CHOICES.get(question, {}):
                raise SimulationError(
                    f"There is no world with {question} {answer!r}.",
                    where="world",
                    remedy=f"Answer {', '.join(CHOICES)} with one of {', '.join(CHOICES.get(question, ()))}.",
                )

    def __getitem__(self, question: str) -> str:
        """The answer to a question."""
        return dict(self.answers).get(question) or known_of(question)

    def has(self, alternatives: Iterable[tuple[str, str]]) -> bool:
        """Whether any of some answers holds in this world."""
        return bool(set(self.answers) & set(alternatives))

    def document(self) -> dict[str, str]:
        """As plain data."""
        return dict(self.answers)


def world_of(answers: Mapping[str, str]) -> World:
    """A world by its answers; those that are as usual go without saying."""
    unusual = (pair for pair in answers.items() if pair[0] not in CHOICES or pair[1] != known_of(pair[0]))
    return World(tuple(sorted(unusual)))


KNOWN_WORLD = World()
AS_USUAL = 0.5
"""How often a question is answered as the simulator grew up; the other answers share the rest."""


def draw_world(
    rng: Generator, *, without: Iterable[tuple[str, str]] = (), always: Iterable[tuple[str, str]] = ()
) -> World:
    """A world at random.

    Parameters
    ----------
    rng : numpy Generator
    without : iterable of (question, answer)
        Answers that may not be drawn.
    always : iterable of (question, answer)
        Answers that are given.

    Returns
    -------
    World
    """
    barred, given = set(without), dict(always)
    answers = dict(given)
    for question, possible in CHOICES.items():
        luck, which = float(rng.random()), float(rng.random())  # always drawn, so that the rest stays as it was
        others = [a for a in possible if a != known_of(question) and (question, a) not in barred]
        if question not in given and others and luck >= AS_USUAL:
            answers[question] = others[int(which * len(others))]
    return world_of(answers)


HELD_OUT: Mapping[str, tuple[tuple[str, str], ...]] = {
    "air": (("exhaust", "echoing"), ("intake", "plenum"), ("hose", "long")),
    "turning": (("starter", "series"), ("battery", "polarising"), ("friction", "uneven")),
    "burning": (("gas", "cooling"), ("combustion", "straggling"), ("wheel", "eccentric")),
    "sparks": (("spark", "restless"), ("coil", "saturating"), ("clamp", "drooping")),
    "spraying": (("injector", "eddies"), ("unit", "plain"), ("clamp", "slow")),
    "people": (("habit", "short"), ("entries", "off"), ("hands", "rough")),
    "sensors": (("wheel", "twisting"), ("hose", "piezo"), ("transducer", "ringing")),
    "shortcuts": (("habit", "singly"), ("starter", "overrunning"), ("severity", "whole")),
}
"""Combinations that a study leaves out: what is fitted meets none of these answers, what is judged has them all."""
