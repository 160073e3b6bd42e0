"""What the shop knows, through the browser: a colleague's known good, a break by pins, a variant, learning, codes."""

from __future__ import annotations

from dataclasses import replace
from uuid import uuid4

import numpy as np
import pytest
from selenium.webdriver import Keys

from fairwitness.core.model.case import Case
from fairwitness.formats.case_package_writing import write_package
from fairwitness.simulate.examine import examine
from fairwitness.simulate.garage import ENGINES, build
from fairwitness.simulate.health import Fault
from tests.ui.test_life import choose, counts, pick, work
from tests.ui.test_traces import fetched

ENGINE = replace(ENGINES["drover-2.0"], label="Hollin Lark 1.4")
PLACES = (
    ("fuse box", "", "", "", "4"),
    ("rail connector", "X70", "3", "white-red", ""),
    ("injector plug", "X31", "1", "", ""),
    ("bulkhead plug", "X5", "14", "blue", ""),
    ("unit plug", "X1", "44", "blue", ""),
)


def packed(tmp_path, name, *faults, seed):
    vehicle = build(ENGINE, faults, rng=np.random.default_rng(seed))
    seen = examine(vehicle, ["coil_current"], level="clean", seed=seed)
    path = tmp_path / f"{name}.zip"
    path.write_bytes(write_package(Case(name=name, title=name, engine=ENGINE, captures=seen.captures)))
    return path


@pytest.fixture
def lead(page):
    page.enter("idris", "depot-demo-bay-2")
    return page


def number(page, label, text):
    page.type(f"[aria-label='{label}'] input, input[aria-label='{label}']", text + Keys.TAB)


def called(words):
    """A name that no earlier try has taken."""
    return f"{words} {uuid4().hex[:4]}"


def write_engine(page, label):
    """An engine with a name, by the form, up to keeping it."""
    page.go("/shop/engines")
    page.click("[data-test='new-engine']")
    page.type("#label", label)
    page.type("#order", "1 3 4 2")


def keep_engine(page):
    page.click("[data-test='keep-engine']")
    page.until(lambda: page.driver.current_url.rsplit("/", 1)[1].isdigit())


def wire(page):
    """The injector's circuit by the pin."""
    page.click("[data-test='add-circuit']")
    for _ in PLACES[2:]:
        page.click("[data-test='add-place-0']")
    for i, place in enumerate(PLACES):
        for key, text in zip(("name", "connector", "pin", "colour", "fuse"), place, strict=True):
            if text:
                page.type(f"input[data-test='wire-0-{i}-{key}'], [data-test='wire-0-{i}-{key}'] input", text)
    page.click("[data-test='wire-0-2-part']")


def start(page, vehicle, engine):
    """A case of an engine that a few letters find."""
    page.go("/cases/new")
    page.type("#vehicle", vehicle)
    page.type("#label", engine)
    page.until(lambda: next(b for b in page.all("[data-test='suggestion']") if b.text == engine).click() or True)
    page.until(lambda: page.test("start-case").is_enabled())
    page.click("[data-test='start-case']")
    page.at("/evidence")
    page.board = page.driver.current_url.removesuffix("/evidence")


def test_a_colleagues_known_good_is_laid_under_a_trace_and_judges_it(page, tmp_path):
    page.enter()
    page.go("/shop/goods")
    page.choose_file("known-good-package", packed(tmp_path, "thornby-bus", seed=3))
    page.reads("shelf", "from a colleague")
    page.go("/cases")
    page.find("ul.lines a")
    page.choose_file("package-file", packed(tmp_path, "own-bus", Fault("coil_primary_open", (2,)), seed=4))
    page.until(lambda: not page.driver.current_url.endswith("/cases"))
    page.until(lambda: page.test("headline").text)
    case = page.driver.current_url.rsplit("/", 1)[1]
    capture = next(c for c in range(1, 400) if fetched(page, f"captures/{c}/").get("case") == int(case))
    page.go(f"/cases/{case}/traces/{capture}")
    page.reads("beside-good", "peak current of cylinder 2 is lower")
    page.click("[data-test='beside-good'] summary")
    page.sees("Coil current")
    page.click("[data-test='look-average']")
    choose(page, "under", next(c["words"] for c in fetched(page, f"captures/{capture}/comparable/")))
    page.until(lambda: int(page.test("under-lines").get_attribute("data-lines")) > 0)


