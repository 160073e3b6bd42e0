"""Ten tasks of a day in the bay, by keys alone and by one finger alone; `make tasks` writes what they took to docs.

Seconds of a practised person are estimated with the keystroke-level model (Card, Moran and Newell, "The keystroke-level
model for user performance time with interactive systems", Communications of the ACM 23(7), 1980): 0.28 s a key at
forty words a minute, 1.10 s to point; thinking is left out. The native dialog that chooses a file is the operating
system's: its answer is given directly.
"""

from __future__ import annotations

import os
import time
from pathlib import Path

import pytest
from selenium.webdriver import Keys

from tests.ui.files import decimal_comma_csv
from tests.ui.hands import PHONE, Finger, Keyboard

KEY_S, POINT_S = 0.28, 1.10
HANDS = {"keyboard": Keyboard, "touch": Finger}
TITLES = {
    "start": "Start a case",
    "import": "Bring in a file of the scope",
    "enter": "Enter a reading of every cylinder",
    "ask": "See the next test and open what it needs",
    "compare": "Lay the events of all cylinders on each other and pick one out",
    "sign": "Write down the owner's yes",
    "prove": "Record the repair",
    "hand over": "Open the owner's sheet with its annex",
    "find": "Find the case again among all",
    "switch": "Switch the bay to night",
}


class Day:
    """One person's day on one new case."""

    def __init__(self, page, hand, folder: Path) -> None:
        self.page, self.hand, self.folder = page, hand, folder
        self.keys = isinstance(hand, Keyboard)
        self.vehicle = f"Dial bus {time.time_ns() % 100_000}"
        self.board = ""

    def to(self, link: str, *keys: str) -> None:
        """A view, by its keys or by its name under the thumb."""
        if self.keys and keys:
            self.hand.shortcut(*keys)
        else:
            self.hand.act(f".rail a[href='{link}']")

    def start(self) -> None:
        self.to("/cases/new", "g", "n")
        self.hand.write("#vehicle", self.vehicle)
        self.page.until(lambda: self.page.test("start-case").is_enabled())
        if self.keys:
            self.hand.press(Keys.ENTER)
        else:
            self.hand.act("[data-test='start-case']")
        self.page.at("/evidence")
        self.board = self.page.driver.current_url.removeprefix(self.page.address).removesuffix("/evidence")

    def import_(self) -> None:
        self.page.choose_file("csv-file", decimal_comma_csv(self.folder, {3: 0.05}))
        self.page.sees("semicolon between cells")
        no_yes = "[data-test='fuel-disabled'] .el-radio-button"
        if self.keys:
            self.hand.reach(f"{no_yes} input")
            self.hand.press(Keys.SPACE)
        else:
            self.hand.act(f"{no_yes}:first-child")
        self.page.until(lambda: self.page.test("keep-capture").is_enabled())
        self.hand.act("[data-test='keep-capture']")
        self.page.until(lambda: self.page.test("headline").text.startswith("Cylinder 3"))

    def enter(self) -> None:
        self.to(f"{self.board}/evidence", "e")
        self.page.find("[data-test='form-compression_gauge']")
        if self.keys:
            self.hand.shortcut("/")
            self.hand.write("input[aria-label='Find a form']", "compression g")
            self.hand.press(Keys.ENTER)
        else:
            self.hand.act("[data-test='form-compression_gauge']")
        for cylinder, kpa in ((1, "1180"), (3, "210"), (4, "1200"), (2, "1170")):
            self.hand.write(f"input[aria-label='dry, cylinder {cylinder}']", kpa)
            if self.keys:
                self.hand.press(Keys.ENTER)
        self.hand.act("[data-test='keep-compression_gauge']")
        self.page.test("cell-compression_gauge-3")

    def ask(self) -> None:
        if self.keys:
            self.hand.shortcut("n")
        self.hand.act("#next-test a.to-bench")
        self.page.until(lambda: "/evidence" in self.page.driver.current_url or "/bench" in self.page.driver.current_url)
        self.page.driver.back()
        self.page.test("headline")

    def compare(self) -> None:
        if self.keys:
            self.hand.shortcut(Keys.ENTER)
        else:
            self.hand.act("[data-usable=true] h3 button")
        self.page.find("[data-test='trace'][data-points]")
        self.hand.act("[data-test='look-overlay']")
        self.page.test("pick-3")
        if self.keys:
            self.hand.shortcut("3")
        else:
            self.hand.act("[data-test='pick-3']")
        self.page.has("pick-3", "aria-pressed", "true")
        self.to(self.board, "g", "b")
        self.page.test("headline")

    def sign(self) -> None:
        self.hand.act("[data-test='decide']")
        self.page.test("agree-repair")
        self.hand.act("[data-test='agree-repair']")
        self.hand.write("input[data-test='decision-who'], [data-test='decision-who'] input", "M. Ferrow")
        name = "[data-test='decision-note']"
        note = f"{name} textarea, {name} input, textarea{name}, input{name}"
        self.hand.write(note, "by phone, read back")
        self.hand.act("[data-test='decision-keep']")
        self.page.reads("decided", "M. Ferrow")

    def prove(self) -> None:
        self.page.until(lambda: not any(d.is_displayed() for d in self.page.all(".el-overlay")))
        self.hand.act("[data-test='repair-done']")
        self.page.test("work-part")
        self.hand.choose("[data-test='work-part']", self.part())
        self.page.until(lambda: self.page.test("work-keep").is_enabled())
        self.hand.act("[data-test='work-keep']")
        self.page.test("proof")

    def part(self) -> str:
        """Some part the dialog offers."""
        return self.page.driver.execute_async_script(
            "fetch('/api/words/').then(r => r.json()).then(w => arguments[0](Object.values(w.parts)[0]))"
        )

    def hand_over(self) -> None:
        self.page.until(lambda: not any(d.is_displayed() for d in self.page.all(".el-overlay")))
        self.to(f"{self.board}/sheet", "g", "o")
        self.page.test("sheet-frame")
        self.hand.act("[data-test='whole']")
        self.page.until(lambda: "whole" in self.page.test("sheet-frame").get_attribute("src"))

    def find(self) -> None:
        self.to("/cases", "g", "c")
        self.page.find("ul.lines a")
        field = "input[aria-label='Search cases']"
        if self.keys:
            self.hand.shortcut("/")
        self.hand.write(field, self.vehicle)
        self.page.until(lambda: len(self.page.all("ul.lines a")) == 1)
        self.hand.act("ul.lines a")
        self.page.test("headline")

    def switch(self) -> None:
        for bay in ("night", "day"):
            if self.keys:
                self.hand.shortcut("d")
            else:
                self.hand.act("[data-test='bay']")
            self.page.find(f"html[data-bay='{bay}'] h1")


