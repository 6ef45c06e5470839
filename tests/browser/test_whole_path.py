"""The path of the work in the real interface, stage by stage."""

import re
from pathlib import Path

import pytest
from playwright.sync_api import Browser, Page, expect

from tests.browser.conftest import Application, Elsewhere, begin_sheet, choose, drawn, kept, open_sheet, publish, stage

pytestmark = pytest.mark.browser


def test_a_wrong_password_is_told(chromium: Browser, application: Application) -> None:
    page = chromium.new_page()
    page.goto(application.address)
    page.get_by_label("Name").fill("isla")
    page.get_by_label("Password").fill("sand")
    page.get_by_role("button", name="Sign in").click()
    expect(page.get_by_role("alert")).to_have_text("That name and password do not fit together.")
    page.close()


def test_from_a_file_to_a_classified_map(page: Page, demo: Path) -> None:
    begin_sheet(page, "Slips")
    page.get_by_role("tab", name="Bring in a file").click()
    page.get_by_test_id("file").set_input_files(demo / "slips.csv")
    expect(page.get_by_role("table", name="Preview").get_by_label("Name of volume_m3")).to_be_visible()
    expect(page.get_by_role("alert")).to_contain_text("not degrees")
    page.get_by_label("Another projection").fill("EPSG:32626")
    page.get_by_role("button", name="Use", exact=True).click()
    expect(page.get_by_text("EPSG:32626 · WGS 84 / UTM zone 26N")).to_be_visible()
    page.get_by_role("button", name="Bring in points").click()
    expect(page.get_by_test_id("job")).to_have_attribute("data-state", "done", timeout=30_000)
    page.get_by_role("button", name="To the library").click()
    page.get_by_role("button", name="Draw Slips", exact=True).first.click()
    drawn(page)
    stage(page, "Classify")
    page.get_by_role("button", name="volume_m3").click()
    expect(page.get_by_test_id("histogram")).to_be_visible()
    expect(page.get_by_test_id("state-line")).to_contain_text("natural breaks · 5 classes")
    page.locator("body").press("]")
    expect(page.get_by_test_id("state-line")).to_contain_text("6 classes")
    expect(page.locator("[data-testid^=entry-class-]")).to_have_count(6)


def test_dragging_a_break_moves_features_between_classes_and_undoes(page: Page) -> None:
    open_sheet(page, "Carbon in the peat")
    page.get_by_test_id("key-carbon").click(position={"x": 200, "y": 6})
    stage(page, "Classify")
    counts = page.get_by_test_id("key-carbon").locator("[data-testid=entry-class-0]")
    before = counts.inner_text()
    handle = page.get_by_test_id("break-0")
    box = handle.bounding_box()
    assert box
    page.mouse.move(box["x"] + box["width"] / 2, box["y"] + 20)
    page.mouse.down()
    page.mouse.move(box["x"] + 40, box["y"] + 20, steps=6)
    page.mouse.up()
    expect(page.get_by_test_id("state-line")).to_contain_text("by hand")
    expect(counts).not_to_have_text(before)
    page.get_by_role("button", name="Undo").click()
    expect(page.get_by_test_id("state-line")).to_contain_text("natural breaks")
    kept(page)


def test_breaks_are_typed_added_and_taken_out(page: Page) -> None:
    open_sheet(page, "Carbon in the peat")
    page.get_by_test_id("key-carbon").click(position={"x": 200, "y": 6})
    stage(page, "Classify")
    field = page.get_by_label("Upper limit of class 1", exact=True)
    field.fill("300")
    field.press("Enter")
    expect(page.get_by_test_id("key-carbon").get_by_label("Text of 148 – 300")).to_be_visible()
    page.get_by_label("Split class 1", exact=True).click()
    expect(page.locator("[data-testid=key-carbon] [data-testid^=entry-class-]")).to_have_count(7)
    page.get_by_label("Take out break 1", exact=True).click()
    expect(page.locator("[data-testid=key-carbon] [data-testid^=entry-class-]")).to_have_count(6)
    for _ in range(3):
        page.get_by_role("button", name="Undo").click()
    expect(page.get_by_test_id("state-line")).to_contain_text("natural breaks")
    kept(page)


