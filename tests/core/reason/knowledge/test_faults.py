"""Records of the faults, and what must hold of every one of them."""

import pytest

from fairwitness.core.messages.rendering import render
from fairwitness.core.model.engine import Fuel, Ignition, even_engine
from fairwitness.core.procedures.specs import OFFERS
from fairwitness.core.reason.knowledge.fault_spec import NO_PROOF_KNOWN, Cause, Seat
from fairwitness.core.reason.knowledge.faults import CATALOGUE, FAULTS, NO_FAULT, PRIOR_OF, UNLISTED
from fairwitness.core.reason.knowledge.signatures import COLUMNS, SIGNATURES

TRADE_WORDS = ("relative compression", "secondary", "dwell", "posterior", "kV", "TDC", "primary")


def test_ids_are_unique_and_every_cause_is_one_of_the_division():
    assert len(FAULTS) == len(CATALOGUE)
    assert {f.cause for f in CATALOGUE} == {Cause.IGNITION, Cause.FUEL, Cause.MECHANICAL, Cause.CONTROL}


def test_what_is_no_catalogued_fault_has_a_prior_of_its_own():
    assert set(PRIOR_OF) == {NO_FAULT, *UNLISTED}
    assert not set(PRIOR_OF) & set(FAULTS)


@pytest.mark.parametrize("fault", CATALOGUE, ids=lambda f: f.id)
def test_every_fault_is_whole(fault):
    assert fault.prior > 0
    assert fault.id in SIGNATURES
    assert sum(fault.ways.values()) == pytest.approx(1.0)
    owner = render(fault.owner)
    assert owner
    assert not any(word in owner for word in TRADE_WORDS)
    for caused, share in fault.died_of.items():
        assert caused in FAULTS
        assert share > 0


@pytest.mark.parametrize("fault", CATALOGUE, ids=lambda f: f.id)
def test_every_condition_of_a_fault_can_be_met_by_some_test(fault):
    assert fault.proof or fault.proof is NO_PROOF_KNOWN
    for predicate in (*fault.proof, *fault.advised):
        assert predicate.by
        assert set(predicate.by) <= set(OFFERS)


def test_every_signature_row_has_a_symbol_for_every_column():
    assert all(set(row) == set(COLUMNS) for row in SIGNATURES.values())


def test_an_engine_without_coils_has_no_coil_that_fails():
    oil_burner = even_engine((1, 3, 4, 2), fuel=Fuel.DIESEL, ignition=Ignition.COMPRESSION_IGNITION)
    assert not any(f.possible(oil_burner) for f in CATALOGUE if f.is_coil)
    assert any(f.possible(oil_burner) for f in CATALOGUE if f.seat is Seat.CYLINDER)
