"""What a person does at the screen: look, click, type. States are waited for, never times."""

from __future__ import annotations

from pathlib import Path

from selenium.common.exceptions import TimeoutException
from selenium.webdriver import Chrome, Keys
from selenium.webdriver.common.by import By
from selenium.webdriver.remote.webelement import WebElement
from selenium.webdriver.support.ui import WebDriverWait

SECONDS = 20


class Page:
    """One browser window on one running application."""

    def __init__(self, driver: Chrome, address: str) -> None:
        self.driver = driver
        self.address = address

    def go(self, path: str) -> None:
        self.driver.get(f"{self.address}{path}")

    def until(self, condition, *, seconds=SECONDS):
        ignored = (Exception,)
        return WebDriverWait(self.driver, seconds, poll_frequency=0.05, ignored_exceptions=ignored).until(
            lambda _: condition()
        )

    def find(self, selector: str) -> WebElement:
        return self.until(lambda: next((e for e in self.all(selector) if e.is_displayed()), None))

    def present(self, selector: str) -> WebElement:
        return self.until(lambda: next(iter(self.all(selector)), None))

    def all(self, selector: str) -> list[WebElement]:
        return self.driver.find_elements(By.CSS_SELECTOR, selector)

    def test(self, name: str) -> WebElement:
        return self.find(f"[data-test='{name}']")

    def click(self, selector: str) -> None:
        self.until(lambda: (self.find(selector).click(), True)[1])

    def button(self, words: str) -> WebElement:
        return self.until(
            lambda: next(
                (b for b in self.all("button, a") if b.is_displayed() and b.text.strip().startswith(words)), None
            )
        )

    def press(self, words: str) -> None:
        self.until(lambda: (self.button(words).click(), True)[1])

    def type(self, selector: str, text: str) -> None:
        field = self.find(selector)
        field.send_keys(Keys.CONTROL + "a")
        field.send_keys(text)

    def keys(self, *keys: str) -> None:
        self.driver.switch_to.active_element.send_keys(*keys)

    def sees(self, words: str) -> None:
        self.until(lambda: words in self.driver.find_element(By.TAG_NAME, "body").text)

    def reads(self, name: str, words: str, *, whole: bool = False) -> None:
        """Wait until the named element says these words (or nothing but these); fail with what it says instead."""
        self._comes_to(lambda: self.test(name).text, lambda text: text == words if whole else words in text, words)

    def has(self, name: str, attribute: str, value: str) -> None:
        """Wait until the named element's attribute is this value; fail with what it is instead."""
        self._comes_to(lambda: self.test(name).get_attribute(attribute), lambda seen: seen == value, value)

    def _comes_to(self, look, fits, wanted: str) -> None:
        try:
            self.until(lambda: fits(look()))
        except TimeoutException:
            raise AssertionError(f"{wanted!r} was waited for; seen: {look()!r}") from None

    def choose_file(self, name: str, path: Path) -> None:
        self.present(f"[data-test='{name}']").send_keys(str(path))

    def enter(self, username: str = "tamsin", password: str = "depot-demo-bay-1") -> None:
        self.go("/login")
        self.type("#login-name", username)
        self.type("#login-password", password + Keys.ENTER)
        self.sees("In the yard")

    def open_case(self, vehicle: str) -> None:
        self.go("/cases")
        self.until(lambda: next(a for a in self.all("ul.lines a") if vehicle in a.text).click() or True)
        self.test("headline")

    def cell(self, cylinder: int) -> WebElement:
        return self.test(f"cell-relative_compression-{cylinder}")

    def at(self, ending: str) -> None:
        self.until(lambda: self.driver.current_url.split("?")[0].endswith(ending))
