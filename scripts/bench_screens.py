"""Figures of what a person waits for on a screen, in headless Chromium against the real server."""

from __future__ import annotations

import gzip
from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import replace
from pathlib import Path

import numpy as np
from bench_case import big_case
from bench_signals import FOUR, ROUNDS, Figure, cranking
from browser import ROOT, browser, served
from django.test import Client
from django.utils import timezone
from selenium.webdriver import Chrome
from selenium.webdriver.common.by import By
from selenium.webdriver.support.ui import WebDriverWait

from fairwitness.core.model.engine import even_engine
from fairwitness.server.accounts.models import User
from fairwitness.server.captures.services import keep_capture
from fairwitness.server.cases.services import Intake, open_case

TWELVE = even_engine((1, 7, 5, 11, 3, 9, 6, 12, 2, 8, 4, 10), label="bench twelve")
READINGS = 90

OPENED = """
const done = arguments[arguments.length - 1]
const begin = performance.now()
const seen = () => {
  const plots = [...document.querySelectorAll('[data-test=trace]')]
  if (plots.length === 4 && plots.every((p) => Number(p.dataset.points) > 0))
    requestAnimationFrame(() => done(performance.now() - begin))
  else requestAnimationFrame(seen)
}
document.querySelector('[data-test=row-relative_compression] button').click()
seen()
"""
MOVED = """
const done = arguments[arguments.length - 1]
const over = document.querySelector('[data-test=trace] .u-over')
const box = over.getBoundingClientRect()
const wheel = (deltaX, deltaY) => over.dispatchEvent(new WheelEvent('wheel', {deltaX, deltaY, bubbles: true,
  cancelable: true, clientX: box.left + box.width / 2, clientY: box.top + 10}))
const gaps = []
let last = performance.now(), frame = 0
const step = (now) => {
  gaps.push(now - last)
  last = now
  frame += 1
  if (frame > 300) return done(gaps.slice(20))
  if (frame < 80) wheel(0, -60)
  else if (frame < 220) wheel(frame < 150 ? 25 : -25, 0)
  else wheel(0, 60)
  requestAnimationFrame(step)
}
requestAnimationFrame(step)
"""
LATE_MS = 25.0


def trace_figures(by: User, data: Path) -> list[Figure]:
    """A capture of four channels with ten million samples each, opened and moved in headless Chromium."""
    case = open_case(Intake(title="bench traces", engine=FOUR), by=by, at=timezone.now())
    held = cranking(1_250_000.0)
    count = held.time.samples
    channels = tuple(
        replace(c, name=f"{c.name} {i}", samples=np.roll(c.samples, i)) for i in range(2) for c in held.channels
    )
    stored = keep_capture(case, replace(held, channels=channels), by=by, at=timezone.now())
    opened, gaps = [], []
    with logged_in(by, data) as (address, driver):
        for _ in range(ROUNDS + 1):
            driver.get(f"{address}/cases/{case.pk}")
            waiting = WebDriverWait(driver, 30)
            waiting.until(lambda d: d.find_elements(By.CSS_SELECTOR, "[data-test=row-relative_compression] button"))
            opened.append(driver.execute_async_script(OPENED))
            gaps += driver.execute_async_script(MOVED)
    frames = 1000.0 / float(np.mean(gaps))
    late = float(np.mean(np.array(gaps) > LATE_MS))
    size = f"{count / 1e6:.0f} M samples x {len(channels)} channels"
    assert stored.samples == count
    return [
        Figure(f"{size}: first picture after the click", "", float(np.median(opened)), "ms", 300.0),
        Figure(f"{size}: pan and zoom at 1280x800", "", frames, "frames/s", 55.0, at_least=True),
        Figure(f"{size}: late frames (over {LATE_MS:g} ms)", "", 100 * late, "%", 1.0),
    ]


LOADED = """
return performance.getEntriesByType('resource').map((e) => new URL(e.name).pathname)
  .filter((path) => path.endsWith('.js'))
"""
LISTED = "return [...document.querySelectorAll('a')].some((a) => a.textContent.includes(arguments[0]))"
BOARD_OPENED = """
const [title, columns, done] = arguments
const begin = performance.now()
const seen = () => {
  const cells = document.querySelectorAll('[data-test="row-relative_compression"] .cell')
  const headline = document.querySelector('[data-test=headline]')
  const next = document.querySelector('[data-test=next-test]')
  if (cells.length >= columns && headline && next) requestAnimationFrame(() => done(performance.now() - begin))
  else requestAnimationFrame(seen)
}
;[...document.querySelectorAll('a')].find((a) => a.textContent.includes(title)).click()
seen()
"""


def first_view_figures(by: User, data: Path) -> list[Figure]:
    """Scripts that are loaded before the yard shows, as they go over the wire."""
    with logged_in(by, data) as (address, driver):
        driver.get(f"{address}/cases")
        WebDriverWait(driver, 30).until(lambda d: d.find_elements(By.CSS_SELECTOR, "main h1"))
        loaded = driver.execute_script(LOADED)
    dist = ROOT / "web" / "dist"
    size = sum(len(gzip.compress((dist / path.lstrip("/")).read_bytes(), 6)) for path in set(loaded))
    return [Figure("JavaScript of the first view, compressed", "", size / 1000, "kB", 150.0)]


def board_figures(by: User, data: Path) -> list[Figure]:
    """From the click in the yard until the board can be read and used, twelve cylinders with every test taken."""
    case = big_case(TWELVE, by=by, readings=READINGS, title="Bench board of twelve")
    held = case.observations.count()
    opened = []
    with logged_in(by, data) as (address, driver):
        for _ in range(ROUNDS + 1):
            driver.get(f"{address}/cases?search=Bench board")
            WebDriverWait(driver, 30).until(lambda d: d.execute_script(LISTED, case.title))
            opened.append(driver.execute_async_script(BOARD_OPENED, case.title, len(TWELVE.firing_order)))
    words = f"board of 12 cylinders, {held} readings and {case.captures.count()} captures: from the click to usable"
    return [Figure(words, "", float(np.median(opened[1:])), "ms", 400.0)]


@contextmanager
def logged_in(by: User, data: Path) -> Iterator[tuple[str, Chrome]]:
    """The server's address, and a browser in which somebody is logged in."""
    visitor = Client(SERVER_NAME="localhost")
    visitor.force_login(by)
    with served(data, demo=False) as address, browser() as driver:
        driver.set_script_timeout(60)
        driver.get(address)
        driver.add_cookie({"name": "session", "value": visitor.cookies["session"].value})
        yield address, driver
