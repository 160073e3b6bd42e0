"""Write the documents that follow from the code: the picture of the house, the table of tests, the glossary.

``--check`` writes nothing and fails where a document no longer says what the code does.
"""

from __future__ import annotations

import sys
from collections.abc import Callable
from pathlib import Path

import grimp
from licences import licences

from fairwitness.core.messages.rendering import render
from fairwitness.core.messages.trade_words import TRADE_WORDS
from fairwitness.core.model.role_words import ROLE_WORDS
from fairwitness.core.model.tools import TOOL_WORDS, Turning
from fairwitness.core.procedures import safety
from fairwitness.core.procedures.engine_kinds import KINDS
from fairwitness.core.procedures.spec import Offer, TestSpec
from fairwitness.core.procedures.specs import OFFERS, SPECS
from fairwitness.core.reason.knowledge.faults import CATALOGUE
from fairwitness.core.reason.knowledge.signatures import COLUMNS

ROOT = Path(__file__).resolve().parents[1]
PACKAGE = "fairwitness"
NOTE = "Written by `scripts/documents.py` from the code; `make drift` fails where it no longer holds.\n"
ROOMS = {
    "server": ("server",),
    "cli and study": ("cli", "study"),
    "formats and instruments": ("formats", "instruments"),
    "simulate": ("simulate",),
    "diagnose": ("core.diagnose",),
    "reason": ("core.reason",),
    "procedures": ("core.procedures",),
    "signal": ("core.signal",),
    "model": ("core.model",),
    "messages": ("core.messages",),
    "thresholds and errors": ("core.thresholds", "core.errors"),
}
"""Rooms of the house from the roof down."""


def _room_of(module: str) -> str | None:
    name = module.removeprefix(f"{PACKAGE}.")
    return next(
        (room for room, parts in ROOMS.items() if any(name == p or name.startswith(f"{p}.") for p in parts)), None
    )


def house() -> str:
    """The rooms and who imports whom, as a diagram and a table, drawn from the imports themselves.

    No counts: they change with every other edit and would make the picture stale without saying anything.
    """
    graph = grimp.build_graph(PACKAGE)
    rooms = {module: _room_of(module) for module in graph.modules}
    uses = sorted(
        {
            (room, other)
            for module, room in rooms.items()
            for imported in graph.find_modules_directly_imported_by(module)
            if room and (other := rooms.get(imported)) and other != room
        },
        key=_down,
    )
    ids = {room: f"r{i}" for i, room in enumerate(ROOMS)}
    lines = [
        "# The house",
        "",
        NOTE,
        "An arrow is an import.",
        "",
        "```mermaid",
        "flowchart TD",
    ]
    lines += [f'    {ids[room]}["{room}"]' for room in ROOMS]
    lines += [f"    {ids[a]} --> {ids[b]}" for a, b in uses]
    lines += ["```", "", "| room | imports from |", "|---|---|"]
    for room in ROOMS:
        lines.append(f"| {room} | {', '.join(b for a, b in uses if a == room) or 'nobody'} |")
    return "\n".join(lines) + "\n"


def _down(pair: tuple[str, str]) -> tuple[int, int]:
    order = list(ROOMS)
    return order.index(pair[0]), order.index(pair[1])


def tests() -> str:
    """Every test of the trade with what it reads, what it needs and how long it takes."""
    lines = [
        "# Tests of the trade",
        "",
        NOTE,
        "| test | trust | columns | outcomes | ways to take it |",
        "|---|---|---|---|---|",
    ]
    lines += [_test(spec) for spec in SPECS.values()]
    lines += ["", "# Faults", "", "| fault | cause | seat | prior | before it is called |", "|---|---|---|---|---|"]
    lines += [
        f"| {render(f.words)} | {f.cause.value} | {f.seat.value} | {f.prior:g} | "
        f"{'; '.join(render(p.words) for p in f.proof) or 'nothing more'} |"
        for f in CATALOGUE
    ]
    return "\n".join(lines) + "\n"


def _test(spec: TestSpec) -> str:
    ways = "; ".join(f"{render(o.title)} ({o.minutes:g} min: {_tools(o)})" for o in spec.offers)
    outcomes = len(spec.kinds) or ""
    return f"| {render(spec.title)} | {spec.trust.value} | {' '.join(spec.columns)} | {outcomes} | {ways} |"


def _tools(offer: Offer) -> str:
    return ", ".join(render(TOOL_WORDS[tool]) for tool in offer.needs) or "eyes and hands"


