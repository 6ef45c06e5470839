"""Tables that are changed by hand and by new deliveries, driven as a cartographer would."""

import re
from pathlib import Path

import pytest
from playwright.sync_api import Locator, Page, expect

from tests.browser.conftest import Application, begin_sheet, drawn, open_sheet, stage
from tests.open_data import open_data

WELLS = "well,depth,lon,lat\n" + "".join(f"W{i},{i * 1.5},{-27 + i / 50:.2f},{52 + i / 100:.2f}\n" for i in range(8))


@pytest.fixture
def table(page: Page, tmp_path: Path) -> Page:
    """A sheet of its own with eight wells, drawn by their depth, and their table open."""
    (tmp_path / "own_wells.csv").write_text(WELLS)
    begin_sheet(page, "Own wells")
    page.get_by_role("tab", name="Bring in a file").click()
    page.get_by_test_id("file").set_input_files(tmp_path / "own_wells.csv")
    page.get_by_role("button", name="Bring in and draw").click()
    expect(page.get_by_test_id("job")).to_have_attribute("data-state", "done", timeout=30_000)
    page.get_by_role("tab", name="Table").click()
    expect(rows(page)).to_have_count(9)
    drawn(page)
    return page


def rows(page: Page) -> Locator:
    return page.get_by_role("grid").get_by_role("row")


def cell(page: Page, row: int, field: int) -> Locator:
    return rows(page).nth(row).get_by_role("gridcell").nth(field)


def test_cells_are_typed_into_and_mistakes_are_said_in_place(table: Page) -> None:
    cell(table, 2, 1).dblclick()
    box = table.get_by_label("Row 2, depth")
    expect(box).to_be_focused()
    box.fill("deep")
    box.press("Enter")
    expect(table.get_by_role("alert").filter(has_text="'deep' is not a number")).to_be_visible()
    box.fill("7,25")
    box.press("Enter")
    expect(cell(table, 2, 1)).to_have_text("7.25")
    expect(table.get_by_label("Row 3, depth")).to_be_focused()
    table.keyboard.press("Tab")
    expect(table.get_by_label("Row 3, lon")).to_be_focused()
    table.keyboard.press("Escape")
    table.reload()
    stage(table, "Gather")
    table.get_by_role("tab", name="Table").click()
    expect(cell(table, 2, 1)).to_have_text("7.25")
    table.get_by_role("button", name="Undo in the table").click()
    expect(cell(table, 2, 1)).to_have_text("1.5")
    table.get_by_role("button", name="Do again in the table").click()
    expect(cell(table, 2, 1)).to_have_text("7.25")
    table.get_by_role("button", name="History").click()
    lines = table.get_by_test_id("revision")
    expect(lines.first).to_contain_text("Again: Row 2, depth: 1.5 → 7.25.")
    table.get_by_role("button", name="Back to revision 1", exact=True).click()
    expect(lines.first).to_contain_text("Back to revision 1.")
    table.get_by_role("button", name="Done").click()
    expect(cell(table, 2, 1)).to_have_text("1.5")


def test_a_point_is_added_moved_and_deleted_on_the_map(table: Page) -> None:
    canvas = table.get_by_test_id("map").bounding_box()
    assert canvas is not None
    table.get_by_role("button", name="Add a row").click()
    expect(table.get_by_text("Press on the map where it lies.")).to_be_visible()
    table.mouse.click(canvas["x"] + 120, canvas["y"] + 120)
    expect(rows(table)).to_have_count(10)
    expect(rows(table).nth(9)).to_have_attribute("aria-selected", "true")
    cell(table, 9, 0).dblclick()
    table.get_by_label("Row 9, well").fill("Sula")
    table.get_by_label("Row 9, well").press("Enter")
    expect(cell(table, 9, 0)).to_have_text("Sula")
    drawn(table)
    table.mouse.click(canvas["x"] + 300, canvas["y"] + 60)
    expect(table.locator('[aria-selected="true"][role="row"]')).to_have_count(0)
    table.mouse.click(canvas["x"] + 120, canvas["y"] + 120)
    expect(rows(table).nth(9)).to_have_attribute("aria-selected", "true")
    table.get_by_role("button", name="Move the chosen point").click()
    table.keyboard.press("Escape")
    table.get_by_role("button", name="Move the chosen point").click()
    table.mouse.click(canvas["x"] + 300, canvas["y"] + 60)
    expect(table.get_by_text("Press on the map where it lies.")).to_be_hidden()
    table.get_by_role("button", name="Delete the chosen row").click()
    expect(rows(table)).to_have_count(9)


