"""Vehicles that are repaired, or have a part changed over, and measured again: whether what is said of it is so.

Each vehicle is simulated before and after; the part fitted is right, wrong, bad out of its box, or right with a plug
that stayed wet. Nothing but the captures of both states goes to the diagnosis.
"""

from __future__ import annotations

from collections import Counter
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from enum import StrEnum

import numpy as np

from fairwitness.core.diagnose import Diagnosis, diagnose
from fairwitness.core.model.capture import Capture, CaptureTest
from fairwitness.core.model.case import Case
from fairwitness.core.model.engine import Engine, Ignition
from fairwitness.core.model.phase import SWAPPED_PARTS, PartState, Phase, PhaseKind
from fairwitness.core.reason.knowledge.faults import FAULTS
from fairwitness.core.reason.phases.change_over import Went
from fairwitness.core.reason.phases.repair_proof import ProofStatus
from fairwitness.simulate.examine import captures_of, with_known_good
from fairwitness.simulate.garage import ENGINES, build
from fairwitness.simulate.health import Fault
from fairwitness.simulate.vehicle import Vehicle
from fairwitness.simulate.worlds.choices import HELD_OUT, draw_world
from fairwitness.study.cores import all_cores
from fairwitness.study.population import combination_of

FAULTS_OF: Mapping[str, tuple[str, ...]] = {
    "coil": ("coil_output_dead", "coil_secondary_shorted", "coil_primary_open"),
    "plug": ("plug_gap_wide", "plug_shorted", "plug_tracking"),
    "lead": ("secondary_open", "secondary_high_resistance"),
    "injector": ("injector_open_circuit", "injector_shorted", "injector_stuck_closed", "injector_restricted"),
    "valves": ("intake_valve_leak", "exhaust_valve_leak"),
    "rings": ("ring_or_piston_leak",),
}
"""Faults a part may have, whole or when it is new."""
SPARK = (CaptureTest.SECONDARY_VOLTAGE, CaptureTest.COIL_CURRENT)
TESTS_OF: Mapping[str, tuple[CaptureTest, ...]] = {
    "coil": SPARK,
    "plug": SPARK[:1],
    "lead": SPARK[:1],
    "injector": (CaptureTest.INJECTOR_CURRENT,),
    "valves": (CaptureTest.RELATIVE_COMPRESSION,),
    "rings": (CaptureTest.RELATIVE_COMPRESSION,),
}
"""What is taken beside crank speed before the part is called."""
LEVELS = ("clean", "workshop", "workshop", "hostile")
SEVERITY = (0.5, 1.0)
AGAIN_MOST = 4
"""How often one takes once more what is asked for."""
PROOF_WANTED, WRONG_PROVEN_MOST, SWAP_WANTED = 0.98, 0.005, 0.97


class Fitted(StrEnum):
    """What was done to a vehicle."""

    RIGHT = "right part"
    WRONG = "wrong part"
    BAD_NEW = "bad new part"
    WET = "right part, plug wet"
    SWAP_RIGHT = "the bad part changed over"
    SWAP_OTHER = "a sound part changed over"


NAMED_THEN_PROVEN = "wet plug named, then proven"
REPAIRS = (Fitted.RIGHT, Fitted.WRONG, Fitted.BAD_NEW, Fitted.WET)
SWAPS = (Fitted.SWAP_RIGHT, Fitted.SWAP_OTHER)
SAYS: Mapping[Fitted, tuple[str, ...]] = {
    Fitted.RIGHT: (ProofStatus.PROVEN,),
    Fitted.WRONG: (ProofStatus.NOT_CURED,),
    Fitted.BAD_NEW: (ProofStatus.NOT_CURED, ProofStatus.BETTER),
    Fitted.WET: (NAMED_THEN_PROVEN,),
    Fitted.SWAP_RIGHT: (Went.MOVED,),
    Fitted.SWAP_OTHER: (Went.STAYED,),
}
"""What the diagnosis should say."""


@dataclass(frozen=True, slots=True, kw_only=True)
class LifeOutcome:
    """How one vehicle went.

    Parameters
    ----------
    shown : bool
        A test showed the trouble before anything was done: only then can one show that it is gone, or went along.
    said : str
    """

    seed: int
    engine: str
    level: str
    fault: str
    fitted: Fitted
    shown: bool
    said: str

    @property
    def right(self) -> bool:
        """What was said is so."""
        return self.said in SAYS[self.fitted]


