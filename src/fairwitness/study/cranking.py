"""The cranking study: simulated captures with known answers, diagnosed from end to end."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterable
from dataclasses import dataclass

from fairwitness.core.diagnose import diagnose
from fairwitness.core.model.case import Case
from fairwitness.core.model.measurement import State
from fairwitness.core.reason.accusations import compared
from fairwitness.core.reason.verdict import Status
from fairwitness.simulate.population import known_case
from fairwitness.study.cores import all_cores

RIGHT_MIN, UNUSABLE_MIN, ACCUSED_MAX = 0.99, 0.95, 0.005
ILL = (State.LOW, State.ABSENT)


@dataclass(frozen=True, slots=True, kw_only=True)
class Outcome:
    """How one case went."""

    seed: int
    trap: str
    noise: str
    cylinders: int
    kind: str
    """healthy, ill, or unusable (the truth)."""
    called_usable: bool
    right: bool
    accused_healthy: bool


@dataclass(frozen=True, slots=True, kw_only=True)
class StudyResult:
    """Counts over the population."""

    outcomes: tuple[Outcome, ...]

    def share(self, kinds: Iterable[str], field: str) -> tuple[int, int]:
        """(hits, cases) of a flag over the given kinds of truth."""
        own = [o for o in self.outcomes if o.kind in tuple(kinds)]
        return sum(bool(getattr(o, field)) for o in own), len(own)

    @property
    def targets_met(self) -> bool:
        """Whether all three targets hold."""
        right, usable = self.share(("healthy", "ill"), "right")
        reported, unusable = self.share(("unusable",), "right")
        accused, healthy = self.share(("healthy",), "accused_healthy")
        return (
            right >= RIGHT_MIN * usable
            and reported >= UNUSABLE_MIN * unusable
            and accused <= ACCUSED_MAX * max(healthy, 1)
        )


def run(*, cases: int, seed: int, workers: int | None = None) -> StudyResult:
    """Simulate and diagnose a population on all cores.

    Parameters
    ----------
    cases : int
    seed : int
        First seed; each case has its own.
    workers : int, optional
        Processes; all cores if left out.

    Returns
    -------
    StudyResult
    """
    with all_cores(workers) as pool:
        return StudyResult(outcomes=tuple(pool.map(assess, range(seed, seed + cases), chunksize=8)))


def assess(seed: int) -> Outcome:
    """Simulate one case, diagnose it and compare with the truth.

    Parameters
    ----------
    seed : int

    Returns
    -------
    Outcome
    """
    known = known_case(seed)
    diagnosis = diagnose(Case(name="study", engine=known.engine, captures=(known.capture,)))
    measured = diagnosis.measured[0]
    kind = "unusable" if not known.usable else ("ill" if known.low else "healthy")
    named = {f.cylinder for f in measured.findings if f.state in ILL and compared(f) and f.cylinder is not None}
    open_between = {f.cylinder for f in measured.findings if f.state is State.ABNORMAL and compared(f)}
    whether = any(f.state in ILL and f.cylinder is None for f in measured.findings)
    accused = bool(diagnosis.verdict.status in (Status.SUSPECTED, Status.SUPPORTED) or named or open_between or whether)
    if kind == "unusable":
        right = not measured.usable
    elif not measured.usable:
        right = False
    elif measured.facts.get("assignment") == "synced":
        right = named == known.low
    elif open_between or named:
        right = known.low <= named | open_between and bool(known.low)
    else:
        right = whether == bool(known.low)
    return Outcome(
        seed=seed,
        trap=known.trap,
        noise=known.noise,
        cylinders=known.engine.cylinders,
        kind=kind,
        called_usable=measured.usable,
        right=right,
        accused_healthy=kind == "healthy" and measured.usable and accused,
    )


def report(result: StudyResult) -> str:
    """The figures as lines of text.

    Parameters
    ----------
    result : StudyResult

    Returns
    -------
    str
    """
    right, usable = result.share(("healthy", "ill"), "right")
    reported, unusable = result.share(("unusable",), "right")
    accused, healthy = result.share(("healthy",), "accused_healthy")
    lines = [
        f"{len(result.outcomes)} simulated cranking cases, 2 to 12 cylinders",
        f"right cylinder, usable captures     {right} of {usable}  {_percent(right, usable)}  target 99 % or more",
        f"unusable captures recognised        {reported} of {unusable}  {_percent(reported, unusable)}  target 95 % "
        f"or more",
        f"healthy engines accused       {accused} of {healthy}  {_percent(accused, healthy)}  target 0.5 % at most",
    ]
    wrong = [o for o in result.outcomes if not o.right]
    lines += [f"  wrong: seed {o.seed}, {o.kind}, {o.cylinders} cylinders, {o.noise}, trap {o.trap}" for o in wrong]
    traps = Counter(o.trap for o in result.outcomes)
    lines.append("traps: " + ", ".join(f"{trap} {count}" for trap, count in sorted(traps.items())))
    lines.append("targets met" if result.targets_met else "targets missed")
    return "\n".join(lines)


def _percent(part: int, whole: int) -> str:
    return f"{100 * part / whole:.1f} %" if whole else "none"
