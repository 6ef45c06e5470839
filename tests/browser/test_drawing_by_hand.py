"""What a cartographer does at the map all day: blend, point, undo, compare, move."""

import io
from pathlib import Path
from typing import Any

import numpy as np
import pytest
from greylatch.cli.draw import beside
from greylatch.paint.passes import compose
from greylatch.paint.picture import BLEND_MODES, paint
from greylatch.paint.sources import VectorSource
from greylatch.places.frame import MERCATOR
from greylatch.places.view import View
from greylatch.sheet.document import Sheet
from greylatch.sheet.reading import read_sheet
from PIL import Image
from playwright.sync_api import Page, expect

from tests.browser.conftest import begin_sheet, choose, drawn, kept, open_sheet, publish, stage

pytestmark = pytest.mark.browser
CENTRE = (-3004700.0, 6801900.0)


def look_at(page: Page, zoom: float, x: float = CENTRE[0], y: float = CENTRE[1]) -> None:
    """Move the view, and take everything off the map that is not the map."""
    page.evaluate(
        """([x, y, zoom]) => {
            const view = window.sheetMap.getView();
            view.setCenter([x, y]); view.setZoom(zoom);
            document.querySelector('.ol-overlaycontainer-stopevent').style.visibility = 'hidden';
        }""",
        [x, y, zoom],
    )
    page.wait_for_timeout(300)
    drawn(page)


def shot(page: Page) -> Any:
    return np.asarray(Image.open(io.BytesIO(page.get_by_test_id("map").screenshot())).convert("RGB")).astype(int)


def served(sheet: Sheet, demo: Path, zoom: float, width: int, height: int) -> Any:
    """The server's picture of the same view."""
    half_w, half_h = width / 2 * MERCATOR.grid.resolution(zoom), height / 2 * MERCATOR.grid.resolution(zoom)
    x, y = CENTRE
    bounds = (x - half_w, y - half_h, x + half_w, y + half_h)
    return paint(compose(sheet, beside(demo)), View(MERCATOR, bounds, width, height))[..., :3].astype(int)


def test_every_blend_mode_is_the_same_in_both_painters(page: Page, demo: Path) -> None:
    """All sixteen modes of the W3C, chosen in the interface: the browser's own formulas against the server's.

    Allowed: on average 2 of 255 levels. Some modes steepen the relief's small differences (see test_same_picture).
    """
    open_sheet(page, "Carbon in the peat")
    page.get_by_test_id("key-carbon").click(position={"x": 200, "y": 6})
    stage(page, "Draw")
    look_at(page, 10)
    sheet = read_sheet(demo / "carbon.sheet.json")
    height, width, _ = shot(page).shape
    apart = {}
    for mode in BLEND_MODES:
        choose(page, "Blend", mode.replace("-", " "))
        page.wait_for_timeout(350)
        layers = [one.model_copy(update={"blend": mode}) if one.id == "carbon" else one for one in sheet.layers]
        blended = served(sheet.model_copy(update={"layers": layers}), demo, 10, width, height)
        apart[mode] = float(np.abs(shot(page) - blended).max(axis=2).mean())
    assert len(apart) == 16
    assert {mode: value for mode, value in apart.items() if value >= 2} == {}
    choose(page, "Blend", "multiply")
    kept(page)


