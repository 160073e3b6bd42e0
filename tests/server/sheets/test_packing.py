"""Figures travel with a case package; what names no stretch of a capture stays behind."""

import math

import pytest
from django.utils import timezone

from fairwitness.formats.case_package import read_package
from fairwitness.server.captures.services import export_case, import_case
from fairwitness.server.sheets.figures import keep_figure
from fairwitness.server.sheets.packing import restore_figures

NOW = timezone.now()


def test_a_figure_comes_back_on_its_own_capture(measured_case, technician):
    capture = measured_case.captures.get()
    keep_figure(capture, 1.25, 2.5, words="The low hump", by=technician, at=NOW)
    case = read_package("case.zip", keep_bytes=export_case(measured_case))
    brought = import_case(case, file_name="case.zip", by=technician, at=NOW)
    (figure,) = brought.figures.all()
    assert (figure.capture.name, figure.from_s, figure.to_s, figure.words) == (capture.name, 1.25, 2.5, "The low hump")
    assert brought.journal.filter(verb="figure kept").exists()
    again = read_package("case.zip", keep_bytes=export_case(brought))
    assert len(again.extra["figures"]) == 1


@pytest.mark.parametrize(
    "wrong",
    [
        {"capture": "nobody's"}, {"from_s": -1.0}, {"from_s": 3.0, "to_s": 2.0}, {"to_s": 1e9}, {"to_s": math.nan},
        {"from_s": "1"}, {"from_s": True}, {"words": " "}, {"words": 3},
    ],
)  # fmt: skip
def test_what_names_no_stretch_is_left_out(measured_case, technician, wrong):
    name = measured_case.captures.get().name
    block = {"capture": name, "from_s": 1.0, "to_s": 2.0, "words": "fine"}
    restore_figures(measured_case, [block | wrong, "none", block], by=technician, at=NOW)
    assert [f.words for f in measured_case.figures.all()] == ["fine"]
    restore_figures(measured_case, {"no": "list"}, by=technician, at=NOW)
    assert measured_case.figures.count() == 1
