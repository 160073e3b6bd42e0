"""The study that ships, and a shop's own before it."""

import json

import pytest

from fairwitness.core.errors import PackageError
from fairwitness.server.trust import api
from fairwitness.server.trust.files import SHIPPED


@pytest.fixture
def data(tmp_path, settings):
    settings.DATA = tmp_path
    (tmp_path / "study").mkdir()
    return tmp_path / "study" / "latest.json"


def test_the_one_that_ships_is_told_to_anybody_who_may_read(data, as_user, reader):
    reported = as_user(reader).get("/api/trust/").json()
    assert reported["own"] is False
    assert reported["vehicles"] >= 300
    assert reported["elsewhere"]["cases"] >= 100
    assert reported["elsewhere"]["figures"]["cylinder"]["count"] <= reported["elsewhere"]["cases"]
    assert sum(b["count"] for b in reported["calibration"]["bins"]) == reported["vehicles"]


def test_a_study_of_the_shop_comes_before_it(data):
    data.write_text(json.dumps({**json.loads(SHIPPED.read_text()), "vehicles": 7}))
    assert api.latest()["own"]
    assert api.latest()["vehicles"] == 7


def test_a_damaged_file_says_how_to_go_on(data):
    data.write_text("{")
    with pytest.raises(PackageError) as caught:
        api.latest()
    assert "fairwitness study" in caught.value.sentence
