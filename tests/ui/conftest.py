"""The application on a database of its own with the demo data, and a browser: one of each per worker."""

from __future__ import annotations

import sys
from pathlib import Path

import pytest

ROOT = Path(__file__).resolve().parents[2]
sys.path.insert(0, str(ROOT / "scripts"))

from browser import browser, served  # noqa: E402 - lives with the scripts that use it

from tests.ui.page import Page  # noqa: E402


def pytest_collection_modifyitems(items):
    """A browser on a machine that is busy with other tests may lose a race: one more try, shown as an R in the run."""
    for item in items:
        if "tests/ui" in str(item.path):
            item.add_marker(pytest.mark.ui)
            item.add_marker(pytest.mark.flaky(reruns=1))


@pytest.fixture(scope="session")
def address(tmp_path_factory):
    if not (ROOT / "web" / "dist" / "index.html").is_file():
        pytest.fail("The interface is not built. Run make build.")
    with served(tmp_path_factory.mktemp("ui")) as where:
        yield where


@pytest.fixture(scope="session")
def chrome(tmp_path_factory):
    folder = tmp_path_factory.mktemp("downloads")
    with browser(downloads=folder) as driver:
        driver.downloads = folder
        yield driver


@pytest.fixture
def page(chrome, address):
    chrome.get(f"{address}/login")
    chrome.delete_all_cookies()
    chrome.execute_script("sessionStorage.clear()")  # nothing that an earlier test left typed
    chrome.get_log("browser")
    yield Page(chrome, address)
    severe = [
        e["message"] for e in chrome.get_log("browser") if e["level"] == "SEVERE" and "status of 4" not in e["message"]
    ]
    assert severe == []
