import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from fairwitness.core.errors import FairWitnessError, SimulationError
from fairwitness.core.model.capture import CaptureTest, Role
from fairwitness.core.model.engine import Ignition, even_engine
from fairwitness.core.procedures.set_up_card import USUAL, Clip, sync_clip
from fairwitness.core.procedures.specs import CARDS, SPECS
from fairwitness.simulate.clips import FrontEnd, front_end, signal
from fairwitness.simulate.examine import TESTS, examine
from fairwitness.simulate.garage import ENGINES, build, engine_named, fault_named, random_fault, random_faults
from fairwitness.simulate.gauges import GAUGES, observe
from fairwitness.simulate.health import Condition, Fault, healths, reach, shows
from fairwitness.simulate.running import LOADS, Withheld, run_engine
from fairwitness.simulate.trajectory import crank_over

DROVER = ENGINES["drover-2.0"]


def vehicle(*faults, engine=DROVER, seed=1):
    return build(engine, faults, rng=np.random.default_rng(seed))


def rng(seed=1):
    return np.random.default_rng(seed)


@pytest.mark.parametrize("name", sorted(ENGINES))
@pytest.mark.parametrize("load", [load for load in LOADS if load != "none"])
def test_every_engine_runs_under_every_load(name, load):
    trajectory = run_engine(vehicle(engine=ENGINES[name]), seconds=3.0, load=load, rng=rng())
    assert (np.diff(trajectory.run.time_s) > 0).all()
    assert (np.diff(trajectory.run.angle_deg) > 0).all()
    target = {"cruise": 2500, "brake_torque": 1500}.get(load)
    if target:
        assert trajectory.run.speed_rpm.mean() == pytest.approx(target, rel=0.12)
    assert trajectory.run.speed_rpm.min() > 300
    assert trajectory.seconds >= 3.0


@settings(max_examples=15, deadline=None)
@given(
    st.permutations(list(range(1, 13))).flatmap(lambda p: st.integers(1, 12).map(lambda n: [c for c in p if c <= n]))
)
def test_any_firing_order_cranks_and_runs(order):
    ill = vehicle(engine=even_engine(tuple(order)))
    inverted = crank_over(ill, seconds=2.5, rng=rng())
    assert inverted.run.speed_rpm[-500:].mean() > 80
    run = run_engine(ill, seconds=1.0, rng=rng())
    assert all((cycles.heat[3:] > 0).all() for cycles in run.cylinders.values())


def test_an_odd_firing_engine_keeps_its_intervals():
    odd = even_engine((1, 2), firing_intervals_deg=(270.0, 450.0))
    run = run_engine(vehicle(engine=odd), seconds=1.0, rng=rng())
    apart = (run.cylinders[2].tdc_deg[2] - run.cylinders[1].tdc_deg[2]) % 720
    assert apart == pytest.approx(270.0)


def test_a_snap_of_the_throttle_opens_the_manifold_and_revs():
    snap = run_engine(vehicle(), seconds=4.0, load="snap", rng=rng())
    assert snap.manifold_pa.max() > 85_000
    assert snap.run.speed_rpm.max() > 1.3 * snap.run.speed_rpm[:200].mean()


def test_a_cold_engine_idles_faster():
    cold, hot = (run_engine(vehicle(), seconds=3.0, hot=h, rng=rng()).run.speed_rpm.mean() for h in (False, True))
    assert cold > 1.25 * hot


def test_a_cut_cylinder_burns_nothing_and_the_rest_go_on():
    run = run_engine(vehicle(), seconds=3.0, rng=rng(), cut=Withheld((3,)))
    assert not run.cylinders[3].heat[2:].any()
    assert (run.cylinders[1].heat[2:] > 0).all()


def test_the_same_seed_gives_the_same_case_and_another_one_does_not():
    first, again, other = (examine(vehicle(seed=s), ["crank_speed"], seed=s).captures[0] for s in (1, 1, 2))
    assert first.sha256 == again.sha256 != other.sha256


def test_an_unknown_load_or_test_is_refused():
    with pytest.raises(SimulationError, match="no load"):
        run_engine(vehicle(), seconds=1.0, load="uphill", rng=rng())
    with pytest.raises(SimulationError, match="no test"):
        examine(vehicle(), ["tea_leaves"])
    with pytest.raises(SimulationError, match="no level"):
        examine(vehicle(), ["crank_speed"], level="quiet")


# Faults


@pytest.mark.parametrize(
    ("text", "fault"),
    [
        ("coil_feed_lost", Fault("coil_feed_lost")),
        ("injector_open_circuit@4", Fault("injector_open_circuit", (4,))),
        ("head_gasket_leak@2,3:0.5", Fault("head_gasket_leak", (2, 3), 0.5)),
        ("secondary_open@1:1!vibration", Fault("secondary_open", (1,), 1.0, Condition.VIBRATION)),
    ],
)
def test_a_fault_is_written_on_one_line(text, fault):
    assert fault_named(text) == fault


