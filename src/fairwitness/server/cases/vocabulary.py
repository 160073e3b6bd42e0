"""The words for values of the API: what the interface shows where it holds a value only."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from drf_spectacular.utils import extend_schema
from rest_framework import serializers
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from fairwitness.core.messages.catalogue import scope
from fairwitness.core.messages.message import NOTHING, Message
from fairwitness.core.messages.rendering import QUANTITIES, render
from fairwitness.core.messages.trade_words import BETWEEN, TRADE_WORDS
from fairwitness.core.model.phase_words import FITTED_WORDS, PART_WORDS
from fairwitness.core.model.role_words import ROLE_WORDS
from fairwitness.core.procedures.specs import CARDS, SPECS
from fairwitness.core.reason.knowledge.fault_spec import Cause
from fairwitness.core.reason.knowledge.faults import FAULTS
from fairwitness.core.reason.knowledge.signs import SIGNS
from fairwitness.core.reason.planning.settings import SETTINGS
from fairwitness.core.reason.verdict import Status
from fairwitness.formats.recordings import EXPORTS

_say = scope("vocabulary")

STATUS_WORDS: Mapping[Status, Message] = {
    Status.ESTABLISHED: _say("established", "established"),
    Status.SUPPORTED: _say("supported", "supported"),
    Status.SUSPECTED: _say("suspected", "suspected"),
    Status.INCONCLUSIVE: _say("inconclusive", "inconclusive"),
    Status.NO_FAULT_FOUND: _say("no_fault_found", "no fault found"),
}
CAUSE_WORDS: Mapping[Cause, Message] = {
    Cause.IGNITION: _say("ignition", "Ignition"),
    Cause.FUEL: _say("fuel", "Fuel"),
    Cause.MECHANICAL: _say("mechanical", "Mechanical"),
    Cause.CONTROL: _say("control", "Control"),
    Cause.NONE: _say("none", "No fault"),
}
UNIT_WORDS: Mapping[str, Message] = {
    "pressure": _say("pressure", "Pressures"),
    "vacuum": _say("vacuum", "Vacuum"),
    "temperature": _say("temperature", "Temperatures"),
}
ONLY_VALUES = _say("only_values", "times, values, names and units only")


class ExportSerializer(serializers.Serializer):
    """A format captures are handed out in."""

    kind = serializers.CharField()
    words = serializers.CharField()
    loses = serializers.CharField(allow_blank=True, help_text="What a file of it does not hold, if anything")


class ChoiceSerializer(serializers.Serializer):
    """A question with its answers."""

    key = serializers.CharField()
    words = serializers.CharField()
    options = serializers.DictField(child=serializers.CharField())


class TradeWordSerializer(serializers.Serializer):
    """A word of the trade, explained where it stands."""

    forms = serializers.ListField(child=serializers.CharField(), help_text="As it stands in sentences.")
    meaning = serializers.CharField()


class VocabularySerializer(serializers.Serializer):
    """Words by value."""

    roles = serializers.DictField(child=serializers.CharField())
    tests = serializers.DictField(child=serializers.CharField(), help_text="Tests that read a capture.")
    causes = serializers.DictField(child=serializers.CharField())
    statuses = serializers.DictField(child=serializers.CharField())
    settings = ChoiceSerializer(many=True, help_text="Where people of the trade differ.")
    units = ChoiceSerializer(many=True, help_text="Units a person may choose to read in.")
    parts = serializers.DictField(child=serializers.CharField(), help_text="What repairs may name.")
    fitted = serializers.DictField(child=serializers.CharField(), help_text="What a repair fitted.")
    signs = serializers.DictField(child=serializers.CharField(), help_text="What a driver sees, hears and smells.")
    faults = serializers.DictField(child=serializers.CharField(), help_text="What may be found.")
    exports = ExportSerializer(many=True, help_text="Formats captures are handed out in.")
    trade_words = TradeWordSerializer(many=True, help_text="What may be explained where it stands.")


class VocabularyView(APIView):
    """Words for values."""

    @extend_schema(operation_id="vocabulary_read", responses=VocabularySerializer)
    def get(self, request: Request) -> Response:
        """The words for every value that comes without."""
        return Response(
            {
                "roles": _by_value(ROLE_WORDS),
                "tests": {test.value: SPECS[test.value].title for test in CARDS},
                "causes": _by_value(CAUSE_WORDS),
                "statuses": _by_value(STATUS_WORDS),
                "settings": [{"key": s.key, "words": s.words, "options": _by_value(s.sides)} for s in SETTINGS],
                "units": [_units(quantity) for quantity in QUANTITIES],
                "parts": dict(PART_WORDS),
                "fitted": _by_value(FITTED_WORDS),
                "signs": {sign: known.words for sign, known in SIGNS.items()},
                "faults": {fault: spec.words for fault, spec in FAULTS.items()},
                "exports": [
                    {"kind": e.kind, "words": e.words, "loses": NOTHING if e.whole else ONLY_VALUES} for e in EXPORTS
                ],
                "trade_words": [
                    {"forms": render(word.said).split(BETWEEN), "meaning": word.meaning} for word in TRADE_WORDS
                ],
            }
        )


def _by_value(words: Mapping[Any, Message]) -> dict[str, Message]:
    return {value.value: said for value, said in words.items()}


def _units(quantity: str) -> dict[str, Any]:
    symbols = {unit: known.symbol for unit, known in QUANTITIES[quantity].items()}
    return {"key": quantity, "words": UNIT_WORDS[quantity], "options": symbols}
