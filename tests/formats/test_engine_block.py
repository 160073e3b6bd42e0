import pytest
from hypothesis import given
from hypothesis import strategies as st

from fairwitness.core.errors import EngineError
from fairwitness.core.model.engine import CrankWheel, even_engine
from fairwitness.formats.engine_block import engine_block, read_engine
from tests.formats.packages import ENGINE


@given(st.permutations(range(1, 7)), st.booleans())
def test_an_engine_survives(order, banked):
    changes = {"banks": ((1, 2, 3), (4, 5, 6))} if banked else {}
    engine = even_engine(tuple(order), crank_wheel=CrankWheel(teeth=60, missing=2, tdc1_deg_after_gap=84.0), **changes)
    assert read_engine(engine_block(engine)) == engine


def test_unknown_keys_are_carried_along():
    assert engine_block(read_engine(ENGINE | {"paint": "green"}))["paint"] == "green"


@pytest.mark.parametrize(
    "change",
    [
        {"firing_order": "1342"},
        {"banks": 7},
        {"crank_wheel": "60-2"},
        {"crank_wheel": {"teeth": "sixty"}},
        {"injector_ohms": "low"},
        {"layout": "circle"},
        {"firing_intervals_deg": [None] * 4},
    ],
)
def test_values_of_the_wrong_kind_are_refused_by_name(change):
    with pytest.raises(EngineError):
        read_engine(ENGINE | change)