def test_a_break_is_found_by_the_pins_of_the_shops_own_wiring(page):
    page.enter()
    name = called("Hollin Wren 1.2")
    write_engine(page, name)
    wire(page)
    keep_engine(page)
    start(page, "Minibus 77", name)
    counts(page, {1: 0, 2: 0, 3: 190, 4: 1})
    for first, last, reads in (("injector plug", "unit plug", None), ("bulkhead plug", "unit plug", "0.3")):
        page.driver.get(f"{page.board}/evidence?form=pin_to_pin")
        choose(page, "place", first)
        choose(page, "place-to", last)
        if reads is None:
            page.click("[aria-label='open, cylinder 3'], .el-checkbox:has([aria-label='open, cylinder 3'])")
        else:
            number(page, "ohm, cylinder 3", reads)
        page.click("[data-test='keep-pin_to_pin']")
        page.until(lambda: page.driver.current_url == page.board)
    page.sees("between injector plug (connector X31, pin 1) and bulkhead plug (connector X5, pin 14, blue)")
    page.reads("headline", "Cylinder 3")
    offers = fetched(page, f"cases/{page.board.rsplit('/', 1)[1]}/")["next_tests"]
    assert "Back-probe injector plug (connector X31, pin 1)." in [offer["probe"] for offer in offers]


def test_a_variant_inherits_and_says_what_differs(page):
    page.enter()
    name = called("Hollin Finch 1.8")
    write_engine(page, name)
    wire(page)
    keep_engine(page)
    write_engine(page, f"{name} late")
    choose(page, "variant-of", name)
    page.type("#order", "1 3 2 4")
    keep_engine(page)
    page.reads("differences", "1 3 2 4")
    page.reads("differences", "there 1 3 4 2")
    page.until(lambda: page.all("[data-test='circuit-0']"))
    page.go("/cases/new")
    page.type("#label", f"{name.lower()} l")
    page.click("[data-test='suggestion']")
    page.until(lambda: page.find("#order").get_attribute("value") == "1 3 2 4")


def test_three_outcomes_move_a_prior_and_a_fresh_start_takes_it_back(lead):
    page = lead

    def share(line="prior:unmetered_air_at_runner"):
        rows = {row["key"]: row["here"] for row in fetched(page, "learned/")["lines"]}
        return rows.get(line)

    first = share()
    for number_ in range(3):
        start(page, f"Tram {number_}", "Hollin Drover 1.6")
        counts(page, {1: 0, 2: 0, 3: 190, 4: 1})
        work(page, "repair-done", "intake gasket", 3, fitted="new")
        page.click("[data-test='found']")
        choose(page, "found-fault", "air leak at one intake runner")
        page.type("[data-test='found-words'] input, input[data-test='found-words']", "gasket split at 3")
        page.type("[data-test='found-by'] input, input[data-test='found-by']", "smoke")
        pick(page, 3)
        page.click("[data-test='found-keep']")
        page.until(lambda: "gasket split" in page.driver.find_element("tag name", "body").text)
    moved = share()
    assert moved > 1.1 * (first or 0.02)
    page.go("/shop/learned")
    page.reads("prior:unmetered_air_at_runner", f"{100 * moved:.1f} %")
    before = fetched(page, "learned/")["outcomes"]
    page.click("[data-test='start-afresh']")
    page.click(".el-message-box .el-button--primary")
    page.until(lambda: fetched(page, "learned/")["outcomes"] == 0)
    page.reads("learned-from", "Learned from 0 outcomes")
    assert share() is None
    page.click("[data-test='count-again']")
    page.reads("learned-from", f"Learned from {before} outcomes")
    assert share() == pytest.approx(moved)


def test_a_calculator_answers_as_it_is_filled_and_shows_its_example(page):
    page.enter()
    page.go("/shop/sums")
    card = "[data-test='calculator-event_interval']"
    for key, text in (("cylinders", "4"), ("rpm", "750")):
        page.type(f"{card} [data-test='given-{key}'] input", text + Keys.TAB)
    page.until(lambda: page.find(f"{card} [data-test='found-milliseconds']").text.startswith("40"))
    rise = "[data-test='calculator-current_rise']"
    page.click(f"{rise} summary")
    page.click(f"{rise} [data-test='show-example']")
    page.until(lambda: page.find(f"{rise} [data-test='found-final_amps']").text.startswith("20"))


def test_a_code_is_looked_up_and_one_of_the_maker_is_written_down(page):
    page.enter()
    page.go("/shop/codes")
    page.type("[data-test='code-asked'] input, input[data-test='code-asked']", "p0204" + Keys.ENTER)
    page.reads("code-meaning", "injector circuit, cylinder 4")
    page.reads("code-meaning", "open injector")
    page.type("[data-test='new-code'] input, input[data-test='new-code']", "P1688")
    page.type("[data-test='new-words'] input, input[data-test='new-words']", "cut by the alarm")
    page.click("[data-test='new-keep']")
    page.reads("own-codes", "cut by the alarm")
    page.press("Take it off")
    page.until(lambda: not page.all("[data-test='own-codes']"))
