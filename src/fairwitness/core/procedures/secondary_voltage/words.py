"""What is said of sparks beside each other."""

from __future__ import annotations

from fairwitness.core.messages.catalogue import phrase, template

CYLINDER_BREAKS_DOWN = template(
    "secondary_voltage.comparison.cylinder_breaks_down",
    "Cylinder {cylinder} breaks down at {firing_kv:.1f} kV, its peers at {firing_kv_2:.1f} kV",
)
SPARK_LINE_STANDS = template(
    "secondary_voltage.comparison.spark_line_stands",
    "; its spark line stands at {line_kv:.2f} kV (peers {line_kv_2:.2f}) and lasts {duration_ms:.2f} ms (peers "
    "{duration_ms_2:.2f}).",
)
CYLINDER_PEERS = template(
    "secondary_voltage.comparison.cylinder_peers",
    "Cylinder {cylinder}: {words} {own:.2f}{unit}, peers {usual:.2f}{unit}.",
)
CYLINDER_SHOWS_SPARK = template(
    "secondary_voltage.comparison.cylinder_shows_spark",
    "Cylinder {cylinder} shows no spark at all; its peers break down at {firing_kv:.1f} kV.",
)
CYLINDER_BREAKS_DOWN_KV = template(
    "secondary_voltage.comparison.cylinder_breaks_down_kv",
    "Cylinder {cylinder} breaks down at {firing_kv:.1f} kV; there is no peer to compare it with.",
)
CYLINDER_SPARKS_LIKE = template(
    "secondary_voltage.comparison.cylinder_sparks_like",
    "Cylinder {cylinder} sparks like its peers: {firing_kv:.1f} kV, {duration_ms:.2f} ms.",
)
BREAKDOWN_LIKE_PEERS = template(
    "secondary_voltage.comparison.breakdown_like_peers",
    "Cylinder {cylinder} breaks down like its peers, at {firing_kv:.1f} kV.",
)
LINE_LIKE_PEERS = template(
    "secondary_voltage.comparison.line_like_peers", "Cylinder {cylinder} burns like its peers, at {line_kv:.2f} kV."
)
FULL_STOP = phrase("secondary_voltage.comparison.full_stop", ".")
SPARK_LINE_FOLLOWS = template(
    "secondary_voltage.comparison.spark_line_follows", "{text}; no spark line follows: nothing burns in the gap."
)
LINE_RISES_STEEPLY = template(
    "secondary_voltage.comparison.line_rises_steeply", " The line rises steeply to its end, as a lean mixture does."
)
HARDLY_ANY_OSCILLATION = template(
    "secondary_voltage.comparison.hardly_any_oscillation",
    " Hardly any oscillation follows: the coil's turns are shorted or weak.",
)
STRIKES_ANEW_TIMES = template(
    "secondary_voltage.comparison.strikes_anew_times",
    " It strikes anew {restrikes:.1f} times a spark: turbulence or little energy.",
)
SPARKS_DO_BURN = template(
    "secondary_voltage.comparison.sparks_do_burn",
    " {odd:.0f} % of its sparks do not burn or break down far above the rest.",
)
SPARKS_MISSING = template("secondary_voltage.comparison.sparks_missing", " {missed:.0f} % of its sparks are missing.")
PICK_UP_GAIN = template(
    "secondary_voltage.comparison.pick_up_gain",
    "The pick-up's gain is not known: cylinders are compared with each other, no limit in kV is applied.",
)
ALL_CYLINDERS_NEED = template(
    "secondary_voltage.comparison.all_cylinders_need",
    "All cylinders need much: {firing:.0f} kV in the middle. Lean mixture, worn plugs or gaps everywhere?",
)
SPARK_LINES_ABOVE = template(
    "secondary_voltage.comparison.spark_lines_above",
    "Spark lines above {line_high_kv:g} kV on cylinder {who}: high resistance in lead or plug.",
)
SPARKS_LAST_MS = template(
    "secondary_voltage.comparison.sparks_last_ms",
    "Sparks last {median:.2f} ms in the middle, under 0.9 ms: little energy, or much demand.",
)
CYLINDER_SAME_COIL = template(
    "secondary_voltage.comparison.cylinder_same_coil",
    " Cylinder {partner} on the same coil sparks, so its primary and command work.",
)
ONLY_ONE_LEAD = template(
    "secondary_voltage.comparison.only_one_lead", "Only one lead was captured: capture the others to compare it."
)
