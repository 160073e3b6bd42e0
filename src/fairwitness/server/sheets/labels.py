"""Headings and fixed words of sheet and annex, in the catalogue like every sentence."""

from __future__ import annotations

from fairwitness.core.messages.catalogue import phrase, template

LABELS = {
    name: phrase(f"sheet.label.{name}", english)
    for name, english in {
        "title": "What was found",
        "annex": "Annex",
        "case": "Job",
        "date": "Date",
        "vehicle": "Vehicle",
        "engine": "Engine",
        "odometer": "Odometer",
        "by": "Examined by",
        "complaint": "What you told us",
        "checked": "What we checked",
        "found": "What we found",
        "open": "What is not known",
        "options": "Ways to go on",
        "way": "Way",
        "time": "Labour",
        "price": "Price",
        "cures": "Chance that it cures",
        "in_vain": "Lost if wrong, on average",
        "decision": "What you decided",
        "watch": "What to watch",
        "cautions": "Please note",
        "not_decided": "Not decided yet.",
        "sign_here": "Agreed to, up to which sum, date, signature:",
        "see_annex": "The annex holds every measurement behind this page.",
        "statement": "The statement, with what each sentence stands on",
        "seen": "Seen",
        "follows": "What follows",
        "rival": "The next likely explanation",
        "not_seen": "Not seen",
        "chances": "Chance of each cause",
        "conditions_met": "Conditions for calling it established",
        "per_cylinder": "Figures per cylinder, in firing order",
        "evidence": "Every finding",
        "number": "No.",
        "test": "Test",
        "cylinder": "Cyl.",
        "says": "What it says",
        "source": "From",
        "traces": "Traces",
        "pictures": "Pictures",
        "taken": "Taken",
        "conditions": "Conditions",
        "leads": "Instrument and leads",
        "hash": "SHA-256",
        "untested": "What was not tested",
        "untested_why": "Tests that fit this engine and were not taken; minutes are the usual ones.",
        "history": "Who did what, and when",
        "what_the_program_says": "How this was made",
        "codes": "Codes",
        "signs": "Signs",
        "work_done": "Work done before",
        "none": "none",
        "met": "met",
        "unmet": "not met",
        "withdrawn": "withdrawn",
        "parts": "Parts measured before fitting",
        "outcomes": "What was really found",
        "legend": "Shaded: the turn of a cylinder that is named. Numbers stand above the turn of each cylinder.",
        "signature": "Signature",
    }.items()
}
MINUTES = template("sheet.minutes", "{minutes:.0f} min")
HOURS = template("sheet.hours", "{hours:.1f} h")
PRICE = template("sheet.price", "{amount:.2f} {currency}")
NO_PRICE = phrase("sheet.no_price", "not priced")
CHANCE = template("sheet.chance", "{percent:chance}")
KILOMETRES = template("sheet.kilometres", "{km} km")
BARS_CAPTION = template("sheet.bars_caption", "{what:capital}. 100 % is what even cylinders do.")
TRACE_CAPTION = template("sheet.trace_caption", "{what:capital}.")
TRACE_SHADED = template("sheet.trace_shaded", "{what:capital}. Shaded: where {cylinders:cylinders} should work.")
READING = template("sheet.reading", "reading {number}")
SAVES = template("sheet.saves", "it saves {amount:.2f} {currency} on average")
COSTS = template("sheet.costs", "it costs {amount:.2f} {currency} more than it saves on average")
WRONG = template("sheet.wrong", "{amount:.2f} {currency}")
MADE_WITH = template(
    "sheet.made_with",
    "Made by Fair Witness {version} from the evidence of job {case} as it stood on {at}. "
    "The last seal of its journal begins with {seal}.",
)
ON_SITE = template("sheet.seen_here", "{by} saw it here as well.")
WHEN = template("sheet.when", "It comes {conditions:and}.")
