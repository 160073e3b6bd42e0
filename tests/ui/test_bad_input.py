"""Whatever is wrong with a file, its sentence shows and nothing is stored."""

import pytest

from tests.formats.packages import descriptor, package


def test_a_broken_package_shows_its_sentence(page, tmp_path):
    page.enter()
    page.find("ul.lines a")
    before = len(page.all("ul.lines a"))
    broken = tmp_path / "broken.zip"
    for data, sentence in (
        (b"not a zip", "This is not a ZIP file, or it is cut short."),
        (package(descriptor(version=7)), "Version 7 cannot be read"),
        (package(descriptor(engine={"cylinders": 4})), "does not state its firing order"),
    ):
        broken.write_bytes(data)
        page.choose_file("package-file", broken)
        page.sees(sentence)
    page.driver.refresh()
    page.until(lambda: len(page.all("ul.lines a")) == before)


@pytest.mark.parametrize(
    ("text", "sentence"),
    [
        ("", "The file is empty"),
        ("hello\nworld\nagain\n", "No rows of numbers were found"),
    ],
)
def test_a_broken_table_shows_its_sentence(page, tmp_path, text, sentence):
    page.enter()
    page.open_case("Meals van 4")
    page.go(page.driver.current_url.removeprefix(page.address) + "/evidence")
    path = tmp_path / "broken.csv"
    path.write_text(text)
    page.choose_file("csv-file", path)
    page.sees(sentence)


def test_a_table_without_time_asks_for_the_rate(page, tmp_path):
    page.enter()
    page.open_case("Meals van 4")
    page.go(page.driver.current_url.removeprefix(page.address) + "/evidence")
    path = tmp_path / "no-time.csv"
    path.write_text("clamp (A),sync (V)\n" + "".join(f"{100 + i % 9},{5 if i % 80 < 3 else 0}\n" for i in range(900)))
    page.choose_file("csv-file", path)
    page.sees("There is no time column. Samples per second")


def test_a_wrong_firing_order_is_said_as_it_is_typed(page):
    page.enter()
    page.go("/cases/new")
    page.type("#vehicle", "Bus")
    page.type("#order", "1 3 4 3")
    page.until(lambda: "Cylinder 3 stands in the firing order more than once" in page.test("engine-problem").text)
    page.until(lambda: len(page.all("g.wrong")) == 2)
    page.until(lambda: not page.test("start-case").is_enabled())
    page.type("#order", "1 3 4 2")
    page.until(lambda: not page.all("g.wrong") and page.test("start-case").is_enabled())


def test_a_known_engine_comes_up_by_a_few_letters(page):
    page.enter()
    page.go("/cases/new")
    page.type("#label", "salt")
    page.until(lambda: page.test("suggestion").text == "Ormside Salter 4.4 V8")
    page.click("[data-test='suggestion']")
    page.until(lambda: page.find("#order").get_attribute("value") == "1 8 4 3 6 5 7 2")
    page.until(lambda: len(page.all("figure g")) == 8)


def test_an_address_that_leads_nowhere_says_so(page):
    page.enter()
    page.go("/cases/99999")
    page.sees("There is nothing at this address.")
    page.go("/nowhere")
    page.sees("There is nothing at this address")


def test_a_wrong_password_is_said(page):
    page.go("/login")
    page.type("#login-name", "tamsin")
    page.type("#login-password", "guess")
    page.press("Log in")
    page.sees("Name and password do not match.")
