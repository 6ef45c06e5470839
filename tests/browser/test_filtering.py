"""A layer of only some rows, its condition written in the interface."""

from pathlib import Path

import numpy as np
import pytest
from greylatch.sheet.reading import read_sheet
from playwright.sync_api import Page, expect

from tests.browser.conftest import choose, drawn, kept, open_sheet, stage
from tests.browser.test_drawing_by_hand import look_at, served, shot

pytestmark = pytest.mark.browser
WHERE = "water_table_cm > 10 AND condition <> 'modified'"


def test_a_condition_is_written_counted_mended_and_undone(page: Page, demo: Path) -> None:
    """In both painters the same wells are left; a mistake leaves the map as it was."""
    open_sheet(page, "Carbon in the peat")
    page.get_by_test_id("key-wells").click(position={"x": 200, "y": 6})
    stage(page, "Draw")
    editor = page.get_by_label("Filter")
    told = page.get_by_test_id("condition-answer")
    expect(told).to_have_text("All 2,400 rows")
    key = page.get_by_test_id("key-wells")
    before = key.inner_text()

    editor.click()
    page.keyboard.type("water_table_cm > 30 AND conditon = 'x'")
    page.keyboard.press("Escape")
    expect(told).to_contain_text("Line 1, column 25: There is no field 'conditon'. Is 'condition' meant?")
    expect(page.locator(".cm-lintRange-error")).to_have_text("conditon")
    assert key.inner_text() == before

    page.keyboard.press("Control+a")
    page.keyboard.type("water_table_cm > 10 AND cond")
    page.get_by_role("option", name="condition").wait_for()
    page.wait_for_timeout(200)
    page.keyboard.press("Enter")
    page.keyboard.type(" <> ")
    page.keyboard.type("'mod")
    page.get_by_role("option", name="'modified'").wait_for()
    page.wait_for_timeout(200)
    page.keyboard.press("Enter")
    expect(editor).to_have_text(WHERE)
    expect(told).to_contain_text("of 2,400 rows")
    expect(key).to_contain_text(WHERE)
    kept(page)

    sheet = read_sheet(demo / "carbon.sheet.json")
    layers = [layer.model_copy(update={"filter": WHERE}) if layer.id == "wells" else layer for layer in sheet.layers]
    filtered = sheet.model_copy(update={"layers": layers})
    look_at(page, 10)
    height, width, _ = shot(page).shape
    apart = np.abs(shot(page) - served(filtered, demo, 10, width, height)).max(axis=2)
    unfiltered = np.abs(shot(page) - served(sheet, demo, 10, width, height)).max(axis=2)
    assert apart.mean() < 2 and (unfiltered > 40).sum() > 4 * (apart > 40).sum()

    page.keyboard.press("Escape")
    page.get_by_role("button", name="Undo").click()
    expect(told).to_have_text("All 2,400 rows")
    drawn(page)
    assert key.inner_text() == before


def test_limits_are_rounded_and_rows_weighed(page: Page) -> None:
    open_sheet(page, "Carbon in the peat")
    page.get_by_test_id("key-carbon").click(position={"x": 200, "y": 6})
    stage(page, "Classify")
    page.get_by_label("rounded to sayable numbers").check()
    expect(page.get_by_text("in another class, fit")).to_be_visible()
    choose(page, "Weigh by", "peat_ha", exact=False)
    kept(page)
    texts = page.get_by_test_id("key-carbon").locator("input").evaluate_all("inputs => inputs.map((i) => i.value)")
    limits = [text.split(" – ")[1].replace(",", "") for text in texts if " – " in text]
    assert len(limits) > 3 and all(limit.endswith(("00", "50")) for limit in limits), texts
    page.get_by_role("button", name="Undo").click()
    page.get_by_role("button", name="Undo").click()
    kept(page)


def test_what_is_classed_can_be_calculated(page: Page) -> None:
    """A field, an expression in its place with a mistake on the way, and the field again."""
    open_sheet(page, "Carbon in the peat")
    page.get_by_test_id("key-carbon").click(position={"x": 200, "y": 6})
    stage(page, "Classify")
    choose(page, "Field", "calculated …", exact=False)
    editor = page.get_by_label("Calculated")
    expect(editor).to_have_text("carbon_t")
    editor.click()
    page.keyboard.press("Control+a")
    page.keyboard.type("carbon_t / peat_h")
    page.keyboard.press("Escape")
    told = page.get_by_test_id("condition-answer")
    expect(told).to_contain_text("There is no field 'peat_h'. Is 'peat_ha' meant?")
    page.keyboard.type("a * 2")
    page.keyboard.press("Escape")
    expect(told).to_contain_text("A number for")
    kept(page)
    expect(page.get_by_text("natural breaks · 6 classes")).to_be_visible()
    choose(page, "Field", "carbon_t", exact=False)
    expect(page.get_by_label("Calculated")).to_have_count(0)
    kept(page)