def test_fields_come_and_go(table: Page) -> None:
    table.get_by_role("button", name="Fields").click()
    table.get_by_label("Name of a new field").fill("depth")
    table.get_by_role("button", name="Add", exact=True).click()
    expect(table.get_by_role("alert")).to_contain_text("There is a field 'depth' already.")
    table.get_by_label("Name of a new field").fill("seen")
    table.get_by_label("What it holds").select_option("boolean")
    table.get_by_role("button", name="Add", exact=True).click()
    expect(table.get_by_role("row").filter(has_text="seen")).to_contain_text("8 rows without")
    assert table.get_by_label("What depth means").input_value() == "measure"
    table.get_by_label("Unit of depth").fill("dm")
    table.get_by_label("Unit of depth").press("Enter")
    expect(table.get_by_label("Unit of depth")).to_have_value("dm")
    table.get_by_label("What stands for missing in depth").fill("0; 3")
    table.get_by_label("What stands for missing in depth").press("Enter")
    expect(table.get_by_role("row").filter(has=table.get_by_label("Unit of depth"))).to_contain_text("2 rows without")
    table.get_by_role("button", name="Take 'seen' out").click()
    expect(table.get_by_role("button", name="Take 'seen' out")).to_be_hidden()
    table.get_by_role("button", name="Done").click()
    expect(cell(table, 1, 1)).to_have_text("")


def test_two_windows_in_one_table(table: Page) -> None:
    other = table.context.new_page()
    other.goto(table.url)
    stage(other, "Gather")
    other.get_by_role("tab", name="Table").click()
    for page, value in ((table, "100"), (other, "200")):
        cell(page, 4, 1).dblclick()
        page.get_by_label("Row 4, depth").fill(value)
    table.get_by_label("Row 4, depth").press("Enter")
    expect(cell(table, 4, 1)).to_have_text("100")
    other.get_by_label("Row 4, depth").press("Enter")
    told = other.get_by_role("alert").filter(has_text="was written there meanwhile")
    expect(told).to_contain_text("Row 4, field 'depth': 100 was written there meanwhile; you wrote 200 over 4.5.")
    other.close()


def test_a_new_delivery_is_looked_at_first(table: Page, tmp_path: Path) -> None:
    stage(table, "Classify")
    table.get_by_role("button", name="depth", exact=True).click()
    expect(table.get_by_label("Method")).to_be_visible()
    stage(table, "Gather")
    table.get_by_role("tab", name="Table").click()
    later = WELLS.replace("W2,3.0", "W2,300").replace("W7,", "W70,")
    (tmp_path / "june.csv").write_text(later)
    table.get_by_role("button", name="New delivery").click()
    table.get_by_test_id("file").set_input_files(tmp_path / "june.csv")
    expect(table.get_by_text("W2 depth 3 → 300")).to_be_visible()
    expect(table.get_by_text("W70", exact=True)).to_be_visible()
    table.get_by_role("button", name="Replace the rows").click()
    expect(table.get_by_test_id("job")).to_have_attribute("data-state", "done", timeout=30_000)
    table.get_by_role("button", name="To the table", exact=True).click()
    expect(cell(table, 3, 1)).to_have_text("300")
    expect(rows(table).nth(8)).to_contain_text("W70")
    expect(rows(table).nth(8).get_by_role("rowheader")).to_have_text("9")
    # Class limits were written into the sheet by the server: that is no change of somebody else's.
    stage(table, "Classify")
    expect(table.get_by_text("by hand · 5 classes")).to_be_visible()
    expect(table.get_by_label("Number of classes")).to_have_text("5")
    expect(table.get_by_text("changed elsewhere")).to_have_count(0)


def test_a_join_follows_its_parents_when_asked(page: Page, application: Application) -> None:
    open_sheet(page, "Carbon in the peat")
    stage(page, "Gather")
    page.get_by_role("tab", name="Table").click()
    page.get_by_label("Dataset of the table").select_option(label="Returns per catchment")
    was = cell(page, 1, 2).inner_text()
    cell(page, 1, 2).dblclick()
    page.keyboard.type("1")
    page.keyboard.press("Enter")
    expect(cell(page, 1, 2)).to_have_text("1")
    page.keyboard.press("Escape")
    page.get_by_label("Dataset of the table").select_option(label="Catchments with returns")
    page.get_by_role("button", name="Join anew").click()
    expect(page.get_by_role("button", name="Join anew")).to_be_hidden()
    page.get_by_role("button", name="History").click()
    expect(page.get_by_test_id("revision").first).to_contain_text(re.compile("Joined anew: 1 row changed"))
    page.get_by_role("button", name="Done").click()
    page.get_by_role("button", name="Undo in the table").click()
    expect(page.get_by_role("button", name="Join anew")).to_be_visible()
    page.get_by_label("Dataset of the table").select_option(label="Returns per catchment")
    page.get_by_role("button", name="Undo in the table").click()
    expect(cell(page, 1, 2)).to_have_text(was)
    page.get_by_label("Dataset of the table").select_option(label="Catchments with returns")


