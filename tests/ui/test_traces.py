"""Every way to look at a capture, its numbers checked against those of the core."""

import json
from xml.etree import ElementTree

import numpy as np
import pytest

from fairwitness.core.signal.cycle_folding import averaged, cycle_view, fold, read_between
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
    page.has("pick-5", "aria-pressed", "true")


def test_rows_are_in_firing_order_on_one_scale_until_it_is_unlocked(traces):
    page, _, view, _folded, _ = traces
    page.click("[data-test='look-rows']")
    page.until(lambda: len(page.all("[data-cylinder]")) == len(view.windows))
    assert [int(r.get_attribute("data-cylinder")) for r in page.all("[data-cylinder]")] == [
        w.cylinder for w in view.windows
    ]
    assert len(set(extremes(page))) == 1
    page.click("[data-test='lock']")
    page.reads("unlocked", "higher than it can be shown")
    page.until(lambda: len(set(extremes(page))) == 1)
    page.find("body").send_keys("l")
    page.reads("unlocked", "cannot be compared")
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


def pick(page, selector, words):
    """Choose an entry of a list that drops down."""
    page.click(selector)
    page.until(
        lambda: next(
            (o.click() or True)
            for o in page.all(".el-select-dropdown__item, .el-dropdown-menu__item")
            if o.is_displayed() and o.text.startswith(words)
        )
    )


def test_another_capture_of_the_case_lies_underneath(page):
    page.enter()
    page.open_case("Library van 3")
    case = page.driver.current_url.rstrip("/").split("/")[-1]
    rows = [r for r in fetched(page, f"cases/{case}/")["rows"] if r["capture"]]
    assert {"Relative compression", "Crank speed"} <= {r["title"] for r in rows}
    first = next(r["capture"] for r in rows if r["title"] == "Relative compression")
    name = next(c["words"] for c in fetched(page, f"captures/{first}/comparable/") if "speed" in c["words"])
    page.go(f"/cases/{case}/traces/{first}?look=average")
    page.until(lambda: page.find("[data-test='fold']").get_attribute("data-lines") == "1")
    pick(page, "[data-test='under']", name)
    page.sees("It holds no starter current.")


def test_a_known_good_one_stands_beside_on_one_scale(traces):
    page, _, _, _, number = traces
    page.click("[data-test='hold-known-good']")
    page.type(".el-message-box input", "runs evenly")
    page.click(".el-message-box .el-button--primary")
    page.until(lambda: "runs evenly" in page.test("known-good").text)
    data = page.driver.execute_async_script(
        """
        const [number, done] = arguments
        const token = document.cookie.match(/csrftoken=([^;]+)/)[1]
        const about = await fetch(`/api/captures/${number}/`).then(r => r.json())
        const file = await fetch(`/api/cases/${about.case}/package/`).then(r => r.blob())
        const form = new FormData()
        form.append('file', file, 'again.zip')
        const kept = await fetch('/api/cases/import/', {method: 'POST', body: form, headers: {'X-CSRFToken': token}})
        const again = (await kept.json()).id
        const board = await fetch(`/api/cases/${again}/`).then(r => r.json())
        done([again, board.rows.find(r => r.capture && r.usable).capture])
        """,
        number,
    )
    page.go(f"/cases/{data[0]}/traces/{data[1]}?look=beside")
    pick(page, "[data-test='under']", "Known good")
    page.until(lambda: page.find("[data-side='other']").get_attribute("data-lines") == "1")
    mine, theirs = extremes(page)
    assert mine == theirs
    page.until(lambda: page.find("[data-side='this']").size == page.find("[data-side='other']").size)
    page.click("[data-test='look-average']")
    page.until(lambda: page.find("[data-test='fold']").get_attribute("data-lines") == "2")


def test_degree_cursors_read_the_averaged_cycle(traces):
    page, _, view, folded, _ = traces
    page.click("[data-test='look-average']")
    page.until(lambda: page.find("[data-test='fold']").get_attribute("data-lines") == "1")
    for which, degrees in (("a", "90"), ("b", "210")):
        page.type(f"[data-test='degrees-{which}'] input", degrees + "\ue007")
    page.until(lambda: "120.0°" in page.test("degrees-apart").text)
    first = float(page.test("degree-reading").text.split()[1])
    assert first == pytest.approx(float(averaged(folded)[0][90]), rel=2e-3)
    assert view.cycles.count == folded.shape[0]


def test_wheel_and_two_fingers_look_closer(traces):
    page, capture, *_ = traces

    def shown():
        words = page.test("stretch").text.split()
        return float(words[2]) - float(words[0])

    whole = shown()
    page.driver.execute_script(
        "const o = document.querySelector('[data-test=trace] .u-over'); const b = o.getBoundingClientRect();"
        "for (let i = 0; i < 4; i++) o.dispatchEvent(new WheelEvent('wheel', {deltaY: -400,"
        " clientX: b.left + b.width / 2, clientY: b.top + 20, bubbles: true, cancelable: true}))"
    )
    page.until(lambda: shown() < 0.2 * whole)
    closer = shown()
    page.driver.execute_script(
        """
        const o = document.querySelector('[data-test=trace] .u-over'); const b = o.getBoundingClientRect()
        const touch = (kind, id, x) => o.dispatchEvent(new PointerEvent(kind, {pointerId: id, pointerType: 'touch',
          clientX: b.left + x, clientY: b.top + 20, bubbles: true}))
        touch('pointerdown', 7, 300); touch('pointerdown', 8, 400)
        touch('pointermove', 8, 500)
        touch('pointerup', 7, 300); touch('pointerup', 8, 500)
        """
    )
    page.until(lambda: abs(shown() / closer - 0.5) < 0.05)
    assert whole == pytest.approx((capture.time.samples - 1) / capture.time.rate_hz, abs=0.02)


def test_what_is_seen_leaves_as_a_picture(traces):
    page, _, view, *_ = traces
    page.click("[data-test='zero-0']")
    page.until(lambda: "zero drawn at" in page.test("done-0").text)
    pick(page, "[data-test='export']", "Picture (SVG)")
    svg = page.until(lambda: next((f for f in page.driver.downloads.iterdir() if f.suffix == ".svg"), None))
    drawing = ElementTree.fromstring(svg.read_text())
    words = "".join(drawing.itertext())
    assert "cranking" in words
    assert "zero drawn at" in words
    longest = max(len(p.get("d", "")) for p in drawing.iter("{http://www.w3.org/2000/svg}path"))
    assert longest > 5000  # the trace itself, not only its frame
    page.click("[data-test='look-rows']")
    page.until(lambda: len(page.all("[data-cylinder]")) == len(view.windows))
    pick(page, "[data-test='export']", "Picture (PNG)")
    png = page.until(lambda: next((f for f in page.driver.downloads.iterdir() if f.suffix == ".png"), None))
    assert png.read_bytes()[:8] == b"\x89PNG\r\n\x1a\n"


def test_a_filter_and_a_turned_trace_say_so_and_change_nothing_stored(traces):
    page, capture, _, _, number = traces
    page.click("[data-test='flip-0']")
    page.until(lambda: page.test("done-0").text == "shown upside down")
    page.click("[data-test='corner']")
    page.until(
        lambda: next(
            (o.click() or True)
            for o in page.all(".el-select-dropdown__item")
            if o.is_displayed() and o.text == "Below 20 Hz"
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
    page.until(lambda: f"{1 / abs(b - a):.3f}"[:4] in page.test("apart").text)
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
