"""Commands of the laboratory: diagnose a package, simulate vehicles, fit what readings weigh, run studies."""

from __future__ import annotations

import argparse
import json
import re
import sys
from datetime import UTC, datetime
from pathlib import Path
from typing import Any

from fairwitness import __version__
from fairwitness.core.errors import SimulationError
from fairwitness.core.messages.catalogue import template
from fairwitness.core.messages.rendering import render

# What a parser offers stands here as words: importing what they name takes seconds, and only one command needs it.
# ``tests/study/test_command_line.py`` holds them to what they name.
SCHOOLS = ("mechanical_first", "codes_first", "quickest_first")
LEVELS = ("clean", "workshop", "hostile")
POPULATIONS = ("known", "left out")
FIELDS = ("ignition", "fuel", "mechanical")
CHANCE = template("laboratory.chance", "{percent:chance}")
KINDS = ("cranking", "running", "deficit", "pressure", "policies", "no_start", "lives", "shops")


def add_to(commands: Any) -> None:
    """Add the commands to the parsers of a command line."""
    reading = commands.add_parser("diagnose", help="say what a case package shows")
    reading.add_argument("package", type=Path)
    reading.add_argument("--json", action="store_true", help="print the diagnosis document")
    reading.add_argument("--school", choices=SCHOOLS, default=SCHOOLS[0])
    reading.set_defaults(run=_diagnose)

    making = commands.add_parser("simulate", help="make a vehicle ill and examine it, or a whole population")
    making.add_argument("--engine", default="drover-2.0", help="of the garage, or a firing order like 1-3-4-2")
    making.add_argument("--fault", action="append", default=[], help="id@cylinder:severity!condition; more than once")
    making.add_argument("--tests", default="all", help="names with commas between them, or all")
    making.add_argument("--level", choices=LEVELS, default="workshop")
    making.add_argument("--cold", action="store_true")
    making.add_argument("--seed", type=int, default=1)
    making.add_argument("--population", type=int, default=0, help="so many random vehicles instead of one")
    making.add_argument("--workers", type=int, default=None)
    making.add_argument("-o", "--out", type=Path, required=True, help="package to write; a folder for a population")
    making.set_defaults(run=_simulate)

    study = commands.add_parser("study", help="measure how often simulated cases are read right")
    study.add_argument("--kind", choices=(*KINDS, *FIELDS), default="cranking")
    study.add_argument("--cases", type=int, default=300)
    study.add_argument("--seed", type=int, default=1000)
    study.add_argument("--workers", type=int, default=None)
    study.add_argument("--compared", type=int, default=300, help="policies: so many vehicles under fixed orders too")
    study.add_argument(
        "--worlds",
        choices=POPULATIONS,
        default=POPULATIONS[0],
        help="policies: the world the simulator grew up in, or worlds that nothing was fitted on",
    )
    study.add_argument(
        "--densities",
        type=Path,
        default=LEFT_OUT_FITS,
        help="policies: folder of the fits that never met what is left out",
    )
    study.add_argument("--scheduler", default=None, help="policies: address of a running Dask scheduler")
    study.add_argument("--ledger", type=Path, default=None, help="policies: file of results, to go on with later")
    study.add_argument("--summary", type=Path, default=None, help="policies: write the figures of the page here")
    study.add_argument("--report", type=Path, default=None, help="write what is printed here too, with the command")
    study.set_defaults(run=_study)

    fit = commands.add_parser("fit", help="estimate what readings weigh, from vehicles of many worlds")
    fit.add_argument("--vehicles", type=int, default=1200)
    fit.add_argument("--seed", type=int, default=70000)
    fit.add_argument("--workers", type=int, default=None)
    fit.add_argument("--readings", type=Path, default=None, help="file of what was read, to go on with later")
    fit.add_argument("--left-out", action="store_true", help="one fit for each combination that a study leaves out")
    fit.add_argument("-o", "--out", type=Path, default=None, help="file to write; a folder with --left-out")
    fit.set_defaults(run=_fit)

    learning = commands.add_parser("fit-traces", help="estimate by what a trace is recognised")
    learning.add_argument("--vehicles", type=int, default=150)
    learning.add_argument("--seed", type=int, default=80000)
    learning.add_argument("-o", "--out", type=Path, default=None)
    learning.set_defaults(run=_fit_traces)


