"""Estimates move with readings, stay where there are none, and never leave the table of the trade."""

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from fairwitness.core.reason.inference.likelihood import BESIDE
from fairwitness.core.reason.knowledge.densities import ANYTHING
from fairwitness.core.reason.knowledge.first_guesses import first_guess
from fairwitness.core.reason.knowledge.outcomes import OUTCOMES, SOUND
from fairwitness.core.reason.knowledge.signatures import LEFT_ALONE, SIGNATURES
from fairwitness.study.fitting.estimate import cell_of, fit_column, fit_columns, fit_outcomes
from fairwitness.study.fitting.labels import Reading


def drawn(column, row, centre, width, count, *, sigma=0.03, seed=1):
    rng = np.random.default_rng(seed)
    return [Reading(column, row, float(x), sigma) for x in rng.normal(centre, np.hypot(width, sigma), count)]


def test_without_readings_there_is_nothing():
    assert fit_columns([]) == {}


@given(st.lists(st.tuples(st.floats(-0.5, 4), st.floats(0.005, 0.4)), min_size=1, max_size=40))
@settings(max_examples=25, deadline=None)
def test_weights_stay_chances_whatever_is_read(values):
    readings = [Reading("RC", "ring_or_piston_leak", share, sigma) for share, sigma in values]
    fit = fit_column("RC", readings)
    assert sum(fit.cells["ring_or_piston_leak"].values()) == pytest.approx(1.0)
    for forms in fit.forms.values():
        assert sum(form.weight for form in forms) == pytest.approx(1.0, abs=1e-3)
        assert all(form.width >= 0 and np.isfinite(form.centre) for form in forms)


def test_one_reading_hardly_moves_a_guess():
    fit = fit_column("FV", drawn("FV", "plug_gap_wide", 2.0, 0.0, 1))
    guess = first_guess("FV", "++")[0]
    assert fit.forms["++"][0].centre == pytest.approx(guess.centre, abs=0.15)


def test_cells_give_weight_to_what_was_read():
    wide = [*drawn("FV", "plug_gap_wide", 1.3, 0.05, 60), *drawn("FV", "plug_gap_wide", 2.6, 0.3, 20)]
    weights = dict(cell_of(fit_column("FV", wide), "plug_gap_wide"))
    assert 1.4 * weights["++"] < weights["+"] < 3 * weights["++"]  # three to one read, even by the table
    assert set(weights) == {*SIGNATURES["plug_gap_wide"]["FV"], LEFT_ALONE, ANYTHING}


def test_what_the_table_does_not_foresee_goes_to_anything():
    sound = drawn("CC", SOUND, 1.0, 0.0, 400)
    fit = fit_column("CC", [*sound, *drawn("CC", "plug_shorted", 0.1, 0.02, 30)])
    assert fit.cells["plug_shorted"][ANYTHING] > 0.2


def test_what_no_world_shows_keeps_a_place_in_its_cell():
    fit = fit_column("CC", drawn("CC", "coil_output_dead", 1.0, 0.0, 500))
    assert fit.cells["coil_output_dead"]["~"] > 0.15


def test_sound_cylinders_that_scatter_more_than_they_say_widen_their_peers():
    honest = fit_column("XT", drawn("XT", SOUND, 1.0, 0.0, 400, sigma=0.1))
    rough = fit_column("XT", drawn("XT", SOUND, 1.0, 0.2, 400, sigma=0.1))

    def off(fit):
        return sum(form.weight * form.width for form in fit.forms[LEFT_ALONE])

    assert off(honest) < 0.02
    assert off(rough) > 0.1
    assert all(form.centre == 1.0 for form in rough.forms[LEFT_ALONE])


def test_what_stands_beside_an_ill_one_is_a_row_of_its_own():
    fit = fit_column("CON", [*drawn("CON", BESIDE, 1.0, 0.1, 80), *drawn("CON", SOUND, 1.0, 0.0, 80)])
    assert set(fit.cells) == {SOUND, BESIDE}


def test_tables_of_outcomes_move_from_what_the_trade_says():
    start = OUTCOMES["vacuum"][SOUND]
    seen = [("vacuum", SOUND, "low")] * 20 + [("vacuum", SOUND, "usual")] * 20
    count, shares = fit_outcomes(seen, ())[("vacuum", SOUND)]
    assert count == 40
    assert start.get("low", 0.0) < shares["low"] < 0.5
    assert sum(shares.values()) == pytest.approx(1.0)


def test_eyes_keep_their_table_and_unknown_rows_are_left():
    assert fit_outcomes([("swap:coil", SOUND, "moved"), ("vacuum", "nobody", "low")], ("swap",)) == {}
