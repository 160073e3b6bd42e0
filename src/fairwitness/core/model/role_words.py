"""What the channels of a capture are called."""

from __future__ import annotations

from collections.abc import Mapping

from fairwitness.core.messages.catalogue import scope
from fairwitness.core.messages.message import Message
from fairwitness.core.model.capture import Role

_say = scope("role")

ROLE_WORDS: Mapping[Role, Message] = {
    Role.TIME: _say("time", "Time"),
    Role.STARTER_CURRENT: _say("starter_current", "Starter current"),
    Role.BATTERY_VOLTAGE: _say("battery_voltage", "Battery voltage"),
    Role.COIL_CONTROL: _say("coil_control", "Coil command"),
    Role.COIL_CURRENT: _say("coil_current", "Coil current"),
    Role.SECONDARY_VOLTAGE: _say("secondary_voltage", "Secondary voltage"),
    Role.INJECTOR_VOLTAGE: _say("injector_voltage", "Injector voltage"),
    Role.INJECTOR_CURRENT: _say("injector_current", "Injector current"),
    Role.CAM_SENSOR: _say("cam_sensor", "Cam sensor"),
    Role.CRANK_SENSOR: _say("crank_sensor", "Crank sensor"),
    Role.CYLINDER_PRESSURE: _say("cylinder_pressure", "Cylinder pressure"),
    Role.EXHAUST_PRESSURE: _say("exhaust_pressure", "Exhaust pulse"),
    Role.INTAKE_PRESSURE: _say("intake_pressure", "Intake pulse"),
    Role.CRANKCASE_PRESSURE: _say("crankcase_pressure", "Crankcase pulse"),
    Role.OTHER: _say("other", "Leave out"),
}