def test_a_layer_lets_the_ground_shine_through_but_not_its_own_shapes(page: Page, demo: Path) -> None:
    """Half transparent with thick outlines: in both painters a layer is one picture before it lets
    anything through, or the fill would show through the outline.

    Allowed: on average 1.3 of 255 levels, as in test_same_picture.
    """
    open_sheet(page, "Carbon in the peat")
    page.get_by_test_id("key-carbon").click(position={"x": 200, "y": 6})
    stage(page, "Draw")
    for label, value in (("Opacity", "0.5"), ("Stroke", "4")):
        page.get_by_label(f"{label}, number", exact=True).fill(value)
        page.get_by_label(f"{label}, number", exact=True).press("Enter")
    kept(page)
    look_at(page, 10)
    height, width, _ = shot(page).shape
    sheet = read_sheet(demo / "carbon.sheet.json")
    for one in sheet.layers:
        if one.id == "carbon":
            one.opacity = 0.5
            one.symbology.symbol.strokes[0].width = 4
    apart = np.abs(shot(page) - served(sheet, demo, 10, width, height)).max(axis=2)
    page.get_by_role("button", name="Undo").click()
    page.get_by_role("button", name="Undo").click()
    kept(page)
    assert apart.mean() < 1.3, apart.mean()


def test_no_hairline_shows_between_tiles(page: Page, demo: Path) -> None:
    """Areas alone, between two levels, where the edges of vector tiles fall between pixels: along an edge the pictures differ no
    more than elsewhere."""
    open_sheet(page, "Carbon in the peat")
    for name in ("Relief", "Water table below ground", "Names of the isles"):
        page.get_by_label(f"Hide {name}").click()
    zoom = 10.37
    look_at(page, zoom)
    ours = shot(page)
    height, width, _ = ours.shape
    sheet = read_sheet(demo / "carbon.sheet.json")
    alone = [
        one.model_copy(update={"visible": one.id == "carbon", "lettering": None, "blend": "multiply"})
        for one in sheet.layers
    ]
    apart = np.abs(ours - served(sheet.model_copy(update={"layers": alone}), demo, zoom, width, height)).max(axis=2)
    edges = page.evaluate(
        """(zoom) => {
            const map = window.sheetMap, span = 40075016.685578488 / 2 ** (Math.round(zoom) - 1), half = 20037508.342789244;
            const found = [];
            for (let i = 0; i < 2 ** (Math.round(zoom) - 1); i++) {
                const [x] = map.getPixelFromCoordinate([i * span - half, 0]);
                if (x > 4 && x < map.getSize()[0] - 4) found.push(x);
            }
            return found;
        }""",
        zoom,
    )
    assert edges
    for edge in edges:
        along = apart[:, int(edge) - 1 : int(edge) + 2]
        assert along.mean() < apart.mean() + 2
    for name in ("Relief", "Water table below ground", "Names of the isles"):
        page.get_by_label(f"Show {name}").click()
    kept(page)


def test_a_symbol_is_chosen_by_pointing_at_it(page: Page, demo: Path) -> None:
    """Symbols are drawn by the application itself; they are found by pointing like everything else."""
    wells = beside(demo)("dip_wells.csv", MERCATOR)
    assert isinstance(wells, VectorSource)
    row = 17
    place = wells.shapes[row]
    open_sheet(page, "Carbon in the peat")
    stage(page, "Gather")
    page.get_by_role("tab", name="Table").click()
    look_at(page, 15, place.x, place.y)
    box = page.get_by_test_id("map").bounding_box()
    assert box
    page.mouse.click(box["x"] + box["width"] / 2 + 1, box["y"] + box["height"] / 2 - 1)
    expect(page.get_by_test_id("key-wells")).to_have_attribute("aria-current", "true")
    chosen = page.get_by_role("grid").locator("[aria-selected=true]")
    expect(chosen.get_by_role("rowheader")).to_have_text(str(row + 1))


def test_undo_and_redo_by_keys_reach_back_to_the_start(page: Page) -> None:
    begin_sheet(page, "Undone")
    kept(page)
    page.get_by_role("tab", name="Library").click()
    page.get_by_role("button", name="Draw Ditches", exact=True).first.click()
    drawn(page)
    layer = page.get_by_role("group", name="Layer Ditches")
    expect(layer).to_be_visible()
    body = page.locator("body")
    body.press("d")
    expect(page.get_by_role("group", name="Layer Ditches (copy)")).to_be_visible()
    page.get_by_test_id("map").focus()
    page.keyboard.press("Control+z")
    expect(page.get_by_role("group", name="Layer Ditches (copy)")).to_have_count(0)
    page.keyboard.press("Control+z")
    expect(layer).to_have_count(0)
    page.keyboard.press("Control+Shift+z")
    page.keyboard.press("Control+Shift+z")
    expect(page.get_by_role("group", name="Layer Ditches (copy)")).to_be_visible()
    kept(page)


