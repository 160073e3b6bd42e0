"""Drawings of the sheet as SVG: bars per cylinder, traces with scales, marks on pictures. Black on white throughout.

What is accused is filled, what is sound is an outline: a copy in black and white tells the same.
"""

from __future__ import annotations

import math
import textwrap
from collections.abc import Callable, Sequence
from dataclasses import dataclass

import numpy as np
from django.utils.html import escape
from django.utils.safestring import SafeString, mark_safe
from numpy.typing import NDArray

INK, PALE, RULE = "#111", "#e4e4e4", "#777"
FONT = "font-family='Sheet, Sheet More, Signs'"
LANE_W, LEFT, BOTTOM, TOP = 500.0, 84.0, 16.0, 16.0
NARROW_W = 300.0
"""Of a drawing that shares the page's width with another one: its letters stay as large."""
BAR_W, BAR_STEP, BARS_HIGH = 250.0, 15.0, 118.0
FLOOR = 1e-9
Across = Callable[[float], float]
"""From seconds to where they lie across the drawing."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Bar:
    """One cylinder of a comparison.

    Parameters
    ----------
    label : str
    share : float
        Of its peers, 1 is even.
    shown : str
        The figure beside it.
    accused : bool
    """

    label: str
    share: float
    shown: str
    accused: bool = False


@dataclass(frozen=True, slots=True, kw_only=True)
class Lane:
    """One channel of a stretch.

    Parameters
    ----------
    name, unit : str
    lows, highs : (k,) float arrays
        The same where every sample is shown.
    cylinder : int or None
        Whose it is.
    """

    name: str
    unit: str
    lows: NDArray[np.float64]
    highs: NDArray[np.float64]
    cylinder: int | None = None


@dataclass(frozen=True, slots=True, kw_only=True)
class Stretch:
    """A stretch of a capture.

    Parameters
    ----------
    from_s, to_s : float, s
    lanes : sequence of Lane
    cylinders : sequence of (int, float, float)
        Cylinder, and where its part of the cycle begins and ends, s.
    accused : collection of int
    """

    from_s: float
    to_s: float
    lanes: Sequence[Lane]
    cylinders: Sequence[tuple[int, float, float]] = ()
    accused: Sequence[int] = ()


def bars(rows: Sequence[Bar]) -> SafeString:
    """Cylinders beside each other, with a line where even ones end."""
    step = min(BAR_STEP, BARS_HIGH / max(len(rows), 1))
    bar, letters = step - 4, min(9.0, step - 1.5)
    height = step * len(rows) + 14
    most = max([1.15, *(r.share for r in rows if math.isfinite(r.share))])
    scale = (BAR_W - 78) / most
    even = 26 + scale
    parts = [_line(even, 2, even, height - 11, RULE, "2 2")]
    for i, row in enumerate(rows):
        y = 2 + i * step
        width = max(scale * max(row.share, 0.0), 0.8)
        fill = INK if row.accused else "#fff"
        foot = y + bar / 2 + letters / 2.8
        parts.append(_text(20, foot, row.label, "end", size=letters, bold=row.accused))
        parts.append(_box(26, y, width, bar, fill, INK))
        parts.append(_text(30 + max(width, scale), foot, row.shown, "start", size=letters, bold=row.accused))
    parts.append(_text(even, height - 2, "100 %", "middle", size=8))
    return _svg(BAR_W, height, parts)


def trace(stretch: Stretch, lane_height: float = 62.0, whole_width: float = LANE_W) -> SafeString:
    """Channels below each other over one axis of time, with scales, and where each cylinder has its turn."""
    height = TOP + lane_height * len(stretch.lanes) + BOTTOM
    span = max(stretch.to_s - stretch.from_s, FLOOR)
    width = whole_width - LEFT - 6

    def across(t: float) -> float:
        return LEFT + (t - stretch.from_s) / span * width

    parts = _turns(stretch, across, height)
    for i, lane in enumerate(stretch.lanes):
        parts += _lane(lane, TOP + i * lane_height, lane_height - 6, width)
    parts += _time_axis(stretch, across, height)
    return _svg(whole_width, height, parts)


def marks(drawn: Sequence[dict[str, object]], width: float, height: float) -> SafeString:
    """Marks of a picture in a frame of its own size; white below black, so that they show on anything."""
    parts: list[str] = []
    for mark in drawn:
        x, y = _at(mark, "x") * width, _at(mark, "y") * height
        to_x, to_y = _at(mark, "to_x") * width, _at(mark, "to_y") * height
        if mark["kind"] == "arrow":
            parts += _twice(_arrow(x, y, to_x, to_y), width)
        elif mark["kind"] == "ring":
            parts += _twice(
                f"<ellipse cx='{x:.1f}' cy='{y:.1f}' rx='{abs(to_x - x):.1f}' ry='{abs(to_y - y):.1f}'/>", width
            )
        else:
            said = str(mark.get("words") or mark.get("cylinder") or "")
            parts.append(_label(x, y, said, width))
    return _svg(width, height, parts)


def titled(drawing: SafeString, words: str) -> SafeString:
    """A drawing with what it shows, for whoever has it read aloud."""
    head, tail = drawing.split(">", 1)
    return mark_safe(f"{head}><title>{escape(words)}</title>{tail}")


def _turns(stretch: Stretch, across: Across, height: float) -> list[str]:
    """Where each cylinder has its turn; that of an accused one is shaded."""
    parts = []
    for cylinder, begin, end in stretch.cylinders:
        left, right = across(max(begin, stretch.from_s)), across(min(end, stretch.to_s))
        if right <= left:
            continue
        accused = cylinder in stretch.accused
        if accused:
            parts.append(_box(left, TOP, right - left, height - TOP - BOTTOM, PALE, "none"))
        if begin >= stretch.from_s:
            parts.append(_line(left, TOP, left, height - BOTTOM, RULE, "1.5 2"))
        if right - left > 7:
            parts.append(_text((left + right) / 2, TOP - 4, str(cylinder), "middle", bold=accused))
    return parts


def _lane(lane: Lane, top: float, height: float, width: float) -> list[str]:
    known = np.concatenate((lane.lows[np.isfinite(lane.lows)], lane.highs[np.isfinite(lane.highs)]))
    low, high = (float(known.min()), float(known.max())) if known.size else (0.0, 1.0)
    room = max(high - low, FLOOR)
    k = max(lane.lows.size - 1, 1)

    def place(i: int, value: float) -> str:
        return f"{LEFT + i / k * width:.1f},{top + height - (value - low) / room * height:.1f}"

    points: list[str] = []
    for i, (least, most) in enumerate(zip(lane.lows.tolist(), lane.highs.tolist(), strict=True)):
        if math.isfinite(least):
            points.append(place(i, least))
        if math.isfinite(most) and most != least:
            points.append(place(i, most))
    frame = _box(LEFT, top, width, height, "none", RULE)
    line = f"<polyline points='{' '.join(points)}' fill='none' stroke='{INK}' stroke-width='0.7'/>"
    return [
        frame,
        line,
        _text(LEFT - 4, top + 8, _figure(high), "end", size=8),
        _text(LEFT - 4, top + height, _figure(low), "end", size=8),
        *(
            _text(0, top + height / 2 + 9 * i, said, "start", size=8, bold=True)
            for i, said in enumerate(_lines(lane.name))
        ),
        _text(0, top + height / 2 - 10, lane.unit, "start", size=8),
    ]


def _time_axis(stretch: Stretch, across: Across, height: float) -> list[str]:
    span = stretch.to_s - stretch.from_s
    step = _round_step(span / max(across(stretch.to_s) - across(stretch.from_s), 1.0) * 62)
    parts = []
    first = math.ceil(stretch.from_s / step - 1e-6)
    count = int((stretch.to_s - first * step) / step + 1e-6)
    in_ms = span < 2
    for i in range(first, first + count + 1):
        t = i * step
        parts.append(_line(across(t), height - BOTTOM, across(t), height - BOTTOM + 3, INK))
        shown = f"{1000 * t:g} ms" if in_ms else f"{t:g} s"
        at_edge = across(t) > across(stretch.to_s) - 14
        parts.append(_text(across(t), height - 3, shown, "end" if at_edge else "middle", size=8))
    return parts


def _round_step(wanted: float) -> float:
    """The next of 1, 2, 5 times a power of ten."""
    power = 10.0 ** math.floor(math.log10(max(wanted, FLOOR)))
    return next(m * power for m in (1, 2, 5, 10) if m * power >= wanted * 0.999)


def _figure(value: float) -> str:
    return f"{value:.0f}" if abs(value) >= 100 else f"{value:.3g}"


def _lines(name: str, most: int = 11) -> list[str]:
    """A name in up to two lines beside its lane; what is longer is cut behind them."""
    rows = textwrap.wrap(name, most, break_long_words=True) or [""]
    return rows if len(rows) < 3 else [rows[0], rows[1][: most - 1] + "…"]


def _at(mark: dict[str, object], key: str) -> float:
    value = mark.get(key, 0.0)
    return float(value) if isinstance(value, int | float) else 0.0


def _arrow(x: float, y: float, to_x: float, to_y: float) -> str:
    angle, reach = math.atan2(to_y - y, to_x - x), 0.22 * math.hypot(to_x - x, to_y - y)
    ends = [(to_x - reach * math.cos(angle + s), to_y - reach * math.sin(angle + s)) for s in (-0.45, 0.45)]
    head = f"M{ends[0][0]:.1f} {ends[0][1]:.1f} L{to_x:.1f} {to_y:.1f} L{ends[1][0]:.1f} {ends[1][1]:.1f}"
    return f"<path d='M{x:.1f} {y:.1f} L{to_x:.1f} {to_y:.1f} {head}'/>"


def _twice(shape: str, width: float) -> list[str]:
    """A white halo, then the line."""
    thick = width / 120
    return [
        shape.replace("/>", f" fill='none' stroke='#fff' stroke-width='{2.4 * thick:.1f}'/>"),
        shape.replace("/>", f" fill='none' stroke='{INK}' stroke-width='{thick:.1f}'/>"),
    ]


def _label(x: float, y: float, said: str, width: float) -> str:
    size = width / 22
    wide = size * (0.62 * len(said) + 0.7)
    left = min(max(x - wide / 2, 0.0), max(width - wide, 0.0))
    box = (
        f"<rect x='{left:.1f}' y='{y - 0.8 * size:.1f}' width='{wide:.1f}' height='{1.5 * size:.1f}' fill='#fff' "
        f"stroke='{INK}' stroke-width='{size / 12:.1f}'/>"
    )
    return box + _text(left + wide / 2, y + 0.35 * size, said, "middle", size=size, bold=True)


def _text(x: float, y: float, said: str, anchor: str, *, size: float = 9, bold: bool = False) -> str:
    weight = " font-weight='700'" if bold else ""
    return (
        f"<text x='{x:.1f}' y='{y:.1f}' font-size='{size:g}' text-anchor='{anchor}' fill='{INK}' {FONT}{weight}>"
        f"{escape(said)}</text>"
    )


def _line(x: float, y: float, to_x: float, to_y: float, ink: str, dashes: str = "") -> str:
    dashed = f" stroke-dasharray='{dashes}'" if dashes else ""
    ends = f"x1='{x:.1f}' y1='{y:.1f}' x2='{to_x:.1f}' y2='{to_y:.1f}'"
    return f"<line {ends} stroke='{ink}' stroke-width='0.6'{dashed}/>"


def _box(x: float, y: float, width: float, height: float, fill: str, ink: str) -> str:
    size = f"x='{x:.1f}' y='{y:.1f}' width='{width:.1f}' height='{height:.1f}'"
    return f"<rect {size} fill='{fill}' stroke='{ink}' stroke-width='0.6'/>"


def _svg(width: float, height: float, parts: Sequence[str]) -> SafeString:
    """Every word within is escaped where it enters."""
    head = f"<svg xmlns='http://www.w3.org/2000/svg' viewBox='0 0 {width:.0f} {height:.0f}' aria-hidden='true'>"
    return mark_safe(head + "".join(parts) + "</svg>")