FITS = Path("var/fit")
WEIGHTS = Path("src/fairwitness/core/signal/recognition/weights.txt")
LEFT_OUT_FITS = Path("docs/accuracy/left_out")
"""What the study of worlds left out reads; kept with its figures."""


def _fit_traces(given: argparse.Namespace) -> int:
    from fairwitness.study.fitting import traces

    command = f"fairwitness fit-traces --vehicles {given.vehicles} --seed {given.seed}"
    out = given.out or WEIGHTS
    out.write_text(traces.fitted_text(given.vehicles, seed=given.seed, command=command), encoding="utf-8")
    print(f"Written to {out}.")
    return 0


def _fit(given: argparse.Namespace) -> int:
    from fairwitness.study.fitting import pool, writing

    seeds = range(given.seed, given.seed + given.vehicles)
    readings = given.readings or FITS / f"readings-{given.seed}.jsonl"
    known = pool.gathered(readings, seeds, workers=given.workers, tell=lambda line: print(line, file=sys.stderr))
    command = f"fairwitness fit --vehicles {given.vehicles} --seed {given.seed}"
    if given.left_out:
        pool.write_left_out(known, given.out or LEFT_OUT_FITS, command=f"{command} --left-out")
        return 0
    out = given.out or FITS / "densities.txt"
    by_hand = writing.shipped_by_hand(out.read_text(encoding="utf-8")) if out.exists() else ""
    out.parent.mkdir(parents=True, exist_ok=True)
    out.write_text(writing.fitted(known, command=command, by_hand=by_hand), encoding="utf-8")
    return 0


def _diagnose(given: argparse.Namespace) -> int:
    from fairwitness.core.diagnose import diagnose
    from fairwitness.core.reason.planning.approach import Approach, School
    from fairwitness.formats.case_package import read_package
    from fairwitness.formats.diagnosis_document import diagnosis_document

    document = diagnosis_document(diagnose(read_package(given.package), approach=Approach(order=School(given.school))))
    if given.json:
        print(json.dumps(document, ensure_ascii=False))
        return 0
    verdict = document["verdict"]
    chance = render(CHANCE(percent=100 * verdict["probability"]))
    print(f"{verdict['headline']} ({verdict['status'].replace('_', ' ')}, {chance})")
    for word, sentences in (("Seen", verdict["seen"]), ("Follows", verdict["follows"])):
        for sentence in sentences:
            print(f"  {word:9}{sentence['text']}")
    for text in verdict["not_seen"]:
        print(f"  {'Not seen':9}{text}")
    if document["next_tests"]:
        print(f"  {'Ask next':9}{document['next_tests'][0]['title']}. {document['next_tests'][0]['reason']}")
    return 0


def _simulate(given: argparse.Namespace) -> int:
    from fairwitness.simulate.examine import TESTS
    from fairwitness.simulate.garage import fault_named
    from fairwitness.study import vehicles

    tests = TESTS if given.tests == "all" else tuple(name.strip() for name in given.tests.split(","))
    if given.population:
        seeds = range(given.seed, given.seed + given.population)
        vehicles.make_all([vehicles.random_order(s, tests=tests) for s in seeds], given.out, workers=given.workers)
        return 0
    order = vehicles.Order(
        engine=given.engine,
        faults=tuple(fault_named(text) for text in given.fault),
        tests=tests,
        level=given.level,
        seed=given.seed,
        hot=not given.cold,
        name=re.sub(r"[^a-z0-9._-]+", "-", given.out.stem.lower()).strip("-.") or "simulated",
    )
    package = vehicles.make(order)
    try:
        given.out.write_bytes(package)
    except OSError as error:
        raise SimulationError("The package cannot be written there.", where=str(given.out)) from error
    print(f"{given.out}: {len(package) / 1e6:.1f} MB")
    return 0


