"""Results of a long study, a line each, so that a broken run goes on where it stopped."""

from __future__ import annotations

import json
from collections.abc import Callable, Iterator, Mapping
from pathlib import Path
from typing import Any, Generic, Protocol, TypeVar

from fairwitness import __version__
from fairwitness.core.errors import SimulationError


class Seeded(Protocol):
    """A result that knows the seed it was made of."""

    @property
    def seed(self) -> int:
        """Its name in the ledger."""


Kept = TypeVar("Kept", bound=Seeded)


class Ledger(Generic[Kept]):
    """A file of results; its first line says what they are results of.

    Parameters
    ----------
    path : Path
        Made if need be.
    as_json, from_json : callable
        A result as plain data, and back.

    Raises
    ------
    SimulationError
        The file holds something else, or results of another version.
    """

    def __init__(
        self, path: Path, as_json: Callable[[Kept], dict[str, Any]], from_json: Callable[[Mapping[str, Any]], Kept]
    ) -> None:
        self.path, self._as_json, self._from_json = path, as_json, from_json
        self.known: dict[int, Kept] = {}
        if path.exists():
            self._read()
        else:
            path.parent.mkdir(parents=True, exist_ok=True)
            path.write_text(json.dumps({"fair_witness_study": __version__}) + "\n")

    def keep(self, result: Kept) -> None:
        """Write a result down at once."""
        self.known[result.seed] = result
        with self.path.open("a") as file:
            file.write(json.dumps(self._as_json(result)) + "\n")

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
        for result in self._whole(lines[1:]):
            self.known[result.seed] = result

    def _whole(self, lines: list[str]) -> Iterator[Kept]:
        """A last line that was cut off in the middle is left out: its vehicle is done again."""
        for line in lines:
            try:
                yield self._from_json(json.loads(line))
            except (json.JSONDecodeError, KeyError, TypeError):
                continue