def test_the_key_is_edited_in_place(page: Page) -> None:
    open_sheet(page, "Carbon in the peat")
    page.get_by_test_id("key-carbon").click(position={"x": 200, "y": 6})
    text = page.get_by_test_id("key-carbon").get_by_label("Text of no data")
    text.fill("not measured")
    text.press("Enter")
    expect(text).to_have_value("not measured")
    page.get_by_label("Hide Relief").click()
    expect(page.get_by_label("Show Relief")).to_be_visible()
    page.locator("body").press("d")
    expect(page.get_by_label("Layer Carbon, t per ha of peat (copy)")).to_be_visible()
    names = "[aria-label^='Layer ']"
    page.locator("body").press("Alt+ArrowUp")
    expect(page.locator(names).first).to_have_attribute("aria-label", "Layer Carbon, t per ha of peat (copy)")
    kept(page)
    page.reload()
    drawn(page)
    expect(page.locator(names).first).to_have_attribute("aria-label", "Layer Carbon, t per ha of peat (copy)")
    page.get_by_label("Layer Carbon, t per ha of peat (copy)").click(position={"x": 200, "y": 6})
    page.get_by_label("Remove Carbon, t per ha of peat (copy)").click()
    page.get_by_label("Show Relief").click()
    page.get_by_test_id("key-carbon").click(position={"x": 200, "y": 6})
    text = page.get_by_test_id("key-carbon").get_by_label("Text of no data")
    text.fill("no data")
    text.press("Enter")
    kept(page)


def test_a_join_is_settled_row_by_row(page: Page) -> None:
    begin_sheet(page, "Joined")
    page.get_by_role("tab", name="Join").click()
    choose(page, "Join to", "Catchments")
    choose(page, "the rows of", "Returns per catchment")
    panel = page.get_by_test_id("unmatched")
    expect(panel).to_contain_text("21 of 214 rows found no area")
    panel.get_by_role("button", name=re.compile(r"^Row \d+")).last.click()
    expect(panel).not_to_contain_text("Which row is right?")
    row = panel.get_by_test_id("unmatched-row").first
    row.get_by_role("button").first.click()
    expect(panel).to_contain_text("20 of 214 rows found no area")
    panel.get_by_role("button", name="Leave out").first.click()
    expect(panel).to_contain_text("19 of 214")
    panel.get_by_role("button", name=re.compile(r"Take the \d+ that are sure")).click()
    expect(panel).to_contain_text(re.compile(r"^2\d\d of 214 areas have a row"))
    page.get_by_role("button", name=re.compile(r"Join 2\d\d rows")).click()
    expect(page.get_by_test_id("dataset").first).to_contain_text("areas")


def test_a_row_is_found_on_the_map_and_back(page: Page) -> None:
    open_sheet(page, "Carbon in the peat")
    page.get_by_test_id("key-carbon").click(position={"x": 200, "y": 6})
    stage(page, "Gather")
    page.get_by_role("tab", name="Table").click()
    grid = page.get_by_role("grid")
    grid.get_by_role("columnheader", name="carbon_t").click()
    grid.get_by_role("columnheader", name="carbon_t").click()
    expect(grid.get_by_role("columnheader", name="carbon_t")).to_have_attribute("aria-sort", "descending")
    first = grid.get_by_role("row").nth(1)
    expect(first).to_contain_text("Quernaby")  # the rows as sorted have come
    first.click()
    expect(first).to_have_attribute("aria-selected", "true")
    expect(page.locator(".sheet-highlight")).to_have_count(1)
    box = page.get_by_test_id("map").bounding_box()
    assert box
    page.mouse.click(box["x"] + 330, box["y"] + 150)
    expect(grid.locator("[aria-selected=true]")).to_have_count(1)
    expect(first).to_have_attribute("aria-selected", "false")


def test_labels_and_cards(page: Page) -> None:
    open_sheet(page, "Carbon in the peat")
    page.get_by_test_id("key-carbon").click(position={"x": 200, "y": 6})
    stage(page, "Letter")
    expect(page.get_by_test_id("state-line")).to_contain_text("labels '{name}'")
    stage(page, "Explain")
    expect(page.get_by_test_id("card").locator("h3")).to_be_visible()
    template = page.get_by_label("Template of the card")
    before = template.inner_text()
    template.fill("### {{name}}\n\n{{hight}}\n\n<script>document.title = 'broken into'</script>")
    expect(page.get_by_text("No such field: {{ hight }}")).to_be_visible()
    expect(page.get_by_test_id("card").locator("script")).to_have_count(0)
    assert page.title() != "broken into"
    template.fill("{{#name}}")
    expect(page.get_by_text("template has a mistake")).to_be_visible()
    template.fill(before)
    kept(page)


