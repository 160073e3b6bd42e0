"""What the plan says of its offers and of when to stop."""

from __future__ import annotations

from fairwitness.core.messages.catalogue import phrase, template

REASON = template("plan.reason", "{minutes:g} min with {tools}{where}{connected}: {splits}.{under}")
ONCE_MORE = phrase("plan.once_more", " Once more: the accusation hangs on this reading.")
ON_CYLINDER = template("plan.on_cylinder", " on cylinder {cylinders}")
CONNECTED_ALREADY = phrase("plan.connected_already", ", connected already")
TAKEN_WHEN = template("plan.taken_when", " Take it {conditions:and}: that is when it comes.")
TAKEN_NOW = phrase("plan.taken_now", " It does it now: clip on, unplug nothing.")
LOWER = template("plan.lower", "{title:lower}")
NOT_UNTIL_THEN = template(
    "plan.not_until_then",
    "{why} Until then nothing is offered that turns, starts or feeds it: {count} tests wait.",
)
NOT_AGREED = template("plan.not_agreed", "Not before the owner agrees to it: {titles:and}.")
ENABLE_FUEL = phrase("plan.enable_fuel", "Fuel is disabled: enable it again and record that first.")
STOP_UNMET = phrase(
    "plan.stop.unmet", "Stop when the conditions under Not seen are met, or when no test is worth its minutes."
)
STOP_PENDING = phrase(
    "plan.stop.pending",
    "The part is proven. Before the job is done, take what is offered: why it died, and who else is ill.",
)
STOP_ESTABLISHED = phrase(
    "plan.stop.established", "Stop testing: everything that must be seen before the part is called has been seen."
)
SURER = phrase("plan.stop.surer", " What is offered below would only make it surer.")
STOP_NOTHING = phrase("plan.stop.nothing", "Stop testing: nothing the bay can do now would tell more.")
STOP_LITTLE = phrase("plan.stop.little", "Little is left to learn: what is offered proves rather than tells.")
UNTIL_CAUGHT = (
    phrase("plan.until_caught.connectors", "Connectors, wires and earths: unplug, wiggle and clean nothing."),
    phrase("plan.until_caught.parts", "Coils, plugs and injectors: change nothing over, fit nothing new."),
    phrase("plan.until_caught.codes", "Codes and learned values: read them, clear nothing, leave the battery on."),
)
"""What a fault that comes and goes may leave with, and never be seen again."""
KEY_ON = phrase("plan.until_caught.key", "The key: leave it as it is, the moment may not come back.")
WAIT_FOR_IT = template("plan.until_caught.tests", "These wait: {titles:and}.")
