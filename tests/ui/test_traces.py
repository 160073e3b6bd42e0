"""Every way to look at a capture, its numbers checked against those of the core."""

import json

import numpy as np
import pytest

from fairwitness.core.cycle_view import cycle_view, fold, read_between
from fairwitness.formats.case_package import read_package


def fetched(page, path):
    """An answer of the API in this session."""
    return page.driver.execute_async_script(
        "fetch(arguments[0]).then(r => r.json()).then(arguments[1])", f"/api/{path}"
    )


@pytest.fixture
def traces(page, tmp_path):
    """The cranking capture of the gritter, and the same capture as the core has it."""
    page.enter()
    page.open_case("Gritter 7")
    case = int(page.driver.current_url.rstrip("/").split("/")[-1])
    data = page.driver.execute_async_script(
        "fetch(arguments[0]).then(r => r.arrayBuffer()).then(b => arguments[1](Array.from(new Uint8Array(b))))",
        f"/api/cases/{case}/package/",
    )
    held = read_package("case.zip", keep_bytes=bytes(data))
    capture = next(c for c in held.captures if c.name == "cranking")
    board = fetched(page, f"cases/{case}/")
    number = next(r["capture"] for r in board["rows"] if r["capture"] and r["usable"])
    page.go(f"/cases/{case}/traces/{number}")
    page.present("[data-test='trace'][data-points]")
    view = cycle_view(capture, held.engine)
    return page, capture, view, fold(capture.channels[0].samples, capture.time, view, 720), number


def extremes(page):
    plots = page.all("[data-test='fold']")
    return [(float(p.get_attribute("data-low")), float(p.get_attribute("data-high"))) for p in plots]


def test_overlay_holds_every_event_of_every_cylinder(traces):
    page, _, view, folded, _ = traces
    page.click("[data-test='look-overlay']")
    plot = page.find("[data-test='fold']")
    assert int(plot.get_attribute("data-lines")) == view.cycles.count * len(view.windows)
    low, high = extremes(page)[0]
    room = float(0.05 * (np.nanmax(folded) - np.nanmin(folded)))
    assert low == pytest.approx(float(np.nanmin(folded) - room), abs=0.01 * room + 1e-3)
    assert high == pytest.approx(float(np.nanmax(folded) + room), abs=0.01 * room + 1e-3)
    page.click("[data-test='pick-5']")
    assert page.test("pick-5").get_attribute("aria-pressed") == "true"


def test_rows_are_in_firing_order_on_one_scale_until_it_is_unlocked(traces):
    page, _, view, _folded, _ = traces
    page.click("[data-test='look-rows']")
    page.until(lambda: len(page.all("[data-cylinder]")) == len(view.windows))
    assert [int(r.get_attribute("data-cylinder")) for r in page.all("[data-cylinder]")] == [
        w.cylinder for w in view.windows
    ]
    assert len(set(extremes(page))) == 1
    page.click("[data-test='lock']")
    assert "cannot be compared" in page.test("unlocked").text
    page.until(lambda: len(set(extremes(page))) > 1)


def test_the_cycle_player_steps_and_puts_the_odd_ones_first(traces):
    page, _, view, _, number = traces
    page.click("[data-test='look-cycle']")
    page.until(lambda: page.test("cycle-number").text == "1")
    page.find("body").send_keys("]")
    page.until(lambda: page.test("cycle-number").text == "2")
    page.find("body").send_keys("[")
    page.until(lambda: page.test("cycle-number").text == "1")
    odd = fetched(page, f"captures/{number}/cycles/")["odd_first"]
    page.click("[data-test='odd-first']")
    page.until(lambda: page.test("cycle-number").text == str(odd[0] + 1))
    page.click("[data-test='play']")
    page.until(lambda: page.test("cycle-number").text == str(odd[1] + 1))
    page.find("body").send_keys("p")
    assert view.cycles.count == len(odd)


def test_the_averaged_cycle_is_drawn(traces):
    page, *_ = traces
    page.click("[data-test='look-average']")
    page.until(lambda: page.find("[data-test='fold']").get_attribute("data-lines") == "1")
    ink = page.driver.execute_script(
        "const c = document.querySelector('[data-test=fold] canvas'); const d = c.getContext('2d')"
        ".getImageData(0, 0, c.width, c.height).data; let n = 0; for (let i = 3; i < d.length; i += 4) n += d[i] > 0;"
        " return n"
    )
    assert ink > 2000  # something was drawn, not only the frame


def test_another_capture_of_the_case_lies_underneath(page):
    page.enter()
    page.open_case("Library van 3")
    case = page.driver.current_url.rstrip("/").split("/")[-1]
    rows = [r for r in fetched(page, f"cases/{case}/")["rows"] if r["capture"]]
    assert {"Relative compression", "Crank speed"} <= {r["title"] for r in rows}
    first = next(r["capture"] for r in rows if r["title"] == "Relative compression")
    page.go(f"/cases/{case}/traces/{first}?look=average")
    page.until(lambda: page.find("[data-test='fold']").get_attribute("data-lines") == "1")
    page.click("[data-test='under']")
    page.until(
        lambda: next(
            (o.click() or True)
            for o in page.all(".el-select-dropdown__item")
            if o.is_displayed() and o.text.startswith("Crank speed")
        )
    )
    page.sees("It holds no starter current.")


def test_a_filter_and_a_turned_trace_say_so_and_change_nothing_stored(traces):
    page, capture, _, _, number = traces
    page.click("[data-test='flip-0']")
    assert page.test("flip-0").text == "Shown upside down"
    page.click("[data-test='corner']")
    page.until(
        lambda: next(
            (o.click() or True)
            for o in page.all(".el-select-dropdown__item")
            if o.is_displayed() and o.text == "Low-pass 20 Hz"
        )
    )
    page.sees("shown below 20 Hz only")
    assert fetched(page, f"captures/{number}/")["samples"] == capture.time.samples


def test_cursors_read_the_samples_themselves_and_a_reading_is_pinned(traces):
    page, capture, _, _, _ = traces
    page.click("[data-test='cursors']")
    page.until(lambda: page.test("reading-0").find_element("css selector", "[data-test='mean']").text)
    a, b = (float(page.find(f"[data-test='cursor-{c}'] input").get_attribute("value")) for c in "ab")
    expected = read_between(capture.channels[0].samples, capture.time, a, b)
    shown = float(page.test("reading-0").find_element("css selector", "[data-test='mean']").text)
    assert shown == pytest.approx(expected.mean, rel=2e-3)
    assert f"{1 / abs(b - a):.3f}"[:4] in page.test("apart").text
    before = page.find("[data-test='cursor-a'] input").get_attribute("value")
    page.click("[data-test='snap-a']")
    page.until(lambda: page.find("[data-test='cursor-a'] input").get_attribute("value") != before)
    page.type("input[aria-label='Note to the reading']", "hump of cylinder 1")
    page.click("[data-test='pin']")
    page.sees("Reading pinned to the case")


def test_what_is_shown_can_be_exported(traces):
    page, capture, *_ = traces
    page.click("[data-test='export']")
    page.until(
        lambda: next(
            (i.click() or True) for i in page.all(".el-dropdown-menu__item") if i.is_displayed() and i.text == "Parquet"
        )
    )
    file = page.until(lambda: next((f for f in page.driver.downloads.iterdir() if f.suffix == ".parquet"), None))
    import polars as pl

    frame = pl.read_parquet(file)
    assert frame.height == capture.time.samples
    assert json.loads(pl.read_parquet_metadata(file)["fair_witness"])["name"] == "cranking"
