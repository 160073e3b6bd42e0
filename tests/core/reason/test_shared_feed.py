"""Injectors on one feed: what they share is asked before any of them."""

import numpy as np
import pytest

from fairwitness.core.diagnose import diagnose
from fairwitness.core.messages.rendering import render
from fairwitness.core.model.case import Case
from fairwitness.core.model.engine import Layout, even_engine
from tests.conftest import cranking
from tests.core.feeds import running


@pytest.mark.parametrize("feeds", [((1, 2, 3), (4, 5, 6)), ((1, 2), (3, 4), (5, 6))])
def test_a_dead_feed_is_told_as_one_thing(feeds):
    engine = even_engine((1, 4, 2, 5, 3, 6), layout=Layout.VEE, injector_feeds=feeds)
    dead = dict.fromkeys(feeds[-1], np.inf)
    captures = (cranking(engine, {}), running(engine, rpm=760, on_s=0.003, odd=dead, cycles=10))
    reported = diagnose(Case(name="x", engine=engine, captures=captures))
    top = reported.posterior.hypotheses[0]
    assert (top.fault, top.cylinders) == ("injector_feed_lost", feeds[-1])
    assert any("hang on one feed" in render(s.text) for s in reported.statement.follows)
