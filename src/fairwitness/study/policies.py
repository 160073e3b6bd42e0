"""The study of policies: simulated vehicles, tests chosen by the plan or in a fixed order, until there is an answer."""

from __future__ import annotations

from collections.abc import Callable, Collection, Iterator, Mapping, Sequence
from dataclasses import asdict, dataclass
from functools import partial
from pathlib import Path
from typing import Any

from fairwitness.core.diagnose import Diagnosis, conclude
from fairwitness.core.model.engine import Engine
from fairwitness.core.model.measurement import Measured
from fairwitness.core.model.tools import Turning
from fairwitness.core.procedures.safety import barred
from fairwitness.core.procedures.spec import Offer
from fairwitness.core.procedures.specs import OFFERS
from fairwitness.core.reason.knowledge.densities import SHIPPED, Densities
from fairwitness.core.reason.knowledge.fault_spec import Cause
from fairwitness.core.reason.knowledge.faults import FAULTS, NO_FAULT
from fairwitness.core.reason.learned import NOTHING_LEARNED, ShopKnowledge
from fairwitness.core.reason.planning.approach import READY, Approach, Bay, School
from fairwitness.core.reason.planning.minutes import minutes_of
from fairwitness.core.reason.verdict import Status
from fairwitness.simulate.health import Condition, Fault, reach
from fairwitness.study.causes import alike, unseen
from fairwitness.study.fitting.pool import densities_without
from fairwitness.study.population import Population, combination_of, vehicle_of
from fairwitness.study.spread import spread
from fairwitness.study.visit import Visit, asks_for_longer

PLAN = "plan"
MINUTES_MOST = 180.0
"""Nobody pays for more in one visit."""
BLAMING = (Status.SUSPECTED, Status.SUPPORTED, Status.ESTABLISHED)
_MECHANICS = ("relative_compression", "crankcase_pulse", "intake_pulse", "vacuum", "leak_down", "cylinder_pressure")
_WORK = ("crank_speed", "exhaust_pulse")
_SPARK = ("secondary_voltage", "coil_current", "coil_control")
_FUEL = ("injector_current", "injector_voltage", "fuel_trim", "fuel_pressure", "delivery")
_PARTS = tuple(o.id for o in OFFERS.values() if o.kind and o.per_cylinder and not o.mechanical)
FIXED: Mapping[str, tuple[str, ...]] = {
    "mechanical first": ("relative_compression", *_WORK[:1], *_MECHANICS[1:], *_SPARK, *_FUEL, *_WORK[1:], *_PARTS),
    "codes first": ("misfire_counts", *_WORK[:1], *_SPARK, *_FUEL, *_PARTS, *_MECHANICS, *_WORK[1:]),
    "quickest first": tuple(sorted(OFFERS, key=lambda name: OFFERS[name].minutes)),
}
"""Orders a technician might follow whatever comes out. A test of one part is done only on an accused cylinder, one that
cannot show what is still open is passed over as soon as the cause is clear: nobody measures coils on a dead hole."""


@dataclass(frozen=True, slots=True, kw_only=True)
class PolicyRun:
    """How one vehicle went under one policy."""

    policy: str
    minutes: float
    tests: tuple[str, ...]
    status: str
    probability: float
    top_probability: float
    cylinder_right: bool
    cause_right: bool
    fault_right: bool
    tellable: bool
    """The tests taken can tell the true fault from the one that leads."""
    visible: bool
    """The tests taken cannot all come out as on a sound engine, for any of its faults that was not found."""
    claims_hold: bool
    """Every cylinder, cause and fault that was named is really ill, even where another was not found."""
    accused: bool
    """Somebody sound was named."""
    top: str
    lead_probability: float
    """Of the cause that leads, none included."""
    lead_right: bool

    @property
    def blames(self) -> bool:
        """Somebody was named."""
        return self.status in {s.value for s in BLAMING}

    @property
    def right(self) -> bool:
        """Cylinder and cause."""
        return self.cylinder_right and self.cause_right


