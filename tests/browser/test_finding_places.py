"""Rows put where their names are, driven as a cartographer would."""

from playwright.sync_api import Page, expect

from tests.browser.conftest import choose, kept, open_sheet, stage


def test_names_are_looked_up_settled_and_put_on_the_map(page: Page) -> None:
    open_sheet(page, "Carbon in the peat")
    stage(page, "Gather")
    page.get_by_role("tab", name="Find places").click()
    lists = page.get_by_role("group", name="What came of the names")
    expect(lists.get_by_role("button", name="exact")).to_contain_text("78")
    lists.get_by_role("button", name="ambiguous").click()
    names = page.get_by_test_id("found-name")
    expect(names).to_have_count(4)
    names.first.get_by_role("button").first.click()
    expect(names).to_have_count(3)
    names.first.get_by_role("button", name="On the map").click()
    page.locator("#map").click(position={"x": 300, "y": 150})
    expect(names).to_have_count(2)
    other = names.first.get_by_role("combobox")
    other.fill("skarab")
    page.get_by_role("option", name="East Skarabeck").click()
    expect(names).to_have_count(1)
    names.first.get_by_role("button", name="Leave out").click()
    expect(lists.get_by_role("button", name="by hand")).to_contain_text("3")
    lists.get_by_role("button", name="left out").click()
    names.first.get_by_role("button", name="Open it again").click()
    expect(lists.get_by_role("button", name="ambiguous")).to_contain_text("1")
    page.get_by_label("Title of the cross-list").fill("Huts by hand")
    page.keyboard.press("Enter")
    expect(page.get_by_label("Title of the cross-list")).to_have_value("")
    choose(page, "Cross-list", "Huts by hand", exact=False)
    expect(lists.get_by_role("button", name="by hand")).to_be_visible()
    page.get_by_role("button", name="Edit the list").click()
    page.get_by_role("button", name="out").nth(0).click()
    page.get_by_role("button", name="Keep changes").click()
    expect(page.get_by_role("dialog")).to_have_count(0)
    page.get_by_role("button", name="rows on the map").click()
    expect(page.get_by_label("Title of Field huts, located").first).to_be_visible(timeout=20_000)
    # Others look at the same sheet after this.
    located = page.locator("[aria-label='Layer Field huts, located']")
    expect(located).to_be_visible()
    page.get_by_role("button", name="Undo", exact=True).click()
    expect(located).to_have_count(0)
    kept(page)


def test_wells_are_summed_up_in_the_areas_in_which_they_lie(page: Page) -> None:
    open_sheet(page, "Carbon in the peat")
    stage(page, "Gather")
    page.get_by_role("tab", name="Join").click()
    choose(page, "the rows of", "Dip wells", exact=False)
    expect(page.get_by_test_id("unmatched")).to_contain_text("of 2400 rows found no area")
    choose(page, "Join to", "Catchments")
    expect(page.get_by_label("How water_table_cm is summed up")).to_have_value("mean")
    page.get_by_label("How water_table_cm is summed up").select_option("median")
    page.get_by_role("checkbox", name="lon").uncheck()
    page.get_by_role("button", name="Join").last.click()
    expect(page.get_by_label("Title of Catchments with Dip wells")).to_be_visible(timeout=20_000)
