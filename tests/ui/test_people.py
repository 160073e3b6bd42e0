"""A workshop's first day: the first lead by the code of the terminal, people by link, a tablet that changes hands."""

import os
import re
import subprocess
import sys

import pytest
from browser import ROOT, free_port, wait_for

from tests.ui.page import Page
from tests.ui.test_access import looked_at, serious

PASSWORD = "a-long-first-word"
OTHER_PASSWORD = "another-long-word"
CODE = "730194"


@pytest.fixture
def fresh(tmp_path):
    """A workshop nobody has entered yet, served as an installation serves it, and the code its terminal shows."""
    env = {k: v for k, v in os.environ.items() if not k.startswith(("FAIRWITNESS", "DJANGO"))}
    env |= {"FAIRWITNESS_PLAIN_HTTP": "1", "FAIRWITNESS_DATA": str(tmp_path / "shop")}
    port = free_port()
    with subprocess.Popen(
        [sys.executable, "-m", "fairwitness.cli", "serve", "--port", str(port)],
        cwd=ROOT, env=env, stdout=subprocess.PIPE, text=True,
    ) as server:  # fmt: skip
        try:
            code = re.search(r"[A-Z2-9]{4}(-[A-Z2-9]{4}){2}", server.stdout.readline())[0]
            wait_for(f"http://127.0.0.1:{port}")
            yield f"http://127.0.0.1:{port}", code
        finally:
            server.terminate()


@pytest.fixture
def shop(chrome, fresh):
    address, code = fresh
    chrome.get(f"{address}/login")
    chrome.delete_all_cookies()
    page = Page(chrome, address)
    page.code = code
    return page


def choose_hands(page, username, code):
    page.click("[data-test='you']")
    page.click(f"[data-test='hand-{username}']")
    page.type("#hand-code", code)
    page.press("Go on")


def set_code(page, password, code):
    page.click("[data-test='you']")
    page.click("#tab-code")
    page.type("#code-password", password)
    page.type("#own-code", code)
    page.press("Set")
    page.until(lambda: page.test("said").text == "Your code is set.")
    page.until(lambda: next(b for b in page.all(".el-dialog button") if b.text.strip() == "Close").click() or True)
    page.until(lambda: not any(d.is_displayed() for d in page.all(".el-dialog")))


def test_the_first_day(shop):
    page = shop
    page.go("/")
    for field, text in (
        ("code", "AAAA-AAAA-AAAA"), ("workshop", "Larkmoor depot"), ("name", "Nell Hale"),
        ("username", "nell"), ("password", PASSWORD),
    ):  # fmt: skip
        page.type(f"#first-{field}", text)
    assert serious(looked_at(page)) == []
    page.press("Begin")
    page.sees("This link was used already, or is too old.")
    page.type("#first-code", page.code.lower())
    page.press("Begin")
    page.sees("In the yard")

    page.go("/people")
    page.sees("People of Larkmoor depot")
    page.type("#new-username", "otto")
    page.type("#new-name", "Otto Venn")
    page.press("Add, and make a link")
    field = page.find("[data-test='one-time-link'] input, input[data-test='one-time-link']")
    link = field.get_attribute("value")
    assert link.startswith(f"{page.address}/link/")
    assert serious(looked_at(page)) == []
    set_code(page, PASSWORD, CODE)
    page.press("Log out")
    page.find("#login-name")

    page.driver.get(link)
    page.sees("Otto Venn, choose a password")
    page.type("#chosen-password", OTHER_PASSWORD)
    page.press("Choose, and log in")
    page.sees("In the yard")
    page.reads("you", "Otto Venn")
    page.until(lambda: not [a for a in page.all("nav a") if a.text == "People"])

    page.go("/cases/new")
    page.find("svg circle")
    choose_hands(page, "nell", "111222")
    page.sees("Name and code do not match.")
    page.type("#hand-code", CODE)
    page.press("Go on")
    page.until(lambda: "Nell Hale" in page.test("you").text)
    page.at("/cases/new")

    page.driver.get(link)  # on a tablet where somebody else works
    page.sees("This link was used already")
    page.until(lambda: not page.all("nav.rail"))


def test_a_lead_blocks_and_lets_in_again(page):
    page.enter("idris", "depot-demo-bay-2")
    page.go("/people")
    line = "[data-person='rosalind']"
    page.until(lambda: page.find(line))
    page.until(lambda: next(b for b in page.all(f"{line} button") if b.text == "Block").click() or True)
    page.until(lambda: "blocked" in page.find(line).text)
    page.until(lambda: next(b for b in page.all(f"{line} button") if b.text == "Let in again").click() or True)
    page.until(lambda: "blocked" not in page.find(line).text)
    own = "[data-person='idris']"
    page.until(lambda: next(b for b in page.all(f"{own} button") if b.text == "Block").click() or True)
    page.sees("Nobody would lead any more.")
