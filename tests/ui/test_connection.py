"""The connection drops under a technician's hands: what is written down then is said to be unsaved, and sent later."""

from __future__ import annotations

from browser import served

from tests.ui.page import Page


def cut(page, offline):
    page.driver.execute_cdp_cmd("Network.enable", {})
    page.driver.execute_cdp_cmd(
        "Network.emulateNetworkConditions",
        {"offline": offline, "latency": 0, "downloadThroughput": -1, "uploadThroughput": -1},
    )


def number(page, words, text):
    field = page.find(f"[aria-label='{words}'] input, input[aria-label='{words}']")
    field.clear()
    field.send_keys(text)


def test_a_reading_taken_without_connection_is_held_and_kept_once_it_is_back(page):
    page.enter()
    page.open_case("Minibus 5")
    cut(page, True)
    try:
        page.press("Add evidence")
        page.click("[data-test='form-compression_gauge']")
        for cylinder in (1, 2, 3, 4):
            number(page, f"dry, cylinder {cylinder}", "1150")
        page.click("[data-test='keep-compression_gauge']")
        page.reads("connection", "Not saved yet: 1 reading")
        page.reads("connection", "No connection since")
        page.test("headline")  # the board as it was, from memory
        page.click("[data-test='show-held']")
        page.sees("Minibus 5, noted")
        assert not page.all("[data-test='cell-compression_gauge-1']")
    finally:
        cut(page, False)
    page.click("[data-test='send-held']")
    page.until(lambda: not page.all("[data-test='connection']"))
    page.test("cell-compression_gauge-1")
    page.driver.get_log("browser")  # that requests failed meanwhile was meant
    page.go(page.driver.current_url.removeprefix(page.address).split("?")[0] + "/journal")
    page.sees("noted without connection")


def test_the_shell_opens_without_its_server_and_goes_on_by_itself(chrome, tmp_path):
    with served(tmp_path, demo=False) as where:
        page = Page(chrome, where)
        page.go("/login")
        page.until(lambda: page.driver.execute_script("return navigator.serviceWorker.controller !== null"))
        manifest = page.driver.execute_cdp_cmd("Page.getAppManifest", {})
        assert manifest["errors"] == []
        assert '"display": "standalone"' in manifest["data"]
    page.go("/cases")
    page.reads("adrift", "does not answer")
    chrome.get_log("browser")
