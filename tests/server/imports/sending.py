"""Sends a file as the interface does, and does what the foreman's children would do, in this process."""

from __future__ import annotations

import json

from fairwitness.server.imports import work
from fairwitness.server.imports.api import PIECE_BYTES_MAX


def begin(client, case, data, name="crank.csv", **about):
    return client.post(
        f"/api/cases/{case.pk}/imports/", {"name": name, "size": len(data), **about}, content_type="application/json"
    )


def send(client, number, data, *, offset=0):
    return client.put(f"/api/imports/{number}/file/?offset={offset}", data, content_type="application/octet-stream")


def staged(client, case, data, name="crank.csv"):
    """The number of a file that came whole."""
    told = begin(client, case, data, name).json()
    while told["state"] == "arriving":
        there = told["received"]
        told = send(client, told["id"], data[there : there + PIECE_BYTES_MAX], offset=there).json()
    return told["id"]


def look(client, case, data, name="crank.csv"):
    """What a file is proposed to be."""
    return client.post(f"/api/imports/{staged(client, case, data, name)}/look/")


def ask(client, number, plan):
    """Have a staged file kept; a refusal of the plan, or 202."""
    body = plan if isinstance(plan, str) else json.dumps(plan)
    return client.post(f"/api/imports/{number}/keep/", body, content_type="application/json")


def work_off():
    """Keep whatever waits."""
    while (held := work.claim()) is not None:
        work.run(held.pk)


def keep(client, case, data, plan, name="crank.csv"):
    """A file from its sending to its end: how it stands then, or the refusal of its plan."""
    number = staged(client, case, data, name)
    asked = ask(client, number, plan)
    if asked.status_code != 202:
        return asked.json()
    work_off()
    return client.get(f"/api/imports/{number}/").json()
