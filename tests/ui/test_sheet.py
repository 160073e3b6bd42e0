"""From a photo to the owner's page: what was decided stands on it, and a link shows it until it is revoked."""

from selenium.webdriver import Keys

from tests.server.pictures.samples import photo
from tests.ui.signing import sign
from tests.ui.test_life import SHAKES, choose, counts
from tests.ui.test_traces import fetched
from tests.ui.test_visits import arrive, field


def on_the_sheet(page, words):
    """Wait until the page in the frame says something."""

    def says():
        page.driver.switch_to.frame(page.test("sheet-frame"))
        try:
            return words in page.all("body")[0].text  # no waiting within the waiting
        finally:
            page.driver.switch_to.default_content()

    page.until(says)


def test_a_photo_goes_from_a_file_to_the_sheet(page, tmp_path):
    page.enter()
    arrive(page, "Dial bus 21")
    counts(page, SHAKES)
    page.driver.get(f"{page.board}/pictures")
    sent = tmp_path / "boot.jpg"
    sent.write_bytes(photo(width=640, height=480))
    field(page, "picture-words").send_keys("The boot of 3, tracked through")
    choose(page, "picture-about", "Misfire counts")
    page.choose_file("picture-file", sent)
    page.reads("photo", "Misfire counts")
    page.driver.get(f"{page.board}/sheet")
    page.has("shown", "aria-pressed", "true")
    on_the_sheet(page, "The boot of 3, tracked through")
    on_the_sheet(page, "Cylinder 3 of the engine")
    page.click("[data-test='whole']")
    on_the_sheet(page, "What was not tested")
    page.click("[data-test='shown']")  # the only one: taken off, the sheet chooses itself
    on_the_sheet(page, "The boot of 3, tracked through")


def test_a_way_is_picked_signed_and_stands_on_the_sheet(page):
    page.enter()
    page.open_case("Library van 3")
    board = page.driver.current_url
    page.click("[data-test='decide']")
    page.until(lambda: any("lead" in b.text.lower() for b in page.all("[data-test='option']")))
    page.click("[data-test='option']")
    page.has("agree-repair", "aria-pressed", "true")
    field(page, "decision-who").send_keys("M. Ferrow")
    sign(page)
    page.click("[data-test='decision-keep']")
    page.reads("decided", "M. Ferrow")
    page.driver.get(f"{board}/sheet")
    on_the_sheet(page, "✓ A new lead or boot, cylinder 2")
    on_the_sheet(page, "Agreed, M. Ferrow, in person, the repair")


def test_the_engine_is_not_opened_before_the_yes(page):
    page.enter()
    page.go("/cases")
    page.until(lambda: page.all("ul.lines a"))
    listed = fetched(page, "cases/?search=ticks")["cases"]
    page.go(f"/cases/{listed[0]['id']}")
    page.sees("Taking the engine apart waits for the owner's yes")
    page.click("[data-test='decide']")
    page.click("[data-test='agree-open_engine']")
    field(page, "decision-who").send_keys("M. Ferrow")
    sign(page)
    page.click("[data-test='decision-keep']")
    page.reads("decided", "taking the engine apart")
    page.until(lambda: "waits for the owner's yes" not in page.find("body").text)


def test_a_stretch_of_a_trace_becomes_a_figure(page):
    page.enter()
    page.open_case("Gritter 7")
    board = page.driver.current_url
    page.click(".seen button")
    page.until(lambda: "/traces/" in page.driver.current_url)
    page.present("[data-test='trace'][data-points]")
    page.click("[data-test='cursors']")
    page.click("[data-test='keep-figure']")
    page.type(".el-message-box__input input", "Here the current stays away" + Keys.ENTER)
    page.sees("Kept. It stands on the owner")
    page.driver.get(f"{board}/sheet")
    on_the_sheet(page, "Here the current stays away")


def test_a_link_is_opened_without_an_account_and_revoked(page):
    page.enter("idris", "depot-demo-bay-2")
    page.go("/workshop")
    page.until(lambda: field(page, "shop-name").get_attribute("value").startswith("Larkmoor Community"))
    if "is-checked" not in page.test("shop-links").get_attribute("class"):
        page.click("[data-test='shop-links']")
        page.click("[data-test='shop-keep']")
        page.until(lambda: not page.test("shop-keep").is_enabled())
    page.open_case("Library van 3")
    board = page.driver.current_url
    page.driver.get(f"{board}/sheet")
    field(page, "link-for").send_keys("R. Peake")
    page.click("[data-test='link-make']")
    page.until(lambda: "/shared/" in (page.test("link-made").get_attribute("value") or ""))
    link = page.test("link-made").get_attribute("value")
    page.driver.delete_all_cookies()
    page.driver.get(link)
    page.sees("Cylinder 2 of the engine")
    assert not page.all(".annex")
    page.enter("idris", "depot-demo-bay-2")
    page.driver.get(f"{board}/sheet")
    page.reads("link", "opened 1 times")
    page.click("[data-test='link-revoke']")
    page.has("link", "data-state", "revoked")
    page.driver.delete_all_cookies()
    page.driver.get(link)
    page.sees("There is nothing here.")
