"""``fairwitness``: diagnose a package, simulate cranking cases, run the cranking study."""

from __future__ import annotations

import argparse
import json
import sys
from collections.abc import Sequence
from pathlib import Path

from fairwitness import __version__
from fairwitness.core.diagnose import diagnose
from fairwitness.core.errors import FairWitnessError
from fairwitness.core.reason.plan import School
from fairwitness.formats.case_package import read_package
from fairwitness.formats.diagnosis_document import diagnosis_document
from fairwitness.study import cranking

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
        0, or 2 where a file or argument was refused.
    """
    parser = _parser()
    given = parser.parse_args(arguments)
    try:
        return int(given.run(given))
    except FairWitnessError as error:
        print(error.sentence.replace("\n", " "), file=sys.stderr)
        return EXIT_REFUSED
    except MemoryError:
        print("The package is too large for this machine's memory.", file=sys.stderr)
        return EXIT_REFUSED


def _parser() -> argparse.ArgumentParser:
    parser = argparse.ArgumentParser(prog="fairwitness", description="Which cylinder misfires, and why.")
    parser.add_argument("--version", action="version", version=f"fairwitness {__version__}")
    commands = parser.add_subparsers(required=True, metavar="command")

    reading = commands.add_parser("diagnose", help="say what a case package shows")
    reading.add_argument("package", type=Path)
    reading.add_argument("--json", action="store_true", help="print the diagnosis document")
    reading.add_argument("--school", choices=[s.value for s in School], default=School.MECHANICAL_FIRST.value)
    reading.set_defaults(run=_diagnose)

    study = commands.add_parser("study", help="measure how often the cranking verdict is right on simulated cases")
    study.add_argument("--cases", type=int, default=300)
    study.add_argument("--seed", type=int, default=1000)
    study.add_argument("--workers", type=int, default=None)
    study.set_defaults(run=_study)
    return parser


def _diagnose(given: argparse.Namespace) -> int:
    document = diagnosis_document(diagnose(read_package(given.package), school=School(given.school)))
    if given.json:
        print(json.dumps(document, ensure_ascii=False))
        return 0
    verdict = document["verdict"]
    print(f"{verdict['headline']} ({verdict['status'].replace('_', ' ')}, {100 * verdict['probability']:.0f} %)")
    for word, sentences in (("Seen", verdict["seen"]), ("Follows", verdict["follows"])):
        for sentence in sentences:
            print(f"  {word:9}{sentence['text']}")
    for text in verdict["not_seen"]:
        print(f"  {'Not seen':9}{text}")
    if document["next_tests"]:
        print(f"  {'Ask next':9}{document['next_tests'][0]['title']}. {document['next_tests'][0]['reason']}")
    return 0


def _study(given: argparse.Namespace) -> int:
    result = cranking.run(cases=given.cases, seed=given.seed, workers=given.workers)
    print(cranking.report(result))
    return 0 if result.targets_met else 1


if __name__ == "__main__":
    sys.exit(main())
