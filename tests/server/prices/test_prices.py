"""The price list, and what the ways to go on with a case cost by it."""

from decimal import Decimal

import pytest
from django.core.exceptions import PermissionDenied
from django.utils import timezone

from fairwitness.core.errors import ObservationError
from fairwitness.core.reason.knowledge.remedies import PRICED
from fairwitness.server.prices import services
from fairwitness.server.prices.models import HOUR, Price
from tests.server.cases.test_life import balance

NOW = timezone.now()


def test_prices_are_set_changed_and_taken_off_again(lead):
    services.set_prices({"coil": Decimal("60"), HOUR: Decimal("72.50")}, by=lead, at=NOW)
    services.set_prices({"coil": Decimal("65"), "plug": Decimal("9")}, by=lead, at=NOW)
    assert (services.prices().parts, services.prices().hour) == ({"coil": 65.0, "plug": 9.0}, 72.5)
    services.set_prices({"plug": None}, by=lead, at=NOW)
    assert services.prices().parts == {"coil": 65.0}


@pytest.mark.parametrize("changes", [{"wheel": Decimal(1)}, {"coil": Decimal(-1)}, {"coil": Decimal(9_999_999)}])
def test_what_cannot_be_is_refused_whole(lead, changes):
    with pytest.raises(ObservationError):
        services.set_prices({"plug": Decimal(9), **changes}, by=lead, at=NOW)
    assert not Price.objects.exists()


def test_only_a_lead_sets_prices(technician):
    with pytest.raises(PermissionDenied):
        services.set_prices({"coil": Decimal(60)}, by=technician, at=NOW)


def test_none_is_shipped_and_everything_that_may_have_one_is_on_the_list(as_user, technician):
    listed = as_user(technician).get("/api/prices/").json()
    assert listed["may"] is False
    assert {line["item"] for line in listed["prices"]} == {HOUR, *PRICED}
    assert {line["amount"] for line in listed["prices"]} == {None}


def test_options_of_a_case_by_the_shops_prices(as_user, case, technician, lead):
    balance(case, {3}, technician)
    options = as_user(technician).get(f"/api/cases/{case.pk}/options/").json()
    assert all(option["price"] in (None, 0.0) for option in options)
    services.set_prices({HOUR: Decimal(60), **dict.fromkeys(PRICED, Decimal(40))}, by=lead, at=NOW)
    for option in as_user(technician).get(f"/api/cases/{case.pk}/options/").json():
        if option["kind"] == "proper":
            assert option["price"] > 0
            assert option["wrong"] == pytest.approx((1 - option["cures"]) * option["price"], abs=0.2)


def test_prices_come_in_over_http_all_or_none(as_user, lead):
    browser = as_user(lead)
    sent = {"prices": [{"item": "coil", "amount": "60.00"}, {"item": "wheel", "amount": "1"}]}
    assert browser.post("/api/prices/", sent, content_type="application/json").status_code == 400
    assert not Price.objects.exists()
    kept = browser.post("/api/prices/", {"prices": sent["prices"][:1]}, content_type="application/json").json()
    assert next(line["amount"] for line in kept["prices"] if line["item"] == "coil") == 60.0
