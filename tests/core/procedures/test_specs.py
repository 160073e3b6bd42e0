"""Records of the tests, and what must hold of every one of them: a test of the trade is whole, or it is not there."""

from pkgutil import iter_modules

import pytest

from fairwitness.core import procedures
from fairwitness.core.messages.rendering import render
from fairwitness.core.model.tools import TOOL_WORDS
from fairwitness.core.procedures.registry import CAPTURE_TESTS, OBSERVATION_TESTS
from fairwitness.core.procedures.spec import Trust
from fairwitness.core.procedures.specs import CARDS, FORMS, OFFERS, SPECS, TEST_OF
from fairwitness.core.reason.knowledge.outcomes import OUTCOMES
from fairwitness.core.reason.knowledge.signatures import COLUMNS

WHATEVER = sorted(SPECS)


@pytest.mark.parametrize("test", WHATEVER)
def test_every_test_is_whole(test):
    spec = SPECS[test]
    assert spec.id == test
    assert render(spec.title)
    assert spec.offers or test == "roughness"  # written down where a tool shows it; the plan asks for counts instead
    for offer in spec.offers:
        assert TEST_OF[offer.id] == test
        assert render(offer.title)
        assert render(offer.splits)
        assert offer.work > 0
        assert offer.columns or offer.kinds
        assert set(offer.columns) <= set(COLUMNS)
        assert set(offer.kinds) <= set(OUTCOMES)
        assert set(offer.needs) <= set(TOOL_WORDS)


@pytest.mark.parametrize("test", WHATEVER)
def test_a_test_with_leads_has_a_card_and_one_by_hand_a_form(test):
    if SPECS[test].trust is Trust.SIGNAL:
        assert test in CAPTURE_TESTS
        # Cam and crank sensors are the engine's own: nothing is clipped on that a card could show.
        assert test == "cam_timing" or any(card.value == test for card in CARDS)
    else:
        assert test == OBSERVATION_TESTS[test].TEST
        assert test in FORMS


def test_nothing_lies_in_the_folder_that_nobody_finds():
    measures = {m.name for m in iter_modules(procedures.__path__) if m.ispkg}
    assert measures == set(CAPTURE_TESTS)


def test_every_column_and_every_outcome_is_read_by_some_test():
    assert {column for offer in OFFERS.values() for column in offer.columns} == set(COLUMNS)
    assert {kind for spec in SPECS.values() for kind in spec.kinds} == set(OUTCOMES)


def test_one_part_is_changed_over_on_each_engine(four):
    assert OFFERS["swap:coil"].fits(four)
    assert not OFFERS["swap:lead"].fits(four)
