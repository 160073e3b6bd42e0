"""A written case package against the Data Package reference library (frictionless), standard version 1 [P]."""

import json
import zipfile

import pytest
from frictionless import Package, Schema

from fairwitness.core.model.case import Case
from fairwitness.core.model.engine import even_engine
from fairwitness.formats.case_package_writing import write_package
from tests.conftest import cranking


@pytest.fixture
def folder(tmp_path):
    engine = even_engine((1, 3, 4, 2))
    captures = (cranking(engine, rate_hz=500.0, missing_share=0.01),)
    case = Case(name="bus 3", title="Bus 3", engine=engine, captures=captures)
    path = tmp_path / "bus.zip"
    path.write_bytes(write_package(case))
    zipfile.ZipFile(path).extractall(tmp_path / "open")
    return tmp_path / "open"


def test_the_reference_library_accepts_descriptor_and_rows(folder):
    package = Package(str(folder / "datapackage.json"))
    report = package.validate(limit_rows=1000)
    assert report.valid, report.flatten(["type", "note"])
    rows = package.get_resource("cranking").read_rows(size=5)
    assert set(rows[0]) == {"time", "clamp", "sync"}


def test_what_is_ours_survives_in_the_schema(folder):
    described = json.loads((folder / "datapackage.json").read_text())
    schema = Schema.from_descriptor(described["resources"][0]["schema"])
    assert schema.get_field("clamp").to_descriptor()["role"] == "starter_current"
    assert described["fair_witness"]["engine"]["firing_order"] == [1, 3, 4, 2]
