"""The whole first job, done by keyboard and file: from log-in to an export that says the same when it comes back."""

from selenium.webdriver import Keys

from tests.ui.files import decimal_comma_csv


def test_from_log_in_to_export_and_back(page, tmp_path):
    page.enter()
    page.keys("g", "n")
    page.at("/cases/new")
    page.find("#vehicle")
    page.until(
        lambda: page.driver.switch_to.active_element.get_attribute("id") == "vehicle" or page.find("#vehicle").click()
    )
    page.keys("Minibus 9")
    page.keys(Keys.TAB, "Shakes at idle.")
    page.type("#order", "1 3 4 2")
    page.until(lambda: page.test("start-case").is_enabled())
    page.find("#codes").send_keys("P0303", Keys.ENTER)
    page.at("/evidence")

    page.choose_file("csv-file", decimal_comma_csv(tmp_path, {3: 0.05}))
    page.sees("semicolon between cells, decimal comma")
    page.until(lambda: not page.test("keep-capture").is_enabled())
    page.until(
        lambda: page.driver.find_element("xpath", "//*[@data-test='fuel-disabled']//span[text()='Yes']").click() or True
    )
    page.click("[data-test='keep-capture']")

    page.until(lambda: page.cell(3).get_attribute("data-state") == "absent")
    page.until(lambda: int(page.cell(3).get_attribute("data-value")) < 20)
    page.until(lambda: {page.cell(c).get_attribute("data-state") for c in (1, 2, 4)} == {"normal"})
    page.reads("headline", "Cylinder 3 does not seal: hardly any compression.", whole=True)
    page.reads("status", "suspected", whole=True)
    page.until(lambda: page.test("next-test").text)
    headline = page.test("headline").text
    board = page.driver.current_url

    page.keys("3")
    page.until(lambda: page.test("column-3").get_attribute("aria-pressed") == "true")
    page.driver.execute_script("document.activeElement.blur()")
    page.find("body").send_keys(Keys.ENTER)
    page.until(lambda: int(page.present("[data-test='trace']").get_attribute("data-points")) > 1000)
    whole = page.test("stretch").text
    page.find("body").send_keys("]")
    page.until(lambda: "cycle 1 of" in page.test("stretch").text)
    page.until(lambda: page.test("stretch").text != whole)

    page.driver.get(board + "/journal")
    page.click("[data-test='export']")
    package = page.until(lambda: next((f for f in page.driver.downloads.iterdir() if f.suffix == ".zip"), None))
    page.go("/cases")
    page.find("ul.lines a")
    page.choose_file("package-file", package)
    page.until(
        lambda: (
            page.driver.current_url not in (board, f"{page.address}/cases") and page.test("headline").text == headline
        )
    )
    page.until(lambda: page.cell(3).get_attribute("data-state") == "absent")


def test_a_speed_table_is_a_second_witness(page, tmp_path):
    page.enter()
    page.go("/cases/new")
    page.type("#vehicle", "Minibus 10")
    page.until(lambda: page.test("start-case").is_enabled())
    page.click("[data-test='start-case']")
    page.at("/evidence")
    page.click("[data-test='form-cranking_speed']")
    for cylinder, rpm in {1: 214, 3: 248, 4: 213, 2: 212}.items():
        page.type(
            f"[aria-label='rpm, cylinder {cylinder}'] input, input[aria-label='rpm, cylinder {cylinder}']", str(rpm)
        )
    page.type("[aria-label='seconds cranked'] input, input[aria-label='seconds cranked']", "10" + Keys.TAB)
    page.click("[data-test='keep-cranking_speed']")
    page.until(lambda: page.test("headline").text.startswith("Cylinder 3"))
    page.press("Add evidence")
    page.choose_file("csv-file", decimal_comma_csv(tmp_path, {3: 0.05}))
    page.until(
        lambda: page.driver.find_element("xpath", "//*[@data-test='fuel-disabled']//span[text()='Yes']").click() or True
    )
    page.click("[data-test='keep-capture']")
    page.until(lambda: page.test("status").text == "supported")


def test_fuel_stays_in_sight_until_it_is_enabled_again(page):
    page.enter()
    page.open_case("Library van 2")
    page.press("Record fuel disabled")
    page.find(".el-message-box input").send_keys("relay 4 pulled")
    page.press("Record it")
    page.until(lambda: page.test("fuel").get_attribute("data-state") == "disabled")
    page.sees("relay 4 pulled")
    page.driver.refresh()
    page.until(lambda: page.test("fuel").get_attribute("data-state") == "disabled")
    page.press("Fuel re-enabled")
    page.press("Record it")
    page.until(lambda: page.test("fuel").get_attribute("data-state") == "enabled")


def test_a_wrong_capture_is_withdrawn_and_stays_struck_through(page):
    page.enter("idris", "depot-demo-bay-2")
    page.open_case("Meals van 6")
    page.reads("headline", "Cylinder 4")
    page.press("Withdraw")
    page.find(".el-message-box input").send_keys("synced on the wrong coil")
    page.press("Withdraw it")
    page.sees("Withdrawn: synced on the wrong coil")
    page.until(lambda: page.test("headline").text.startswith("Nothing was measured"))


def test_an_open_pair_is_shown_as_open(page):
    page.enter()
    page.open_case("Minibus 8")
    page.reads("headline", "Cylinder 2 or 3 does not seal; which of them is still open.", whole=True)
    page.until(lambda: {page.cell(c).get_attribute("data-state") for c in (2, 3)} == {"abnormal"})


def test_a_sentence_opens_the_evidence_it_stands_on(page):
    page.enter()
    page.open_case("Gritter 7")
    page.click(".seen button")
    page.until(lambda: "/traces/" in page.driver.current_url)
    page.until(lambda: int(page.present("[data-test='trace']").get_attribute("data-points")) > 1000)
