"""What a bay may own, and what the engine does meanwhile: the terms in which tests are described."""

from __future__ import annotations

from collections.abc import Mapping
from enum import StrEnum

from fairwitness.core.messages.catalogue import phrase
from fairwitness.core.messages.message import Message


class Tool(StrEnum):
    """What a bay may own."""

    SCOPE = "scope"
    BIG_CLAMP = "big_clamp"
    SMALL_CLAMP = "small_clamp"
    PICK_UPS = "pick_ups"
    ATTENUATOR = "attenuator"
    HOSE_SENSOR = "hose_sensor"
    TRANSDUCER = "transducer"
    SCAN_TOOL = "scan_tool"
    METER = "meter"
    LAMP = "lamp"
    SPARK_GAP = "spark_gap"
    COMPRESSION_GAUGE = "compression_gauge"
    LEAK_DOWN = "leak_down_gauge"
    VACUUM_GAUGE = "vacuum_gauge"
    FUEL_GAUGE = "fuel_gauge"
    PULSER = "injector_pulser"
    SMOKE = "smoke_or_propane"


TOOL_WORDS: Mapping[Tool, Message] = {
    Tool.SCOPE: phrase("tool.scope", "scope"),
    Tool.BIG_CLAMP: phrase("tool.big_clamp", "clamp for starter current"),
    Tool.SMALL_CLAMP: phrase("tool.small_clamp", "small current clamp"),
    Tool.PICK_UPS: phrase("tool.pick_ups", "ignition pick-ups"),
    Tool.ATTENUATOR: phrase("tool.attenuator", "attenuator"),
    Tool.HOSE_SENSOR: phrase("tool.hose_sensor", "hose pressure sensor"),
    Tool.TRANSDUCER: phrase("tool.transducer", "cylinder pressure transducer"),
    Tool.SCAN_TOOL: phrase("tool.scan_tool", "scan tool"),
    Tool.METER: phrase("tool.meter", "meter"),
    Tool.LAMP: phrase("tool.lamp", "bulb of about 2 A"),
    Tool.SPARK_GAP: phrase("tool.spark_gap", "spark gap"),
    Tool.COMPRESSION_GAUGE: phrase("tool.compression_gauge", "compression gauge"),
    Tool.LEAK_DOWN: phrase("tool.leak_down_gauge", "leak-down gauge with compressed air"),
    Tool.VACUUM_GAUGE: phrase("tool.vacuum_gauge", "vacuum gauge"),
    Tool.FUEL_GAUGE: phrase("tool.fuel_gauge", "fuel pressure gauge"),
    Tool.PULSER: phrase("tool.injector_pulser", "injector pulser"),
    Tool.SMOKE: phrase("tool.smoke_or_propane", "smoke or propane"),
}
HAND_TOOLS_ONLY = frozenset(Tool) - {
    Tool.SCOPE, Tool.BIG_CLAMP, Tool.SMALL_CLAMP, Tool.PICK_UPS, Tool.ATTENUATOR, Tool.HOSE_SENSOR, Tool.TRANSDUCER,
}  # fmt: skip
"""A bay without a scope: simple tests are evidence too."""


class Turning(StrEnum):
    """What the engine does during a test."""

    STILL = "still"
    """Key off."""
    KEY_ON = "key_on"
    """At rest, fed and awake."""
    CRANKING = "cranking"
    RUNNING = "running"