def test_the_readers_edition_is_seen_while_a_key_is_held(page: Page) -> None:
    open_sheet(page, "Carbon in the peat")
    publish(page, last_level=9)
    look_at(page, 9)
    page.get_by_label("Hide Carbon, t per ha of peat").click()
    page.get_by_test_id("map").focus()
    page.wait_for_timeout(500)
    without = shot(page)
    page.keyboard.down("c")
    expect(page.get_by_role("status", name="Shown edition")).to_contain_text("Edition")
    page.wait_for_timeout(900)
    drawn(page)
    during = shot(page)
    page.keyboard.up("c")
    expect(page.get_by_role("status", name="Shown edition")).to_have_count(0)
    page.wait_for_timeout(500)
    drawn(page)
    inside = np.s_[6:-6, 6:-6]  # without the line that shows the focus
    assert np.abs(during - without)[inside].mean() > 1, "the areas that the sheet hides are in the edition"
    assert np.abs(shot(page) - without)[inside].mean() < 0.5
    page.get_by_label("Show Carbon, t per ha of peat").click()
    kept(page)
    # The next edition begins as the last one was asked for.
    page.reload()
    stage(page, "Publish")
    expect(page.get_by_label("Last level")).to_have_value("9")


def test_both_themes_and_the_way_out(page: Page) -> None:
    paper = "() => getComputedStyle(document.querySelector('header')).backgroundColor"
    open_sheet(page, "Carbon in the peat")
    light = page.evaluate(paper)
    page.get_by_role("button", name="Account of isla").click()
    page.get_by_role("menuitem", name="Graphite theme").click()
    page.keyboard.press("Escape")
    dark = page.evaluate(paper)
    assert sum(channels(dark)) < 200 < 600 < sum(channels(light))
    page.reload()
    drawn(page)
    assert page.evaluate(paper) == dark, "the theme is remembered"
    page.get_by_role("button", name="Account of isla").click()
    page.get_by_role("menuitem", name="Sign out").click()
    expect(page.get_by_role("button", name="Sign in")).to_be_visible()


def channels(colour: str) -> list[int]:
    return [int(part) for part in colour.removeprefix("rgb(").removesuffix(")").split(",")]


@pytest.mark.parametrize(
    ("file", "button", "kind"), [("catchments.zip", "areas", "areas"), ("peat_depth.tif", "raster", "raster")]
)
def test_shapefiles_and_rasters_come_in_by_hand(page: Page, demo: Path, file: str, button: str, kind: str) -> None:
    begin_sheet(page, f"From {file}")
    page.get_by_role("tab", name="Bring in a file").click()
    page.get_by_test_id("file").set_input_files(demo / file)
    page.get_by_label("Title of the dataset").fill(f"Second {kind}")
    page.get_by_label("Title of the dataset").press("Enter")
    page.get_by_role("button", name=f"Bring in {button}").click()
    expect(page.get_by_test_id("job")).to_have_attribute("data-state", "done", timeout=40_000)
    page.get_by_role("button", name="To the library").click()
    page.get_by_role("button", name=f"Draw Second {kind}", exact=True).click()
    drawn(page)
    expect(page.get_by_role("group", name=f"Layer Second {kind}")).to_be_visible()
    look_at(page, 9)
    assert (np.abs(shot(page) - shot(page)[2, 2]).max(axis=2) > 20).mean() > 0.02, "something is drawn"
    kept(page)
