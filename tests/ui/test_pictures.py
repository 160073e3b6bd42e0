"""A photo from a file to its marks; what is no picture is refused in words."""

from selenium.webdriver import ActionChains

from tests.server.pictures.samples import photo, sound
from tests.ui.test_visits import arrive


def draw(page, tool, *, across=120, down=60):
    """A stroke over the picture, from its middle."""
    page.click(f"[data-test='tool-{tool}']")
    held = page.test("picture")
    ActionChains(page.driver).move_to_element(held).click_and_hold().move_by_offset(across, down).release().perform()


def test_a_photo_is_kept_marked_and_looked_at_again(page, tmp_path):
    page.enter()
    arrive(page, "Dial bus 14")
    page.driver.get(f"{page.board}/pictures")
    page.sees("No pictures yet")
    sent = tmp_path / "plug.jpg"
    sent.write_bytes(photo(width=640, height=480, orientation=6, place=True))
    page.type("[data-test='picture-words'] input, input[data-test='picture-words']", "Plug of 3, wet")
    page.choose_file("picture-file", sent)
    page.reads("photo", "Plug of 3, wet")
    page.click("[data-test='photo'] .thumb")
    page.until(lambda: page.find("[data-test='picture'] img").get_property("naturalWidth") == 480)
    draw(page, "arrow")
    draw(page, "ring", across=40, down=40)
    page.click("[data-test='tool-cylinder']")
    page.click(".el-dialog [data-test='pick-3']")
    page.test("picture").click()
    page.until(lambda: len(page.all("[data-test='picture'] [data-mark]")) == 3)
    page.click("[data-test='marks-keep']")
    page.until(lambda: len(page.all("[data-test='photo'] [data-mark]")) == 3)
    page.driver.refresh()
    page.until(lambda: [m.get_attribute("data-mark") for m in page.all("[data-mark]")] == ["arrow", "ring", "cylinder"])
    page.driver.get(f"{page.board}/journal")
    page.sees("photo kept: Plug of 3, wet")
    page.sees("picture marked: 3 marks")


def test_what_is_no_picture_is_refused_in_words_and_a_sound_is_kept(page, tmp_path):
    page.enter()
    arrive(page, "Dial bus 15")
    page.driver.get(f"{page.board}/pictures")
    wrong, heard = tmp_path / "holiday.png", tmp_path / "crank.wav"
    wrong.write_bytes(b"GIF89a no picture of ours")
    heard.write_bytes(sound(2.0))
    page.choose_file("picture-file", wrong)
    page.sees("This is no picture and no sound that is kept.")
    page.choose_file("picture-file", heard)
    page.reads("sound", "2.0 s")
