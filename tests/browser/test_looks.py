"""Draw as a cartographer uses it: what varies by what, rules, readings, groups, single features. Each change is undone, so that the sheet is as it was."""

import json
import re
from pathlib import Path
from typing import Any

import pytest
from playwright.sync_api import Page, expect

from tests.browser.conftest import choose, drawn, kept, open_sheet, sheet_of, stage, token_of

pytestmark = pytest.mark.browser
PLACE = {"x": 200, "y": 6}


def begin(page: Page, layer: str) -> None:
    open_sheet(page, "Carbon in the peat")
    page.get_by_test_id(f"key-{layer}").click(position=PLACE)  # type: ignore[arg-type]
    stage(page, "Draw")


FIRST_PIXEL = """(layer) => {
    const canvas = [...document.querySelectorAll('canvas')].find(({ parentElement: { className } }) => className.includes(layer))
    const { width, height } = canvas
    const { data } = canvas.getContext('2d').getImageData(0, 0, width, height)
    const box = canvas.getBoundingClientRect()
    for (let y = 60; y < height - 60; y++)
        for (let x = 60; x < width - 60; x++)
            // In the middle of something: a little further right and down it goes on.
            if (data[4 * (y * width + x) + 3] > 200 && data[4 * ((y + 6) * width + x) + 3] > 200)
                return [box.x + (x / width) * box.width, box.y + ((y + 6) / height) * box.height]
    return null
}"""
"""A place on the page where the canvas of a layer is not empty."""


def document(page: Page) -> Any:
    """Its document."""
    return sheet_of(page)["document"]


def undo_all(page: Page, before: Any) -> None:
    """Until the server keeps again what it kept. Undo reaches into sessions before this one, so that one press too many is felt elsewhere."""
    for _ in range(30):
        kept(page)
        if document(page) == before:
            return
        page.get_by_role("button", name="Undo").click()
    assert document(page) == before


def test_channels_vary_and_the_key_says_by_what(page: Page) -> None:
    begin(page, "carbon")
    before = document(page)
    key = page.get_by_test_id("key-carbon")
    choose(page, "Colour", "along a ramp")
    expect(page.get_by_label("Value at the low end")).to_be_visible()
    expect(key.get_by_label("Text of no data")).to_be_visible()
    choose(page, "Colour", "by two fields at once")
    expect(key.get_by_role("img", name="Square of two classifications")).to_be_visible()
    choose(page, "Colour", "by category")
    expect(page.get_by_role("list", name="Categories").get_by_role("listitem")).to_have_count(3)
    for i in (0, 1):
        page.get_by_role("list", name="Categories").get_by_role("checkbox").nth(i).check()
    page.get_by_role("button", name="Merge 2").click()
    expect(page.get_by_role("list", name="Categories").get_by_role("listitem")).to_have_count(2)
    choose(page, "Field", "code")
    expect(page.get_by_role("list", name="Categories").get_by_role("listitem")).to_have_count(12)
    page.get_by_label("Find a value").fill("VK20")
    page.get_by_role("button", name="VK200", exact=True).click()
    expect(page.get_by_role("list", name="Categories").get_by_role("listitem")).to_have_count(13)
    choose(page, "Pattern", "hatch")
    expect(page.get_by_label("Spacing, number")).to_have_value("7")
    drawn(page)
    undo_all(page, before)


