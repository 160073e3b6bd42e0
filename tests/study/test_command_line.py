"""What the parsers offer is what it names, and a command loads no more than it needs."""

import subprocess
import sys

import pytest

from fairwitness.core.reason.planning.approach import School
from fairwitness.simulate.clips import LEVELS
from fairwitness.study import causes, command_line
from fairwitness.study.population import Population


def test_words_of_the_parsers_are_what_they_name():
    assert tuple(School) == command_line.SCHOOLS
    assert tuple(LEVELS) == command_line.LEVELS
    assert tuple(Population) == command_line.POPULATIONS
    assert tuple(causes.FIELDS) == command_line.FIELDS


@pytest.mark.parametrize("words", [["--help"], ["diagnose", "--help"], ["study", "--help"], ["users", "--help"]])
def test_help_loads_neither_signals_nor_studies(words):
    asked = (
        "import sys; from fairwitness.cli import main\n"
        f"try: main({words!r})\n"
        "except SystemExit: pass\n"
        "heavy = ('scipy.signal', 'fairwitness.core.diagnose', 'fairwitness.study.policies', 'polars')\n"
        "print([name for name in heavy if name in sys.modules])"
    )
    ran = subprocess.run([sys.executable, "-c", asked], capture_output=True, text=True, check=True)
    assert ran.stdout.splitlines()[-1] == "[]"
