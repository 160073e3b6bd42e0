"""Everything that ships is named with its licence, and what asks for a notice has it."""

import re
from pathlib import Path

import pytest

ROOT = Path(__file__).resolve().parents[1]
TOLD = (ROOT / "web" / "public" / "licences.txt").read_text()


def test_every_library_that_runs_is_named_with_its_licence():
    locked = re.findall(r"^([\w.-]+)==", (ROOT / "requirements.lock").read_text(), re.MULTILINE)
    named = {line.split(" ")[0].lower() for line in TOLD.splitlines() if re.fullmatch(r"\S+ \S+: \S.*", line)}
    assert {name.lower() for name in locked} <= {re.sub("[-_.]+", "-", name) for name in named}
    assert "vue" in named


@pytest.mark.parametrize("lock", ["requirements.lock", "requirements-dev.lock"])
def test_every_pinned_package_has_the_hashes_of_its_files(lock):
    told = (ROOT / lock).read_text()
    assert "://" not in told
    for pinned in re.split(r"\n(?=\S)", told):
        assert re.match(r"[\w.-]+(\[[\w,-]+\])?==\S+ (;.*)?\\\n(    --hash=sha256:[0-9a-f]{64} ?\\?\n?)+$", pinned), (
            pinned
        )


@pytest.mark.parametrize("family", ["LGPL", "GPL", "MPL", "OFL"])
def test_what_is_not_permissive_has_its_notice(family):
    head, listed = TOLD.split("\nPython\n")
    asked = [line.split(" ")[0] for line in listed.splitlines() if re.search(rf"(?<![A-Z]){family}", line)]
    assert all(name.split("/")[-1].split("-")[0].lower() in head.lower() for name in asked)
