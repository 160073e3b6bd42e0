from fairwitness.core.reason.knowledge.faults import FAULTS
from fairwitness.core.reason.knowledge.first_guesses import COLUMN_FORMS, FORMS, first_guess
from fairwitness.core.reason.knowledge.signatures import COLUMNS, SIGNATURES


def test_every_fault_has_a_row_and_every_row_a_fault():
    assert set(SIGNATURES) == {*FAULTS, "no_fault"}
    assert all(tuple(row) == COLUMNS for row in SIGNATURES.values())


def test_every_symbol_is_known():
    used = {s for row in SIGNATURES.values() for forms in row.values() for s in forms}
    assert used <= set(FORMS)
    assert all(set(forms) <= set(FORMS) for forms in COLUMN_FORMS.values())
    assert set(COLUMN_FORMS) <= set(COLUMNS)


def test_ways_of_a_symbol_are_weighed_to_one():
    for column in COLUMNS:
        for symbol in FORMS:
            assert sum(form.weight for form in first_guess(column, symbol)) == 1.0
