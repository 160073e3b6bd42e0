"""How somebody reads and is let in: own units, keys off, a session that ended, a look that stays where it was."""

from __future__ import annotations

from selenium.webdriver import Keys

from tests.ui.test_traces import traces

__all__ = ["traces"]


def test_pressures_are_read_in_the_chosen_unit_and_stay_so(page):
    page.enter()
    page.open_case("Meals van 1")
    page.sees("reaches 1.4 bar")
    page.click("[data-test='units']")
    page.click("[data-test='unit-psi']")
    page.sees("reaches 21 psi")
    page.press("Done")
    page.driver.refresh()
    page.sees("reaches 21 psi")
    page.click("[data-test='units']")
    page.click("[data-test='unit-bar']")
    page.sees("reaches 1.4 bar")


def test_single_keys_can_be_switched_off_and_on(page):
    page.enter()
    page.press("All keys")
    page.click("[data-test='keys-on']")
    page.press("Close")
    page.until(
        lambda: not page.all(".el-dialog [data-test='keys-on']") or not page.present(".el-dialog").is_displayed()
    )
    page.keys("g", "n")
    page.go("/cases")
    page.sees("In the yard")
    page.press("All keys")
    page.click("[data-test='keys-on']")
    page.press("Close")
    page.until(lambda: not page.present(".el-dialog").is_displayed())
    page.keys("g", "n")
    page.at("/cases/new")


def test_words_of_the_trade_say_what_they_mean_until_switched_off(page):
    page.enter()
    page.open_case("Gritter 7")
    words = "[data-test='next-test'] .trade-word"
    first = page.find(words)
    first.click()
    page.until(lambda: page.find("[data-test='next-test'] .trade-meaning").text.startswith(f"{first.text}: "))
    assert first.get_attribute("aria-expanded") == "true"
    first.click()
    page.until(lambda: not page.all(".trade-meaning"))
    page.press("All keys")
    page.click("[data-test='explaining']")
    page.click(".el-dialog__footer .el-button")
    page.until(lambda: not page.all(words))
    page.press("All keys")
    page.click("[data-test='explaining']")
    page.click(".el-dialog__footer .el-button")
    page.find(words)


def test_a_session_that_ended_leads_to_the_door_and_back(page):
    page.enter()
    page.open_case("Meals van 1")
    board = page.driver.current_url
    page.driver.delete_cookie("session")
    page.press("Journal")
    page.at("/login")
    page.type("#login-name", "tamsin")
    page.type("#login-password", "depot-demo-bay-1" + Keys.ENTER)
    page.until(lambda: page.driver.current_url.startswith(board))
    page.sees("case opened")


def test_holding_a_known_good_leaves_the_look_where_it_was(traces):
    page, *_ = traces
    whole = page.test("stretch").text
    page.keys("]")
    page.until(lambda: page.test("stretch").text != whole)
    near = page.test("stretch").text
    page.click("[data-test='hold-known-good']")
    page.type(".el-message-box input", "runs evenly")
    page.click(".el-message-box .el-button--primary")
    page.until(lambda: "runs evenly" in page.test("known-good").text)
    page.reads("stretch", near, whole=True)
    page.click("[data-test='drop-known-good']")
    page.until(lambda: page.all("[data-test='hold-known-good']"))
    page.reads("stretch", near, whole=True)