def test_a_rule_is_written_counted_and_all_of_draw_is_about_it(page: Page) -> None:
    begin(page, "wells")
    before = document(page)
    page.get_by_role("button", name="Add a rule").click()
    expect(page.get_by_text("This rule takes no row yet")).to_be_visible()
    # What stands there takes nothing, and is written over, by those too who press into it first.
    expect(page.get_by_label("Condition of the rule")).to_be_focused()
    page.get_by_label("Condition of the rule").click()
    page.keyboard.type("condition = 'intact'")
    page.keyboard.press("Escape")
    rule = page.get_by_role("group", name="Rule Rule 1")
    expect(rule).not_to_contain_text("1 = 0")
    expect(rule).to_contain_text("intact")
    expect(page.get_by_test_id("key-wells").get_by_label("Text of Rule 1")).to_be_visible()
    expect(rule).to_contain_text(re.compile(r"^\D*[1-9]"))
    others = page.get_by_role("button", name="all other rows")
    counts = [int(re.sub(r"\D", "", part.inner_text().split("condition")[0])[-4:]) for part in (rule, others)]
    assert sum(counts) == 2_400
    page.get_by_label("Shape", exact=True).click()
    page.get_by_role("option", name="star", exact=True).click()
    expect(page.get_by_test_id("key-wells").get_by_label("Text of Rule 1")).to_be_visible()
    drawn(page)
    undo_all(page, before)


def test_classes_split_into_rules_say_what_they_said(page: Page) -> None:
    begin(page, "carbon")
    before = document(page)
    page.get_by_role("button", name="Split into rules").click()
    expect(page.get_by_role("group", name="Rules").get_by_role("group")).to_have_count(6)
    drawn(page)
    undo_all(page, before)


def test_cells_and_heat_stand_for_points(page: Page) -> None:
    begin(page, "wells")
    before = document(page)
    choose(page, "Drawn are", "hexagons of them")
    expect(page.get_by_label("Metres from side to side")).to_be_visible()
    expect(page.get_by_test_id("key-wells")).not_to_contain_text("no data")
    choose(page, "Drawn are", "a heat surface")
    expect(page.get_by_test_id("key-wells")).to_contain_text("few")
    drawn(page)
    undo_all(page, before)


def test_layers_are_grouped_and_let_go(page: Page) -> None:
    begin(page, "wells")
    before = document(page)
    page.get_by_test_id("map").focus()
    page.keyboard.press("g")
    expect(page.get_by_role("group", name="Group Group 1").first).to_be_visible()
    expect(page.get_by_text("Group “Group 1”")).to_be_visible()
    page.get_by_role("group", name="Group Group 1").last.get_by_label("shadow").check()
    drawn(page)
    assert page.evaluate("getComputedStyle(document.querySelector('.sheet-group')).filter").startswith("drop-shadow")
    box = page.get_by_test_id("map").bounding_box()
    assert box is not None
    page.get_by_test_id("map").click(position={"x": box["width"] * 0.36, "y": box["height"] * 0.32})
    single = page.get_by_role("group", name="Single features")
    expect(single.get_by_role("button", name="Give it a colour")).to_be_visible()
    for _ in range(3):
        page.get_by_role("button", name="Undo").click()
        page.wait_for_timeout(400)
        if page.get_by_role("group", name="Group Group 1").count() == 0:
            break
    expect(page.get_by_role("group", name="Group Group 1")).to_have_count(0)
    undo_all(page, before)


def test_one_feature_differs_and_goes_back(page: Page) -> None:
    begin(page, "carbon")
    before = document(page)
    box = page.get_by_test_id("map").bounding_box()
    assert box is not None
    page.get_by_test_id("map").click(position={"x": box["width"] * 0.36, "y": box["height"] * 0.32})
    single = page.get_by_role("group", name="Single features")
    single.get_by_role("button", name="Give it a colour").click()
    expect(single).to_contain_text("1 feature differs")
    single.get_by_role("button", name="Back to normal", exact=True).click()
    expect(single).not_to_contain_text("differ")
    undo_all(page, before)


def test_points_are_pinned_and_put_in_order(page: Page) -> None:
    begin(page, "wells")
    before = document(page)
    press_several(page, "wells", inside=1)
    pins = page.get_by_role("group", name="Pins")
    pins.get_by_role("button", name="Pin the 2 chosen").click()
    names = pins.get_by_role("button", name=re.compile("^W[0-9]"))
    expect(names).to_have_count(2)
    first, second = names.all_text_contents()
    pins.get_by_label(f"Move {first}").focus()
    for key in ("Space", "ArrowDown", "Space"):
        page.keyboard.press(key)
        page.wait_for_timeout(250)
    expect(names).to_have_text([second, first])
    pins.get_by_role("button", name=f"Unpin {second}").click()
    expect(names).to_have_text([first])
    expect(page.get_by_test_id("key-wells").get_by_label(f"Text of {first}")).to_be_visible()
    undo_all(page, before)


