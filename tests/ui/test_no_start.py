"""An engine that cranks and does not start, through the browser: from intake to a cause that is named."""

from __future__ import annotations

from urllib.parse import urlparse


def look(page, form, **seen):
    page.press("Add evidence")
    page.click(f"[data-test='form-{form}']")
    for item, outcome in seen.items():
        page.click(f"[role='group'][data-choice='{item}'] [data-test='choose-{form}-{outcome}']")
    page.click(f"[data-test='keep-{form}']")
    page.until(lambda: page.test("headline").text)


def test_from_intake_to_the_common_coil_feed(page):
    page.enter()
    page.go("/cases/new")
    page.type("#vehicle", "Post van 9")
    page.type("#complaint", "Parked on Friday, cranks and does not start")
    page.click("[data-test='symptom-no_start']")
    page.type("#order", "1 3 4 2")
    page.until(lambda: page.test("start-case").is_enabled())
    page.click("[data-test='start-case']")
    page.until(lambda: "evidence" in page.driver.current_url)
    page.go(urlparse(page.driver.current_url).path.removesuffix("/evidence"))
    page.until(lambda: page.test("headline").text)
    page.reads("symptom", "Cranks, does not start")
    offered = page.test("next-test").text
    assert "idle" not in offered.split("Or, in this order")[0]
    look(page, "first_look", cadence="even", dash_lamp="lights", pump_prime="heard")
    look(page, "no_start", spark="none", injector_pulse="flashes", crank_signal="present")
    page.until(lambda: "common coil feed" in page.test("headline").text or "ignition" in page.test("headline").text)
    look(page, "no_start", coil_ramp="none")
    page.until(lambda: page.test("status").text == "supported")
    page.press("Add evidence")
    page.click("[data-test='form-voltage']")
    page.click("[data-test='choose-voltage-coil_feed']")
    page.type("[aria-label='volt, cylinder 1']", "0.1")
    page.click("[data-test='keep-voltage']")
    page.until(lambda: page.test("status").text == "established")
    page.reads("headline", "The whole engine: the reason is ignition: common coil feed or igniter lost.", whole=True)
    page.press("For the owner")
    page.sees("The engine as a whole is affected, because the part that all ignition coils share has failed.")


def test_injectors_that_are_held_on_hold_back_everything_that_turns(page):
    page.enter()
    page.open_case("School bus 6")
    page.sees("Fuel or water may stand in a cylinder. Do not use the starter yet.")
    page.sees("Until then nothing is offered that turns, starts or feeds it")
    page.until(lambda: "injectors are held on" in page.find(".statement").text)
