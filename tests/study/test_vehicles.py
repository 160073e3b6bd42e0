import json

import pytest

from fairwitness.cli import main
from fairwitness.core.diagnose import diagnose
from fairwitness.formats.case_package import read_package
from fairwitness.study.vehicles import ANSWERS, answer, make_all, random_order

QUICK = ("relative_compression", "resistance")


def test_a_population_is_written_with_its_answers_and_goes_on_where_it_stopped(tmp_path):
    orders = [random_order(seed, tests=QUICK) for seed in range(4)]
    lines = []
    make_all(orders[:2], tmp_path, workers=2, tell=lines.append)
    first = (tmp_path / "vehicle-0.zip").stat().st_mtime_ns
    make_all(orders, tmp_path, workers=2, tell=lines.append)
    assert (tmp_path / "vehicle-0.zip").stat().st_mtime_ns == first
    assert lines[-1] == "4 of 4 vehicles"
    assert json.loads((tmp_path / ANSWERS).read_text()) == [answer(order) for order in orders]
    for order in orders:
        case = read_package(tmp_path / f"{order.name}.zip")
        assert case.engine.label
        assert diagnose(case).verdict


def test_the_command_writes_a_package_that_names_the_cylinder(tmp_path, capsys):
    out = tmp_path / "case.zip"
    arguments = ["simulate", "--engine", "larder-2.5", "--fault", "exhaust_valve_leak@4", "--tests"]
    assert main([*arguments, "relative_compression", "--level", "clean", "-o", str(out)]) == 0
    assert "MB" in capsys.readouterr().out
    verdict = diagnose(read_package(out)).verdict
    assert verdict.cylinders == (4,)


@pytest.mark.parametrize(
    "arguments",
    [
        ["--engine", "lorry"],
        ["--fault", "gremlins@1"],
        ["--fault", "plug_shorted@9"],
        ["--tests", "tea_leaves"],
        ["-o", "/nowhere/at/all/case.zip"],
    ],
)
def test_what_cannot_be_made_is_refused_in_one_line(arguments, tmp_path, capsys):
    given = ["simulate", "--tests", "resistance", "-o", str(tmp_path / "case.zip"), *arguments]
    assert main(given) == 2
    captured = capsys.readouterr()
    assert captured.out == ""
    assert captured.err.count("\n") == 1