def test_a_raster_is_contoured_and_classed(page: Page) -> None:
    begin(page, "relief")
    before = document(page)
    choose(page, "Drawn are", "its contours")
    key = page.get_by_test_id("key-relief")
    # The first contours of a process wait for what is compiled.
    expect(key.get_by_label("Text of index lines")).to_be_visible(timeout=20_000)
    expect(page.get_by_label("Interval of contours")).to_have_value("50")
    drawn(page)
    choose(page, "Drawn are", "the raster")
    choose(page, "Ink", "Colours by class")
    expect(key.locator("[data-testid^=entry-class-]")).to_have_count(5)
    stage(page, "Classify")
    expect(page.get_by_test_id("state-line")).to_contain_text("natural breaks · 5 classes")
    page.get_by_role("button", name="More classes").click()
    expect(key.locator("[data-testid^=entry-class-]")).to_have_count(6)
    page.get_by_role("button", name="axis: linear").click()
    expect(page.get_by_role("button", name="axis: logarithmic")).to_be_visible()
    page.get_by_label("Axis to").fill("200")
    page.get_by_label("Axis to").press("Enter")
    page.get_by_role("button", name="the whole range").click()
    expect(page.get_by_role("button", name="the whole range")).to_have_count(0)
    stage(page, "Draw")
    choose(page, "Ink", "Slope")
    expect(page.get_by_label("Degrees at the high end")).to_have_value("45")
    drawn(page)
    undo_all(page, before)


def test_points_cluster_and_open_on_a_press(page: Page) -> None:
    begin(page, "wells")
    before = document(page)
    choose(page, "Drawn are", "clusters of them")
    expect(page.get_by_test_id("key-wells").get_by_label("Text of 100 points")).to_be_visible()
    drawn(page)
    scale = page.locator(".ol-scale-line-inner")
    far = scale.inner_text()
    x, y = page.evaluate(FIRST_PIXEL, "wells")
    page.mouse.click(x, y)
    expect(scale).not_to_have_text(far, timeout=15_000)
    undo_all(page, before)


def test_a_layer_is_seen_at_some_scales_and_an_icon_stands_for_points(page: Page, tmp_path: Path) -> None:
    begin(page, "wells")
    before = document(page)
    icon = tmp_path / "drop.svg"
    icon.write_text(
        '<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 2 2"><script>x</script><path fill="#c03020" d="M0 0h2v2z"/></svg>'
    )
    page.get_by_label("Shape", exact=True).click()
    page.get_by_label("Credit of the next icon").fill("Ulla Brand")
    page.get_by_label("Icon file").set_input_files(icon)
    expect(page.get_by_test_id("key-wells").locator("image").first).to_be_visible()
    drawn(page)
    page.get_by_label("Shape", exact=True).click()
    page.get_by_role("option", name="drop", exact=True).last.press("Delete")
    expect(page.get_by_text("None yet: send an SVG or a PNG.")).to_be_visible()
    page.get_by_label("Credit of the next icon").press("Escape")
    expect(page.get_by_label("Credit of the next icon")).to_have_count(0)
    far = page.get_by_label("Water table below ground: not farther than 1 to")
    far.fill("1000")
    far.press("Enter")
    kept(page)
    layer = next(each for each in document(page)["layers"] if each["id"] == "wells")
    assert layer["scales"] == {"closest": None, "farthest": 1000}
    assert "script" not in layer["symbology"]["symbol"]["icon"]["content"]
    drawn(page)
    undo_all(page, before)


