import json
import subprocess
import sys
import zipfile

import pytest

from fairwitness.cli import main
from fairwitness.core.model.case import Case
from fairwitness.formats.case_package_writing import write_package
from tests.conftest import cranking
from tests.formats.packages import descriptor, package


@pytest.fixture
def bus(tmp_path, four):
    path = tmp_path / "bus.zip"
    path.write_bytes(write_package(Case(name="bus", engine=four, captures=(cranking(four, {3: 0.05}),))))
    return path


def test_json_is_one_object_on_standard_output(bus, capsys):
    assert main(["diagnose", str(bus), "--json"]) == 0
    out, err = capsys.readouterr()
    assert json.loads(out)["verdict"]["cylinders"] == [3]
    assert err == ""


def test_without_json_it_speaks(bus, capsys):
    assert main(["diagnose", str(bus)]) == 0
    said = capsys.readouterr().out
    assert "Cylinder 3 does not seal" in said
    assert "Ask next" in said


def test_no_chance_is_told_as_certain(bus, capsys):
    main(["diagnose", str(bus)])
    assert "100 %)" not in capsys.readouterr().out.splitlines()[0]


def test_whoever_has_read_enough_is_not_shown_a_trace(bus):
    words = f"{sys.executable} -m fairwitness.cli diagnose {bus} --json | head -c 10"
    read = subprocess.run(["bash", "-c", f"set -o pipefail; {words}"], capture_output=True, text=True, check=False)
    assert read.stdout.startswith("{")
    assert read.stderr == ""


def test_a_folder_is_as_good_as_a_zip(bus, tmp_path, capsys):
    zipfile.ZipFile(bus).extractall(tmp_path / "open")
    assert main(["diagnose", str(tmp_path / "open"), "--json"]) == 0
    assert json.loads(capsys.readouterr().out)["verdict"]["cylinders"] == [3]


@pytest.mark.parametrize(
    "data", [b"no zip", package(None), package("{"), package(descriptor(version=9)), package(descriptor(engine={}))]
)
def test_what_cannot_be_read_is_one_line_on_standard_error(tmp_path, capsys, data):
    path = tmp_path / "broken.zip"
    path.write_bytes(data)
    assert main(["diagnose", str(path), "--json"]) == 2
    out, err = capsys.readouterr()
    assert out == ""
    assert err.count("\n") == 1


def test_a_missing_file_is_said(tmp_path, capsys):
    assert main(["diagnose", str(tmp_path / "none.zip"), "--json"]) == 2
    assert "no such file" in capsys.readouterr().err


def test_an_observation_only_case_is_answered(tmp_path, capsys):
    path = tmp_path / "hand.zip"
    path.write_bytes(package(descriptor(observations=[{"test": "vacuum"}]), {}))
    assert main(["diagnose", str(path), "--json"]) == 0
    assert json.loads(capsys.readouterr().out)["verdict"]["status"] == "inconclusive"


def test_the_figures_of_a_study_stand_in_a_file_with_the_command_that_made_them(tmp_path, capsys):
    kept = tmp_path / "figures" / "pressure.txt"
    main(["study", "--kind", "pressure", "--cases", "3", "--seed", "7", "--workers", "1", "--report", str(kept)])
    printed = capsys.readouterr().out
    command, version, empty, *figures = kept.read_text().splitlines()
    assert command == "fairwitness study --kind pressure --cases 3 --seed 7"
    assert version.startswith("version ")
    assert empty == ""
    assert "\n".join(figures) == printed.rstrip("\n")
