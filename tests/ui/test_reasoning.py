"""Statement, plan, schools, what if, and the page that says how far to trust the tool."""

import pytest


@pytest.fixture
def board(page):
    page.enter()

    def opened(vehicle):
        page.open_case(vehicle)
        return page

    return opened


def choose(page, label, words):
    """Pick an option of a select by its words."""
    page.click(f".el-dialog [aria-label='{label}'], .el-dialog .el-select:has([aria-label='{label}'])")
    page.until(
        lambda: (
            next(o for o in page.all(".el-select-dropdown__item") if o.is_displayed() and words in o.text).click()
            or True
        )
    )


def causes(page):
    return {e.get_attribute("data-test"): int(e.text) for e in page.all("[data-test^='cause-']")}


def test_the_statement_says_what_is_missing_and_what_is_met(board):
    page = board("Minibus 2")
    page.reads("status", "supported", whole=True)
    page.reads("not-seen", "Wiring and command cleared")
    page.click("[data-test='not-seen'] summary")
    page.reads("not-seen", "second, different test")


def test_both_ways_to_repair_stand_with_their_reasons(board):
    text = board("Library van 3").test("repair").text
    assert "The part: the lead or boot" in text
    assert "The set: all leads with the plugs" in text
    assert "age together" in text


def test_the_same_in_words_for_the_owner(board):
    page = board("Library van 3")
    page.click("[data-test='plain']")
    text = page.test("owner").text
    assert "Cylinder 2 of the engine does not do its share" in text
    assert "kV" not in text
    page.click("[data-test='plain']")
    page.sees("breaks down at")


def test_the_plan_tells_minutes_reason_caution_outcomes_and_when_to_stop(board):
    page = board("Minibus 2")
    text = page.test("next-test").text
    assert " min with " in text
    assert "What if it comes out" in text
    assert "Stop when" in text
    page.until(lambda: page.all("#next-test .alarm"))


def test_an_imagined_outcome_moves_the_statement_and_is_never_kept(board):
    page = board("Rescue boat tractor")
    before, headline = causes(page), page.test("headline").text
    page.click("[data-test^='what-if-']")
    banner = page.test("imagined")
    assert "Imagined, not evidence" in banner.text
    page.until(lambda: causes(page) != before)
    page.click("[data-test='back-to-seen']")
    page.until(lambda: causes(page) == before and not page.all("[data-test='imagined']"))
    page.driver.refresh()
    page.reads("headline", headline, whole=True)
    page.press("Journal")
    page.sees("case opened")
    page.until(lambda: "magined" not in page.find("main").text)


def test_another_school_asks_for_another_test(board):
    page = board("Rescue boat tractor")
    before = page.find("#next-test h4").text
    page.click("[data-test='approach']")
    choose(page, "Which tests come first", "Electrical")
    page.press("Done")
    page.until(lambda: page.find("#next-test h4").text != before)
    page.press("Journal")
    page.sees("order codes first")


def test_a_bay_without_a_scope_is_offered_what_it_can_do(board):
    page = board("Meals van 4")
    page.reads("next-test", "scope")
    page.click("[data-test='approach']")
    page.click("[data-test='part-tools']")
    page.click("[data-test='tool-scope']")
    page.until(lambda: "scope" not in page.find("#next-test h4 + p").text)
    page.click("[data-test='tool-scope']")
    page.until(lambda: "scope" in page.find("#next-test h4 + p").text)
    page.press("Done")


def test_own_minutes_of_an_engine_are_kept_and_rank_the_test(board):
    page = board("Meals van 4")
    title = page.find("#next-test h4").text
    page.click("[data-test='approach']")
    page.click("[data-test='part-minutes']")
    page.type(f"input[aria-label='Own minutes, {title}']", "240\n")
    page.until(lambda: page.find("#next-test h4").text != title)
    page.press("Done")
    page.driver.refresh()
    page.until(lambda: page.find("#next-test h4").text != title)


def test_the_chosen_test_opens_its_set_up_card(board):
    page = board("Meals van 4")
    page.until(lambda: page.all("[data-test='at-bench']"))
    page.click("[data-test='at-bench']")
    page.until(lambda: "/bench" in page.driver.current_url and "test=" in page.driver.current_url)


def test_the_trust_page_shows_figures_plots_and_minutes(page):
    page.enter()
    page.press("Trust")
    page.sees("cases it was not made with, it named the right cylinder")
    page.until(lambda: len(page.all("[data-test='elsewhere'] tr")) == 6)
    page.reads("elsewhere", "A sound cylinder accused")
    page.until(lambda: len(page.all("[data-test='figures'] tbody tr")) == 7)
    page.reads("figures", "where the tests taken could show it")
    page.until(lambda: page.all("[data-test='calibration'] rect.bin"))
    page.reads("minutes", "min a right answer")
