"""The shop's prices, and what the ways to go on with a case cost by them."""

from selenium.webdriver import Keys


def write(page, **prices):
    """Write prices on the list; nothing takes one off."""
    page.go("/prices")
    for item, sum_ in prices.items():
        field = page.find(f"[data-test='price-{item}'] input")
        field.send_keys(Keys.CONTROL + "a" + Keys.NULL + Keys.DELETE + sum_ + Keys.TAB)
    page.click("[data-test='prices-keep']")
    page.until(lambda: not page.test("prices-keep").is_enabled())


def test_a_lead_prices_the_list_and_the_case_shows_what_each_way_costs(page):
    page.enter("idris", "depot-demo-bay-2")
    page.open_case("Library van 3")
    board = page.driver.current_url
    page.driver.get(f"{board}/options")
    page.reads("option-proper", "a new lead or boot")
    page.reads("option-nothing", "catalyst")
    write(page, labour_hour="60", lead="", plug="9")
    page.driver.get(f"{board}/options")
    page.reads("option-proper", "not priced")
    page.reads("unpriced", "lead")
    write(page, lead="35.50")
    page.driver.get(f"{board}/options")
    page.reads("option-proper", "45.50 €")  # ten minutes at 60 an hour, and the part
    page.reads("option-whole", "plug")
    page.until(lambda: not page.all("[data-test='unpriced']"))
