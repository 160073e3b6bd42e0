"""The owner says yes: signed on the screen, shown on the board, and the plan goes on where it was held."""

from selenium.webdriver import ActionChains

from tests.ui.test_life import SHAKES, counts
from tests.ui.test_visits import arrive, field


def sign(page):
    """A stroke over the field to sign in."""
    ActionChains(page.driver).move_to_element(page.test("signature")).click_and_hold().move_by_offset(
        90, 20
    ).move_by_offset(40, -30).release().perform()


def decide(page, *what):
    page.click("[data-test='decide']")
    for one in what:
        page.click(f"[data-test='agree-{one}']")
    field(page, "decision-who").send_keys("M. Ferrow")
    sign(page)
    page.click("[data-test='decision-keep']")
    page.until(lambda: not any(b.is_displayed() for b in page.all("[data-test='decision-keep']")))


def test_a_decision_is_signed_and_the_plan_held_back_until_the_yes(page):
    page.enter()
    arrive(page, "Dial bus 16")
    counts(page, SHAKES)
    decide(page, "testing")
    page.reads("decided", "Agreed, M. Ferrow, in person, further testing")
    page.reads("next-test", "Not before the owner agrees to it")
    decide(page, "testing", "open_fuel", "repair")
    page.until(lambda: "Not before the owner" not in page.test("next-test").text)
    page.has("life", "data-stage", "approved")
    page.driver.get(f"{page.board}/pictures")
    page.reads("photo", "Signature of M. Ferrow")
