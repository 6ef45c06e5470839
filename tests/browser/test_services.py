"""Data from a service's address and from the tagged store, onto a map; and asked again."""

import pytest
from playwright.sync_api import Page, expect

from tests.browser.conftest import Application, begin_sheet, drawn, open_sheet, stage

pytestmark = pytest.mark.browser


def part(page: Page, name: str) -> None:
    page.get_by_role("tablist", name="Gather").get_by_role("tab", name=name).click()


def brought_in(page: Page) -> None:
    page.get_by_role("button", name="Bring in and draw").click()
    expect(page.get_by_test_id("job")).to_have_attribute("data-state", "done", timeout=60_000)
    drawn(page)


def test_from_an_address_to_a_map_that_asks_again(page: Page, application: Application) -> None:
    begin_sheet(page, "Fetched")
    stage(page, "Gather")
    part(page, "From a service")
    page.get_by_label("Address of the service").fill("http://127.0.0.1:1/")
    page.get_by_role("button", name="Look what it has").click()
    expect(page.get_by_role("alert")).to_contain_text("not among the services that are allowed here")
    page.get_by_label("Address of the service").fill(application.service)
    page.get_by_role("button", name="Look what it has").click()
    expect(page.get_by_text("2,400 features.")).to_be_visible()
    page.get_by_label("Only features where").fill("water_table_cm < 12")
    page.get_by_role("button", name="Fetch and look at it").click()
    expect(page.get_by_role("table", name="Preview")).to_contain_text("W0009", timeout=30_000)
    brought_in(page)
    page.get_by_role("button", name="To the library").click()
    page.get_by_role("button", name="About Dip wells").first.click()
    about = page.get_by_role("dialog")
    expect(about).to_contain_text(f"Fetched from {application.service}")
    expect(about.get_by_label("Terms of use of Dip wells")).to_have_value("free, with credit")
    about.get_by_role("button", name="Ask again now").click()
    expect(about.get_by_role("button", name="Ask again now")).to_be_enabled(timeout=30_000)
    expect(about.get_by_role("alert")).to_have_count(0)
    about.get_by_label("By itself").click()
    page.get_by_role("option", name="every day").click()
    expect(about.get_by_label("By itself")).to_contain_text("every day")
    about.get_by_role("button", name="Done").click()

    part(page, "From a service")
    page.get_by_label("Address of the service").fill(f"{application.service}/wmts")
    page.get_by_role("button", name="Look what it has").click()
    page.get_by_label("Where", exact=True).click()
    page.get_by_role("option", name="what the map shows").click()
    expect(page.get_by_label("Detail")).to_contain_text("tiles")
    page.get_by_role("button", name="Fetch and look at it").click()
    expect(page.get_by_role("img", name="What Shaded relief of the isles looks like")).to_be_visible(timeout=60_000)
    expect(page.get_by_role("list", name="Bands")).to_contain_text("1 red")
    brought_in(page)


def test_the_store_is_counted_and_taken(page: Page) -> None:
    begin_sheet(page, "Asked")
    stage(page, "Gather")
    part(page, "Ask the store")
    expect(page.get_by_text("Choose tags: their counts stand here")).to_be_visible()
    tags = page.get_by_role("combobox", name="Tags")
    for tag in ("roof", "state = fallen"):
        tags.fill(tag)
        tags.press("Enter")
    counts = page.get_by_role("table", name="Counts")
    expect(counts).to_contain_text("4,000 features there")
    expect(counts.get_by_role("row")).to_have_count(4)
    page.get_by_label("Where", exact=True).click()
    page.get_by_role("option", name="within Catchments", exact=True).click()
    take = page.get_by_role("button", name="Take ")
    expect(take).to_be_enabled()
    words = take.inner_text()
    take.click()
    expect(page.get_by_role("table", name="Preview")).to_be_visible(timeout=30_000)
    brought_in(page)
    page.get_by_role("button", name="To the library").click()
    number = words.removeprefix("Take ").removesuffix(" features")
    row = page.get_by_test_id("dataset").filter(has=page.get_by_label("Title of roof and state fallen"))
    expect(row).to_contain_text(f"{number} rows")
    # What others of these tests join is the newest areas.
    page.on("dialog", lambda dialog: dialog.accept())
    page.get_by_role("button", name="About roof and state fallen").click()
    page.get_by_role("button", name="Remove from the library").click()
    expect(row).to_have_count(0)


def test_a_raster_is_cut_and_taken_away(page: Page) -> None:
    open_sheet(page, "Carbon in the peat")
    stage(page, "Gather")
    page.get_by_role("button", name="About Relief", exact=True).click()
    page.get_by_role("button", name="Cut into parts").click()
    dialog = page.get_by_role("dialog", name="Cut “Relief” into parts")
    expect(dialog.get_by_role("img", name="2 columns and 2 rows")).to_be_visible()
    dialog.get_by_label("Pattern of the names").fill("sheet-{row}{column}")
    expect(dialog).to_contain_text("sheet-11.tif … sheet-22.tif")
    dialog.get_by_label("Pattern of the names").fill("sheet")
    expect(dialog.get_by_role("alert")).to_be_visible()
    dialog.get_by_label("Pattern of the names").fill("sheet-{row}{column}")
    dialog.get_by_role("button", name="Cut it").click()
    with page.expect_download() as download:
        dialog.get_by_role("link", name="Take the parts away").click()
    assert download.value.suggested_filename == "relief.zip"
