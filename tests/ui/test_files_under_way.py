"""A file that was sent is the server's: seen in another tab, gone on with there, and taken back."""

import pytest

from tests.ui.files import decimal_comma_csv
from tests.ui.test_first_file import new_case, say_cylinder


@pytest.fixture
def sent(page, tmp_path):
    """A file that was looked at and not kept; gone from the technician's own disk since."""
    path = decimal_comma_csv(tmp_path, {3: 0.05})
    page.enter()
    new_case(page)
    page.click("[data-test='start-case']")
    page.at("/evidence")
    page.choose_file("csv-file", path)
    page.find("[data-test='use-Clamp']")
    path.unlink()
    return page


@pytest.fixture
def other_tab(sent):
    first, address = sent.driver.current_window_handle, sent.driver.current_url
    sent.driver.switch_to.new_window("tab")
    sent.driver.get(address)
    yield sent
    for handle in sent.driver.window_handles:
        if handle != first:
            sent.driver.switch_to.window(handle)
            sent.driver.close()
    sent.driver.switch_to.window(first)


def test_another_tab_goes_on_with_it(other_tab):
    page = other_tab
    page.reads("under-way", "crank-session.csv")
    page.press("Go on")
    page.until(lambda: "Starter current" in page.find("[data-test='use-Clamp']").text)
    if page.all("[aria-label='Cylinder of Sync coil 1'] input"):
        say_cylinder(page, "Sync coil 1", "1")
    page.click("[data-test='fuel-disabled'] .el-radio-button")
    page.click("[data-test='keep-capture']")
    page.until(lambda: page.cell(3).get_attribute("data-state") == "absent")


def test_it_is_taken_back_from_another_tab(other_tab):
    page = other_tab
    page.test("under-way")
    page.press("Cancel")
    page.until(lambda: not page.all("[data-test='under-way']"))


def test_choosing_another_file_lets_go_of_the_first(sent, tmp_path):
    other = decimal_comma_csv(tmp_path, {2: 0.05}).rename(tmp_path / "second.csv")
    sent.choose_file("csv-file", other)
    sent.sees("second.csv")
    sent.find("[data-test='use-Clamp']")
    assert not sent.all("[data-test='under-way']")
