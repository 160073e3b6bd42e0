"""Work over cores and over a cluster."""

from functools import partial

import pytest

from fairwitness.core.errors import SimulationError
from fairwitness.study.spread import spread


def square(seed):
    return seed * seed


def test_all_cores_do_all_of_it():
    assert sorted(spread(square, range(6), workers=2)) == [0, 1, 4, 9, 16, 25]


def broken_first(seed, tally):
    if seed == 0:
        raise ValueError("seed 0")
    with tally.open("ab") as out:
        out.write(b".")


def test_after_a_fault_what_is_left_is_left(tmp_path):
    tally = tmp_path / "tally"
    with pytest.raises(ValueError, match="seed 0"):
        list(spread(partial(broken_first, tally=tally), range(20_000), workers=1))
    assert not tally.exists() or tally.stat().st_size < 20_000


def test_a_scheduler_that_is_there_already_is_used():
    from distributed import LocalCluster

    with LocalCluster(n_workers=1, processes=False, dashboard_address=None) as cluster:
        assert sorted(spread(square, range(6), scheduler=cluster.scheduler_address)) == [0, 1, 4, 9, 16, 25]


def test_a_scheduler_that_is_not_there_is_told():
    with pytest.raises(SimulationError) as caught:
        list(spread(square, [1], scheduler="nonsense://nowhere"))
    assert "scheduler" in caught.value.sentence
