"""Every fault is mended somehow, and nothing is priced that has no name."""

import pytest

from fairwitness.core.messages.message import NOTHING
from fairwitness.core.reason.knowledge.fault_spec import Cause
from fairwitness.core.reason.knowledge.faults import FAULTS
from fairwitness.core.reason.knowledge.remedies import PART_NAMES, PRICED, REMEDIES


@pytest.mark.parametrize("fault", [f for f in FAULTS.values() if f.remedy], ids=lambda f: f.id)
def test_every_remedy_that_a_fault_names_is_known(fault):
    assert fault.remedy in REMEDIES


def test_every_listed_fault_has_one_and_every_one_mends_something():
    without = [f.id for f in FAULTS.values() if not f.remedy]
    assert without == []
    assert {f.remedy for f in FAULTS.values()} == set(REMEDIES)


def test_every_part_has_a_name_in_the_price_list():
    assert set(PRICED) == set(PART_NAMES)


@pytest.mark.parametrize("remedy", REMEDIES.values(), ids=lambda r: r.id)
def test_every_remedy_says_what_follows_where_it_is_left(remedy):
    assert remedy.nothing != NOTHING
    assert remedy.minutes > 0
    assert remedy.available == NOTHING or remedy.parts or remedy.once


def test_only_mechanical_faults_open_the_engine():
    opened = {f.cause for f in FAULTS.values() if REMEDIES[f.remedy].opens_engine}
    assert opened == {Cause.MECHANICAL}
