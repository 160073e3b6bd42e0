"""How far to trust the tool: accuracy, calibration and minutes of a study of policies, with their uncertainty."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import asdict, dataclass
from typing import Any

import numpy as np
from numpy.typing import ArrayLike, NDArray

from fairwitness.core.messages.rendering import render
from fairwitness.core.reason.knowledge.faults import FAULTS
from fairwitness.core.reason.verdict import Status
from fairwitness.simulate.worlds.choices import HELD_OUT
from fairwitness.study.policies import PLAN, PolicyRun, Result

TARGETS: Mapping[str, Mapping[str, float]] = {
    "known": {"cylinder": 0.99, "cause": 0.98, "fault": 0.92, "calibration": 0.05, "wrong_established": 0.005,
              "healthy_accused": 0.005, "sound_accused": 0.01, "saved": 0.30},
    "left out": {"cylinder": 0.97, "cause": 0.97, "fault": 0.90, "calibration": 0.03, "wrong_established": 0.003,
                 "healthy_accused": 0.005, "sound_accused": 0.01, "saved": 0.30},
}  # fmt: skip
"""Of the world the simulator grew up in, and of worlds that nothing was fitted on."""
TRUSTED = 0.995
"""How often what is called established has to be right."""
BINS = 10
RESAMPLES = 2000
Z95 = 1.959964


@dataclass(frozen=True, slots=True)
class Share:
    """Hits out of cases, with a 95 % interval.

    References
    ----------
    Wilson score interval: Wilson, JASA 22 (1927) [P].
    """

    hits: int
    count: int

    @property
    def value(self) -> float:
        """Hits over cases; NaN without cases."""
        return self.hits / self.count if self.count else float("nan")

    @property
    def interval(self) -> tuple[float, float]:
        """Lower and upper bound."""
        if not self.count:
            return 0.0, 1.0
        p, n = self.value, self.count
        middle = p + Z95**2 / (2 * n)
        half = Z95 * np.sqrt(p * (1 - p) / n + Z95**2 / (4 * n**2))
        return float((middle - half) / (1 + Z95**2 / n)), float((middle + half) / (1 + Z95**2 / n))

    def document(self) -> dict[str, Any]:
        """As plain data."""
        low, high = self.interval
        return {"hits": self.hits, "count": self.count, "share": None if not self.count else round(self.value, 4),
                "low": round(low, 4), "high": round(high, 4)}  # fmt: skip


@dataclass(frozen=True, slots=True, kw_only=True)
class Bin:
    """Vehicles whose leading cause was given about the same probability."""

    low: float
    high: float
    claimed: float
    right: float
    count: int


def runs_of(results: Sequence[Result], policy: str) -> list[tuple[Result, PolicyRun]]:
    """Every run of a policy with its vehicle."""
    return [(r, run) for r in results for run in r.policy_runs if run.policy == policy]


def share(policy_runs: Sequence[tuple[Result, PolicyRun]], hit: Callable[[PolicyRun], bool]) -> Share:
    """How many runs hit."""
    return Share(sum(hit(run) for _, run in policy_runs), len(policy_runs))


def calibration(policy_runs: Sequence[tuple[Result, PolicyRun]]) -> tuple[tuple[Bin, ...], float]:
    """Bins of what was claimed and what was right, and the expected calibration error.

    Returns
    -------
    (bins, error) : tuple of Bin, float

    References
    ----------
    Naeini, Cooper, Hauskrecht, AAAI 2015: expected calibration error over equal bins [P].
    """
    claimed = np.array([run.lead_probability for _, run in policy_runs])
    right = np.array([run.lead_right for _, run in policy_runs], dtype=np.float64)
    edges = np.linspace(0, 1, BINS + 1)
    at = np.clip(np.digitize(claimed, edges) - 1, 0, BINS - 1)
    bins, error = [], 0.0
    for i in range(BINS):
        own = at == i
        count = int(own.sum())
        if count:
            said, was = float(claimed[own].mean()), float(right[own].mean())
            bins.append(Bin(low=float(edges[i]), high=float(edges[i + 1]), claimed=round(said, 4), right=round(was, 4),
                            count=count))  # fmt: skip
            error += count / len(policy_runs) * abs(said - was)
    return tuple(bins), error


def trusted_from(policy_runs: Sequence[tuple[Result, PolicyRun]]) -> float | None:
    """The lowest chance from which on, in all vehicles given that much or more, what was named was right often enough.

    Returns
    -------
    float or None
        None where no chance was high enough.
    """
    named = sorted(((run.probability, run.claims_hold) for _, run in policy_runs if run.blames), reverse=True)
    lowest, right = None, 0
    for count, (chance, holds) in enumerate(named, start=1):
        right += holds
        if right >= TRUSTED * count:
            lowest = chance
    return lowest


def per_right(policy_runs: Sequence[tuple[Result, PolicyRun]]) -> float:
    """Minutes spent for each vehicle told right: a policy pays for the ones it gets wrong, too."""
    reported = sum(run.right for _, run in policy_runs)
    return sum(run.minutes for _, run in policy_runs) / reported if reported else float("inf")


def interval_of(
    values: ArrayLike, statistic: Callable[[NDArray[np.float64]], float], *, seed: int = 1, digits: int = 2
) -> list[float]:
    """95 % interval by resampling the vehicles.

    References
    ----------
    Efron, Annals of Statistics 7 (1979): bootstrap [P].
    """
    rng = np.random.default_rng(seed)
    held = np.asarray(values, dtype=np.float64)
    if not held.size:
        return [float("nan")] * 2
    drawn = [statistic(held[rng.integers(0, held.shape[0], held.shape[0])]) for _ in range(RESAMPLES)]
    return [round(float(v), digits) for v in np.percentile(drawn, (2.5, 97.5))]


def summary(results: Sequence[Result]) -> dict[str, Any]:
    """Everything the page and the report show.

    Parameters
    ----------
    results : sequence of Result
        Every vehicle under the plan, some of them under the fixed orders too.

    Returns
    -------
    dict
        JSON-ready.
    """
    planned = runs_of(results, PLAN)
    sound = [(r, run) for r, run in planned if not r.faults]
    bins, error = calibration(planned)
    reported = [(r, run) for r, run in planned if run.tellable]
    visible = [(r, run) for r, run in planned if run.visible]
    figures = {
        "cylinder": share(planned, lambda run: run.cylinder_right),
        "cause": share(planned, lambda run: run.cause_right),
        "cylinder_visible": share(visible, lambda run: run.cylinder_right),
        "cause_visible": share(visible, lambda run: run.cause_right),
        "fault": share(reported, lambda run: run.fault_right),
        "established": share(planned, lambda run: run.status == Status.ESTABLISHED.value),
        "wrong_established": share(planned, lambda run: run.status == Status.ESTABLISHED.value and not run.claims_hold),
        "healthy_accused": share(sound, lambda run: run.accused),
        "sound_accused": share(planned, lambda run: run.accused),
    }
    worlds = "left out" if any(r.left_out for r in results) else "known"
    return {
        "worlds": worlds,
        "vehicles": len(results),
        "figures": {name: s.document() for name, s in figures.items()},
        "targets": dict(TARGETS[worlds]),
        "trusted_from": trusted_from(planned),
        "combinations": _combinations(planned) if worlds == "left out" else [],
        "calibration": {"bins": [asdict(b) for b in bins], "error": round(error, 4)},
        **_minutes(results),
        "faults": _by(planned, lambda r: " + ".join(r.faults) or "none", at_least=2),
        "levels": _by(planned, lambda r: r.level, at_least=1),
        "engines": _by(planned, lambda r: r.engine, at_least=1),
    }


def _minutes(results: Sequence[Result]) -> dict[str, Any]:
    """Policies beside each other, on the vehicles that rode under all of them."""
    names = list(dict.fromkeys(run.policy for r in results for run in r.policy_runs))
    both = [r for r in results if {run.policy for run in r.policy_runs} == set(names)]
    policies: list[dict[str, Any]] = []
    for name in names:
        policy_runs = runs_of(both, name)
        minutes = [run.minutes for _, run in policy_runs]
        policies.append(
            {
                "policy": name,
                "vehicles": len(policy_runs),
                "right": share(policy_runs, lambda run: run.right).document(),
                "minutes": round(float(np.mean(minutes)), 1) if minutes else None,
                "interval": interval_of(minutes, lambda v: float(v.mean())),
                "per_right": round(per_right(policy_runs), 1) if policy_runs else None,
                "tests": round(float(np.mean([len(run.tests) for _, run in policy_runs])), 1) if policy_runs else None,
            }
        )
    fixed = [p for p in policies if p["policy"] != PLAN and p["per_right"]]
    if len(policies) < 2 or not fixed:
        return {"policies": policies, "saved": None}
    best = min(fixed, key=lambda p: float(p["per_right"]))
    pairs = np.array([
        [next(x for x in r.policy_runs if x.policy == name).minutes for name in (PLAN, best["policy"])] for r in both
    ])  # fmt: skip
    reported = [[share(runs_of(both, n), lambda x: x.right).hits] for n in (PLAN, best["policy"])]
    ratio = float(pairs[:, 0].sum() / max(reported[0][0], 1) / (pairs[:, 1].sum() / max(reported[1][0], 1)))
    return {
        "policies": policies,
        "saved": {
            "beside": best["policy"],
            "share": round(1 - ratio, 4),
            "interval": interval_of(pairs, lambda v: float(1 - v[:, 0].sum() / v[:, 1].sum())),
        },
    }


def _by(
    policy_runs: Sequence[tuple[Result, PolicyRun]], key: Callable[[Result], str], *, at_least: int
) -> list[dict[str, Any]]:
    groups: dict[str, list[tuple[Result, PolicyRun]]] = {}
    for r, run in policy_runs:
        groups.setdefault(key(r), []).append((r, run))
    return [
        {
            "name": name,
            "words": render(FAULTS[name].words) if name in FAULTS else name.replace("_", " "),
            "vehicles": len(own),
            "cylinder": sum(x.cylinder_right for _, x in own),
            "cause": sum(x.cause_right for _, x in own),
            "fault": sum(x.fault_right or not x.tellable for _, x in own),
            "minutes": round(float(np.mean([x.minutes for _, x in own])), 1),
        }
        for name, own in sorted(groups.items(), key=lambda item: -len(item[1]))
        if len(own) >= at_least
    ]


def _combinations(policy_runs: Sequence[tuple[Result, PolicyRun]]) -> list[dict[str, Any]]:
    """Vehicles of each combination that was left out, with what it is."""
    return [
        {**group, "words": ", ".join(f"{question} {answer}" for question, answer in HELD_OUT[group["name"]])}
        for group in _by(policy_runs, lambda r: r.left_out, at_least=1)
    ]


def targets_met(reported: dict[str, Any]) -> dict[str, bool]:
    """Which targets a summary meets."""
    figures, targets = reported["figures"], reported["targets"]
    met = {name: (figures[name]["share"] or 0) >= targets[name] for name in ("cylinder", "cause", "fault")}
    met["calibration"] = reported["calibration"]["error"] <= targets["calibration"]
    for name in ("wrong_established", "healthy_accused", "sound_accused"):
        met[name] = (figures[name]["share"] or 0) <= targets[name]
    if reported["saved"]:
        best = next(p for p in reported["policies"] if p["policy"] == reported["saved"]["beside"])
        plan = next(p for p in reported["policies"] if p["policy"] == PLAN)
        met["saved"] = reported["saved"]["share"] >= targets["saved"] and plan["right"]["hits"] >= best["right"]["hits"]
    return met


def report(reported: dict[str, Any]) -> str:
    """A summary as lines of text."""
    where = "in worlds that nothing was fitted on" if reported["worlds"] == "left out" else "in the known world"
    lines = [f"{reported['vehicles']} simulated vehicles {where}, tests chosen by the plan until there was an answer"]
    for name, f in reported["figures"].items():
        percent = "" if f["share"] is None else f" = {100 * f['share']:.1f} %"
        lines.append(f"{name.replace('_', ' '):20}{f['hits']} of {f['count']}{percent}"
                     f"  (95 %: {100 * f['low']:.1f} to {100 * f['high']:.1f} %)")  # fmt: skip
    lines.append(f"{'calibration error':20}{reported['calibration']['error']:.3f}")
    if reported["trusted_from"] is not None:
        lines.append(
            f"what was named was right in {100 * TRUSTED:.1f} % from {100 * reported['trusted_from']:.1f} % on"
        )
    for b in reported["calibration"]["bins"]:
        lines.append(f"    said {100 * b['claimed']:5.1f} %, right {100 * b['right']:5.1f} %, {b['count']} vehicles")
    for p in reported["policies"]:
        if p["minutes"] is not None:
            lines.append(
                f"{p['policy']:20}{p['minutes']:.1f} min a vehicle ({p['interval'][0]:.1f} to {p['interval'][1]:.1f}), "
                f"{p['per_right']:.1f} min a right answer, right {p['right']['hits']} of {p['vehicles']}, "
                f"{p['tests']:.1f} tests"
            )
    if reported["saved"]:
        s = reported["saved"]
        lines.append(f"the plan needs {100 * s['share']:.0f} % fewer minutes a right answer than {s['beside']}")
    for c in reported["combinations"]:
        right = ", ".join(f"{name} {c[name]}" for name in ("cylinder", "cause", "fault"))
        lines.append(f"  without {c['name']:12}{right} of {c['vehicles']}")
    missed = [name for name, ok in targets_met(reported).items() if not ok]
    for f in reported["faults"]:
        lost = f["vehicles"] - min(f["cylinder"], f["cause"], f["fault"])
        if lost:
            lines.append(f"  {f['words']}: {lost} of {f['vehicles']} not right")
    lines.append("targets met" if not missed else f"targets missed: {', '.join(missed)}")
    return "\n".join(lines)
