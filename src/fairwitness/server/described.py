"""What the schema says of every operation beside its own answer: how it refuses, in the one shape of a problem."""

from __future__ import annotations

from typing import Any

PROBLEM = {
    "type": "object",
    "description": "What went wrong, where, and how to go on.",
    "properties": {
        "code": {"type": "string"},
        "what": {"type": "string"},
        "where": {"type": "string"},
        "mend": {"type": "string"},
        "sentence": {"type": "string"},
    },
    "required": ["code", "what", "where", "mend", "sentence"],
}
REFUSALS = {
    "400": "The request cannot be done as it is.",
    "403": "Nobody is logged in, the role does not allow it, or the page is out of date.",
    "404": "There is nothing at this address.",
    "405": "This cannot be done at this address.",
    "406": "It is not told in this form.",
    "413": "This is too much at once.",
    "415": "The body is of a kind that is not read here.",
    "429": "Too many wrong passwords, codes or links.",
    "500": "Something went wrong in the program; its number is told.",
    "503": "The disk is full, the database is busy, or the bench does not answer.",
}
VERBS = ("get", "post", "put", "patch", "delete")


def with_refusals(result: dict[str, Any], generator: object, request: object, public: bool) -> dict[str, Any]:
    """Add the refusals to every operation; a hook after the schema is made."""
    result["components"]["schemas"]["Problem"] = PROBLEM
    result["components"]["responses"] = {f"Refused{status}": _problem(about) for status, about in REFUSALS.items()}
    for operations in result["paths"].values():
        for verb in VERBS:
            for status in REFUSALS if verb in operations else ():
                operations[verb]["responses"].setdefault(status, {"$ref": f"#/components/responses/Refused{status}"})
    return result


def _problem(about: str) -> dict[str, Any]:
    body = {"application/json": {"schema": {"$ref": "#/components/schemas/Problem"}}}
    return {"description": about, "content": body}