@dataclass(frozen=True, slots=True, kw_only=True)
class Result:
    """One vehicle under all policies."""

    seed: int
    engine: str
    level: str
    faults: tuple[str, ...]
    condition: str
    policy_runs: tuple[PolicyRun, ...]
    left_out: str = ""
    """Combination of alternatives that nothing was fitted on; empty for the known world."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Under:
    """What a study is done under.

    Parameters
    ----------
    population : Population
    densities_in : Path or None
        Folder of the fits that never met what is left out; None: what the product ships.
    """

    population: Population = Population.KNOWN
    densities_in: Path | None = None

    def densities(self, seed: int) -> Densities:
        """What readings of a vehicle weigh."""
        if self.densities_in is None:
            return SHIPPED
        return densities_without(self.densities_in, combination_of(seed))


AS_SHIPPED = Under()
AGAIN = ", again"
Chooser = Callable[[Diagnosis, Sequence[str], Bay], tuple[Offer, tuple[int, ...]] | None]


@dataclass(frozen=True, slots=True, kw_only=True)
class Way:
    """What was done to one vehicle, and what was said in the end."""

    reported: Diagnosis
    minutes: float
    taken: tuple[str, ...]


def to_the_end(
    visit: Visit, densities: Densities, shop: ShopKnowledge = NOTHING_LEARNED, choose: Chooser | None = None
) -> Way:
    """Take test after test until there is an answer, nothing is left to ask, or nobody pays for more.

    Parameters
    ----------
    visit : Visit
    densities : Densities
    shop : ShopKnowledge
    choose : callable, optional
        Who chooses the next test; the plan if left out.

    Returns
    -------
    Way
    """
    choose = choose or _by_plan
    approach = Approach(order=School.MECHANICAL_FIRST)
    reason = partial(conclude, visit.case(), approach=approach, densities=densities, shop=shop)
    measured: list[Measured] = []
    taken: list[str] = []
    minutes, bay = 0.0, READY
    reported = reason((), bay=bay)
    while minutes < MINUTES_MOST and not reported.plan.done:
        chosen = choose(reported, taken, bay)
        if chosen is None:
            break
        test, scope = chosen
        minutes += minutes_of(test, scope, approach, bay)
        accused, name = reported.verdict.cylinders, _name(test, scope)
        again = name in taken
        found = visit.take(test, scope, accused, again=again)
        taken.append(f"{name}{AGAIN}" if again else name)
        bay = Bay(connected=frozenset(test.needs), fuel_disabled=_fuel_off(test, bay))
        if asks_for_longer(found):  # done once more, as the refusal says, with everything connected
            minutes += minutes_of(test, scope, approach, bay)
            found += visit.take(test, scope, accused, longer=True, again=again)
        measured += found
        reported = reason(tuple(measured), bay=bay)
    return Way(reported=reported, minutes=minutes, taken=tuple(taken))


def assess(seed: int, policies: Sequence[str], under: Under = AS_SHIPPED) -> Result:
    """One vehicle under some policies; measurements are shared between them.

    Parameters
    ----------
    seed : int
    policies : sequence of str
        ``plan`` and names of ``FIXED``.
    under : Under

    Returns
    -------
    Result
    """
    visit, faults, name = vehicle_of(seed, under.population)
    densities = under.densities(seed)
    policy_runs = tuple(_policy_run(visit, faults, policy, densities) for policy in policies)
    return Result(
        seed=seed,
        engine=name,
        level=visit.level,
        faults=tuple(sorted({f.fault for f in faults})),
        condition=faults[0].condition.value if faults else "",
        policy_runs=policy_runs,
        left_out=combination_of(seed) if under.population is Population.LEFT_OUT else "",
    )


def run(
    seeds: Sequence[int],
    *,
    compared: int,
    under: Under = AS_SHIPPED,
    known: Collection[int] = (),
    workers: int | None = None,
    scheduler: str | None = None,
) -> Iterator[Result]:
    """A population, in whatever order its vehicles are finished.

    Parameters
    ----------
    seeds : sequence of int
    compared : int
        So many of the first ones also follow the fixed orders.
    under : Under
    known : collection of int
        Seeds that are done already.
    workers : int, optional
    scheduler : str, optional
        Address of a running Dask scheduler.

    Yields
    ------
    Result
    """
    among = set(seeds[:compared])
    for group, followed in ((True, (PLAN, *FIXED)), (False, (PLAN,))):
        waiting = [seed for seed in seeds if seed not in known and (seed in among) is group]
        work = partial(assess, policies=followed, under=under)
        yield from spread(work, waiting, workers=workers, scheduler=scheduler)


def _policy_run(visit: Visit, faults: tuple[Fault, ...], policy: str, densities: Densities) -> PolicyRun:
    choose = None if policy == PLAN else _in_order(FIXED[policy], visit.engine)
    way = to_the_end(visit, densities, choose=choose)
    return _judged(visit.engine, faults, policy, way.reported, way.minutes, way.taken)


def _fuel_off(test: Offer, bay: Bay) -> bool:
    if test.turning is Turning.STILL:
        return bay.fuel_disabled
    return test.turning is Turning.CRANKING


def _by_plan(reported: Diagnosis, taken: Sequence[str], bay: Bay) -> tuple[Offer, tuple[int, ...]] | None:
    """The first offer that was not tried in vain before."""
    for offer in reported.plan.offers:
        name = _name(OFFERS[offer.id], offer.cylinders)
        if name not in taken or (offer.again and f"{name}{AGAIN}" not in taken):
            return OFFERS[offer.id], offer.cylinders
    return None


def _name(test: Offer, scope: Sequence[int]) -> str:
    return f"{test.id}@{','.join(map(str, scope))}" if test.per_cylinder else test.id


def _in_order(order: Sequence[str], engine: Engine) -> Chooser:
    def choose(reported: Diagnosis, taken: Sequence[str], bay: Bay) -> tuple[Offer, tuple[int, ...]] | None:
        offered = {offer.id: offer for offer in reported.plan.offers}
        for name in order:
            test = OFFERS[name]
            if barred(test, engine) is not None:
                continue
            scope = reported.verdict.cylinders[:2] if test.per_cylinder else ()
            if test.per_cylinder and not scope:
                continue
            label = f"{name}@{','.join(map(str, scope))}" if test.per_cylinder else name
            if label not in taken and (name in offered or not reported.verdict.cylinders):
                return test, scope
        return None

    return choose


def _judged(
    engine: Engine, faults: tuple[Fault, ...], policy: str, reported: Diagnosis, minutes: float, taken: tuple[str, ...]
) -> PolicyRun:
    verdict, top = reported.verdict, reported.posterior.hypotheses[0]
    ill = {c for f in faults for c in reach(f, engine)}
    names = {f.fault for f in faults}
    blamed = verdict.status in BLAMING
    found = {p.fault for p in top.placed}
    causes = {FAULTS[name].cause for name in names}
    sound = not faults
    lead = max(Cause, key=reported.posterior.of_cause)
    same = (found == names) if names else top.fault == NO_FAULT
    like = len(names) == 1 and all(alike(next(iter(names)), f, reported.measured) for f in found) and bool(found)
    return PolicyRun(
        policy=policy,
        minutes=round(minutes, 1),
        tests=taken,
        status=verdict.status.value,
        probability=verdict.probability,
        top_probability=round(float(reported.posterior.probabilities[0]), 4),
        cylinder_right=not blamed if sound else set(verdict.cylinders) == ill,
        cause_right=not blamed if sound else blamed and verdict.cause in causes,
        fault_right=not blamed if sound else same,
        tellable=sound or same or not like,
        visible=not any(
            unseen(
                f.fault,
                reported.measured,
                everywhere=len(reach(f, engine)) == engine.cylinders,
                seldom=f.condition is not Condition.ALWAYS,
            )
            for f in faults
            if f.fault not in found
        ),
        claims_hold=not blamed or (set(verdict.cylinders) <= ill and set(verdict.faults) <= names),
        accused=blamed and bool(set(verdict.cylinders) - ill),
        top="+".join(sorted(found)) or top.fault,
        lead_probability=round(reported.posterior.of_cause(lead), 4),
        lead_right=lead is Cause.NONE if sound else lead in causes,
    )


def as_json(result: Result) -> dict[str, Any]:
    """A result as plain data, for a file that a broken run goes on from."""
    return asdict(result)


def from_json(data: Mapping[str, Any]) -> Result:
    """Read what ``as_json`` wrote."""
    policy_runs = tuple(PolicyRun(**{**run, "tests": tuple(run["tests"])}) for run in data["policy_runs"])
    return Result(**{**data, "faults": tuple(data["faults"]), "policy_runs": policy_runs})
