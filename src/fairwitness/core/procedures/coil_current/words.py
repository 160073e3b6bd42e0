"""What is said of coils that charge beside each other."""

from __future__ import annotations

from fairwitness.core.messages.catalogue import template

CHARGES_LIKE_PEERS = template(
    "coil_current.charges_like_peers", "{who} charges like its peers: {peak_a:.1f} A in {dwell_ms:.1f} ms."
)
SUPPLY_SAGS_V = template(
    "coil_current.supply_sags_v", "The supply sags by {sag_v:.1f} V while a coil charges: feed, fuse, relay or battery."
)
COIL_CYLINDER = template("coil_current.coil_cylinder", "The coil of cylinder {cylinder}")
ONE_COIL = template("coil_current.one_coil", "One coil")
DRAWS_CURRENT_PEERS = template(
    "coil_current.draws_current_peers", "{who} draws no current; its peers reach {peak:.1f} A."
)
REACHES_MS_THERE = template(
    "coil_current.reaches_ms_there",
    "{who} reaches {peak_a:.1f} A in {dwell_ms:.1f} ms; there is no peer to compare it with.",
)
RISES_TIMES_STEEPLY = template(
    "coil_current.rises_times_steeply", "{who} rises {start_slope:.1f} times as steeply as its peers: shorted turns."
)
REACHES_PEERS = template("coil_current.reaches_peers", "{who} reaches {peak_a:.1f} A, its peers {peak:.1f} A")
REACHES_BUT_RAMPS = template(
    "coil_current.reaches_but_ramps", "{who} reaches {peak_a:.1f} A, but {missed:.0f} % of its ramps are missing."
)
INTERFERENCE_SPIKES_FILTERED = template(
    "coil_current.interference_spikes_filtered",
    "{spikes} interference spikes were filtered out: a lead lies near the clamp; re-route it.",
)
COIL_CURRENT_CYLINDER = template(
    "coil_current.coil_current_cylinder", "No coil current of a cylinder of this engine was recorded."
)
COIL_DRAWS_CURRENT = template(
    "coil_current.coil_draws_current", "No coil draws current: is the clamp zeroed, and does the engine run?"
)
CLAMP_EACH_COIL = template("coil_current.clamp_each_coil", "a clamp on each coil")
CLAMP_SHARED_FEED = template(
    "coil_current.clamp_shared_feed", "A clamp on a shared feed needs a sync on one known cylinder."
)
SYNC_CARRIES_EVENTS = template(
    "coil_current.sync_carries_events", "The sync carries no events: is it on a working cylinder?"
)
COIL_DRAWS_CURRENT_CLAMPED = template(
    "coil_current.coil_draws_current_clamped", "No coil draws current on the clamped feed."
)
CLAMP_SHARED_FEED_2 = template("coil_current.clamp_shared_feed_2", "a clamp on the shared feed")
ONLY_ONE_COIL = template("coil_current.only_one_coil", "Only one coil was captured: capture the others to compare it.")
DWELL_SHORTER = template("coil_current.dwell_shorter", ": its dwell is shorter.")
SAME_DWELL_RESISTANCE = template(
    "coil_current.same_dwell_resistance", " in the same dwell: resistance or a low supply."
)
CLAMP_BACKWARDS_TRACE = template(
    "coil_current.clamp_backwards_trace", "The clamp was on backwards: the trace was turned over before measuring."
)
LIMIT_NOT_REACHED = template(
    "coil_current.limit_not_reached",
    "{who} does not reach the current at which its peers are held: more resistance, or a low supply.",
)
