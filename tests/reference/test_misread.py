"""Captures that may be misread against a general probabilistic library.

pgmpy computes the posterior of a network in which every reading has a parent of its own, understood or misread, by
variable elimination: exact inference with latent variables (Koller and Friedman, Probabilistic Graphical Models,
chapter 9 [P]). Both must agree to rounding, the chance that a reading was misread included.
"""

import itertools

import numpy as np
import pytest
from pgmpy.factors.discrete import TabularCPD
from pgmpy.inference import VariableElimination
from pgmpy.models import DiscreteBayesianNetwork

from fairwitness.core.model.engine import even_engine
from fairwitness.core.model.measurement import CategoricalEvidence
from fairwitness.core.reason.inference import posterior as inference
from fairwitness.core.reason.inference.misread import USUALLY
from fairwitness.core.reason.knowledge.densities import FIRST_GUESSES
from fairwitness.core.reason.knowledge.outcomes import outcomes_of
from tests.reference.test_inference import known, outcome_table, same_weights

TWIN = even_engine((1, 2))
PLACES = 3  # one or two of two
KINDS = ("resistance:coil_primary", "voltage:coil_feed", "spark_check:lead_end")


def network(candidates, tables):
    priors = np.array([h.prior for h in candidates])
    edges = [("what", kind) for kind in tables] + [(f"misread {kind}", kind) for kind in tables]
    model = DiscreteBayesianNetwork(edges)
    model.add_cpds(TabularCPD("what", len(candidates), (priors / priors.sum())[:, None]))
    for kind, table in tables.items():
        shown = table.max(axis=1) / PLACES
        # What a misread reading shows beside the outcomes of the table stands as one more outcome, never seen here.
        understood = np.vstack([table, np.zeros(len(candidates))])
        misread = np.tile(np.append(shown, 1 - shown.sum())[:, None], (1, len(candidates)))
        both = np.stack([understood, misread], axis=2).reshape(table.shape[0] + 1, -1)
        model.add_cpds(TabularCPD(f"misread {kind}", 2, [[1 - USUALLY], [USUALLY]]))
        model.add_cpds(
            TabularCPD(kind, both.shape[0], both, evidence=["what", f"misread {kind}"],
                       evidence_card=[len(candidates), 2])
        )  # fmt: skip
    assert model.check_model()
    return VariableElimination(model)


@pytest.mark.parametrize("seen", list(itertools.product((0, 1), (0, 1), (0, 2)))[1:])
def test_posterior_and_chance_of_misreading_agree_exactly(monkeypatch, seen):
    monkeypatch.setattr(inference, "UNEXPLAINED", np.inf)
    candidates = same_weights(known(TWIN))
    tables = {kind: outcome_table(kind, candidates, 1) for kind in KINDS}
    evidence = dict(zip(KINDS, seen, strict=True))
    library = network(candidates, tables)
    categorical = [
        CategoricalEvidence(kind=kind, outcome=outcomes_of(kind)[i], cylinders=(1,), source=kind)
        for kind, i in evidence.items()
    ]
    found = inference.infer(candidates, (), TWIN, categorical, densities=FIRST_GUESSES)
    by = dict(zip(found.hypotheses, found.probabilities, strict=True))
    theirs = library.query(["what"], evidence=evidence, show_progress=False).values
    assert np.allclose([by[h] for h in candidates], theirs, rtol=1e-9)
    for kind, chance in zip(found.sources, found.misread, strict=True):
        latent = library.query([f"misread {kind}"], evidence=evidence, show_progress=False).values
        assert chance == pytest.approx(latent[1], rel=1e-9)