def _policies(given: argparse.Namespace) -> int:
    from fairwitness.study import policies, trust
    from fairwitness.study.ledger import Ledger
    from fairwitness.study.population import Population

    seeds = range(given.seed, given.seed + given.cases)
    path = given.ledger or Path("var/study") / f"policies-{given.worlds}-{given.seed}.jsonl".replace(" ", "-")
    ledger = Ledger(path, policies.as_json, policies.from_json)
    done = [seed for seed in seeds if seed in ledger.known]
    if done:
        print(f"{len(done)} of {len(seeds)} vehicles are done already", file=sys.stderr)
    left = policies.run(
        seeds,
        compared=given.compared,
        under=policies.Under(
            population=Population(given.worlds),
            densities_in=given.densities if given.worlds == Population.LEFT_OUT else None,
        ),
        known=done,
        workers=given.workers,
        scheduler=given.scheduler,
    )
    for count, result in enumerate(left, start=len(done) + 1):
        ledger.keep(result)
        if count % max(1, len(seeds) // 50) == 0:
            print(f"{count} of {len(seeds)} vehicles", file=sys.stderr, flush=True)
    reported = trust.summary([ledger.known[seed] for seed in seeds])
    if given.summary:
        made = {"version": __version__, "seed": given.seed, "made_at": datetime.now(UTC).isoformat(timespec="seconds")}
        given.summary.parent.mkdir(parents=True, exist_ok=True)
        given.summary.write_text(json.dumps({**made, **reported}, indent=1) + "\n")
    return _tell(given, trust.report(reported), met=all(trust.targets_met(reported).values()))


def _tell(given: argparse.Namespace, text: str, *, met: bool) -> int:
    """Print the figures of a study and keep them in a file if one is named."""
    print(text)
    if given.report:
        compared = f" --compared {given.compared}" if given.kind == "policies" else ""
        if given.kind == "policies" and given.worlds != POPULATIONS[0]:
            compared += f' --worlds "{given.worlds}"'
        command = f"fairwitness study --kind {given.kind} --cases {given.cases} --seed {given.seed}{compared}"
        given.report.parent.mkdir(parents=True, exist_ok=True)
        given.report.write_text(f"{command}\nversion {__version__}, {datetime.now(UTC):%Y-%m-%d}\n\n{text}\n")
    return 0 if met else 1


def _study(given: argparse.Namespace) -> int:
    from fairwitness.study import causes, cranking, deficit, lives, no_start, policies, pressure, running, shops
    from fairwitness.study.population import Population

    if given.kind == "policies":
        return _policies(given)
    if given.kind == "shops":
        under = policies.Under(population=Population.LEFT_OUT, densities_in=given.densities)
        size = shops.Size(vehicles=given.cases, seed=given.seed)
        text, helps = shops.run(size, under, workers=given.workers)
        return _tell(given, text, met=helps)
    how: dict[str, Any] = {"cases": given.cases, "seed": given.seed, "workers": given.workers}
    if given.kind == "running":
        outcomes = running.run(**how)
        return _tell(given, running.report(outcomes), met=running.targets_met(outcomes))
    if given.kind == "deficit":
        engines = deficit.run(**how)
        return _tell(given, deficit.report(engines), met=deficit.targets_met(engines))
    if given.kind == "no_start":
        ways = [no_start.way_of(given.seed + i) for i in range(given.cases)]
        return _tell(given, no_start.report(ways), met=no_start.targets_met(ways))
    if given.kind == "lives":
        lived = lives.run(**how)
        return _tell(given, lives.report(lived), met=lives.targets_met(lived))
    if given.kind == "pressure":
        read = pressure.run(**how)
        return _tell(given, pressure.report(read), met=pressure.targets_met(read))
    if given.kind in causes.FIELDS:
        reported = causes.run(given.kind, **how)
        return _tell(given, causes.report(reported), met=causes.targets_met(reported))
    result = cranking.run(**how)
    return _tell(given, cranking.report(result), met=result.targets_met)