@pytest.mark.parametrize(
    "text", ["", "gremlins", "plug_shorted@x", "plug_shorted@2:7", "plug_shorted@2:1!never", "a b"]
)
def test_what_is_no_fault_is_refused(text):
    with pytest.raises(SimulationError):
        fault_named(text)


def test_engines_are_named_or_spelt():
    assert engine_named("drover-2.0") is DROVER
    assert engine_named("1-5-3-6-2-4").firing_order == (1, 5, 3, 6, 2, 4)
    for wrong in ("lorry", "1-1-2"):
        with pytest.raises(FairWitnessError):
            engine_named(wrong)


def test_a_coil_fault_reaches_all_that_share_the_coil():
    one_coil = even_engine((1, 3, 4, 2), ignition=Ignition.DISTRIBUTOR)
    assert reach(Fault("coil_primary_open", (2,)), ENGINES["drover-1.6"]) == (2, 3)
    assert reach(Fault("plug_shorted", (2,)), ENGINES["drover-1.6"]) == (2,)
    assert reach(Fault("coil_output_dead", (2,)), one_coil) == (1, 2, 3, 4)
    assert reach(Fault("low_compression_all"), DROVER) == (1, 2, 3, 4)


def test_two_faults_add_up():
    both = healths(DROVER, [Fault("plug_gap_wide", (2,)), Fault("injector_restricted", (2,), 0.5)])
    assert both[2].gap > 1
    assert both[2].flow < 1
    assert both[1] == healths(DROVER, [])[1]


def test_intermittent_faults_come_and_go_with_their_condition():
    def share(condition, *, hot=True, load="idle"):
        fault = Fault("secondary_open", (1,), 1.0, condition)
        return shows(fault, hot=hot, load=load, cycles=4000, rng=rng()).mean()

    assert share(Condition.ALWAYS) == 1.0
    assert share(Condition.HOT, hot=False) == 0.0
    assert share(Condition.HOT) == 1.0
    assert 0.2 < share(Condition.RANDOM) < 0.3
    assert 0.05 < share(Condition.VIBRATION) < share(Condition.VIBRATION, load="brake_torque") < 0.6


def test_an_intermittent_open_misfires_in_some_cycles_only():
    run = run_engine(vehicle(Fault("secondary_open", (2,), 1.0, Condition.RANDOM)), seconds=8.0, rng=rng())
    lit = run.cylinders[2].heat > 0
    assert 0.6 < lit.mean() < 0.9
    assert (run.cylinders[1].heat[2:] > 0).all()


@given(st.integers(0, 400), st.sampled_from(sorted(ENGINES)))
def test_random_faults_fit_the_engine(seed, name):
    engine = ENGINES[name]
    for fault in random_faults(engine, rng(seed)):
        assert set(fault.cylinders) <= set(engine.firing_order)
        assert not (engine.fuel == "diesel" and fault.fault.startswith(("plug", "coil", "secondary")))
    assert random_fault(engine, rng(seed), kind="dead_hole").severity == 1.0


# Leads and set-up cards


def test_every_role_has_its_usual_lead():
    assert set(USUAL) == set(Role) - {Role.TIME}


def test_the_sync_avoids_the_suspect():
    assert sync_clip(DROVER, (1, 2)).cylinder == 3
    assert sync_clip(DROVER, (1, 2, 3, 4)).cylinder == 1
    assert sync_clip(ENGINES["slipway-3.1"]).role is Role.INJECTOR_VOLTAGE


@pytest.mark.parametrize("name", sorted(ENGINES))
def test_every_card_fits_every_engine_it_is_offered_for(name):
    engine = ENGINES[name]
    for test, card in CARDS.items():
        clips = card.clips(engine, (2,), (engine.firing_order,))
        assert card.test is test
        if SPECS[test.value].possible(engine):
            assert all(c.cylinder in (None, *engine.firing_order) for c in clips)
            marked = any(c.sync or c.role is Role.CYLINDER_PRESSURE for c in clips)  # a tower marks its own cycle
            assert marked or {c.cylinder for c in clips} == set(engine.firing_order)
            assert all(c.place for c in clips)
        assert not card.cranking or "fuel_off" in {c.id for c in card.checks}


def test_a_signal_of_one_cylinder_needs_the_cylinder():
    trajectory = run_engine(vehicle(), seconds=1.0, rng=rng())
    with pytest.raises(SimulationError, match="belongs to one cylinder"):
        signal(trajectory, Clip(role=Role.CYLINDER_PRESSURE), np.arange(3) / 10, rng())


def test_a_front_end_clips_and_sits_on_its_grid():
    seen = FrontEnd(reach=10.0, bits=12, zero=1.0).digitised(np.linspace(-20, 20, 1001), rng())
    assert (seen.min(), seen.max()) == (-10.0, 10.0)
    steps = seen / (20 / 4096)
    np.testing.assert_allclose(steps, np.rint(steps))
    assert front_end(Role.STARTER_CURRENT, "clean", rng()).bits is None