def test_what_a_class_stands_for_is_lit_on_the_map(page: Page) -> None:
    begin(page, "carbon")
    stage(page, "Classify")
    ringed = page.locator(".sheet-highlight")
    expect(ringed).to_have_count(0)
    page.get_by_role("group", name="Breaks").get_by_label("Upper limit of class 2", exact=True).hover()
    expect(ringed.first).to_be_attached()
    page.mouse.move(5, 5)
    expect(ringed).to_have_count(0)


def test_breaks_of_two_fields_are_moved_over_their_pairs(page: Page) -> None:
    begin(page, "carbon")
    choose(page, "Colour", "by two fields at once")
    page.get_by_role("button", name="Breaks over the pairs").click()
    pairs = page.get_by_test_id("pairs")
    expect(pairs.locator("circle")).to_have_count(207)
    limit = pairs.get_by_test_id("first-0")
    before = float(limit.get_attribute("aria-valuenow") or 0)
    limit.press("PageUp")
    expect(limit).not_to_have_attribute("aria-valuenow", str(before))
    expect(page.get_by_role("combobox", name="Method").first).to_have_text("By hand")
    box = pairs.get_by_test_id("second-1").bounding_box()
    assert box
    page.mouse.move(box["x"] + 200, box["y"] + 12)
    page.mouse.down()
    page.mouse.move(box["x"] + 200, box["y"] + 30, steps=5)
    page.mouse.up()
    kept(page)
    colour = next(layer for layer in document(page)["layers"] if layer["id"] == "carbon")["symbology"]["encodings"][
        "colour"
    ]
    assert colour["first"]["method"] == colour["second"]["method"] == "manual"
    assert colour["first"]["breaks"][0] > before
    drawn(page)


def test_circles_of_the_key_stand_in_one_another(page: Page) -> None:
    begin(page, "wells")
    key = page.get_by_test_id("key-wells")
    key.get_by_role("button", name=re.compile("Circles of .* in one another")).click()
    expect(key.get_by_role("button", name="Circles in one another", exact=True)).to_be_visible()
    expect(key.get_by_label("Text of 41 – 120")).to_be_visible()
    key.get_by_role("button", name=re.compile("Circles of .* one by one")).click()
    expect(key.get_by_role("button", name="Circles in one another", exact=True)).to_have_count(0)


def test_contours_are_lettered_along_their_lines(page: Page) -> None:
    begin(page, "relief")
    choose(page, "Drawn are", "its contours")
    stage(page, "Letter")
    expect(page.get_by_label("Text of line 1")).to_have_value("{index_height}")
    page.get_by_role("tab", name="Room").click()
    expect(page.get_by_text(re.compile("[1-9] set,")).first).to_be_visible()
    page.get_by_role("tab", name="Place").click()
    expect(page.get_by_role("combobox", name="Along lines")).to_have_text("turned as the line runs")
    kept(page)
    asked = {"data": document(page), "headers": {"X-CSRFToken": token_of(page)}}
    answer = page.request.post("/api/draw/letters?zoom=11", **asked)
    letters = [json.loads(label["set"])["p"][0] for label in answer.json()["labels"] if label["layer"] == "relief"]
    assert len({turn for *_, turn, _, _ in letters}) > 5
    choose(page, "Along lines", "level, upon the middle")
    kept(page)
    level = page.request.post("/api/draw/letters?zoom=11", data=document(page), headers={"X-CSRFToken": token_of(page)})
    assert {json.loads(label["set"])["p"][0][6] for label in level.json()["labels"]} == {0}


