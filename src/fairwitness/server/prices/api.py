"""Prices and options over HTTP."""

from __future__ import annotations

import math
from decimal import Decimal

from django.shortcuts import get_object_or_404
from django.utils import timezone
from drf_spectacular.utils import extend_schema
from rest_framework import serializers
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from fairwitness.core.errors import ObservationError
from fairwitness.core.messages.catalogue import phrase
from fairwitness.core.reason.knowledge.remedies import PART_NAMES
from fairwitness.core.reason.options import Option, OptionKind
from fairwitness.server.accounts.permissions import may, person
from fairwitness.server.cases.models import StoredCase
from fairwitness.server.parsing import validated
from fairwitness.server.prices import services
from fairwitness.server.prices.models import HOUR, Price

HOUR_WORDS = phrase("prices.hour", "an hour of labour")
CENTS = 2


class PriceSerializer(serializers.Serializer):
    """One line of the price list."""

    item = serializers.CharField()
    words = serializers.CharField()
    amount = serializers.FloatField(allow_null=True)


class PriceListSerializer(serializers.Serializer):
    """The shop's price list; what has no price yet is on it too."""

    may = serializers.BooleanField()
    prices = PriceSerializer(many=True)


class PriceChangeSerializer(serializers.Serializer):
    """A price as it is set; null takes it off."""

    item = serializers.CharField(max_length=32)
    amount = serializers.FloatField(allow_null=True)


class PriceChangesSerializer(serializers.Serializer):
    """Prices as they are set."""

    prices = PriceChangeSerializer(many=True)


class WayOnSerializer(serializers.Serializer):
    """One way to go on."""

    kind = serializers.ChoiceField(choices=[(k.value, k.value) for k in OptionKind])
    words = serializers.CharField()
    risk = serializers.CharField(allow_blank=True)
    minutes = serializers.FloatField()
    price = serializers.FloatField(allow_null=True)
    unpriced = serializers.ListField(child=serializers.CharField())
    cures = serializers.FloatField()
    wrong = serializers.FloatField(allow_null=True)
    saves = serializers.FloatField(allow_null=True)
    opens_engine = serializers.BooleanField()


class PricesView(APIView):
    """The price list."""

    needs = {"POST": "set_prices"}

    @extend_schema(operation_id="prices_read", responses=PriceListSerializer)
    def get(self, request: Request) -> Response:
        """Everything that may have a price, with its price."""
        return Response(_list(request))

    @extend_schema(operation_id="prices_set", request=PriceChangesSerializer, responses=PriceListSerializer)
    def post(self, request: Request) -> Response:
        """Set some of them, all or none."""
        given = validated(PriceChangesSerializer, request.data)
        changes = {line["item"]: _sum(line["amount"]) for line in given["prices"]}
        services.set_prices(changes, by=person(request), at=timezone.now())
        return Response(_list(request))


class OptionsView(APIView):
    """Ways to go on with a case."""

    @extend_schema(operation_id="options_read", responses=WayOnSerializer(many=True))
    def get(self, request: Request, case_id: int) -> Response:
        """With what each costs by today's prices, and what it costs to be wrong."""
        case = get_object_or_404(StoredCase, pk=case_id)
        return Response([_told(option) for option in services.options_of(case)])


def _sum(amount: float | None) -> Decimal | None:
    """An amount in whole cents."""
    if amount is None:
        return None
    if not math.isfinite(amount):
        raise ObservationError("A price is a number.", where="amount")
    return Decimal(str(round(amount, CENTS)))


def _list(request: Request) -> dict[str, object]:
    known = {item: float(amount) for item, amount in Price.objects.values_list("item", "amount")}
    lines = {HOUR: HOUR_WORDS, **PART_NAMES}
    return {
        "may": may(person(request), "set_prices"),
        "prices": [{"item": item, "words": words, "amount": known.get(item)} for item, words in lines.items()],
    }


def _told(option: Option) -> dict[str, object]:
    def money(sum_: float | None) -> float | None:
        return None if sum_ is None else round(sum_, CENTS)

    return {
        "kind": option.kind.value,
        "words": option.words,
        "risk": option.risk or "",
        "minutes": option.minutes,
        "price": money(option.price),
        "unpriced": [PART_NAMES[part] for part in option.unpriced],
        "cures": round(option.cures, 3),
        "wrong": money(option.wrong),
        "saves": money(option.saves),
        "opens_engine": option.opens_engine,
    }
