"""The count of test lines: what is counted as what, on files written here."""

import importlib.util
from pathlib import Path

import pytest

SCRIPT = Path(__file__).resolve().parents[1] / "scripts" / "share_of_tests.py"


@pytest.fixture(scope="module")
def share():
    spec = importlib.util.spec_from_file_location("share_of_tests", SCRIPT)
    module = importlib.util.module_from_spec(spec)
    spec.loader.exec_module(module)
    return module


@pytest.mark.parametrize(
    ("path", "kind"),
    [
        ("src/fairwitness/core/diagnose.py", "product"),
        ("web/src/board/BoardView.vue", "product"),
        ("web/src/app/theme.css", "product"),
        ("scripts/bench.py", "product"),
        ("tests/core/test_diagnose.py", "tests"),
        ("web/tests/traces/picture.spec.ts", "tests"),
        ("web/src/api/schema.d.ts", None),
        ("src/fairwitness/server/cases/migrations/0001_initial.py", None),
        ("docs/architecture.md", None),
        ("web/package-lock.json", None),
    ],
)
def test_a_file_is_a_test_the_product_or_neither(share, path, kind):
    assert share.kind_of(path) == kind


def test_blank_lines_count_for_nothing(share):
    files = [("src/a.py", "one\n\n  \ntwo\n"), ("tests/b.py", "three\n"), ("README.md", "four\n")]
    assert share.counted(files) == {"product": 2, "tests": 1}


def test_every_view_of_the_interface_stays_short():
    views = Path(__file__).resolve().parents[1] / "web" / "src"
    long = {str(v.relative_to(views)): n for v in views.rglob("*.vue") if (n := len(v.read_text().splitlines())) > 250}
    assert long == {}