def test_a_shared_feed_carries_the_sum_of_its_injectors():
    trajectory = run_engine(vehicle(), seconds=1.0, rng=rng())
    times = np.arange(20_000) / 20_000
    parts = sum(signal(trajectory, Clip(role=Role.INJECTOR_CURRENT, cylinder=c), times, rng()) for c in (1, 2, 3, 4))
    np.testing.assert_allclose(signal(trajectory, Clip(role=Role.INJECTOR_CURRENT), times, rng()), parts)


# Gauges


def seen(test, *faults, engine=DROVER, **changes):
    return observe(vehicle(*faults, engine=engine), test, hot=True, rng=rng(), **changes)


def test_the_gauge_says_wet_what_the_rings_do():
    rings, valve = (
        seen("compression_gauge", Fault(f, (3,)))[0].data for f in ("ring_or_piston_leak", "exhaust_valve_leak")
    )
    for data in (rings, valve):
        assert data["dry"]["3"] < 0.3 * data["dry"]["1"]
    assert rings["wet"]["3"] > 3 * rings["dry"]["3"]
    assert valve["wet"]["3"] == pytest.approx(valve["dry"]["3"], rel=0.1)


@pytest.mark.parametrize(
    ("fault", "heard"),
    [("ring_or_piston_leak", "oil_filler"), ("intake_valve_leak", "intake"), ("exhaust_valve_leak", "exhaust")],
)
def test_leak_down_is_heard_where_the_gas_goes(fault, heard):
    data = seen("leak_down", Fault(fault, (2,)))[0].data
    assert data["percent"] > 60
    assert data["heard_at"] == [heard]
    assert seen("leak_down", suspects=(1,))[0].data["percent"] < 12


def test_the_meter_finds_the_open_injector():
    rows = [o.data for o in seen("resistance", Fault("injector_open_circuit", (4,)))]
    assert [r["cylinder"] for r in rows if r.get("open")] == [4]
    ohms = [r["ohms"] for r in rows if r["item"] == "injector" and "ohms" in r]
    assert max(ohms) / min(ohms) < 1.06


def test_the_monitors_bias_is_on_the_control_side_of_an_open_injector():
    rows = {o.data["item"]: o.data["volts"] for o in seen("voltage", Fault("injector_open_circuit", (2,)))}
    assert 2.0 < rows["injector_control"] < 5.0
    assert rows["injector_feed"] > 12


def test_swapping_moves_what_sits_in_the_part():
    moved = {o.data["part"]: o.data["moved"] for o in seen("swap", Fault("coil_output_dead", (2,)))}
    assert moved == {"plug": False, "injector": False, "coil": True}


def test_low_supply_shows_on_the_pressure_gauge_and_in_the_trims():
    pressure = seen("fuel_pressure", Fault("fuel_supply_low"))[0].data
    assert pressure["kpa"] < pressure["low_kpa"]
    trim = seen("fuel_trim", Fault("fuel_supply_low"))[0].data
    assert trim["short_percent"] + trim["long_percent"] > 15
    assert abs(seen("fuel_trim")[0].data["long_percent"]) < 5


def test_a_dead_cylinder_costs_vacuum_and_its_cut_costs_nothing():
    dead = Fault("injector_open_circuit", (3,))
    assert seen("vacuum", dead)[0].data["kpa_below_atmosphere"] < seen("vacuum")[0].data["kpa_below_atmosphere"] - 4
    drops = {d["cylinder"]: d["rpm_before"] - d["rpm_after"] for d in seen("power_balance", dead)[0].data["drops"]}
    assert abs(drops[3]) < 15
    assert min(drops[c] for c in (1, 2, 4)) > 80
    counts = seen("misfire_counts", dead)[0].data["counts"]
    assert counts["3"] > 150
    assert max(counts[c] for c in "124") < 10


def test_the_cranking_table_is_faster_where_a_cylinder_leaks():
    table = seen("cranking_speed", Fault("ring_or_piston_leak", (2,)))[0].data["cylinder_rpm"]
    assert max(table, key=table.get) == "2"


@pytest.mark.parametrize("name", sorted(ENGINES))
def test_every_gauge_answers_on_every_engine(name):
    for test in GAUGES:
        for observation in seen(test, Fault("injector_stuck_closed", (2,)), engine=ENGINES[name]):
            assert observation.test == test


def test_all_tests_make_a_case_without_telling_the_fault():
    case = examine(vehicle(Fault("plug_shorted", (3,))), TESTS, seed=4)
    assert {c.set_up.test for c in case.captures} == set(CaptureTest)
    assert {o.test for o in case.observations} == set(GAUGES) - {"pin_to_pin"}  # no wiring is known of it
    assert "plug_shorted" not in f"{case.title}{case.complaint}{case.extra}"