GLOSSARY = {
    "firing order": "order in which cylinders fire; companions are half of it apart",
    "companion": "the cylinder 360 degrees away, at the top of its stroke in the same moment",
    "sync": "an event on another channel that says where in the cycle the engine is",
    "contribution": "what a cylinder adds to the work of the crank, beside its peers",
    "share": "a value over what the peers have; 1 is as the peers",
    "peers": "the largest group of cylinders that are near each other",
    "line of evidence": "shares of all cylinders in one column of the matrix of signatures",
    "categorical evidence": "one outcome of a test without a scale, as of a lamp",
    "outcome": "how a test without a scale may come out",
    "finding": "one number or one word of a measurement, with its spread, state and origin",
    "remark": "a finding that says something beside the judged quantity",
    "offer": "one way to take a test, as the plan offers it",
    "procedure": "a test of the trade: its record and how it is measured",
    "mode": "in which of its ways a fault shows itself: it stays, comes and goes, is dead, is held on",
    "seat": "where a fault can sit: a cylinder, a coil, a feed, a bank, the whole engine",
    "predicate": "something that must have been seen before a part is called",
    "accusation": "what a measurement says against a cylinder",
    "verdict": "what may be said: established, supported, suspected, inconclusive, no fault found",
    "rival": "the next probable explanation beside the leading one",
    "approach": "how a case is worked, where people of the trade differ",
    "known good": "a capture a shop holds up to others of the same engine",
    "message": "id of a template and its parameters; put into words only when it is read",
    "lift": "one step that brings a kept measurement from an earlier format to the next",
}


def glossary() -> str:
    """Words of the code and of the trade."""
    lines = ["# Glossary", "", NOTE, "| word | what it means here |", "|---|---|"]
    lines += [f"| {word} | {meaning} |" for word, meaning in sorted(GLOSSARY.items())]
    lines += ["", "Words of the trade, explained on the screen where they stand:", "", "| word | |", "|---|---|"]
    lines += [f"| {render(word.said)} | {render(word.meaning)} |" for word in TRADE_WORDS]
    lines += ["", f"Columns of the matrix of signatures: {', '.join(COLUMNS)}.", "", "| channel | |", "|---|---|"]
    lines += [f"| `{role.value}` | {render(words)} |" for role, words in ROLE_WORDS.items()]
    return "\n".join(lines) + "\n"


def offers() -> str:
    """What may be offered on which engine, what is held back in which state, and the cautions that go with it."""
    reasons: dict[str, int] = {}
    lines = [
        "# What may be offered",
        "",
        NOTE,
        "A number is the reason below why a test is never offered on such an engine.",
        "",
        f"| test | min | {' | '.join(KINDS)} |",
        f"|---|---|{'---|' * len(KINDS)}",
    ]
    for offer in OFFERS.values():
        cells = []
        for engine in KINDS.values():
            why = safety.barred(offer, engine)
            cells.append("yes" if why is None else str(reasons.setdefault(render(why), len(reasons) + 1)))
        lines.append(f"| {render(offer.title)} | {_minutes(offer)} | {' | '.join(cells)} |")
    lines += ["", *(f"{number}. {why}" for why, number in reasons.items())]
    lines += ["", "Minutes are common practice for four cylinders, with everything to connect; a shop can set its own."]
    lines += ["", "## Held back", "", "| state | not offered |", "|---|---|"]
    lines += [f"| {state} | {_titles(left_out)} |" for state, left_out in STATES.items()]
    lines += ["", "## Cautions", "", "| test | on a port-injected petrol engine | more on others |", "|---|---|---|"]
    lines += [_cautions(offer) for offer in OFFERS.values()]
    return "\n".join(lines) + "\n"


STATES = {
    "A cylinder may be full of liquid, or the engine is locked": safety.stirs,
    "It cranks and does not start": lambda o: o.turning is Turning.RUNNING and not o.works_cranking,
    "It does not turn": lambda o: o.turning in (Turning.RUNNING, Turning.CRANKING),
}


def _minutes(offer: Offer) -> str:
    return f"{offer.minutes + (0 if offer.per_cylinder else 3 * offer.each):g}"


def _titles(left_out: Callable[[Offer], bool]) -> str:
    return "; ".join(render(offer.title) for offer in OFFERS.values() if left_out(offer))


def _cautions(offer: Offer) -> str:
    plain = next(iter(KINDS.values()))
    usual = safety.cautions(offer, plain)
    more = [
        f"{kind}: {' '.join(render(w) for w in added)}"
        for kind, engine in KINDS.items()
        if safety.barred(offer, engine) is None
        and (added := [w for w in safety.cautions(offer, engine) if w not in usual])
    ]
    return f"| {render(offer.title)} | {' '.join(map(render, usual))} | {' '.join(more)} |"


DOCUMENTS = {
    "docs/house.md": house, "docs/tests.md": tests, "docs/glossary.md": glossary, "docs/offers.md": offers,
    "web/public/licences.txt": licences,
}  # fmt: skip


def main() -> int:
    """Write or check."""
    stale = []
    for name, make in DOCUMENTS.items():
        path, text = ROOT / name, make()
        if "--check" in sys.argv[1:]:
            stale += [name] if not path.exists() or path.read_text() != text else []
        else:
            path.write_text(text)
    for name in stale:
        print(f"{name} no longer says what the code does: run scripts/documents.py.", file=sys.stderr)
    return 1 if stale else 0


if __name__ == "__main__":
    sys.exit(main())
