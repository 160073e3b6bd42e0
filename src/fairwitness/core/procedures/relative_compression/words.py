"""What relative compression says."""

from __future__ import annotations

from fairwitness.core.messages.catalogue import template

STARTER_CURRENT = template("relative_compression.starter_current", "starter current")
BATTERY_VOLTAGE = template("relative_compression.battery_voltage", "battery voltage")
SCATTERS = template(
    "relative_compression.scatters",
    "The humps differ more from cycle to cycle than cylinders ever do: nothing can be compared.",
)
OVER_CYCLES = template("relative_compression.over_cycles", "over {count} cycles")
EVEN_PEERS = template("relative_compression.even_peers", "{who} is even with its peers: {percent} {over}.")
ALL_COMPRESSIONS_EVEN = template(
    "relative_compression.all_compressions_even",
    "All {cylinders} compressions are even; the lowest reaches {shares:.0f} % of its peers.",
)
COMPRESSIONS_LOW_LOWEST = template(
    "relative_compression.compressions_low_lowest",
    "{low} of {cylinders} compressions {how} low, the lowest at {shares:.0f} % of its peers. Which cylinder it is, "
    "this capture cannot say.",
)
SHOWS_HARDLY_ANY = template(
    "relative_compression.shows_hardly_any", "{who} shows hardly any compression: {percent} of its peers {over}."
)
COMPRESSES_PEERS = template(
    "relative_compression.compresses_peers", "{who} compresses to {percent} of its peers {over}."
)
STANDS_ABOVE_PEERS = template(
    "relative_compression.stands_above_peers", "{who} stands above its peers: {percent} {over}."
)
REACHES_PEERS_SUSPICIOUS = template(
    "relative_compression.reaches_peers_suspicious",
    "{who} reaches {percent} of its peers {over}: suspicious, not low. Repeat to be sure.",
)
CYLINDER_REACHES_PEERS = template(
    "relative_compression.cylinder_reaches_peers",
    "Cylinder {rivals:or} reaches {shares:.0f} % of its peers; which of them, a sync once per revolution cannot say.",
)
ONE_CYLINDER_HAS = template("relative_compression.one_cylinder_has", "One cylinder has no peers to be compared with.")
ON_CYLINDER = template("relative_compression.on_cylinder", "on cylinder {cylinder}")
ON_ONE_CYLINDER = template("relative_compression.one_cylinder", "on one cylinder")
CHANNEL_CAPTURE_COULD = template(
    "relative_compression.channel_capture_could", "No channel of this capture could be read."
)
STARTER_CURRENT_BATTERY = template(
    "relative_compression.starter_current_battery",
    "Starter current and battery voltage disagree by {apart:.0f} points {who}; the {SOURCE_WORDS} fits better and was "
    "used.",
)
