"""``fairwitness``: commands of the workshop and of the laboratory.

A workshop's commands do not wait for the simulator and the studies to be loaded.
"""

from __future__ import annotations

import argparse
import os
import sys
from collections.abc import Sequence

from fairwitness import __version__
from fairwitness.core.errors import FairWitnessError
from fairwitness.server import command_line as workshop

EXIT_REFUSED = 2


def main(arguments: Sequence[str] | None = None) -> int:
    """Run one command.

    Parameters
    ----------
    arguments : sequence of str, optional
        The command line if left out.

    Returns
    -------
    int
        What the command returns, or 2 where a file or argument was refused.
    """
    words = list(sys.argv[1:] if arguments is None else arguments)
    given = _parser(words[:1]).parse_args(words)
    try:
        return int(given.run(given))
    except FairWitnessError as error:
        print(error.sentence.replace("\n", " "), file=sys.stderr)
        return EXIT_REFUSED
    except BrokenPipeError:  # whoever read it has seen enough
        os.dup2(os.open(os.devnull, os.O_WRONLY), sys.stdout.fileno())
        return 0
    except MemoryError:
        print("The package is too large for this machine's memory.", file=sys.stderr)
        return EXIT_REFUSED


def _parser(first: Sequence[str]) -> argparse.ArgumentParser:
    parser = argparse.ArgumentParser(prog="fairwitness", description="Which cylinder misfires, and why.")
    parser.add_argument("--version", action="version", version=f"fairwitness {__version__}")
    commands = parser.add_subparsers(required=True, metavar="command")
    workshop.add_to(commands)
    if not set(first) & workshop.NAMES:
        from fairwitness.study import command_line as laboratory

        laboratory.add_to(commands)
    return parser


if __name__ == "__main__":
    sys.exit(main())
