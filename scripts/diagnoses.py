"""Keep what is said of many cases, and compare two such keepings: what a change of the code changed in its answers.

``diagnoses.py keep -o FOLDER`` writes a diagnosis document for each case of the demo, each package of ``--packages``
and each simulated vehicle of the seeds. ``diagnoses.py compare OLD NEW`` lists every difference, most frequent first.
"""

from __future__ import annotations

import argparse
import json
import os
import sys
from collections import Counter, defaultdict
from collections.abc import Iterator
from concurrent.futures import ProcessPoolExecutor
from dataclasses import replace
from pathlib import Path
from typing import Any

import numpy as np

from fairwitness.core.diagnose import diagnose
from fairwitness.core.model.case import Case, TroubleCode
from fairwitness.formats.case_package import read_package
from fairwitness.formats.diagnosis_document import diagnosis_document
from fairwitness.simulate.depot import JOBS, depot_evidence
from fairwitness.simulate.examine import TESTS, examine
from fairwitness.simulate.garage import ENGINES, build
from fairwitness.study.vehicles import random_order

VEHICLES, FIRST_SEED, TESTS_EACH = 200, 770_000, 4
SHOWN_OF_A_KIND = 3
NOT_YET_KNOWN = frozenset(("exhaust_temperature",))
"""Tests that came after the first keeping: left out, so that the same vehicles are examined by the same tests."""


def _demo(number: int) -> Case:
    job = JOBS[number]
    evidence = depot_evidence(job, seed=number)
    return Case(
        name=f"job-{number}",
        engine=job.engine,
        title=job.title,
        complaint=job.complaint,
        symptom=job.symptom,
        signs=job.signs,
        work_done=job.work_done,
        codes=tuple(TroubleCode(code) for code in job.codes),
        captures=evidence.captures,
        observations=evidence.observations,
    )


def _vehicle(seed: int) -> Case:
    order = random_order(seed, tests=())
    rng = np.random.default_rng((77, seed))
    known = sorted({*TESTS} - NOT_YET_KNOWN)
    tests = [str(t) for t in rng.choice(known, size=TESTS_EACH, replace=False)]
    vehicle = build(ENGINES[order.engine], order.faults, rng=rng)
    case = examine(vehicle, tests, level=order.level, hot=order.hot, seed=seed)
    return replace(case, name=f"vehicle-{seed}", title=f"vehicle-{seed}")


def _keep(job: tuple[str, str, Path]) -> str:
    kind, which, folder = job
    name = f"{kind}-{Path(which).stem}"
    if not (folder / f"{name}.json").exists():
        make = {"demo": lambda: _demo(int(which)), "vehicle": lambda: _vehicle(int(which))}
        case = make[kind]() if kind in make else read_package(Path(which))
        document = diagnosis_document(diagnose(case))
        (folder / f"{name}.json").write_text(json.dumps(document, ensure_ascii=False, indent=1))
    return name


def keep(folder: Path, packages: Path | None, vehicles: int) -> int:
    """Write the documents; those already there are left."""
    folder.mkdir(parents=True, exist_ok=True)
    jobs = [("demo", str(i), folder) for i in range(len(JOBS))]
    jobs += [("package", str(p), folder) for p in (sorted(packages.rglob("*.zip")) if packages else ())]
    jobs += [("vehicle", str(FIRST_SEED + i), folder) for i in range(vehicles)]
    with ProcessPoolExecutor(os.cpu_count()) as pool:
        for count, _ in enumerate(pool.map(_keep, jobs), start=1):
            if count % 20 == 0 or count == len(jobs):
                print(f"{count} of {len(jobs)}", flush=True)
    return 0


def differences(old: Any, new: Any, path: str = "") -> Iterator[tuple[str, Any, Any]]:
    """Every leaf that differs, with where it stands; numbers of places in a list are left out of the path."""
    if isinstance(old, dict) and isinstance(new, dict):
        for key in sorted({*old, *new}):
            yield from differences(old.get(key), new.get(key), f"{path}.{key}")
    elif isinstance(old, list) and isinstance(new, list) and len(old) == len(new):
        for one, other in zip(old, new, strict=True):
            yield from differences(one, other, f"{path}[]")
    elif old != new:
        yield path, old, new


def compare(old: Path, new: Path) -> int:
    """Print every difference by kind; 1 where there is any."""
    names = sorted({p.name for p in old.glob("*.json")} | {p.name for p in new.glob("*.json")})
    kinds: Counter[str] = Counter()
    examples: defaultdict[str, list[str]] = defaultdict(list)
    different = set()
    for name in names:
        pair = [json.loads((f / name).read_text()) if (f / name).exists() else None for f in (old, new)]
        for path, one, other in differences(*pair):
            kinds[path] += 1
            different.add(name)
            examples[path].append(f"{name}: {json.dumps(one)[:300]} -> {json.dumps(other)[:300]}")
    print(f"{len(names)} documents, {len(different)} differ")
    for path, count in kinds.most_common():
        print(f"{path}: {count}", *(f"    {e}" for e in examples[path][:SHOWN_OF_A_KIND]), sep="\n")
    return 1 if kinds else 0


def main() -> int:
    """Keep or compare."""
    parser = argparse.ArgumentParser(description=__doc__)
    commands = parser.add_subparsers(required=True, dest="command")
    keeping = commands.add_parser("keep")
    keeping.add_argument("-o", "--out", type=Path, required=True)
    keeping.add_argument("--packages", type=Path, default=None, help="folder with case packages, looked through whole")
    keeping.add_argument("--vehicles", type=int, default=VEHICLES)
    comparing = commands.add_parser("compare")
    comparing.add_argument("old", type=Path)
    comparing.add_argument("new", type=Path)
    given = parser.parse_args()
    if given.command == "keep":
        return keep(given.out, given.packages, given.vehicles)
    return compare(given.old, given.new)


if __name__ == "__main__":
    sys.exit(main())
