"""The demo's shop: an invented depot with an invented price list. Made only in demo mode."""

from __future__ import annotations

from datetime import datetime
from decimal import Decimal

from fairwitness.server.accounts.models import User, Workshop
from fairwitness.server.prices.models import HOUR
from fairwitness.server.prices.services import set_prices

NAME = "Larkmoor Community Transport, depot workshop"
ADDRESS = "Depot Yard 4\nLarkmoor\nworkshop@larkmoor.example"
CURRENCY = "€"
PRICES = {
    HOUR: "68", "plug": "9.40", "boot": "12.50", "lead": "23.80", "coil": "64", "injector": "148",
    "injector_seal": "4.20", "oil": "62", "control_unit": "780", "intake_gasket": "36", "fuel_pump": "210",
    "fuel_filter": "28", "piston_rings": "46", "head_gasket": "230", "valve": "38", "head_bolts": "44",
    "crank_sensor": "58", "cam_sensor": "52", "igniter": "135", "battery": "140",
}  # fmt: skip
"""The rest is not priced yet, as in any shop."""


def make_shop(by: User, at: datetime) -> None:
    """Describe the shop where nobody did, and write its prices down."""
    if Workshop.objects.exists():
        return
    Workshop.objects.create(pk=1, name=NAME, address=ADDRESS, currency=CURRENCY)
    set_prices({item: Decimal(price) for item, price in PRICES.items()}, by=by, at=at)
