"""Drawings say in black and white what was measured, and let nothing typed become a command."""

import re
from xml.etree import ElementTree

import numpy as np
import pytest

from fairwitness.server.sheets.drawing import Bar, Lane, Stretch, bars, marks, trace

SVG = "{http://www.w3.org/2000/svg}"


def shapes(drawing, kind):
    return ElementTree.fromstring(str(drawing)).findall(f"{SVG}{kind}")


def test_a_bar_is_as_long_as_its_share_and_the_accused_one_is_filled():
    drawn = bars([Bar(label="1", share=1.0, shown="100 %"), Bar(label="3", share=0.5, shown="50 %", accused=True)])
    whole, half = shapes(drawn, "rect")
    assert float(half.get("width")) == pytest.approx(float(whole.get("width")) / 2, abs=0.1)
    assert (whole.get("fill"), half.get("fill")) == ("#fff", "#111")


def stretch(**more):
    t = np.linspace(0, 1, 50)
    lane = Lane(name="Starter current", unit="A", lows=np.sin(t) - 0.1, highs=np.sin(t) + 0.1)
    return Stretch(from_s=0.2, to_s=0.4, lanes=[lane], **more)


def test_a_trace_has_scales_and_shades_the_turn_of_the_accused():
    drawn = trace(stretch(cylinders=[(1, 0.2, 0.3), (3, 0.3, 0.4)], accused=[3]))
    said = [t.text for t in shapes(drawn, "text")]
    assert {"1", "3", "A", "0.941", "-0.1"} <= set(said)
    assert any(re.fullmatch(r"\d+ ms", words) for words in said)
    shaded = [r for r in shapes(drawn, "rect") if r.get("fill") == "#e4e4e4"]
    assert len(shaded) == 1
    frame = next(r for r in shapes(drawn, "rect") if r.get("fill") == "none")
    middle = float(frame.get("x")) + float(frame.get("width")) / 2
    assert float(shaded[0].get("x")) == pytest.approx(middle, abs=0.2)


def test_samples_that_are_missing_are_left_out_and_one_that_is_flat_is_drawn():
    lane = Lane(name="x", unit="V", lows=np.array([np.nan, 2.0, 2.0]), highs=np.array([np.nan, 2.0, 2.0]))
    points = shapes(trace(Stretch(from_s=0, to_s=1, lanes=[lane])), "polyline")[0].get("points").split()
    assert len(points) == 2
    assert "nan" not in " ".join(points)


def test_marks_stand_where_they_were_drawn():
    drawn = marks([{"kind": "ring", "x": 0.5, "y": 0.5, "to_x": 0.75, "to_y": 0.5}], 400, 200)
    halo, ring = shapes(drawn, "ellipse")
    assert (ring.get("cx"), ring.get("cy"), ring.get("rx")) == ("200.0", "100.0", "100.0")
    assert halo.get("stroke") == "#fff"


@pytest.mark.parametrize("words", ["<script>alert(1)</script>", "a & b", "' onload='x", '"'])
def test_words_that_were_typed_stay_words(words):
    for drawn in (marks([{"kind": "words", "x": 0.5, "y": 0.5, "words": words}], 300, 200),
                  bars([Bar(label=words, share=1.0, shown=words)])):  # fmt: skip
        assert words in [t.text for t in shapes(drawn, "text")]
        assert not shapes(drawn, "script")
