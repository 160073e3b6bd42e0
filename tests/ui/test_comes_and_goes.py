"""A fault that comes and goes, through the browser: asked when it comes, left alone until caught, watched for long."""

from __future__ import annotations

from urllib.parse import urlparse

import pytest

IN_BAY = """
const done = arguments[arguments.length - 1]
const token = document.cookie.match(/csrftoken=([^;]+)/)[1]
fetch('/api/bench/vehicle/', {
  method: 'POST',
  headers: { 'Content-Type': 'application/json', 'X-CSRFToken': token },
  body: JSON.stringify({ vehicle: 'drover-2.0', fault: arguments[0], hot: true }),
}).then((answer) => done(answer.status))
"""


def test_asked_hot_and_wet_left_alone_and_taken_at_once_while_it_does_it(page):
    page.enter()
    page.go("/cases/new")
    page.type("#vehicle", "Van 21")
    page.type("#complaint", "Jerks")
    page.click("[data-test='when-hot']")
    page.click("[data-test='when-wet']")
    page.until(lambda: page.test("start-case").is_enabled())
    page.click("[data-test='start-case']")
    page.until(lambda: "evidence" in page.driver.current_url)
    page.go(urlparse(page.driver.current_url).path.removesuffix("/evidence"))
    page.sees("nothing was taken hot and wet")
    page.reads("hands-off", "Not caught yet")
    page.until(lambda: page.find("[data-test='next-test'] h4").text.startswith("Relative compression"))
    page.click("[data-test='happening']")
    page.until(lambda: page.test("happening").get_attribute("aria-pressed") == "true")
    page.reads("hands-off", "switch nothing off")
    page.until(lambda: not page.find("[data-test='next-test'] h4").text.startswith("Relative compression"))
    page.press("Add evidence")
    page.click("[data-test='form-misfire_counts']")
    for cylinder in (1, 3, 4, 2):
        page.type(f"[aria-label='misfires, cylinder {cylinder}']", "90" if cylinder == 3 else "0")
    page.click("[data-test='happened']")
    page.click("[data-test='keep-misfire_counts']")
    page.until(lambda: "3" in page.test("headline").text)
    page.click("[data-test='happening']")
    page.until(lambda: not page.all("[data-test='hands-off']"))


@pytest.fixture
def at_the_bench(page):
    page.enter()
    assert page.driver.execute_async_script(IN_BAY, "injector_control_open@3:1!random") == 200
    page.go("/bench?test=injector_current")
    page.until(lambda: page.test("big").text == "Connect the scope")
    page.click("[data-test='scope']")
    page.until(lambda: page.test("scope").text == "Let go of the scope")
    page.click("[data-test='set-up']")
    page.sees("Before the engine turns")
    for check in page.all("[data-test^='tick-']"):
        check.click()
    return page


def test_a_long_watch_marks_the_moment_and_the_board_gets_the_capture(at_the_bench):
    page = at_the_bench
    page.click("[data-test='watch']")
    page.until(lambda: page.test("big").text in ("Watching", "Caught it"))
    page.until(lambda: page.test("big").text == "Caught it")
    page.reads("caught", "Lost at")
    page.click("[data-test='keep']")
    page.until(lambda: page.all("[data-test='kept']"))
    page.click("[data-test='to-board']")
    page.until(lambda: page.test("headline").text)
    page.sees("Injector current")
