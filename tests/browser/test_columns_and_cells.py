"""Columns of a table as somebody wants them, and blocks of cells by way of the clipboard."""

import pytest
from playwright.sync_api import Page, expect

from tests.browser.conftest import stage
from tests.browser.test_tables import cell, table

pytestmark = pytest.mark.browser
__all__ = ["table"]


def test_columns_are_moved_hidden_and_kept_in_view(table: Page) -> None:
    page = table
    heads = page.get_by_role("grid").get_by_role("columnheader")

    def names() -> list[str]:
        return [words.split("\n")[0] for words in heads.all_inner_texts()]

    before = names()
    assert before == ["row", "well", "depth", "lon", "lat"]
    heads.nth(3).click(button="right")
    page.get_by_role("menuitem", name="Hide lon").click()
    expect(heads).to_have_count(4)
    heads.nth(2).drag_to(heads.nth(1))
    expect(heads.nth(1)).to_contain_text("depth")
    assert cell(page, 2, 0).inner_text() == "1.5"
    heads.nth(1).click(button="right")
    page.get_by_role("menuitem", name="Keep columns up to depth in view").click()
    page.get_by_role("grid").evaluate("grid => { grid.style.maxWidth = '300px'; grid.scrollTo({ left: 4000 }) }")
    assert page.get_by_role("grid").evaluate("grid => grid.scrollLeft") > 0
    expect(heads.nth(1)).to_be_in_viewport(ratio=1)
    page.reload()
    stage(page, "Gather")
    page.get_by_role("tab", name="Table").click()
    expect(heads).to_have_count(4)
    assert names() == ["row", "depth", "well", "lat"]
    heads.nth(1).click(button="right")
    page.get_by_role("menuitem", name="Show all columns (1 hidden), as they were").click()
    expect(heads).to_have_count(5)
    assert names() == before


def test_cells_are_copied_pasted_and_cleared(table: Page) -> None:
    page = table
    page.context.grant_permissions(["clipboard-read", "clipboard-write"])
    selected = page.get_by_role("grid").locator("[data-selected]")
    cell(page, 1, 0).click()
    cell(page, 3, 1).click(modifiers=["Shift"])
    expect(selected).to_have_count(6)
    page.keyboard.press("Control+c")
    assert page.evaluate("navigator.clipboard.readText()") == "W0\t0\nW1\t1.5\nW2\t3"
    page.evaluate("navigator.clipboard.writeText('Here\\t7,5\\nOver\\t8\\n')")
    cell(page, 5, 0).click()
    page.keyboard.press("Control+v")
    expect(cell(page, 5, 0)).to_have_text("Here")
    expect(cell(page, 5, 1)).to_have_text("7.5")
    expect(cell(page, 6, 1)).to_have_text("8")
    page.keyboard.press("ArrowRight")
    page.keyboard.press("Shift+ArrowDown")
    page.keyboard.press("Delete")
    expect(cell(page, 5, 1)).to_have_text("")
    expect(cell(page, 6, 1)).to_have_text("")
    page.evaluate("navigator.clipboard.writeText('no number')")
    page.keyboard.press("Control+v")
    expect(page.get_by_role("grid").get_by_role("alert")).to_contain_text("is not a number")
    expect(cell(page, 5, 1)).to_have_text("")
    for _ in range(2):
        page.get_by_role("button", name="Undo in the table").click()
        page.wait_for_timeout(500)
    expect(cell(page, 5, 0)).to_have_text("W4")
    expect(cell(page, 6, 1)).to_have_text("7.5")
    cell(page, 8, 0).click()
    page.evaluate("navigator.clipboard.writeText('a\\nb\\nc')")
    page.keyboard.press("Control+v")
    expect(page.get_by_role("grid").get_by_role("alert")).to_have_text(
        "2 cells beyond the last row or column were left out."
    )


def test_rows_are_numbered_and_dragged_into_an_order(table: Page) -> None:
    page = table
    page.get_by_role("button", name="Change many").click()
    dialog = page.get_by_role("dialog")
    dialog.get_by_role("button", name="Number the rows").click()
    dialog.get_by_label("In the order of").click()
    page.get_by_role("option", name="depth", exact=True).click()
    dialog.get_by_label("From the greatest to the least").check()
    dialog.get_by_role("button", name="Change 8 cells").click()
    expect(dialog).to_have_count(0)
    heads = page.get_by_role("grid").get_by_role("columnheader")
    heads.filter(has_text="order").get_by_role("button").click()
    expect(cell(page, 1, 0)).to_have_text("W7")
    headers = page.get_by_role("grid").get_by_role("rowheader")
    headers.nth(2).drag_to(headers.nth(0))
    expect(cell(page, 1, 0)).to_have_text("W5")
    expect(cell(page, 1, 4)).to_have_text("1")
    expect(cell(page, 2, 0)).to_have_text("W7")
    cell(page, 1, 0).click()
    page.keyboard.press("Alt+ArrowDown")
    expect(cell(page, 1, 0)).to_have_text("W7")
    page.get_by_role("button", name="Undo in the table").click()
    expect(cell(page, 1, 0)).to_have_text("W5")
