"""Earlier visits: read from packages whatever stands there, written back as they were."""

from hypothesis import given
from hypothesis import strategies as st

from fairwitness.core.model.case import CodeOrigin, TroubleCode, code_block, read_code
from fairwitness.core.model.visit import VISITS_MOST, PastVisit, read_visits, visit_block

words = st.text(max_size=40)
visits = st.builds(
    PastVisit,
    on=words,
    odometer_km=st.none() | st.integers(0, 10**6),
    complaint=words,
    found=words,
    fault=words,
    cylinders=st.lists(st.integers(1, 12), max_size=12).map(tuple),
    stage=words,
)
junk = st.recursive(
    st.none() | st.booleans() | st.integers() | st.floats(allow_nan=False) | st.text(max_size=10),
    lambda inner: st.lists(inner, max_size=4) | st.dictionaries(st.text(max_size=6), inner, max_size=4),
    max_leaves=12,
)


@given(visits)
def test_a_visit_comes_back_as_it_was_written(visit):
    assert read_visits([visit_block(visit)]) == (visit,)


@given(junk)
def test_whatever_stands_there_gives_visits_or_none(anything):
    for visit in read_visits(anything):
        assert isinstance(visit.found, str)
        assert all(isinstance(c, int) for c in visit.cylinders)


def test_no_package_brings_more_than_a_life_of_visits():
    assert len(read_visits([{"found": "a plug"}] * 1000)) == VISITS_MOST


@given(st.builds(TroubleCode, words, words.filter(bool), st.sampled_from(CodeOrigin), words))
def test_a_code_comes_back_with_its_origin(code):
    assert read_code(code_block(code)) == code


@given(junk)
def test_what_is_no_code_is_none(anything):
    code = read_code(anything)
    assert code is None or code.code == anything["code"]