def test_a_file_without_a_projection_is_given_one(page: Page, tmp_path: Path) -> None:
    """The counties of Georgia as libpysal (PyPI) ships them: a Shapefile in metres without a .prj."""
    (tmp_path / "georgia.zip").write_bytes(open_data("georgia", tmp_path)[0])
    begin_sheet(page, "Georgia")
    page.get_by_role("tab", name="Bring in a file").click()
    page.get_by_test_id("file").set_input_files(tmp_path / "georgia.zip")
    expect(page.get_by_role("alert")).to_contain_text("Choose their projection")
    expect(page.get_by_role("button", name="Bring in and draw")).to_be_disabled()
    page.get_by_label("Another projection").fill("EPSG:26917")
    page.get_by_label("Another projection").press("Enter")
    expect(page.get_by_role("alert")).to_be_hidden()
    # Not brought in here: the tests that follow look for the demo's areas first in the library.
    expect(page.get_by_role("button", name="Bring in and draw")).to_be_enabled()


def test_many_cells_are_changed_and_seen_before(table: Page) -> None:
    table.get_by_role("button", name="Change many").click()
    dialog = table.get_by_role("dialog")
    dialog.get_by_label("Field").fill("double")
    dialog.get_by_label("Expression").click()
    table.keyboard.type("depth * 2")
    expect(dialog.get_by_role("table", name="Cells before and after")).to_contain_text("→ 3")
    dialog.get_by_role("button", name="Change 8 cells").click()
    expect(dialog).to_have_count(0)
    expect(table.get_by_role("columnheader", name="double")).to_be_visible()
    expect(cell(table, 2, 4)).to_have_text("3")
    table.get_by_role("button", name="Change many").click()
    dialog.get_by_label("Field").fill("shouted")
    dialog.get_by_label("Expression").click()
    table.keyboard.type("concat(well, '!')")
    expect(dialog.get_by_test_id("condition-answer")).to_have_text("A value for all 8 rows")
    expect(dialog.get_by_role("button", name="Change 8 cells")).to_be_enabled()
    dialog.get_by_role("button", name="Find and replace").click()
    dialog.get_by_label("Find", exact=True).fill("w")
    dialog.get_by_label("Replace by").fill("Well ")
    dialog.get_by_role("button", name="Change 8 cells").click()
    expect(cell(table, 1, 0)).to_have_text("Well 0")
    table.get_by_role("button", name="Undo in the table").click()
    expect(cell(table, 1, 0)).to_have_text("W0")


def test_a_doubt_is_mended_or_accepted_and_both_are_taken_back(page: Page, tmp_path: Path) -> None:
    rows_of = "".join(f"w{i},{'-999' if i == 4 else i},{'Orin' if i == 5 else 'Orrin'}\n" for i in range(40))
    (tmp_path / "measured.csv").write_text("well,depth,isle\n" + rows_of)
    begin_sheet(page, "Doubtful")
    page.get_by_role("tab", name="Bring in a file").click()
    page.get_by_test_id("file").set_input_files(tmp_path / "measured.csv")
    page.get_by_role("button", name="Bring in table").click()
    expect(page.get_by_test_id("job")).to_have_attribute("data-state", "done", timeout=30_000)
    page.get_by_role("button", name="To the library").click()
    page.get_by_role("button", name="Table of Measured").click()
    page.get_by_role("button", name="Doubts 2").click()
    doubts = page.get_by_role("group", name="Doubts", exact=True)
    doubts.get_by_role("button", name="Write them as the usual ones").click()
    expect(cell(page, 6, 2)).to_have_text("Orrin")
    expect(page.get_by_role("button", name="Doubts 1")).to_be_visible()
    page.get_by_role("button", name="Undo in the table").click()
    expect(page.get_by_role("button", name="Doubts 2")).to_be_visible()
    expect(cell(page, 6, 2)).to_have_text("Orin")
    slip = doubts.get_by_role("group", name=re.compile("'Orin' beside 'Orrin'"))
    slip.get_by_role("button", name="It is right").click()
    page.get_by_label("Why it is right").fill("An old spelling")
    page.keyboard.press("Enter")
    expect(slip).to_contain_text("Accepted by isla: An old spelling")
    expect(page.get_by_role("button", name="Doubts 1")).to_be_visible()
    slip.get_by_role("button", name="Doubt it again").click()
    expect(page.get_by_role("button", name="Doubts 2")).to_be_visible()


def test_doubts_are_told_beside_the_table_and_choose_their_rows(page: Page) -> None:
    open_sheet(page, "Carbon in the peat")
    page.get_by_test_id("key-carbon").click(position={"x": 200, "y": 6})
    stage(page, "Gather")
    page.get_by_role("tab", name="Table").click()
    page.get_by_role("button", name="Doubts 5").click()
    page.get_by_role("group", name="Doubts").get_by_text("1 row with a percentage beyond 0 to 100").click()
    chosen = page.get_by_role("grid").locator("[aria-selected=true]")
    expect(chosen).to_have_count(1)
    expect(chosen.get_by_role("rowheader")).to_have_text("34")
