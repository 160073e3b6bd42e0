"""Shapes of the bench's requests and answers."""

from __future__ import annotations

from rest_framework import serializers

from fairwitness.core.model.capture import CaptureTest
from fairwitness.server.bench.stage import Stage
from fairwitness.simulate.running import LOADS


class InBaySerializer(serializers.Serializer[dict[str, object]]):
    model = serializers.CharField()
    case = serializers.IntegerField()
    case_title = serializers.CharField(allow_blank=True)
    cylinders = serializers.IntegerField()
    hidden = serializers.BooleanField()
    fault = serializers.CharField(allow_blank=True)


class LeadSerializer(serializers.Serializer[dict[str, object]]):
    channel = serializers.IntegerField()
    name = serializers.CharField()
    role = serializers.CharField()
    unit = serializers.CharField()
    reach = serializers.FloatField()
    probe = serializers.FloatField()
    place = serializers.CharField()
    sync = serializers.BooleanField()


class TickSerializer(serializers.Serializer[dict[str, object]]):
    id = serializers.CharField()
    words = serializers.CharField()


class DropSerializer(serializers.Serializer[dict[str, object]]):
    cylinder = serializers.IntegerField()
    rpm_before = serializers.IntegerField()
    rpm_after = serializers.IntegerField()


class BalanceSerializer(serializers.Serializer[dict[str, object]]):
    running = serializers.BooleanField()
    cylinder = serializers.IntegerField(allow_null=True)
    phase = serializers.ChoiceField(choices=["baseline", "cut", "done"])
    drops = DropSerializer(many=True)


class LossSerializer(serializers.Serializer[dict[str, object]]):
    at_s = serializers.FloatField()
    lead = serializers.CharField()


class BenchSerializer(serializers.Serializer[dict[str, object]]):
    version = serializers.IntegerField()
    vehicle = InBaySerializer(allow_null=True)
    scope = serializers.ChoiceField(choices=["off", "connected", "lost"])
    scope_identity = serializers.CharField(allow_blank=True)
    scan_connected = serializers.BooleanField()
    engine = serializers.ChoiceField(choices=["off", "cranking", "running"])
    fuel_disabled = serializers.BooleanField()
    battery_v = serializers.FloatField(allow_null=True)
    battery_low = serializers.BooleanField()
    starter_heat = serializers.FloatField()
    elapsed_s = serializers.FloatField()
    crank_max_s = serializers.FloatField()
    stage = serializers.ChoiceField(choices=[stage.value for stage in Stage])
    test = serializers.CharField(allow_blank=True)
    test_title = serializers.CharField(allow_blank=True)
    cranks = serializers.BooleanField()
    seconds = serializers.FloatField()
    recorded_s = serializers.FloatField()
    rate_hz = serializers.FloatField()
    watched_s = serializers.FloatField(allow_null=True, help_text="Of a long watch, over all its stretches.")
    losses = LossSerializer(many=True)
    leads = LeadSerializer(many=True)
    checks = TickSerializer(many=True)
    cautions = serializers.ListField(child=serializers.CharField())
    big = serializers.CharField()
    problem = serializers.CharField(allow_blank=True)
    kept = serializers.IntegerField(allow_null=True)
    balance = BalanceSerializer()


class GarageSerializer(serializers.Serializer[dict[str, object]]):
    name = serializers.CharField()
    model = serializers.CharField()


class BenchTestSerializer(serializers.Serializer[dict[str, object]]):
    test = serializers.CharField()
    title = serializers.CharField()
    cranks = serializers.BooleanField()


class FaultChoiceSerializer(serializers.Serializer[dict[str, object]]):
    fault = serializers.CharField()
    words = serializers.CharField()
    per_cylinder = serializers.BooleanField()


class ChoicesSerializer(serializers.Serializer[dict[str, object]]):
    vehicles = GarageSerializer(many=True)
    faults = FaultChoiceSerializer(many=True)
    tests = BenchTestSerializer(many=True)
    loads = serializers.ListField(child=serializers.CharField())
    inbox = serializers.BooleanField()


class ChooseSerializer(serializers.Serializer[dict[str, object]]):
    case = serializers.IntegerField(required=False, allow_null=True, default=None)
    vehicle = serializers.CharField(required=False, allow_blank=True, default="")
    fault = serializers.CharField(required=False, allow_blank=True, default="", max_length=120)
    hot = serializers.BooleanField(required=False, default=True)


class SwitchSerializer(serializers.Serializer[dict[str, object]]):
    on = serializers.BooleanField()


class EngineSwitchSerializer(serializers.Serializer[dict[str, object]]):
    on = serializers.BooleanField()
    load = serializers.ChoiceField(choices=LOADS, required=False, default="idle")


class SetUpSerializer(serializers.Serializer[dict[str, object]]):
    test = serializers.ChoiceField(choices=[t.value for t in CaptureTest])
    suspects = serializers.ListField(child=serializers.IntegerField(), required=False, default=list, max_length=16)


class GoSerializer(serializers.Serializer[dict[str, object]]):
    ticked = serializers.ListField(child=serializers.CharField(max_length=40), max_length=20)


class KeptHereSerializer(serializers.Serializer[dict[str, object]]):
    id = serializers.IntegerField()
    case = serializers.IntegerField()


class KeptInCaseSerializer(serializers.Serializer[dict[str, object]]):
    case = serializers.IntegerField()


class LiveValueSerializer(serializers.Serializer[dict[str, object]]):
    name = serializers.CharField()
    value = serializers.FloatField()
    unit = serializers.CharField()


class ScanCodeSerializer(serializers.Serializer[dict[str, object]]):
    code = serializers.CharField()
    status = serializers.CharField()


class CountSerializer(serializers.Serializer[dict[str, object]]):
    cylinder = serializers.IntegerField()
    count = serializers.IntegerField()


class ScanSerializer(serializers.Serializer[dict[str, object]]):
    live = LiveValueSerializer(many=True)
    codes = ScanCodeSerializer(many=True)
    counts = CountSerializer(many=True)


class InboxFileSerializer(serializers.Serializer[dict[str, object]]):
    name = serializers.CharField()
    size = serializers.IntegerField()
    modified = serializers.DateTimeField()


class InboxSerializer(serializers.Serializer[dict[str, object]]):
    on = serializers.BooleanField()
    files = InboxFileSerializer(many=True)
