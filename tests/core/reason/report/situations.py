"""Situations of the trade in one line each, made into measurements without a signal behind them.

``RC 3=0.05`` is a comparison in which cylinder 3 has 5 % of its peers; ``FV`` alone is one in which all are alike;
``RC? 3=0.05`` leaves open whose it is, ``RC! `` could not be used. ``leak_down@3=oil_filler`` is an outcome at a
cylinder, ``vacuum=low`` one of the whole engine. Parts are separated by semicolons.
"""

import numpy as np

from fairwitness.core.diagnose import conclude
from fairwitness.core.messages.message import verbatim
from fairwitness.core.model.engine import Fuel, Ignition, Injection, even_engine
from fairwitness.core.model.measurement import CategoricalEvidence, Evidence, Finding, Measured, Origin, State
from fairwitness.core.model.reason import Reason
from fairwitness.core.procedures.specs import SPECS
from fairwitness.core.reason.knowledge.outcomes import outcomes_of
from tests.core.reason.evidence import case

ENGINES = {
    "four": even_engine((1, 3, 4, 2)),
    "waste": even_engine((1, 3, 4, 2), ignition=Ignition.WASTE_SPARK, coil_pairs=((1, 4), (2, 3))),
    "six": even_engine((1, 5, 3, 6, 2, 4)),
    "eight": even_engine((1, 8, 4, 3, 6, 5, 7, 2), banks=((1, 2, 3, 4), (5, 6, 7, 8))),
    "three": even_engine((1, 3, 2)),
    "single": even_engine((1,)),
    "diesel": even_engine(
        (1, 3, 4, 2), fuel=Fuel.DIESEL, ignition=Ignition.COMPRESSION_IGNITION, injection=Injection.COMMON_RAIL
    ),
    "carburettor": even_engine((1, 3, 4, 2), ignition=Ignition.DISTRIBUTOR, injection=Injection.CARBURETTOR),
}
TESTS = {
    "RC": "relative_compression", "CON": "crank_speed", "EX": "exhaust_pulse", "FV": "secondary_voltage",
    "CC": "coil_current", "CMD": "coil_control", "IC": "injector_current", "IV": "injector_voltage",
    "CP": "compression_gauge", "CK": "crankcase_pulse", "IN": "intake_pulse", "DL": "delivery", "PB": "power_balance",
    "MC": "misfire_counts",
}  # fmt: skip
COLUMN = {"PB": "CON", "MC": "CON"}


def state_of(share: float) -> State:
    if share < 0.15:
        return State.ABSENT
    return State.LOW if share < 0.87 else State.HIGH if share > 1.25 else State.NORMAL


def compared(name, cells, engine, number):
    open_, unusable, key = name.endswith("?"), name.endswith("!"), name.rstrip("?!")
    test = TESTS[key]
    shares = dict.fromkeys(engine.firing_order, 1.0) | {int(c): float(v) for c, v in (x.split("=") for x in cells)}
    source = f"capture:{number}" if SPECS[test].trust.value == "signal" else f"observation:{number}"
    resource = str(number) if source.startswith("capture") else None

    def finding(cylinder, state, share=None):
        return Finding(
            test=test, cylinder=cylinder, quantity=test, value=share, unit="1", spread=0.02, events=20, state=state,
            statement=verbatim(f"{key} {cylinder}: {state.value}."), origin=Origin(resource=resource),
            id=f"{key}{cylinder}",
        )  # fmt: skip

    states = {c: State.UNUSABLE if unusable else state_of(s) for c, s in shares.items()}
    findings = [finding(c, s, None if unusable else shares[c]) for c, s in states.items()]
    if open_:
        findings = [finding(None, max(states.values(), key=lambda s: s is not State.NORMAL))]
    ordered = np.array([shares[c] for c in engine.firing_order])
    turns = range(engine.cylinders) if open_ else (0,)
    line = Evidence(
        line=COLUMN.get(key, key), source=source, alternatives=tuple(np.roll(ordered, -t) for t in turns),
        sigmas=np.full(engine.cylinders, 0.06),
    )  # fmt: skip
    code = "unsynced" if open_ else "refused"
    reasons = (Reason(code, verbatim(f"{code}."), blocking=unusable),) if open_ or unusable else ()
    return Measured(
        test=test, resource=resource, usable=not unusable, reasons=reasons, findings=tuple(findings),
        lines=() if unusable else (line,), facts={"cycles": 20},
    )  # fmt: skip


def seen(kind, at, outcome, engine, number):
    test = next(spec.id for spec in SPECS.values() if kind in spec.kinds)
    state = State.NORMAL if outcome == outcomes_of(kind)[0] else State.ABNORMAL
    assert outcome in outcomes_of(kind), (kind, outcome)
    finding = Finding(
        test=test, cylinder=at, quantity=test, value=None, unit="1", spread=None, events=1, state=state,
        statement=verbatim(f"{kind} {at}: {outcome}."), origin=Origin(observation=number), id=f"{kind}{at}",
    )  # fmt: skip
    said = CategoricalEvidence(
        kind=kind, outcome=outcome, cylinders=(at,) if at else engine.firing_order, source=f"observation:{number}"
    )
    return Measured(test=test, observation=number, findings=(finding,), categorical=(said,))


def measurements(situation, engine):
    made = []
    for number, part in enumerate(filter(None, (p.strip() for p in situation.split(";")))):
        name, *cells = part.split()
        if name.rstrip("?!") in TESTS:
            made.append(compared(name, cells, engine, number))
        else:
            about, outcome = part.rsplit("=", 1)
            kind, _, at = about.partition("@")
            made.append(seen(kind, int(at) if at else None, outcome, engine, number))
    return tuple(made)


def concluded(kind, situation):
    engine = ENGINES[kind]
    return conclude(case(engine), measurements(situation, engine))