def test_findings_are_mended_and_accepted(page: Page) -> None:
    open_sheet(page, "Money for restoration")
    stage(page, "Proof")
    finding = page.get_by_test_id("finding-count-as-colour:money")
    expect(finding).to_contain_text("is a count drawn as the colour of areas")
    finding.get_by_role("button", name="Divide by area in km²").click()
    expect(finding).to_have_count(0)
    expect(page.get_by_label("Unit of Restoration money")).to_have_value("per km²")
    other = page.get_by_test_id("finding-many-classes:money")
    other.get_by_role("button", name="Accept …").click()
    page.get_by_label("Reason").fill("for experts")
    page.get_by_label("Reason").press("Enter")
    expect(page.get_by_role("list", name="Accepted findings")).to_contain_text("for experts")
    page.get_by_role("button", name="Undo").click()
    page.get_by_role("button", name="Undo").click()
    expect(finding).to_be_visible()
    kept(page)


def test_keys_reach_every_stage_and_bare_the_map(page: Page) -> None:
    open_sheet(page, "Carbon in the peat")
    body = page.locator("body")
    for key, name in enumerate(("Gather", "Classify", "Draw", "Letter", "Explain", "Proof", "Publish"), 1):
        body.press(str(key))
        expect(page.get_by_role("tab", name=name).first).to_have_attribute("aria-selected", "true")
    page.get_by_test_id("map").focus()
    page.keyboard.down("Space")
    expect(page.get_by_role("complementary", name="Key")).to_have_count(0)
    page.keyboard.up("Space")
    expect(page.get_by_role("complementary", name="Key")).to_be_visible()
    body.press("k")
    expect(page.get_by_label("Unfold the bench")).to_be_visible()
    body.press("k")
    body.press("?")
    expect(page.get_by_role("dialog", name="Keys")).to_be_visible()
    page.keyboard.press("Escape")
    body.press("/")
    page.keyboard.type("classify 'water")
    page.keyboard.press("Enter")
    expect(page.get_by_role("tab", name="Classify")).to_have_attribute("aria-selected", "true")


def test_two_windows_do_not_overwrite_each_other(page: Page) -> None:
    begin_sheet(page, "Shared")
    kept(page)
    other = page.context.new_page()
    other.goto(page.url)
    other.get_by_label("Title of the sheet").fill("Theirs")
    kept(other)
    page.get_by_label("Title of the sheet").fill("Mine")
    expect(page.get_by_text("This sheet was changed elsewhere: revision")).to_be_visible()
    page.get_by_role("button", name="Take that version").click()
    expect(page.get_by_label("Title of the sheet")).to_have_value("Theirs")


def test_publish_and_see_it_in_somebody_elses_page(page: Page, chromium: Browser, elsewhere: Elsewhere) -> None:
    open_sheet(page, "Carbon in the peat")
    publish(page, last_level=10)
    code = page.get_by_test_id("embed-code").inner_text()
    assert code.startswith("<iframe src=")
    story = elsewhere.put("story.html", f"<!doctype html><title>A story</title><h1>Where the carbon lies</h1>{code}")
    reader = chromium.new_page(viewport={"width": 900, "height": 700})
    reader.goto(story)
    frame = reader.frame_locator("iframe")
    expect(frame.locator(".title")).to_have_text("Carbon in the peat of the Vaskerry Isles")
    expect(frame.locator(".key")).to_contain_text("Carbon, t per ha of peat")
    expect(frame.locator(".credits")).to_contain_text("Vaskerry Peatland Survey")
    frame.locator("#reader[data-idle=true]").wait_for()
    frame.get_by_role("combobox").fill("jorrabeck")
    frame.get_by_role("combobox").press("Enter")
    expect(frame.locator(".card")).to_contain_text("isles")
    reader.close()