def test_a_rule_names_another_dataset_and_its_rows_stand_in_the_table(page: Page) -> None:
    begin(page, "wells")
    before = document(page)
    page.get_by_role("button", name="Add a rule").click()
    rule = page.get_by_role("group", name="Rule Rule 1")
    page.get_by_role("textbox", name="Condition of the rule").fill("water_table_cm > 60")
    answer = page.get_by_test_id("condition-answer").first
    expect(answer).to_contain_text(re.compile("[1-9][0-9]* of 2,400 rows"))
    page.get_by_label("Compare with another dataset").first.click()
    page.get_by_role("option", name="Catchments with returns").click()
    # It is asked anew once nothing more is typed, and kept a moment after that.
    page.wait_for_timeout(1_500)
    expect(answer).to_contain_text("of 2,400 rows")
    kept(page)
    wells = next(layer for layer in document(page)["layers"] if layer["id"] == "wells")
    assert "S_INTERSECTS(geometry, catchments_with_returns)" in wells["symbology"]["rules"][0]["where"]
    assert list(wells["others"]) == ["catchments_with_returns"]
    count = rule.get_by_role("button", name="Rows of Rule 1 in the table").inner_text()
    rule.get_by_role("button", name="Rows of Rule 1 in the table").click()
    table = page.get_by_role("grid", name="Rows of Dip wells")
    expect(table).to_have_attribute("aria-rowcount", count.replace(",", ""))
    page.get_by_role("button", name="All rows", exact=True).click()
    expect(table).to_have_attribute("aria-rowcount", "2400")
    stage(page, "Draw")
    undo_all(page, before)


def test_categories_beside_one_another_are_parted(page: Page) -> None:
    begin(page, "carbon")
    before = document(page)
    choose(page, "Colour", "by category")
    choose(page, "Field", "code")
    page.get_by_role("button", name="Part neighbours").click()

    def colours() -> list[Any]:
        kept(page)
        carbon = next(layer for layer in document(page)["layers"] if layer["id"] == "carbon")
        categories = carbon["symbology"]["encodings"]["colour"]["categories"]
        return [each["colour"] for each in categories]

    page.wait_for_timeout(1_000)
    given = colours()
    assert None not in given and len(set(given)) == len(given) > 3
    undo_all(page, before)


def press_several(page: Page, layer: str, inside: int = 4) -> None:
    """Choose a feature of a layer on the map, and with Shift one more, px from their edges."""
    page.wait_for_timeout(500)
    for i, place in enumerate(page.evaluate(SEVERAL_PIXELS, [layer, inside])):
        page.mouse.move(*place)
        if i:
            page.keyboard.down("Shift")
        page.mouse.click(*place)
        page.keyboard.up("Shift")
        # Presses that follow one another closely are one that goes closer.
        page.wait_for_timeout(700)


def test_a_rule_is_made_of_features_chosen_on_the_map(page: Page) -> None:
    begin(page, "carbon")
    press_several(page, "carbon")
    page.get_by_role("button", name="A rule for the 2 chosen").click()
    expect(page.get_by_role("group", name="Rule Rule 1")).to_be_visible()
    kept(page)
    carbon = next(layer for layer in document(page)["layers"] if layer["id"] == "carbon")
    (rule,) = carbon["symbology"]["rules"]
    assert re.fullmatch(r"\w+ IN \('[^']+', '[^']+'\)", rule["where"]), rule["where"]
    drawn(page)


SEVERAL_PIXELS = """([layer, inside]) => {
    const canvas = [...document.querySelectorAll('canvas')].find(({ parentElement: { className } }) => className.includes(layer))
    const { width, height } = canvas
    const { data } = canvas.getContext('2d').getImageData(0, 0, width, height)
    const box = canvas.getBoundingClientRect()
    const there = (x, y) => data[4 * (y * width + x) + 3] > 150
    const all = []
    for (let y = 60; y < height - 60; y += 2 * inside)
        for (let x = 60; x < width - 60; x += 2 * inside)
            if (there(x, y) && there(x + inside, y + inside) && there(x - inside, y - inside)) all.push([x, y])
    // Far from one another, so that they are not one area.
    return [all[Math.floor(all.length / 5)], all[Math.floor((4 * all.length) / 5)]].map(([x, y]) => [
        box.x + (x / width) * box.width, box.y + (y / height) * box.height,
    ])
}"""
"""Two places on the page where the canvas of a layer is not empty."""
