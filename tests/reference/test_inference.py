"""The reasoning against a general probabilistic library on small networks.

pgmpy, a library for Bayesian networks, computes the posterior by variable elimination from the same tables; both must
agree to rounding. Mutual information against its definition over the library's own posteriors: Cover and Thomas,
Elements of Information Theory, section 2.4 [P].
"""

import numpy as np
import pytest
from pgmpy.factors.discrete import TabularCPD
from pgmpy.inference import VariableElimination
from pgmpy.models import DiscreteBayesianNetwork

from fairwitness.core.model.engine import even_engine
from fairwitness.core.model.measurement import CategoricalEvidence
from fairwitness.core.procedures.specs import OFFERS
from fairwitness.core.reason.inference import likelihood as weighing
from fairwitness.core.reason.inference import misread
from fairwitness.core.reason.inference import posterior as inference
from fairwitness.core.reason.inference.hypotheses import hypotheses
from fairwitness.core.reason.knowledge.densities import Densities, evenly
from fairwitness.core.reason.knowledge.outcomes import chance, outcomes_of
from fairwitness.core.reason.knowledge.signatures import SIGNATURES
from fairwitness.core.reason.planning.prediction import claims_of, predict
from tests.core.reason.evidence import case, line

TWIN = even_engine((1, 2))
SINGLE = even_engine((1,))
KINDS = ("resistance:coil_primary", "voltage:coil_feed", "visual:plug", "spark_check:lead_end")


def known(engine):
    """Single faults that stay: one row of the table each, so that both sides read the same cell."""
    return tuple(
        h for h in hypotheses(case(engine)) if h.placed and not h.also and not h.mode and len(h.cylinders) == 1
    )


def network(candidates, tables):
    """A root with the hypotheses as its states, and one child a test."""
    priors = np.array([h.prior for h in candidates])
    model = DiscreteBayesianNetwork([("what", name) for name in tables])
    model.add_cpds(TabularCPD("what", len(candidates), (priors / priors.sum())[:, None]))
    for name, table in tables.items():
        model.add_cpds(TabularCPD(name, table.shape[0], table, evidence=["what"], evidence_card=[len(candidates)]))
    assert model.check_model()
    return VariableElimination(model)


def outcome_table(kind, candidates, cylinder):
    """(outcomes, hypotheses): chance of each outcome at a cylinder; the floor adds the same to every column."""
    reported = np.array([
        [chance(kind, o, h.fault if cylinder in h.cylinders else "sound") for h in candidates]
        for o in outcomes_of(kind)
    ])  # fmt: skip
    assert np.ptp(reported.sum(axis=0)) < 1e-12
    return reported / reported.sum(axis=0)


UNTEMPERED = Densities(temper=1.0)


def ours(candidates, engine, lines=(), categorical=(), densities=UNTEMPERED):
    found = inference.infer(candidates, lines, engine, categorical, densities=densities)
    by = dict(zip(found.hypotheses, found.probabilities, strict=True))
    return np.array([by[h] for h in candidates])


def same_weights(candidates):
    total = sum(h.prior for h in candidates)
    return tuple(type(h)(h.fault, h.cause, h.cylinders, h.prior / total) for h in candidates)


@pytest.fixture
def untempered(monkeypatch):
    monkeypatch.setattr(inference, "UNEXPLAINED", np.inf)
    monkeypatch.setattr(misread, "USUALLY", 0.0)


@pytest.mark.parametrize("seen", [(0, 0, 0, 0), (1, 0, 2, 1), (3, 2, 1, 2)])
def test_four_tests_by_hand_agree_exactly(untempered, seen):
    candidates = same_weights(known(SINGLE))
    tables = {kind: outcome_table(kind, candidates, 1) for kind in KINDS}
    evidence = {kind: i % table.shape[0] for (kind, table), i in zip(tables.items(), seen, strict=True)}
    theirs = network(candidates, tables).query(["what"], evidence=evidence, show_progress=False).values
    categorical = [
        CategoricalEvidence(kind=kind, outcome=outcomes_of(kind)[i], cylinders=(1,), source=kind)
        for kind, i in evidence.items()
    ]
    assert np.allclose(ours(candidates, SINGLE, categorical=categorical), theirs, rtol=1e-9)


@pytest.mark.parametrize("weight", [1.0, 0.85, 0.3])
def test_a_weighed_test_is_soft_evidence(monkeypatch, weight):
    monkeypatch.setattr(inference, "UNEXPLAINED", np.inf)
    monkeypatch.setattr(misread, "USUALLY", 0.0)
    candidates = same_weights(known(TWIN))
    kind = "swap:coil"
    likelihood = np.array([chance(kind, "moved", h.fault if 2 in h.cylinders else "sound") for h in candidates])
    soft = TabularCPD("what", len(candidates), (likelihood**weight / (likelihood**weight).sum())[:, None])
    tables = {"unused": np.full((2, len(candidates)), 0.5)}
    theirs = network(candidates, tables).query(["what"], virtual_evidence=[soft], show_progress=False).values
    reported = [CategoricalEvidence(kind=kind, outcome="moved", cylinders=(2,), source="capture:o")]
    weighed = ours(candidates, TWIN, categorical=reported, densities=Densities(temper=weight))
    assert np.allclose(weighed, theirs, rtol=1e-9)


def test_shares_of_a_capture_agree_as_soft_evidence(untempered):
    candidates = same_weights(known(SINGLE))
    reported = line(SINGLE, {1: 0.55}, sigma=0.1)
    shares, sigmas = reported.alternatives[0], reported.sigmas
    # One cylinder is the whole engine: a comparison with itself is even whatever ails it, but for what comes and goes.
    expected = [weighing._where_common(evenly(SIGNATURES[h.fault]["RC"])) for h in candidates]
    likelihood = np.exp([float(UNTEMPERED.log_density(shares, sigmas, cell, "RC").sum()) for cell in expected])
    soft = TabularCPD("what", len(candidates), (likelihood / likelihood.sum())[:, None])
    tables = {"unused": np.full((2, len(candidates)), 0.5)}
    theirs = network(candidates, tables).query(["what"], virtual_evidence=[soft], show_progress=False).values
    assert np.allclose(ours(candidates, SINGLE, lines=[reported]), theirs, rtol=1e-9)


@pytest.mark.parametrize("test", ["leak_down", "resistance:injector", "swap:plug", "injector_current"])
def test_expected_information_is_the_librarys_drop_in_entropy(test):
    candidates = same_weights(known(TWIN))
    seen = predict(OFFERS[test], claims_of(candidates), (2,) if OFFERS[test].per_cylinder else (1, 2))
    table = seen.table[seen.row_of].T
    elimination = network(candidates, {"test": table})
    priors = np.array([h.prior for h in candidates])

    def entropy(p):
        p = p[p > 0]
        return float(-(p * np.log2(p)).sum())

    chances = elimination.query(["test"], show_progress=False).values
    left = sum(
        float(chances[i]) * entropy(elimination.query(["what"], evidence={"test": i}, show_progress=False).values)
        for i in range(table.shape[0])
    )
    assert seen.information_bits(priors) == pytest.approx(entropy(priors) - left, abs=1e-9)
