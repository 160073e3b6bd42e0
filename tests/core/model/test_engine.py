import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from fairwitness.core.errors import EngineError
from fairwitness.core.model.engine import CrankWheel, Engine, Fuel, Ignition, Injection, cylinder_volume, even_engine


def test_even_intervals_and_default_drive_are_filled_in():
    engine = even_engine((1, 3, 4, 2))
    assert engine.firing_intervals_deg == (180.0,) * 4
    assert engine.injector_drive == "saturated"
    assert engine.event_angles_deg.tolist() == [0, 180, 360, 540]


@pytest.mark.parametrize(
    ("order", "says"),
    [
        ((1, 3, 3, 2), "Cylinder 3 stands in the firing order more than once"),
        ((1, 3, 5, 2), "leaves out cylinder 4"),
        ((1, 2, 3), "names 3 cylinders, the engine has 4"),
        ((1, 2, 3, True), "not a cylinder number"),
    ],
)
def test_a_wrong_firing_order_is_named(order, says):
    with pytest.raises(EngineError, match=says):
        Engine(
            cylinders=4, firing_order=order, fuel=Fuel.PETROL, ignition=Ignition.COIL_ON_PLUG, injection=Injection.PORT
        )


@pytest.mark.parametrize("count", [0, 17, -1, 2.0, "4", True])
def test_cylinder_counts_that_cannot_be_are_refused(count):
    with pytest.raises(EngineError, match="cylinders"):
        Engine(
            cylinders=count,
            firing_order=(1,),
            fuel=Fuel.PETROL,
            ignition=Ignition.COIL_ON_PLUG,
            injection=Injection.PORT,
        )


@pytest.mark.parametrize(
    ("intervals", "says"),
    [((180.0,) * 3, "3 firing intervals"), ((100.0,) * 4, "sum to 400"), ((0.0, 240.0, 240.0, 240.0), "above zero")],
)
def test_wrong_intervals_are_named(intervals, says):
    with pytest.raises(EngineError, match=says):
        even_engine((1, 3, 4, 2), firing_intervals_deg=intervals)


def test_companions_stand_360_degrees_apart():
    assert even_engine((1, 3, 4, 2)).companion_pairs == ((1, 4), (2, 3))
    assert even_engine((1, 5, 3, 6, 2, 4)).companion(5) == 2
    assert even_engine((1, 3, 2)).companion_pairs == ()


def test_odd_fire_twin_has_no_companion():
    assert even_engine((1, 2), firing_intervals_deg=(270.0, 450.0)).companion(1) is None


def test_block_neighbours_follow_the_banks():
    vee = even_engine((1, 4, 2, 5, 3, 6), banks=((1, 2, 3), (4, 5, 6)))
    assert vee.block_neighbours == ((1, 2), (2, 3), (4, 5), (5, 6))
    assert even_engine((1, 3, 4, 2)).block_neighbours == ((1, 2), (2, 3), (3, 4))


def test_neighbours_in_the_firing_order_wrap_around():
    assert even_engine((1, 3, 4, 2)).firing_neighbours(1) == (2, 3)
    assert even_engine((1, 2)).firing_neighbours(1) == (2,)


@pytest.mark.parametrize("wheel", [(0, 0), (36, 36), (36, -1)])
def test_a_wheel_without_teeth_is_refused(wheel):
    with pytest.raises(EngineError, match="crank wheel"):
        CrankWheel(teeth=wheel[0], missing=wheel[1])


def test_a_bank_may_not_name_a_cylinder_twice():
    with pytest.raises(EngineError, match="named twice"):
        even_engine((1, 3, 4, 2), banks=((1, 2), (2, 3)))


def test_unknown_cylinder_is_refused():
    with pytest.raises(EngineError, match="no cylinder 9"):
        even_engine((1, 3, 4, 2)).tdc_deg(9)


@given(st.permutations(range(1, 9)))
def test_every_permutation_gives_each_cylinder_its_own_angle(order):
    engine = even_engine(tuple(order))
    angles = [engine.tdc_deg(c) for c in range(1, 9)]
    assert sorted(angles) == [90.0 * i for i in range(8)]
    assert all(engine.companion(engine.companion(c)) == c for c in range(1, 9))


def test_volume_runs_from_clearance_to_full():
    volume = cylinder_volume(np.array([0.0, 180.0]), compression_ratio=10.0, rod_ratio=3.5)
    assert volume == pytest.approx([1.0, 10.0])


def test_ratios_of_one_are_refused():
    with pytest.raises(EngineError, match="above 1"):
        cylinder_volume(np.zeros(1), compression_ratio=1.0, rod_ratio=3.0)