@pytest.fixture(params=list(HANDS))
def day(request, page, tmp_path):
    driver = page.driver
    page.enter()
    if request.param == "touch":
        driver.execute_cdp_cmd("Emulation.setDeviceMetricsOverride", PHONE)
        driver.execute_cdp_cmd("Emulation.setTouchEmulationEnabled", {"enabled": True})
    yield Day(page, HANDS[request.param](page), tmp_path)
    if request.param == "touch":
        driver.execute_cdp_cmd("Emulation.clearDeviceMetricsOverride", {})
        driver.execute_cdp_cmd("Emulation.setTouchEmulationEnabled", {"enabled": False})


def test_a_day_in_the_bay(day):
    rows = []
    for task, title in TITLES.items():
        day.hand.acts = day.hand.typed = 0
        begun = time.monotonic()
        getattr(day, {"import": "import_", "hand over": "hand_over"}.get(task, task))()
        rows.append((title, day.hand.acts, day.hand.typed, time.monotonic() - begun))
    assert len(rows) == 10
    assert max(acts for _, acts, _, _ in rows) < 120
    if folder := os.environ.get("FAIRWITNESS_TASKS"):
        Path(folder, f"{day.hand.name}.txt").write_text(table(day.hand.name, rows))


def table(name: str, rows) -> str:
    """What each task took, as lines of a document."""
    each = POINT_S + KEY_S if name == "touch" else KEY_S
    lines = [
        f"| {title} | {acts} | {typed} | {acts * each + typed * KEY_S:.0f} s | {seconds:.1f} s |"
        for title, acts, typed, seconds in rows
    ]
    what = "taps" if name == "touch" else "keys"
    return (
        "\n".join([f"| task | {what} | typed | estimated | the machine's part |", "|---|---|---|---|---|", *lines])
        + "\n"
    )
