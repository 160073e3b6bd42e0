"""Fuel cases through the browser: an open injector to the statement, a flooded engine to its closing, a calculator."""

from __future__ import annotations

from selenium.webdriver import Keys

from fairwitness.core.model.engine import even_engine
from tests.conftest import cranking
from tests.core.feeds import running
from tests.ui.test_ignition import bring, cell

FOUR = even_engine((1, 3, 4, 2), label="Hollin Drover 2.0")
FED = even_engine(
    (1, 3, 4, 2), label="Hollin Drover 2.0", injector_path=("fuse 12", "bulkhead plug", "injector plug", "unit pin")
)


def number(page, words, text):
    page.type(f"[aria-label='{words}'] input, input[aria-label='{words}']", text + Keys.TAB)


def test_an_open_injector_is_followed_along_its_wire(page, tmp_path):
    page.enter()
    fed = running(FED, rpm=760, on_s=0.0035, odd={4: float("inf")}, cycles=8)
    bring(page, tmp_path, FED, "minibus-21", cranking(FED, {}), fed)
    page.until(lambda: cell(page, "injector_current", 4).get_attribute("data-state") == "absent")
    page.reads("headline", "Cylinder 4 stands out in injector current")
    for place, volts in (("fuse 12", "12.4"), ("injector plug", "3.3")):
        page.press("Add evidence")
        page.click("[data-test='form-voltage']")
        page.click("[data-test='choose-voltage-injector_control']")
        page.click("[data-test='place']")
        page.until(
            lambda place=place: next(o for o in page.all("li[role='option']") if o.text == place).click() or True
        )
        number(page, "volt, cylinder 4", volts)
        page.click("[data-test='keep-voltage']")
        page.until(lambda: page.test("headline").text)
    page.sees("open from fuse 12 outward, up to injector plug")
    page.sees("Measure next at bulkhead plug")
    page.reads("headline", "the reason is fuel")


def test_a_flooded_engine_is_closed_only_after_its_questions(page):
    page.enter()
    page.open_case("Minibus 6")
    page.sees("Do not use the starter yet")
    page.click("[data-test='close-case']")
    page.reads("left", "questions about flooding are not answered")
    page.until(lambda: not page.test("close-now").is_enabled())
    page.keys(Keys.ESCAPE)
    page.until(lambda: not any(b.is_displayed() for b in page.all("[data-test='close-now']")))
    page.click("[data-test='unfold']")
    answers = {
        "plugs_out": "all four, rags on",
        "no_sparks": "coils unplugged, extinguisher on the bench",
        "hydraulic_lock": "plugs out, turned by hand twice, free",
        "oil_dilution": "oil smelt of petrol, changed with the filter",
        "flood_cleared": "injector unplugged, plugs dried; driver replaced by the maker's procedure",
    }
    for question, text in answers.items():
        page.type(f"[data-test='answer-{question}']", text)
        page.click(f"[data-test='keep-{question}']")
        page.until(lambda question=question, text=text: page.test(f"answered-{question}").text == text)
    page.sees("All answers are kept")
    page.click("[data-test='close-case']")
    page.until(lambda: page.test("close-now").is_enabled())
    page.click("[data-test='close-now']")
    page.reads("closed", "Closed, ")


def test_the_calculator_says_what_current_should_flow_warm_and_cold(page):
    page.enter()
    page.open_case("Minibus 2")
    page.press("Add evidence")
    page.click("[data-test='form-resistance']")
    page.click("[data-test='choose-resistance-injector']")
    number(page, "ohm at 20 °C", "14.5")
    page.until(lambda: page.test("calculated").text.startswith("0.92 A"))
    number(page, "winding, °C", "90")
    page.until(lambda: page.test("calculated").text.startswith("0.72 A"))
    number(page, "volt of the feed", "900")
    page.sees("900 V is out of range")


def test_pressure_trims_and_smoke_are_written_down_and_shown(page, tmp_path):
    page.enter()
    bring(page, tmp_path, FOUR, "minibus-22", cranking(FOUR, {}))
    page.press("Add evidence")
    page.click("[data-test='form-fuel_pressure']")
    for words, text in (("measured, kPa", "290"), ("lowest allowed", "330"), ("highest allowed", "370")):
        number(page, words, text)
    page.click("[data-test='keep-fuel_pressure']")
    page.sees("too low: pump, filter, relay drop or pressure control")
    page.press("Add evidence")
    page.click("[data-test='form-fuel_trim']")
    number(page, "short, per cent", "-3")
    number(page, "long, per cent", "17")
    page.click("[data-test='keep-fuel_trim']")
    page.sees("add up to +14 %")
    page.press("Add evidence")
    page.click("[data-test='form-delivery']")
    for cylinder, drop in ((1, "24"), (3, "25"), (4, "16"), (2, "24.5")):
        number(page, f"kPa dropped, cylinder {cylinder}", drop)
    page.click("[data-test='keep-delivery']")
    page.until(lambda: cell(page, "delivery", 4).get_attribute("data-state") == "low")
