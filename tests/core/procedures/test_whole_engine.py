"""First look, start checks and common circuits: what is looked at, what it makes, and what was not looked at."""

import pytest

from fairwitness.core.messages.rendering import render
from fairwitness.core.model.case import Observation
from fairwitness.core.model.engine import even_engine
from fairwitness.core.model.measurement import State
from fairwitness.core.procedures import engine_circuits, first_look, no_start
from fairwitness.core.procedures.form import Filled
from fairwitness.core.procedures.specs import FORMS, OFFERS, SPECS
from fairwitness.core.reason.knowledge.outcomes import OUTCOMES, outcomes_of

FOUR = even_engine((1, 3, 4, 2))
MODULES = (first_look, no_start, engine_circuits)
EVERY_WAY = [(m, item, seen) for m in MODULES for item, about in m.ITEMS.items() for seen in about.ways]


def looked(module, item, seen):
    return module.measure(Observation(test=module.TEST, data={"item": item, "seen": seen}), 0, FOUR)


@pytest.mark.parametrize(("module", "item", "seen"), EVERY_WAY, ids=lambda v: v if isinstance(v, str) else v.TEST)
def test_every_way_it_may_come_out_is_weighed_and_told(module, item, seen):
    measured = looked(module, item, seen)
    assert measured.usable
    (finding,) = measured.findings
    first = next(iter(module.ITEMS[item].ways))
    assert finding.state is (State.NORMAL if seen == first else State.ABNORMAL)
    assert finding.cylinder is None
    (said,) = measured.categorical
    assert said.kind in OUTCOMES
    assert said.outcome in outcomes_of(said.kind)
    assert said.cylinders == FOUR.firing_order
    assert render(finding.statement).endswith(".")


@pytest.mark.parametrize("module", MODULES, ids=lambda m: m.TEST)
def test_the_sound_way_is_the_first_in_the_table_too(module):
    for item, about in module.ITEMS.items():
        assert outcomes_of(f"{module.TEST}:{item}")[0] == next(iter(about.ways))


@pytest.mark.parametrize(
    "data", [{}, {"item": "tea_leaves", "seen": "even"}, {"item": "cadence", "seen": "splendid"}, {"item": "cadence"}]
)
def test_what_is_not_known_says_nothing(data):
    measured = first_look.measure(Observation(test="first_look", data=data), 0, FOUR)
    assert not measured.usable
    assert measured.categorical == ()


def test_what_was_not_looked_at_makes_no_observation():
    form = FORMS["first_look"]
    filled = Filled(choices={"cadence": "labouring", "oil": "", "terminals": "loose"})
    assert form.read(filled, FOUR.firing_order) == [
        {"item": "cadence", "seen": "labouring"},
        {"item": "terminals", "seen": "loose"},
    ]


@pytest.mark.parametrize("module", MODULES, ids=lambda m: m.TEST)
def test_every_item_has_its_offer_and_its_question(module):
    offers = {o.id for o in OFFERS.values() if o.id.startswith(f"{module.TEST}:")}
    assert offers == {f"{module.TEST}:{item}" for item in module.ITEMS}
    assert [c.key for c in FORMS[module.TEST].choices] == list(module.ITEMS)
    assert SPECS[module.TEST].items_are_sources
