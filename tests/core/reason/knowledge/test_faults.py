"""The catalogue against the case format and the table of priors."""

from fairwitness.core.reason.knowledge.faults import CATALOGUE, FAULTS, NO_FAULT, OTHER, OTHER_MECHANICAL, Cause
from fairwitness.core.reason.knowledge.priors import CAUSED, WEIGHTS
from fairwitness.core.reason.report.owner import PLAIN


def test_every_fault_has_a_prior_and_plain_words():
    assert set(WEIGHTS) == {*FAULTS, NO_FAULT, OTHER, OTHER_MECHANICAL}
    assert set(PLAIN) == set(FAULTS)


def test_ids_are_unique_and_every_cause_is_one_of_the_division():
    assert len(FAULTS) == len(CATALOGUE)
    assert {f.cause for f in CATALOGUE} == {Cause.IGNITION, Cause.FUEL, Cause.MECHANICAL, Cause.CONTROL}


def test_what_is_caused_is_in_the_catalogue():
    assert {name for root, consequence, _ in CAUSED for name in (root, consequence)} <= set(FAULTS)
