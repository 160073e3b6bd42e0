"""An owner who decides: what is agreed to, by whom, and a stroke as signature."""

from selenium.webdriver import ActionChains


def sign(page):
    """A stroke over the field to sign in."""
    strokes = ActionChains(page.driver).move_to_element(page.test("signature")).click_and_hold()
    strokes.move_by_offset(90, 20).move_by_offset(40, -30).release().perform()


def decide(page, *what):
    """Write down what the owner agreed to."""
    page.click("[data-test='decide']")
    for one in what:
        page.click(f"[data-test='agree-{one}']")
    page.find("[data-test='decision-who'] input, input[data-test='decision-who']").send_keys("M. Ferrow")
    sign(page)
    page.click("[data-test='decision-keep']")
    page.until(lambda: not any(b.is_displayed() for b in page.all("[data-test='decision-keep']")))
