"""The first file of one's own: from log-in to a true statement in under a minute and ten clicks."""

import time

import pytest
from selenium.webdriver import Keys

from fairwitness.core.model.engine import even_engine
from tests.conftest import cranking
from tests.formats.instrument_files import MANNERS, Columns

SECONDS, CLICKS = 60, 10
FOUR = even_engine((1, 3, 4, 2))


class Counted:
    """Counts what a person presses, chooses or sends; typing a name is not a click."""

    def __init__(self, page):
        self.page = page
        self.clicks = 0

    def click(self, selector):
        self.clicks += 1
        self.page.click(selector)

    def say_cylinder(self, column, number):
        self.clicks += 1
        say_cylinder(self.page, column, number)

    def choose(self, path):
        self.clicks += 2  # the button, and the file in the window of the system
        self.page.choose_file("csv-file", path)


def say_cylinder(page, column, number):
    page.type(f"[aria-label='Cylinder of {column}'] input, input[aria-label='Cylinder of {column}']", number + Keys.TAB)


@pytest.fixture
def own_file(tmp_path):
    """A lab scope's: preamble, two header rows, semicolons, decimal commas, Latin-1, 1 mV/A, a square sync."""
    path = tmp_path / "scope_017.csv"
    capture = cranking(FOUR, {3: 0.05}, rate_hz=5000.0)
    path.write_bytes(MANNERS["lab_scope"](Columns(capture, through_leads=True)))
    return path


def new_case(page):
    page.go("/cases/new")
    page.type("#vehicle", "Minibus 12")
    page.type("#complaint", "Shakes.")
    page.type("#order", "1 3 4 2")
    page.until(lambda: page.test("start-case").is_enabled())


def take(page, line, words):
    """Choose the lead that says so."""
    page.click(f"{line} .lead .el-select")

    def option():
        shown = (o for o in page.all(".el-select-dropdown__item") if o.is_displayed())
        return next(o for o in shown if words in o.text)

    page.until(lambda: option().click() or True)


def test_a_first_file_comes_to_a_true_statement_in_a_minute_and_ten_clicks(page, own_file):
    page.enter()
    new_case(page)
    began, hand = time.monotonic(), Counted(page)
    hand.click("[data-test='start-case']")
    page.at("/evidence")
    hand.choose(own_file)
    page.find("[data-test='use-CH1']")
    page.until(lambda: "Starter current" in page.find("[data-test='use-CH1']").text)
    page.until(lambda: "clamp 1 mV/A" in page.find("[data-test='use-CH1']").text)
    page.until(lambda: page.find("[data-test='use-CH1'] [data-test='reach']").text.endswith("A"))
    page.until(lambda: "Coil command" in page.find("[data-test='use-CH2']").text)
    page.sees("Still to say: the cylinder of CH2, the fuel.")
    hand.say_cylinder("CH2", "1")
    hand.click("[data-test='fuel-disabled'] .el-radio-button")
    hand.click("[data-test='keep-capture']")
    page.until(lambda: page.test("headline").text == "Cylinder 3 does not seal: hardly any compression.")
    page.reads("status", "suspected", whole=True)
    assert hand.clicks <= CLICKS
    assert time.monotonic() - began < SECONDS


def test_what_a_wrong_clamp_would_do_is_seen_before_it_is_kept(page, own_file):
    page.enter()
    new_case(page)
    page.click("[data-test='start-case']")
    page.at("/evidence")
    page.choose_file("csv-file", own_file)
    line = "[data-test='use-CH1']"
    right = page.find(f"{line} [data-test='reach']").text
    take(page, line, "100 mV/A")
    page.until(lambda: page.find(f"{line} [data-test='reach']").text != right)
    hundredth = float(page.find(f"{line} [data-test='reach']").text.split()[-2])
    assert hundredth == pytest.approx(float(right.split()[-2]) / 100, rel=0.1)
    take(page, line, "not known")
    page.sees("Cylinders are compared by shares; no A is told.")
    say_cylinder(page, "CH2", "1")
    page.click("[data-test='fuel-disabled'] .el-radio-button")
    page.click("[data-test='keep-capture']")
    page.until(lambda: page.cell(3).get_attribute("data-state") == "absent")
