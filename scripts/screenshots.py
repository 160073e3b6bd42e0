"""Retake docs/screenshots from the demo data, one picture per main view."""

from __future__ import annotations

import math
import sys
import tempfile
from collections.abc import Callable
from pathlib import Path

from browser import ROOT, browser, served
from selenium.webdriver import Chrome
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys
from selenium.webdriver.support.ui import WebDriverWait

OUT = ROOT / "docs" / "screenshots"


def shown(driver: Chrome, selector: str) -> None:
    """Until an element is there and fonts are in."""
    WebDriverWait(driver, 15).until(lambda d: d.find_elements(By.CSS_SELECTOR, selector))
    driver.execute_async_script("document.fonts.ready.then(() => requestAnimationFrame(arguments[0]))")


def keep(driver: Chrome, out: Path, name: str) -> None:
    """Save a picture."""
    out.mkdir(parents=True, exist_ok=True)
    driver.save_screenshot(str(out / f"{name}.png"))
    print(f"{name}.png")


def case_link(driver: Chrome, words: str) -> str:
    """Address of the case whose line holds the words."""
    for link in driver.find_elements(By.CSS_SELECTOR, "ul.lines a"):
        if words in link.text:
            return str(link.get_attribute("href"))
    raise LookupError(words)


def until(driver: Chrome, condition: Callable[[], object]) -> None:
    """Until it holds."""
    WebDriverWait(driver, 30, ignored_exceptions=(Exception,)).until(lambda _: condition())


def click(driver: Chrome, name: str) -> None:
    """Press what carries a test name."""
    until(driver, lambda: driver.find_element(By.CSS_SELECTOR, f"[data-test='{name}']").click() or True)


def bench(driver: Chrome, address: str, out: Path) -> None:
    """A vehicle in the bay, in mid-crank, then its scan link."""

    def reads(name: str, words: str) -> bool:
        return words in str(driver.find_element(By.CSS_SELECTOR, f"[data-test='{name}']").text)

    driver.get(f"{address}/bench")
    shown(driver, "[data-test=choose]")
    click(driver, "choose")
    click(driver, "scope")
    until(driver, lambda: reads("scope", "Let go"))
    click(driver, "set-up")
    click(driver, "fuel-switch")
    until(driver, lambda: reads("fuel-switch", "Put"))
    for check in ("battery", "neutral", "clear", "clamp_zero"):
        click(driver, f"tick-{check}")
    click(driver, "go")
    live = "[data-test=live]"
    until(driver, lambda: int(driver.find_element(By.CSS_SELECTOR, live).get_attribute("data-columns") or 0) > 2000)
    keep(driver, out, "bench-cranking")
    until(driver, lambda: reads("big", "Captured"))
    click(driver, "fuel-switch")
    click(driver, "scan")
    click(driver, "scan-panel")
    shown(driver, "[data-test=balance]")
    keep(driver, out, "bench-scan-link")
    next(b for b in driver.find_elements(By.TAG_NAME, "button") if b.text == "Take it out").click()
    shown(driver, "[data-test=choose]")


PAINTED = "document.fonts.ready.then(() => requestAnimationFrame(() => requestAnimationFrame(arguments[0])))"
"""Until the letters of a frame are there and drawn."""


def sheet(driver: Chrome, case: str, out: Path) -> None:
    """The owner's page of a case."""
    driver.get(f"{case}/sheet")
    shown(driver, "[data-test=sheet-frame]")
    driver.switch_to.frame(driver.find_element(By.CSS_SELECTOR, "[data-test=sheet-frame]"))
    until(driver, lambda: "What to watch" in driver.find_element(By.TAG_NAME, "body").text)
    driver.execute_async_script(PAINTED)
    driver.switch_to.default_content()
    keep(driver, out, "sheet")


def tour(driver: Chrome, address: str, out: Path) -> None:
    """Visit every main view."""
    driver.get(f"{address}/login")
    shown(driver, ".accounts button")
    driver.find_element(By.CSS_SELECTOR, ".accounts button").click()
    shown(driver, "ul.lines a")
    keep(driver, out, "cases")
    gritter = case_link(driver, "Gritter 7")
    pages = {
        "board": gritter,
        "journal": f"{gritter}/journal",
    }
    sheet(driver, case_link(driver, "Library van 3"), out)
    for name, page in pages.items():
        driver.get(page)
        shown(driver, ".statement, ol li")
        keep(driver, out, name)
    bench(driver, address, out)
    driver.get(f"{address}/cases")
    shown(driver, "ul.lines a")
    driver.get(case_link(driver, "Library van 3"))
    shown(driver, ".statement")
    next(b for b in driver.find_elements(By.CSS_SELECTOR, "h3 button") if b.text == "Secondary voltage").click()
    shown(driver, "[data-test=look-rows]")
    click(driver, "look-rows")
    shown(driver, "[data-test=pick-2]")
    click(driver, "closer")
    click(driver, "pick-2")
    shown(driver, "[data-test=fold]")
    keep(driver, out, "traces-by-cylinder")
    driver.get(gritter)
    shown(driver, "[data-test=strip]")
    driver.find_elements(By.CSS_SELECTOR, "[data-usable=true] h3 button")[0].click()
    shown(driver, "[data-test=trace][data-points]:not([data-points='0'])")
    for _ in range(3):
        driver.find_element(By.TAG_NAME, "body").send_keys("]")
    shown(driver, "[data-test=trace][data-covers=true]")
    keep(driver, out, "traces")
    by_hand(driver, address, out)
    reasoning(driver, address, out)
    driver.get(f"{address}/cases/new")
    shown(driver, "#vehicle")
    driver.find_element(By.ID, "vehicle").send_keys("Meals van 2")
    driver.find_element(By.ID, "complaint").send_keys("Shakes when cold.")
    order = driver.find_element(By.ID, "order")
    order.send_keys(Keys.CONTROL + "a")
    order.send_keys("1 3 4 3")
    shown(driver, "[data-test=engine-problem]")
    keep(driver, out, "intake")
    evidence(driver, case_link_from(driver, address), out)
    driver.get(f"{address}/cases")
    shown(driver, "ul.lines a")
    driver.get(case_link(driver, "Minibus 4"))
    shown(driver, "[data-test=proof]")
    shown(driver, "[data-test=strip]")
    click(driver, "bay")
    driver.execute_async_script("requestAnimationFrame(() => requestAnimationFrame(arguments[0]))")
    shown(driver, "html[data-bay=night] [data-test=strip]")
    keep(driver, out, "board-proven")
    people(driver, address, out)


