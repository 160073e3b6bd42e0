"""What the current of injectors says."""

from __future__ import annotations

from fairwitness.core.messages.catalogue import template

DRAWS_LIKE_PEERS = template(
    "injector_current.draws_like_peers", "{who} draws like its peers: {level:.2f} A for {on_ms:.1f} ms{several}."
)
WORKS_UNTIL_INJECTION = template(
    "injector_current.works_until_injection",
    "{who} works until {clock} (injection {lost_at}) and is open from there on.",
)
PULSES_OVERLAP_SPEED = template(
    "injector_current.pulses_overlap_speed",
    "Pulses overlap at this speed: heights come from a fit of their sum, and needles are not judged.",
)
SYNC_INJECTOR_WHETHER = template(
    "injector_current.sync_injector_whether",
    "The sync is no injector: whether is told, which cylinder is not. Sync on one.",
)
INJECTOR_CYLINDER = template("injector_current.injector_cylinder", "The injector of cylinder {cylinder}")
ONE_INJECTOR = template("injector_current.one_injector", "One injector")
SHOWS_PULSE_CURRENT = template(
    "injector_current.shows_pulse_current", "{who} shows no pulse of current; its peers reach {peers:.2f} A."
)
REACHES_LESS_THAN = template(
    "injector_current.reaches_less_than",
    "{who} reaches {level:.2f} A, {level_2:.0f} % less than its peers: more resistance.",
)
REACHES_PEERS_TOO = template(
    "injector_current.reaches_peers_too", "{who} reaches {level:.2f} A, its peers {peers:.2f} A: too little resistance."
)
RISES_MORE_SLOWLY = template(
    "injector_current.rises_more_slowly",
    "{who} draws its current {percent:.0f} % more slowly, or holds so much less, than its peers: more resistance.",
)
RISES_FASTER = template(
    "injector_current.rises_faster",
    "{who} draws its current {percent:.0f} % faster, or holds so much more, than its peers: too little resistance.",
)
DRAWS_CURRENT_BUT = template(
    "injector_current.draws_current_but",
    "{who} draws its current, but the dip of a lifting needle is missing: it does not move.",
)
MS_PEERS_MS = template(
    "injector_current.ms_peers_ms", "{who} is on for {on_ms:.1f} ms, its peers for {on_ms_2:.1f} ms: flooding."
)
PULSES = template("injector_current.pulses", " in {per_injection:.0f} pulses")
STAYS_OUT_TIMES = template(
    "injector_current.stays_out_times",
    "{who} stays out {missed} times of {due} while its peers inject: it fails now and then.",
)
SECONDS = template("injector_current.seconds", "{rest:.2f} s")
MIN = template("injector_current.min", "{minutes} min {rest:.1f} s")
CURRENT_CYLINDER_FALLS = template(
    "injector_current.current_cylinder_falls",
    "The current of cylinder {c} falls by {value:.1f} % beside its peers as it warms.",
)
ALL_CURRENTS_FALL = template(
    "injector_current.all_currents_fall",
    "All currents fall by {ratio:.0f} %: copper that warms by about {kelvin:.0f} K",
)
INTERFERENCE_SPIKES_FILTERED = template(
    "injector_current.interference_spikes_filtered",
    "Interference spikes were filtered out: a plug lead lies near the clamp.",
)
CLAMP_BACKWARDS_TRACE = template(
    "injector_current.clamp_backwards_trace", "The clamp was on backwards: the trace was turned over before measuring."
)
CLAMPS_FEEDS = template("injector_current.clamps_feeds", "clamps on the feeds")
CLAMP_FEED = template("injector_current.clamp_feed", "a clamp on the feed")
CYLINDER_FIRST_INJECTION = template(
    "injector_current.cylinder_first_injection", "Cylinder {c}: first injection missing at {clock}."
)
RESISTANCE_GROWS = template("injector_current.resistance_grows", "{text} Its resistance grows.")
VOLTAGE_FALLS = template("injector_current.voltage_falls", "{text}, or a voltage that falls.")
OTHERS_ON_FEED = template(
    "injector_current.others_on_feed",
    "Something else draws on this feed, coils as it looks: its pulses were left out by their height and place.",
)
