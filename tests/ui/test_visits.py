"""A vehicle that comes twice: known again, what was found is told, the intake mended, labour and parts kept."""

from selenium.webdriver import Keys

from tests.ui.test_life import SHAKES, choose, counts, work

VEHICLE = "Ferry shuttle 1"


def arrive(page, letters, *, known=False, odometer="88120"):
    """Start a case at intake."""
    page.go("/cases/new")
    page.type("#vehicle", letters)
    if known:
        page.click("[data-test='known-vehicle']")
        page.reads("chosen-vehicle", f"Another visit of {VEHICLE}")
    else:
        page.type("#label", "Hollin Drover 2.0")
    page.type("#odometer", odometer)
    page.type("#ceiling", "60" + Keys.TAB)
    page.until(lambda: page.test("start-case").is_enabled())
    page.click("[data-test='start-case']")
    page.at("/evidence")
    page.board = page.driver.current_url.removesuffix("/evidence")


def field(page, name):
    return page.find(f"[data-test='{name}'] input, input[data-test='{name}']")


def test_a_case_over_two_visits(page):
    page.enter()
    arrive(page, VEHICLE)
    first = page.board
    counts(page, SHAKES)
    page.reads("headline", "Cylinder 3")
    page.click("[data-test='clock']")
    page.until(lambda: "Stop my clock" in page.test("clock").text)
    work(page, "repair-done", "coil", 3, fitted="new")
    page.reads("next-test", "whether the repair cured it")
    counts(page, {1: 0, 2: 1, 3: 1, 4: 0})
    page.has("proof", "data-status", "proven")
    page.reads("stop", "the repair is proven")
    page.click("[data-test='found']")
    page.type("[data-test='found-words'] input, input[data-test='found-words']", "coil dead inside")
    page.type("[data-test='found-by'] input, input[data-test='found-by']", "changed over")
    page.click("[data-test='found-keep']")
    page.reads("outcome", "coil dead inside")
    page.click("[data-test='close-case']")
    page.click("[data-test='close-now']")
    page.reads("closed", "Closed, proven", whole=True)

    arrive(page, VEHICLE[:5].lower(), known=True, odometer="91400")
    assert page.board != first
    counts(page, {1: 180, 2: 1, 3: 0, 4: 2})
    page.reads("seen-before", "coil dead inside; proven")
    page.reads("headline", "Cylinder 1")  # what was found last time decides nothing
    page.driver.get(f"{page.board}/visit")
    page.reads("past-visits", "88,120 km")
    page.click("[data-test='past-visits'] a")
    page.until(lambda: page.driver.current_url == first)


def test_the_intake_is_mended_and_the_journal_says_by_whom(page):
    page.enter()
    arrive(page, "Dial bus 12")
    page.driver.get(f"{page.board}/visit")
    page.type("#complaint", "Shakes when cold")
    page.type("#believed", "The driver thinks it is the clutch")
    page.click("[data-test='amend']")
    page.until(lambda: not page.test("amend").is_enabled())
    page.click("[data-test='tried-not']")
    field(page, "tried-under").send_keys("warm, ten minutes idle" + Keys.ENTER)
    page.reads("tried", "Could not be provoked by Tamsin")
    page.reads("codes", "Not scanned yet.")
    page.click("[data-test='codes-keep']")
    page.reads("codes", "Scanned, none stored.")
    page.driver.get(f"{page.board}/journal")
    page.sees("“Shakes when cold”")
    page.sees("codes read: none stored, as arrived")
    page.sees("complaint could not be provoked")


def test_a_new_part_that_is_bad_out_of_the_box_ends_in_a_claim(page):
    page.enter()
    arrive(page, "Dial bus 13")
    page.driver.get(f"{page.board}/visit")
    choose(page, "part-part", "injector")
    page.click("[data-test='pick-3']")
    field(page, "part-value").send_keys("2.1")
    field(page, "part-peers").send_keys("14.2 14.4 14.3")
    page.click("[data-test='part-keep']")
    page.has("part", "data-condition", "stands_off")
    page.click("[data-test='claim']")
    page.reads("claim-sheet", "2.1 ohm beside 14.3 ohm of its peers")


def test_what_is_due_stands_in_the_yard_until_it_is_done(page):
    page.enter()
    page.reads("due", "Oil change: fuel ran into it")
    page.click("[data-test='due'] button")
    page.until(lambda: not page.all("[data-test='due']"))


def test_the_lead_sees_where_the_shop_was_wrong_and_what_misled(page):
    page.enter("idris", "depot-demo-bay-2")
    page.go("/trust")
    page.reads("own-record", "The complaint came hot on the motorway")
