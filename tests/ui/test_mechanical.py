"""Mechanical cases through the browser: a leak from capture and gauge to where it goes, a bank with late valves."""

from __future__ import annotations

from selenium.webdriver import Keys

from fairwitness.core.model.engine import Layout, even_engine
from tests.conftest import cranking
from tests.core.pressures import pressure_capture
from tests.ui.test_ignition import bring, cell

SIX = even_engine((1, 4, 2, 5, 3, 6), label="Marl Bookwain 2.7 V6", layout=Layout.VEE, banks=((1, 2, 3), (4, 5, 6)))


def number(page, words, text):
    page.type(f"[aria-label='{words}'] input, input[aria-label='{words}']", text + Keys.TAB)


def test_a_leaking_cylinder_is_followed_to_its_rings(page, tmp_path):
    page.enter()
    pressed = pressure_capture(SIX, {1: {}, 5: {"kept": 0.45}})
    bring(page, tmp_path, SIX, "gritter-31", cranking(SIX, {5: 0.35}), pressed)
    page.until(lambda: cell(page, "cylinder_pressure", 5).get_attribute("data-state") == "low")
    page.sees("its tower leans")
    page.reads("headline", "Cylinder 5 does not compress")
    page.press("Add evidence")
    page.click("[data-test='form-compression_gauge']")
    page.click("[data-test='choose-compression_gauge-bar']")
    page.until(lambda: "8.0 bar and more" in page.test("expected").text)
    for cylinder in (1, 4, 2, 3, 6):
        number(page, f"dry, cylinder {cylinder}", "12.1")
    number(page, "dry, cylinder 5", "5.2")
    number(page, "with oil, cylinder 5", "10.4")
    page.click("[data-test='keep-compression_gauge']")
    page.sees("oil seals it, rings")
    page.until(lambda: cell(page, "compression_gauge", 5).get_attribute("data-state") == "low")
    page.press("Add evidence")
    page.click("[data-test='form-leak_down']")
    number(page, "per cent lost, cylinder 5", "60")
    page.click("[data-test='pick-leak_down-5']")
    page.until(lambda: next(o for o in page.all("li[role='option']") if o.text == "oil filler").click() or True)
    page.click("[data-test='keep-leak_down']")
    page.until(lambda: page.test("status").text == "established")
    page.sees("leak past rings or piston")
    page.sees("Before the engine is opened: the owner's yes")
    page.driver.get(f"{page.driver.current_url}/evidence?form=authorisation")
    for words, text in (
        ("who agreed", "M. Ferrow, transport desk"),
        ("up to how much", "900"),
        ("to what", "head off"),
    ):
        page.type(f"[aria-label='{words}'] input, input[aria-label='{words}']", text)
    page.click("[data-test='keep-authorisation']")
    page.until(lambda: page.test("status").text == "established")
    page.until(lambda: "Before the engine is opened" not in page.find(".follows").text)


def test_a_bank_with_late_valves_is_told_in_degrees(page, tmp_path):
    page.enter()
    pressed = pressure_capture(SIX, {4: {"late": 38.0, "ratio": 9.0}, 1: {}})
    bring(page, tmp_path, SIX, "gritter-32", cranking(SIX, dict.fromkeys((4, 5, 6), 0.68)), pressed)
    page.click(".seen .more")
    page.sees("degrees late")
    page.sees("one whole bank: valve timing of that bank first")
    page.until(lambda: cell(page, "cylinder_pressure", 4).get_attribute("data-state") in ("low", "abnormal"))
    page.until(lambda: cell(page, "cylinder_pressure", 1).get_attribute("data-state") == "normal")


def test_a_vacuum_behind_a_check_valve_is_kept_and_not_believed(page, tmp_path):
    page.enter()
    bring(page, tmp_path, SIX, "gritter-33", cranking(SIX, {}))
    page.press("Add evidence")
    page.click("[data-test='form-vacuum']")
    page.click("[data-test='choose-vacuum-inhg']")
    page.click("[data-test='choose-vacuum-valve']")
    number(page, "reading", "20")
    page.click("[data-test='keep-vacuum']")
    page.sees("holds the highest vacuum: take another port")
