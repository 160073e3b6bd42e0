"""Measuring again with the present code: what was measured gives way, all else stays, and it can be broken off."""

from io import StringIO

import pytest
from django.core.management import call_command
from django.utils import timezone

from fairwitness import __version__
from fairwitness.core.model.engine import even_engine
from fairwitness.server.captures import samples
from fairwitness.server.captures.models import StoredMeasurement
from fairwitness.server.captures.services import keep_capture
from tests.conftest import cranking

FOUR = even_engine((1, 3, 4, 2))


@pytest.fixture
def kept(case, technician):
    stored = [
        keep_capture(case, cranking(FOUR, {3: low}, seed=seed), by=technician, at=timezone.now())
        for seed, low in ((5, 0.3), (6, 0.35))
    ]
    StoredMeasurement.objects.filter(capture=stored[0]).update(code_version="0.0.9")
    return stored


def remeasure(*arguments):
    out, err = StringIO(), StringIO()
    call_command("remeasure", *arguments, stdout=out, stderr=err)
    return out.getvalue(), err.getvalue()


def test_only_what_an_earlier_version_measured_is_measured_again(case, kept):
    untouched = kept[1].measurements.get().made_at
    told, refused = remeasure()
    assert f"1 of 1 captures measured again with {__version__}" in told
    assert refused == ""
    assert kept[0].measurements.get().code_version == __version__
    assert kept[0].measurements.get().document["usable"]
    assert kept[1].measurements.get().made_at == untouched
    case.refresh_from_db()
    assert (case.cylinders, case.cause) == ([3], "mechanical")


def test_all_of_one_case_can_be_measured_again(case, kept):
    assert "2 of 2 captures" in remeasure("--all", "--case", str(case.pk))[0]
    assert "0 of 0 captures" in remeasure("--all", "--case", str(case.pk + 1))[0]


def test_a_capture_that_cannot_be_read_is_named_and_the_rest_goes_on(case, kept, monkeypatch):
    StoredMeasurement.objects.update(code_version="0.0.9")
    real = samples.read

    def broken(stored):
        if stored.pk == kept[0].pk:
            raise samples.CaptureError("The samples are damaged.", where=stored.name)
        return real(stored)

    monkeypatch.setattr(samples, "read", broken)
    told, refused = remeasure()
    assert "1 of 2 captures" in told
    assert f"{kept[0].name} of case {case.pk}: The samples are damaged." in refused
    assert kept[0].measurements.get().code_version == "0.0.9"
