"""What the program is made of, and under which licence each part may be used: a page that ships with it."""

from __future__ import annotations

import json
import re
from importlib.metadata import metadata
from pathlib import Path

ROOT = Path(__file__).resolve().parents[1]
LETTERS_MOST = 60
HEAD = """Fair Witness is licensed under the Apache License 2.0; its text stands in LICENSE.

It is made with the libraries below, each under the licence named; their texts come with them, in the folders they are
installed in.

asammdf and python-can are under the GNU Lesser General Public License, version 3. They are used unchanged, as packages
of their own that the program imports: whoever runs it may exchange either for a changed version by installing that in
its place. Their sources come with their packages, and the licence's text with both.

Pyphen, which breaks words into lines on the owner's sheet, is under the GPL, the LGPL or the MPL 1.1, as one chooses.
It is used unchanged, under the MPL; its source is on the Python package index. Signs of the sheet are DejaVu Sans,
whose notice lies beside them in the program.

lightningcss, under the Mozilla Public License 2.0, is used unchanged when the interface is built; nothing of it ships.

The fonts Atkinson Hyperlegible Next and Mono are under the SIL Open Font License 1.1.
"""


def licences() -> str:
    """The page.

    Returns
    -------
    str
    """
    parts = [HEAD, "Python", "", *_python(), "", "In the browser", "", *_browser(), ""]
    return "\n".join(parts)


def _python() -> list[str]:
    names = re.findall(r"^([\w.-]+)==", (ROOT / "requirements.lock").read_text(), re.MULTILINE)
    return sorted((_line_of(name) for name in names), key=str.lower)


def _line_of(name: str) -> str:
    about = metadata(name)
    classified = [c.split("::")[-1].strip() for c in about.get_all("Classifier") or [] if c.startswith("License ::")]
    short = (about["License"] or "").strip().split("\n")[0] if about["License"] else ""
    usable = short if short and "opyright" not in short and len(short) <= LETTERS_MOST else ""
    return f"{about['Name']} {about['Version']}: {about['License-Expression'] or usable or '; '.join(classified)}"


def _browser() -> list[str]:
    held = json.loads((ROOT / "web" / "package-lock.json").read_text())["packages"]
    kept = {
        f"{path.split('node_modules/')[-1]} {about['version']}: {about.get('license', '')}"
        for path, about in held.items()
        if path and not about.get("dev") and not about.get("optional")
    }
    return sorted(kept, key=str.lower)
