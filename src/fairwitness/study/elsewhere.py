"""What was measured on cases of another model of engines, as their scorer prints it.

A study on the project's own simulator knows the world it was made in; cases of others do not. From the scorer's text;
the figures go to the Trust page.
"""

from __future__ import annotations

import re
from typing import Any

from fairwitness import __version__
from fairwitness.core.errors import PackageError
from fairwitness.study.trust import Share

KEYS = {
    "cylinder": "cylinder",
    "cause": "cause",
    "fault": "fault",
    "wrong_established": "established and wrong",
    "healthy_accused": "healthy accused",
    "sound_accused": "sound cylinder accused",
}
"""Figures told, and what the scorer calls them."""


def read_scores(printed: str) -> dict[str, Any]:
    """Counts over all cases.

    Parameters
    ----------
    printed : str
        One line begins with ``all``: names, shares and out of how many.

    Returns
    -------
    dict
        ``version``, ``cases`` and ``figures``, as the Trust page has them.

    Raises
    ------
    PackageError
        The text is not the scorer's.
    """
    line = next((line for line in printed.splitlines() if line.startswith("all ")), "")
    cases = re.search(r"\bn\s+(\d+)", line)
    told = {
        name.strip(): (float(share), int(count))
        for name, share, count in re.findall(r"([a-z ]+?) ([\d.]+) of (\d+)", line)
    }
    missing = [words for words in KEYS.values() if words not in told]
    if cases is None or missing:
        what = f"The scores do not tell {missing[0] if missing else 'how many cases there were'}."
        raise PackageError(what, where="the scorer's text", remedy="Give what the scorer prints, whole.")
    figures = {key: Share(round(told[words][0] * told[words][1]), told[words][1]) for key, words in KEYS.items()}
    return {
        "version": __version__,
        "cases": int(cases[1]),
        "figures": {key: share.document() for key, share in figures.items()},
    }
