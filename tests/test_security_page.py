"""What docs/security.md says is held by a test is held by one."""

import re
from pathlib import Path

import pytest

ROOT = Path(__file__).resolve().parents[1]
PAGE = (ROOT / "docs" / "security.md").read_text()
NAMED = sorted(set(re.findall(r"`([\w/]*test_\w+\.py(?:::\w+)?)`", PAGE)))


@pytest.mark.parametrize("named", NAMED)
def test_a_test_that_is_named_exists(named):
    file, _, function = named.partition("::")
    path = ROOT / "tests" / file
    assert path.is_file()
    assert not function or f"def {function}(" in path.read_text()


def test_every_attack_has_a_test_and_every_chapter_is_walked():
    attacks, walk = PAGE.split("## OWASP")
    rows = [
        line for line in attacks.splitlines() if line.startswith("| ") and not line.startswith(("| ---", "| Attack"))
    ]
    assert len(rows) >= 25
    assert all("test_" in row for row in rows)
    assert {int(n) for n in re.findall(r"^\| (\d+)\.", walk, re.MULTILINE)} == set(range(1, 15))