def run(*, cases: int, seed: int, workers: int | None = None) -> tuple[LifeOutcome, ...]:
    """Repair so many vehicles, and change parts over on as many others, on all cores."""
    work = [(seed + i, REPAIRS[i % 4]) for i in range(cases)] + [(seed + cases + i, SWAPS[i % 2]) for i in range(cases)]
    with all_cores(workers) as pool:
        return tuple(pool.map(assess, *zip(*work, strict=True), chunksize=4))


def assess(seed: int, fitted: Fitted) -> LifeOutcome:
    """Simulate one vehicle before and after, and ask what is said of what was done.

    Parameters
    ----------
    seed : int
    fitted : Fitted

    Returns
    -------
    LifeOutcome
    """
    rng = np.random.default_rng((20_26, 23, seed))
    possible = [name for name, engine in ENGINES.items() if _allowed(engine, fitted)]
    name, level = str(rng.choice(possible)), str(rng.choice(LEVELS))
    part = str(rng.choice(_allowed(ENGINES[name], fitted)))
    fault = str(rng.choice(_possible(part, ENGINES[name])))
    cylinder = int(rng.choice(ENGINES[name].firing_order))
    world = draw_world(np.random.default_rng((20_26, 15, seed)), always=HELD_OUT[combination_of(seed)])
    ill = Fault(fault, (cylinder,), round(float(rng.uniform(*SEVERITY)), 2))
    vehicle = build(ENGINES[name], (ill,), rng=rng, world=world)
    other = int(rng.choice([c for c in vehicle.engine.firing_order if c != cylinder]))
    done, after = _done(part, ill, other, fitted, vehicle.engine, rng)
    repaired = replace(vehicle, faults=after)
    dried = replace(vehicle, faults=()) if fitted is Fitted.WET else repaired
    life = _Life(vehicle, repaired, dried, level, cylinder, done)
    diagnosis = life.lived((CaptureTest.CRANK_SPEED, *TESTS_OF[part]), rng)
    if fitted in SWAPS:
        looked = diagnosis.changed_over[0]
        shown, said = bool(looked.tests), looked.went.value
    else:
        proof = diagnosis.repairs[-1]
        shown, said = bool(proof.wanted), proof.status.value
        if fitted is Fitted.WET and said == ProofStatus.PROVEN and diagnosis.repairs[0].status is ProofStatus.WET_PLUG:
            said = NAMED_THEN_PROVEN
    return LifeOutcome(seed=seed, engine=name, level=level, fault=fault, fitted=fitted, shown=shown, said=said)


@dataclass(frozen=True, slots=True)
class _Life:
    """One vehicle before, after, and with its plug dried; and what was done to it."""

    before: Vehicle
    after: Vehicle
    dried: Vehicle
    level: str
    cylinder: int
    done: Phase

    def lived(self, tests: Sequence[CaptureTest], rng: np.random.Generator) -> Diagnosis:
        """Take the tests in both states, and what the diagnosis then still asks for."""
        phases = [self.done]
        captures = [*self._taken(tests, rng, phase=0), *self._taken(tests, rng, phase=1)]
        for again in range(AGAIN_MOST):
            diagnosis = diagnose(self._case(captures, phases))
            asked = [t for proof in diagnosis.repairs[-1:] for t in proof.missing if t in set(CaptureTest)]
            for looked in diagnosis.changed_over:
                asked += looked.tests if looked.went is Went.OPEN else ()
            if diagnosis.repairs and diagnosis.repairs[-1].status is ProofStatus.WET_PLUG:
                asked.append(CaptureTest.CRANK_SPEED)
                phases.append(replace(self.done, number=2, part="plug", fitted=PartState.REWORKED))
            if not asked:
                return diagnosis
            captures += self._taken([CaptureTest(t) for t in asked], rng, phase=len(phases), turn=again + 1)
        return diagnose(self._case(captures, phases))

    def _case(self, captures: Sequence[Capture], phases: Sequence[Phase]) -> Case:
        engine = with_known_good(self.before)
        return Case(name="life", engine=engine, captures=tuple(captures), phases=tuple(phases))

    def _taken(
        self, tests: Sequence[CaptureTest], rng: np.random.Generator, *, phase: int, turn: int = 0
    ) -> list[Capture]:
        kept = []
        vehicle = (self.before, self.after, self.dried)[min(phase, 2)]
        if turn:  # who is asked once more takes the time the card asks for
            vehicle = replace(vehicle, habit=replace(vehicle.habit, cycles=0.0))
        for test in tests:
            for n, c in enumerate(captures_of(vehicle, test, level=self.level, rng=rng, suspects=(self.cylinder,))):
                name = f"{test.value}-{n}-{phase}-{turn}"
                kept.append(replace(c, name=name, set_up=replace(c.set_up, phase=phase)))
        return kept


