"""What the pressure in a cylinder says."""

from __future__ import annotations

from fairwitness.core.messages.catalogue import phrase, template

INTAKE_CLOSES = template("cylinder_pressure.intake_closes", "intake closes")
EXHAUST_OPENS = template("cylinder_pressure.exhaust_opens", "exhaust opens")
INTAKE_OPENS = template("cylinder_pressure.intake_opens", "intake opens")
BESIDE_ANOTHER_CYLINDER = template("cylinder_pressure.beside_another_cylinder", " beside another cylinder")
BESIDE_KNOWN_GOOD = template("cylinder_pressure.beside_known_good", " beside a known good of this engine")
CYLINDER_REACHES = template("cylinder_pressure.cylinder_reaches", "Cylinder {cylinder} reaches {peak:pressure}")
RISES_FALLS_EVENLY = template("cylinder_pressure.rises_falls_evenly", "{text}; it rises and falls evenly.")
PRESSURE_WRITTEN_ABOVE = template(
    "cylinder_pressure.pressure_written_above",
    "Pressure was written as above the atmosphere; it was made absolute by the exhaust stroke for computing.",
)
CRANK_SENSOR_RECORDED = template(
    "cylinder_pressure.crank_sensor_recorded",
    "No crank sensor was recorded: a starter turns unevenly, so valve events are good to about 10 degrees only.",
)
PEERS = template("cylinder_pressure.peers", ", its peers {usual:pressure.number}")
COMPRESSES_AGAIN_WHEN = template(
    "cylinder_pressure.compresses_again_when",
    "{text}, and compresses again when it should let out: the exhaust valve does not open.",
)
VALVES_MOVE = template("cylinder_pressure.valves_move", "{text}; its valves move {valves}.")
TOWER_LEANS_FALLS = template(
    "cylinder_pressure.tower_leans_falls",
    "{text}; its tower leans: it falls faster than it rose, {lost:.0f} % of the gas escapes.",
)
CYLINDER_DEGREES_TOP = template(
    "cylinder_pressure.cylinder_degrees_top",
    "Cylinder {cylinder}: {words} {deg:.0f} degrees {side} top dead centre (± {sigma:.0f}).",
)
CYLINDER_INTAKE_CLOSES = template(
    "cylinder_pressure.cylinder_intake_closes",
    "Cylinder {cylinder}: intake closes {closes:.0f} degrees before top dead centre and exhaust opens ",
)
AFTER_DEGREES = template(
    "cylinder_pressure.after_degrees", "{opens:.0f} after it, {shift:.0f} degrees {valves}{beside}."
)
CAMS = {
    "intake": phrase("cylinder_pressure.cam.intake", "intake"),
    "exhaust": phrase("cylinder_pressure.cam.exhaust", "exhaust"),
}
ONE_CAM = template(
    "cylinder_pressure.one_cam",
    " Only the {cam} cam stands off, the other is within {other:.0f} degrees: look at its phaser, wheel and chain.",
)
TRANSDUCER_NAMES_CYLINDER = template(
    "cylinder_pressure.transducer_names_cylinder", "No transducer names a cylinder of this engine."
)
COMPRESSION_STANDS_OUT = template(
    "cylinder_pressure.compression_stands_out", "No compression stands out: is the transducer connected and vented?"
)
CYLINDER_SHOWS_COMPRESSION = template(
    "cylinder_pressure.cylinder_shows_compression", "Cylinder {c} shows no compression at all."
)
TRANSDUCER = template("cylinder_pressure.transducer", "by transducer")
ABOVE_ATMOSPHERE = template("cylinder_pressure.above_atmosphere", "{how}, above the atmosphere")
RUNNING_PLUG_OUT = phrase("cylinder_pressure.running", "running, its plug out")
CRANKING = phrase("cylinder_pressure.cranking", "cranking")
