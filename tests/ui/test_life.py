"""A case from complaint to proof as a technician works it: changed over, repaired, proven, closed, opened again."""

import pytest
from selenium.webdriver import Keys

from tests.ui.signing import decide
from tests.ui.test_first_file import new_case

SHAKES = {1: 0, 2: 2, 3: 210, 4: 1}


@pytest.fixture
def case(page):
    page.enter()
    new_case(page)
    page.click("[data-test='sign-damp']")
    page.click("[data-test='work-add']")
    choose(page, "work-0-part", "plug")
    page.click("[data-test='start-case']")
    page.at("/evidence")
    page.board = page.driver.current_url.removesuffix("/evidence")
    return page


def choose(page, name, words):
    """Pick an option of a select by its words."""
    page.click(f"[data-test='{name}'] .el-select__wrapper, [data-test='{name}']")
    page.until(
        lambda: next(
            (o.click() or True) for o in page.all(".el-select-dropdown__item") if o.is_displayed() and o.text == words
        )
    )


def counts(page, misfires):
    """Write down what the control unit counted."""
    page.driver.get(f"{page.board}/evidence?form=misfire_counts")
    for cylinder, count in misfires.items():
        page.type(f"input[aria-label='misfires, cylinder {cylinder}']", str(count))
    page.click("[data-test='keep-misfire_counts']")
    page.until(lambda: page.driver.current_url == page.board)
    page.test("life")


def pick(page, *cylinders):
    """Exactly these cylinders, whichever were chosen for one."""
    for button in page.all(".el-dialog [data-test^='pick-']"):
        if button.is_displayed():
            wanted = int(button.text) in cylinders
            if (button.get_attribute("aria-pressed") == "true") != wanted:
                button.click()


def work(page, verb, part, *cylinders, fitted=None):
    page.click(f"[data-test='{verb}']")
    page.until(lambda: page.test("work-part").is_displayed())
    choose(page, "work-part", part)
    pick(page, *cylinders)
    if fitted:
        page.click(f"[data-test='fitted-{fitted}']")
    page.click("[data-test='work-keep']")
    page.until(lambda: not any(b.is_displayed() for b in page.all("[data-test='work-keep']")))


def stage(page):
    return page.test("life").get_attribute("data-stage")


def test_from_the_complaint_to_the_proof(case):
    page = case
    page.driver.get(f"{page.board}/journal")
    page.sees("Plug, new")
    page.sees("worse in the wet")
    counts(page, SHAKES)
    page.reads("headline", "Cylinder 3")
    work(page, "change-over", "coil", 3, 1)
    page.reads("looked", "take misfire counts again")
    page.reads("misplaced", "the coil of 3 is in 1")
    counts(page, {1: 205, 2: 1, 3: 0, 4: 2})
    page.until(lambda: page.test("looked").get_attribute("data-went") == "moved")
    headline = page.test("headline").text
    assert "Cylinder 3" in headline
    page.click("[data-test='close-case']")
    page.reads("left", "not where they belong")
    page.until(lambda: not page.test("close-now").is_enabled())
    page.driver.refresh()
    page.click("[data-test='put-back']")
    page.until(lambda: not page.all("[data-test='misplaced']"))
    page.has("life", "data-stage", "diagnosed")
    decide(page, "repair")
    page.has("life", "data-stage", "approved")
    work(page, "repair-done", "coil", 3, fitted="new")
    page.has("proof", "data-status", "open")
    counts(page, {1: 0, 2: 1, 3: 1, 4: 0})
    page.has("proof", "data-status", "proven")
    page.until(lambda: (stage(page), page.test("headline").text) == ("proven", headline))
    page.reads("change-misfire_counts-3", "gone", whole=True)
    page.click("[data-test='found']")
    page.type("[data-test='found-words'] input, input[data-test='found-words']", "coil dead inside")
    page.type("[data-test='found-by'] input, input[data-test='found-by']", "changed over")
    page.click("[data-test='found-keep']")
    page.until(lambda: "coil dead inside" in page.test("outcome").text)
    page.click("[data-test='close-case']")
    page.click("[data-test='close-now']")
    page.until(lambda: page.test("closed").text == "Closed, proven")
    page.click("[data-test='reopen']")
    page.type(".el-message-box input", "shakes again")
    page.click(".el-message-box .el-button--primary")
    page.until(lambda: page.all("[data-test='close-case']"))


def test_a_repair_that_did_not_help(case):
    page = case
    counts(page, SHAKES)
    work(page, "repair-done", "plug", 3, fitted="new")
    counts(page, SHAKES)
    page.has("proof", "data-status", "not_cured")
    page.reads("proof", "measure it beside its peers")
    page.reads("change-misfire_counts-3", "unchanged", whole=True)
    page.until(lambda: stage(page) == "repaired")
    page.click("[data-test='close-case']")
    page.reads("unproven", "repaired, not proven")


def test_the_demo_tells_a_diagnosis_that_was_wrong_and_what_misled(page):
    page.enter()
    page.open_case("School bus 2")
    text = page.test("outcome").text
    assert "Not as stated" in text
    assert "Lesson: The complaint came hot" in text


def test_a_case_is_shown_step_by_step_with_keys(page):
    page.enter()
    page.open_case("Minibus 4")
    page.test("proof")
    page.driver.get(page.driver.current_url + "/replay")
    page.until(lambda: "Nothing was measured yet" in page.test("replayed").text)
    page.keys(Keys.END)
    page.until(lambda: "Cylinder 3 does no work" in page.test("replayed").text)
    page.sees("The repair is proven")
    page.keys(Keys.HOME)
    page.until(lambda: "Nothing was measured yet" in page.test("replayed").text)
