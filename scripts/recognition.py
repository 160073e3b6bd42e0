"""How often the channels of labelled case packages are recognised by their shape alone.

``python scripts/recognition.py FOLDER [FOLDER ...]`` prints, over all channels of all packages, how often the role
stands first and among the first three, and what is taken for what. Names are not looked at.
"""

from __future__ import annotations

import sys
from collections import Counter
from pathlib import Path

from fairwitness.core.model.capture import Capture, Role
from fairwitness.core.signal.recognition.recogniser import recognised
from fairwitness.core.signal.recognition.shape import outline_of
from fairwitness.formats.case_package import read_package


def main(folders: list[str]) -> None:
    """Score every package under the folders."""
    first = three = count = still = 0
    mistaken: Counter[tuple[str, str]] = Counter()
    for path in sorted(p for folder in folders for p in Path(folder).rglob("*.zip")):
        for capture in read_package(path).captures:
            if not isinstance(capture, Capture):
                continue
            for channel in capture.channels:
                if channel.role is Role.OTHER:
                    continue
                told = [c.role for c in recognised(outline_of(channel.samples), capture.time.rate_hz, channel.unit)]
                if told == [Role.OTHER]:
                    still += 1
                    continue
                count += 1
                first += told[0] is channel.role
                three += channel.role in told[:3]
                if told[0] is not channel.role:
                    mistaken[channel.role.value, told[0].value] += 1
    print(f"{count} channels that move ({still} stand still): first {100 * first / count:.1f} %, ", end="")
    print(f"among three {100 * three / count:.1f} %")
    for (role, taken_for), times in mistaken.most_common(12):
        print(f"  {times:3d}  {role} taken for {taken_for}")


if __name__ == "__main__":
    main(sys.argv[1:])
