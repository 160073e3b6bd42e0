"""Two ways to work the interface: keys alone, and one finger on a phone. Each counts what it does."""

from __future__ import annotations

from selenium.webdriver import ActionChains, Keys
from selenium.webdriver.common.by import By

from tests.ui.page import Page

MOST_TABS = 160
PHONE = {"width": 390, "height": 844, "deviceScaleFactor": 1, "mobile": True}


class Keyboard:
    """Keys only: Tab walks, Enter does; the shortcuts of the key sheet."""

    name = "keyboard"

    def __init__(self, page: Page) -> None:
        self.page = page
        self.acts = 0
        self.typed = 0

    def press(self, *keys: str) -> None:
        """Press keys one after the other, wherever the focus is."""
        for key in keys:
            ActionChains(self.page.driver).send_keys(key).perform()
            self.acts += 1

    def shortcut(self, *keys: str) -> None:
        """Single keys are for whoever does not type: the field is left first."""
        self.page.driver.execute_script("document.activeElement.blur()")
        self.page.driver.find_element(By.TAG_NAME, "body").send_keys(*keys)
        self.acts += len(keys)

    def reach(self, selector: str) -> None:
        """Walk there with Tab."""
        self.page.present(selector)
        for _ in range(MOST_TABS):
            if self.page.driver.execute_script("return document.activeElement.matches(arguments[0])", selector):
                return
            self.press(Keys.TAB)
        raise AssertionError(f"{selector} is not reached by {MOST_TABS} steps of Tab")

    def act(self, selector: str) -> None:
        self.reach(selector)
        self.press(Keys.ENTER)

    def tick(self, selector: str) -> None:
        self.reach(selector)
        self.press(Keys.SPACE)

    def write(self, selector: str, text: str) -> None:
        self.reach(selector)
        ActionChains(self.page.driver).send_keys(text).perform()
        self.typed += len(text)

    def choose(self, selector: str, words: str) -> None:
        """An option of a select, by its words."""
        self.reach(f"{selector} input, input{selector}")
        self.press(Keys.ENTER)
        for _ in range(60):
            hovered = [e.text for e in self.page.all(".el-select-dropdown__item.is-hovering") if e.is_displayed()]
            if words in hovered:
                break
            self.press(Keys.ARROW_DOWN)
        self.press(Keys.ENTER)


class Finger:
    """Taps on a phone of 390 by 844; the screen's own keyboard types."""

    name = "touch"

    def __init__(self, page: Page) -> None:
        self.page = page
        self.acts = 0
        self.typed = 0

    def tap(self, element) -> None:
        driver = self.page.driver
        driver.execute_script("arguments[0].scrollIntoView({block: 'center', inline: 'center'})", element)
        x, y, free = driver.execute_script(
            "const b = arguments[0].getBoundingClientRect(), x = b.x + b.width / 2, y = b.y + b.height / 2;"
            "const over = document.elementFromPoint(x, y);"
            "const free = over && (arguments[0].contains(over) || over.contains(arguments[0]));"
            "return [x, y, Boolean(free)]",
            element,
        )
        assert free, "something lies over what is to be tapped"
        for kind, points in (("touchStart", [{"x": x, "y": y}]), ("touchEnd", [])):
            driver.execute_cdp_cmd("Input.dispatchTouchEvent", {"type": kind, "touchPoints": points})
        self.acts += 1

    def act(self, selector: str) -> None:
        self.page.until(lambda: (self.tap(self.page.find(selector)), True)[1])

    tick = act

    def write(self, selector: str, text: str) -> None:
        self.act(selector)
        self.page.until(
            lambda: self.page.driver.execute_script("return document.activeElement.matches(arguments[0])", selector)
        )
        self.page.driver.execute_cdp_cmd("Input.insertText", {"text": text})
        self.typed += len(text)

    def choose(self, selector: str, words: str) -> None:
        self.act(f"{selector} .el-select__wrapper, {selector}.el-select")
        self.page.until(
            lambda: (
                self.tap(
                    next(o for o in self.page.all(".el-select-dropdown__item") if o.is_displayed() and o.text == words)
                ),
                True,
            )[1]
        )