def _allowed(engine: Engine, fitted: Fitted) -> list[str]:
    """Parts that can be bad on this engine, alone, and for which this can be done."""
    sparks = engine.ignition is not Ignition.COMPRESSION_IGNITION
    return [
        part
        for part in FAULTS_OF
        if _possible(part, engine)
        and not (part == "coil" and engine.ignition is not Ignition.COIL_ON_PLUG)
        and not (fitted in SWAPS and part not in SWAPPED_PARTS)
        and not (fitted is Fitted.WET and not (sparks and part in ("coil", "lead", "injector")))
    ]


def _done(
    part: str, ill: Fault, other: int, fitted: Fitted, engine: Engine, rng: np.random.Generator
) -> tuple[Phase, tuple[Fault, ...]]:
    """What is written down, and what the vehicle has afterwards."""
    (cylinder,) = ill.cylinders
    wrong = _another(part, engine, rng, among=SWAPPED_PARTS)
    if fitted in SWAPS:
        moved = fitted is Fitted.SWAP_RIGHT
        phase = Phase(number=1, kind=PhaseKind.CHANGED_OVER, part=part if moved else wrong, cylinders=(cylinder, other))
        return phase, (replace(ill, cylinders=(other,)) if moved else ill,)
    after: tuple[Fault, ...] = {
        Fitted.RIGHT: (),
        Fitted.WRONG: (ill,),
        Fitted.BAD_NEW: (replace(ill, fault=str(rng.choice(_possible(part, engine)))),),
        Fitted.WET: (Fault("plug_shorted", (cylinder,), round(float(rng.uniform(0.6, 1.0)), 2)),),
    }[fitted]
    called = wrong if fitted is Fitted.WRONG else part
    phase = Phase(number=1, kind=PhaseKind.AFTER_REPAIR, part=called, cylinders=(cylinder,), fitted=PartState.NEW)
    return phase, after


def _possible(part: str, engine: Engine) -> list[str]:
    return [f for f in FAULTS_OF[part] if FAULTS[f].possible(engine)]


def _another(part: str, engine: Engine, rng: np.random.Generator, *, among: Sequence[str]) -> str:
    others = [p for p in among if p != part and (_possible(p, engine) or p == "injector")]
    return str(rng.choice(others)) if others else "injector"


def targets_met(outcomes: Sequence[LifeOutcome]) -> bool:
    """All three: proofs right, nothing proven on a wrong part, change-overs right."""
    shown = [o for o in outcomes if o.shown]
    repairs, swaps = ([o for o in shown if o.fitted in kinds] for kinds in (REPAIRS, SWAPS))
    return (
        _share(repairs) >= PROOF_WANTED
        and _proven_wrongly(repairs) <= WRONG_PROVEN_MOST
        and _share(swaps) >= SWAP_WANTED
    )


def _share(outcomes: Sequence[LifeOutcome]) -> float:
    return sum(o.right for o in outcomes) / max(len(outcomes), 1)


def _proven_wrongly(outcomes: Sequence[LifeOutcome]) -> float:
    not_cured = [o for o in outcomes if o.fitted is not Fitted.RIGHT]
    return sum(o.said == ProofStatus.PROVEN.value for o in not_cured) / max(len(not_cured), 1)


def report(outcomes: Sequence[LifeOutcome]) -> str:
    """Figures by what was done, then every miss."""
    shown = [o for o in outcomes if o.shown]
    repairs, swaps = ([o for o in shown if o.fitted in kinds] for kinds in (REPAIRS, SWAPS))
    lines = [
        f"{len(outcomes)} vehicles of worlds nothing was fitted on; {len(outcomes) - len(shown)} of them showed no "
        "trouble in the tests taken before, and are not counted below",
        f"proof says what is so      {_share(repairs):.1%} of {len(repairs)} (wanted {PROOF_WANTED:.0%})",
        f"proven and not cured       {_proven_wrongly(repairs):.1%} (at most {WRONG_PROVEN_MOST:.1%})",
        f"change-over says what is so {_share(swaps):.1%} of {len(swaps)} (wanted {SWAP_WANTED:.0%})",
        "",
    ]
    for fitted in Fitted:
        own = [o for o in shown if o.fitted is fitted]
        said = ", ".join(f"{word} {count}" for word, count in Counter(o.said for o in own).most_common())
        lines.append(f"{fitted.value:28} {_share(own):6.1%} of {len(own):3}: {said}")
    lines += ["", "Misses:"]
    lines += [f"  {o.seed} {o.engine}, {o.level}, {o.fault}, {o.fitted.value}: {o.said}" for o in shown if not o.right]
    return "\n".join(lines)
