"""Results of a long study, a line each, so that a broken run goes on where it stopped."""

from __future__ import annotations

import json
from collections.abc import Iterator
from pathlib import Path

from fairwitness import __version__
from fairwitness.core.errors import SimulationError
from fairwitness.study.policies import Result, as_json, from_json


class Ledger:
    """A file of results; its first line says what they are results of.

    Parameters
    ----------
    path : Path
        Made if need be.

    Raises
    ------
    SimulationError
        The file holds something else, or results of another version.
    """

    def __init__(self, path: Path) -> None:
        self.path = path
        self.known: dict[int, Result] = {}
        if path.exists():
            self._read()
        else:
            path.parent.mkdir(parents=True, exist_ok=True)
            path.write_text(json.dumps({"fair_witness_study": __version__}) + "\n")

    def keep(self, result: Result) -> None:
        """Write a result down at once."""
        self.known[result.seed] = result
        with self.path.open("a") as file:
            file.write(json.dumps(as_json(result)) + "\n")

    def _read(self) -> None:
        lines = self.path.read_text().splitlines()
        try:
            head = json.loads(lines[0]) if lines else {}
        except json.JSONDecodeError:
            head = {}
        if not isinstance(head, dict) or head.get("fair_witness_study") != __version__:
            raise SimulationError(
                "This file holds no results of this version.", where=str(self.path), remedy="Name another file."
            )
        for result in _whole(lines[1:]):
            self.known[result.seed] = result


def _whole(lines: list[str]) -> Iterator[Result]:
    """A last line that was cut off in the middle is left out: its vehicle is done again."""
    for line in lines:
        try:
            yield from_json(json.loads(line))
        except (json.JSONDecodeError, KeyError, TypeError):
            continue
