"""The owner says yes: signed on the screen, shown on the board, and the plan goes on where it was held."""

from tests.ui.signing import decide
from tests.ui.test_life import SHAKES, counts
from tests.ui.test_visits import arrive


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
