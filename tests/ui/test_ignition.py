"""Ignition cases through the browser: a sweep from coil to coil, a shared coil, a command that never reaches earth."""

from __future__ import annotations

from pathlib import Path

import numpy as np
from selenium.webdriver import Keys

from fairwitness.core.model.capture import Capture, TimeBase
from fairwitness.core.model.case import Case
from fairwitness.core.model.engine import Engine, Ignition, even_engine
from fairwitness.formats.case_package_writing import write_package
from tests.conftest import cranking
from tests.core.procedures.test_coil_control import RATE, SECONDS, wire
from tests.core.sparks import leads

FOUR = even_engine((1, 3, 4, 2), label="Hollin Drover 2.0")
PAIRED = even_engine(
    (1, 3, 4, 2), ignition=Ignition.WASTE_SPARK, coil_pairs=((1, 4), (2, 3)), label="Hollin Drover 1.6"
)


def lead_csv(folder: Path, cylinder: int, odd) -> Path:
    """One lead and the command of coil 1, as a logger writes it."""
    capture = leads(FOUR, odd, cylinders=(cylinder,), sync=1, cycles=3, seed=cylinder)
    step = 2  # 100 kS/s is what a plain logger has
    columns = [c.samples[::step] for c in capture.channels]
    times = np.arange(columns[0].size) * step / capture.time.rate_hz
    rows = zip(times, *columns, strict=True)
    path = folder / f"lead-{cylinder}.csv"
    lines = [f"{t:.6f},{kv:.3f},{v:.1f}" for t, kv, v in rows]
    path.write_text(f"Time (s),Secondary {cylinder} (kV),Sync coil 1 (V)\n" + "\n".join(lines))
    return path


def bring(page, folder: Path, engine: Engine, title: str, *captures: Capture) -> None:
    """A package taken in by its file."""
    path = folder / f"{title}.zip"
    path.write_bytes(write_package(Case(name=title, title=title, engine=engine, captures=captures)))
    page.go("/cases")
    page.find("ul.lines a")
    page.choose_file("package-file", path)
    page.until(lambda: not page.driver.current_url.endswith("/cases"))
    page.until(lambda: page.test("headline").text)


def cell(page, test: str, cylinder: int):
    return page.find(f"[data-test='cell-{test}-{cylinder}']")


def test_a_sweep_of_four_coils_ends_in_a_statement(page, tmp_path):
    page.enter()
    page.go("/cases/new")
    page.type("#vehicle", "Minibus 11")
    page.type("#order", "1 3 4 2")
    page.until(lambda: page.test("start-case").is_enabled())
    page.click("[data-test='start-case']")
    page.at("/evidence")
    odd = {2: {"firing": 22.0, "line": 1.7, "length_ms": 0.9}}
    for cylinder in (1, 2, 3, 4):
        page.choose_file("csv-file", lead_csv(tmp_path, cylinder, odd))
        page.until(lambda: page.test("keep-capture").is_enabled())
        page.click("[data-test='keep-capture']")
        page.until(lambda: page.test("headline").text)
        if cylinder < 4:
            page.press("Add evidence")
            page.at("/evidence")
    page.until(lambda: page.all("[data-test='cell-secondary_voltage-2'][data-state='high']"))
    page.until(lambda: page.test("headline").text.startswith("Cylinder 2"))
    page.reads("status", "suspected", whole=True)
    page.until(lambda: page.all("[data-test='cell-secondary_voltage-4'][data-state='normal']"))
    page.sees("Cylinder 2 breaks down at")
    page.until(lambda: page.test("next-test").text)


def test_a_dead_end_of_a_shared_coil_is_told_by_its_companion(page, tmp_path):
    page.enter()
    fired = leads(PAIRED, {2: {"firing": 0}}, waste=4.0, gain={4: -1.0, 3: -1.0})
    bring(page, tmp_path, PAIRED, "minibus-12", cranking(PAIRED, {}), fired)
    page.until(lambda: cell(page, "secondary_voltage", 2).get_attribute("data-state") == "absent")
    page.until(lambda: cell(page, "secondary_voltage", 3).get_attribute("data-state") == "normal")
    page.reads("headline", "the reason is ignition")
    page.sees("Cylinder 3 on the same coil sparks, so its primary and command work")
    page.sees("ask why it died")


def test_a_command_that_never_reaches_earth_is_proven_step_by_step(page, tmp_path):
    page.enter()
    commands = Capture(
        name="commands",
        time=TimeBase(samples=int(RATE * SECONDS), rate_hz=RATE),
        channels=(wire(1), wire(3), wire(4), wire(2, low=2.4), wire(2, low=2.4, unplugged=True)),
        set_up=leads(FOUR).set_up.__class__(),
    )
    dark = leads(FOUR, {2: {"firing": 0}})
    bring(page, tmp_path, FOUR, "minibus-13", cranking(FOUR, {}), dark, commands)
    page.until(lambda: cell(page, "coil_control", 2).get_attribute("data-state") == "abnormal")
    page.sees("never reaches earth")
    page.sees("The control unit's coil driver is called last.")
    page.sees("The coil feed, measured under load.")
    page.press("Add evidence")
    page.click("[data-test='form-voltage']")
    page.until(lambda: "10.5 V or more" in page.test("expected").text)
    page.type("[aria-label='volt, cylinder 2'] input, input[aria-label='volt, cylinder 2']", "12.3" + Keys.TAB)
    page.click("[data-test='keep-voltage']")
    page.until(lambda: page.test("headline").text)
    page.until(lambda: "The coil feed, measured under load." not in page.find(".unseen").text)
    page.press("Add evidence")
    page.click("[data-test='form-resistance']")
    page.click("[data-test='choose-resistance-control_wire']")
    page.type("[aria-label='ohm, cylinder 2'] input, input[aria-label='ohm, cylinder 2']", "0.4" + Keys.TAB)
    page.click("[data-test='keep-resistance']")
    page.until(lambda: page.all("[data-test='cell-resistance-2'][data-value='0.40']"))
    page.until(lambda: "The command wire from end to end." not in page.find(".unseen").text)