def people(driver: Chrome, address: str, out: Path) -> None:
    """Who works here, as a lead sees it."""
    click(driver, "bay")
    driver.delete_all_cookies()
    driver.get(f"{address}/login")
    shown(driver, ".accounts button")
    next(b for b in driver.find_elements(By.CSS_SELECTOR, ".accounts button") if "lead" in b.text).click()
    shown(driver, "ul.lines a")
    driver.get(f"{address}/people")
    shown(driver, "[data-test=house]")
    keep(driver, out, "people")


def by_hand(driver: Chrome, address: str, out: Path) -> None:
    """The form that readings of an ignition case were written down in, and an engine as the shop knows it."""
    driver.get(f"{address}/shop/engines")
    shown(driver, "[data-test=engines] a")
    driver.find_element(By.CSS_SELECTOR, "[data-test=engines] a").click()
    shown(driver, "[data-test=circuit-0]")
    driver.execute_script("document.querySelector('[data-test=circuit-0]').parentElement.scrollIntoView()")
    keep(driver, out, "shop-engine")
    driver.get(f"{address}/cases")
    shown(driver, "ul.lines a")
    case = case_link(driver, "Library van 3")
    driver.get(f"{case}/evidence?form=resistance&item=plug_lead")
    shown(driver, "[data-test=expected]")
    driver.execute_script("document.querySelector('#by-hand').scrollIntoView()")
    keep(driver, out, "evidence-by-hand")
    driver.get(f"{address}/cases")
    shown(driver, "ul.lines a")
    driver.get(case_link(driver, "Minibus 6"))
    shown(driver, "[data-test=safety]")
    keep(driver, out, "board-flooded")


def reasoning(driver: Chrome, address: str, out: Path) -> None:
    """What if, the tools of the bay, computed pressure, and how far to trust it."""
    driver.get(f"{address}/cases")
    shown(driver, "ul.lines a")
    plan, leak = case_link(driver, "Rescue boat tractor"), case_link(driver, "Meals van 1")
    driver.get(plan)
    shown(driver, "[data-test^=what-if-]")
    driver.find_element(By.CSS_SELECTOR, "[data-test^=what-if-]").click()
    shown(driver, ".imagined")
    driver.execute_script("document.querySelector('.statement').scrollTop = 0")
    keep(driver, out, "board-what-if")
    driver.get(f"{leak}/visit")
    shown(driver, "[data-test=past-visits]")
    keep(driver, out, "visit")
    driver.get(leak)
    shown(driver, "[data-test=row-cylinder_pressure] h3 button")
    driver.find_element(By.CSS_SELECTOR, "[data-test=row-cylinder_pressure] h3 button").click()
    shown(driver, "[data-test=look-average]")
    click(driver, "look-average")
    shown(driver, "[data-test=computed]")
    keep(driver, out, "traces-pressure")
    driver.get(f"{address}/trust")
    shown(driver, "[data-test=figures]")
    keep(driver, out, "trust")


def case_link_from(driver: Chrome, address: str) -> str:
    """A case to add evidence to."""
    driver.get(f"{address}/cases")
    shown(driver, "ul.lines a")
    return case_link(driver, "Minibus 1")


def two_attempts() -> str:
    """A scope's file: a false start, then cranking with one compression of four missing, through a clamp of 1 mV/A."""
    rows = []
    for i in range(10_000):
        turned = i / 1000 % 0.46 / 0.46
        cranks = 1200 < i < 2400 or i > 4000
        hump = 0.0 if int(4 * turned) == 2 else math.sin(math.pi * (4 * turned % 1)) ** 2
        current = (120 + 60 * hump) * cranks + (i * 7 % 11) / 5
        volts = 12.6 - 0.012 * current
        rows.append(f"{i},0;{current:.1f};{4.9 if turned < 0.015 and cranks else 0.1};{volts:.2f}".replace(".", ","))
    head = "Recorded in bay 2\nZeit;Kanal A;Kanal B;Kanal C\n(ms);(mV);(V);(V)\n"
    return head + "\n".join(rows)


def evidence(driver: Chrome, case: str, out: Path) -> None:
    """The import with a file chosen."""
    driver.get(f"{case}/evidence")
    shown(driver, "[data-test=csv-file]")
    with tempfile.TemporaryDirectory() as folder:
        table = Path(folder) / "crank-session.csv"
        table.write_text(two_attempts(), encoding="latin-1")
        driver.find_element(By.CSS_SELECTOR, "[data-test=csv-file]").send_keys(str(table))
        shown(driver, "[data-test=keep-capture]")
        driver.execute_script("document.querySelector('.drop').scrollIntoView()")
        keep(driver, out, "evidence")


def main() -> None:
    """Serve the demo, visit, save."""
    out = Path(sys.argv[1]) if len(sys.argv) > 1 else OUT
    with tempfile.TemporaryDirectory() as data, served(Path(data)) as address, browser() as driver:
        tour(driver, address, out)


if __name__ == "__main__":
    main()
