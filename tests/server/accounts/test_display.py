"""How a person reads: units of his own, the decimal mark of his browser's language."""

import pytest
from django.test import RequestFactory

from fairwitness.core.errors import ObservationError
from fairwitness.core.messages.catalogue import template
from fairwitness.core.messages.rendering import render
from fairwitness.server.accounts.display import display_for, display_of, set_units

SAID = template("display_test.said", "{p:pressure} and {v:.2f}")(p=1.21e6, v=0.5)


@pytest.mark.parametrize(
    ("accepted", "words"),
    [
        ("", "12.1 bar and 0.50"),
        ("en-GB,en;q=0.9", "12.1 bar and 0.50"),
        ("de", "12,1 bar and 0,50"),
        ("de-CH;q=0.4, fr;q=0.9", "12,1 bar and 0,50"),
        ("xx, de", "12,1 bar and 0,50"),
        ("'; drop table", "12.1 bar and 0.50"),
    ],
)
def test_the_decimal_mark_is_that_of_the_language_asked_for_first(accepted, words):
    assert render(SAID, display_for(None, accepted)) == words


def test_a_request_is_read_as_its_sender_reads(technician):
    request = RequestFactory().get("/", headers={"accept-language": "de"})
    request.user = technician
    set_units(technician, {"pressure": "psi"})
    assert render(SAID, display_of(request)) == "175 psi and 0,50"  # 12.1 bar, NIST SP 811


def test_what_is_left_out_stays(technician):
    set_units(technician, {"pressure": "kPa"})
    set_units(technician, {"temperature": "F"})
    technician.refresh_from_db()
    assert technician.units == {"pressure": "kPa", "temperature": "F"}


@pytest.mark.parametrize("units", [{"pressure": "atm"}, {"length": "m"}, {"fuel_pressure": "bar"}])
def test_what_is_not_offered_is_refused_and_nothing_changes(technician, units):
    with pytest.raises(ObservationError, match="not offered"):
        set_units(technician, units)
    technician.refresh_from_db()
    assert technician.units == {}
