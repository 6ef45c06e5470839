"""Labels as readers and cartographers see them: names of the world's scripts in both painters, and labels moved by hand."""

import csv
import http.server
import io
import json
import threading
from collections.abc import Iterator
from functools import partial
from pathlib import Path
from typing import Any

import numpy as np
import pytest
from greylatch.cli.draw import beside
from greylatch.cli.main import main
from greylatch.paint.passes import compose
from greylatch.paint.picture import paint
from greylatch.places.frame import MERCATOR
from greylatch.places.view import View
from greylatch.sheet.reading import read_sheet
from PIL import Image
from playwright.sync_api import Browser, Page, expect

from tests.browser.conftest import kept, open_sheet, stage
from tests.browser.test_any_static_host import Quiet, opened
from tests.browser.test_looks import document, undo_all
from tests.core.test_faces import NAMES

pytestmark = pytest.mark.browser
LEVEL = 11
LINES = [
    {"text": "{name}", "size": 26, "colour": "#000000", "spacing": 0.05},
    {"text": "{name}", "size": 18, "colour": "#a03010", "family": "serif", "weight": 600, "italic": True},
]
FRAME = {"shape": "pill", "fill": "#ffe9a8", "outline": "#203040", "width": 1.5, "room": 4}


@pytest.fixture(scope="module")
def folder(tmp_path_factory: pytest.TempPathFactory) -> Path:
    """A sheet with a name in each script, with a line and a curved name along it."""
    folder = tmp_path_factory.mktemp("scripts")
    with (folder / "names.csv").open("w", newline="") as file:
        rows = csv.writer(file)
        rows.writerow(["name", "lon", "lat"])
        rows.writerows([name, -27 + 0.12 * (i % 4), 52 + 0.06 * (i // 4)] for i, (name, _) in enumerate(NAMES.values()))
    bend = [[-27.05 + 0.012 * i, 51.95 + 0.02 * np.sin(i / 7)] for i in range(45)]
    line = {
        "type": "Feature",
        "properties": {"name": "Water of Αθήνα"},
        "geometry": {"type": "LineString", "coordinates": bend},
    }
    (folder / "lines.geojson").write_text(json.dumps({"type": "FeatureCollection", "features": [line]}))
    bare = {"kind": "symbols", "symbol": {"radius": 2, "fill": "#000000", "strokes": []}}
    stroke = {"kind": "symbols", "symbol": {"strokes": [{"colour": "#4a90b0", "width": 2}]}}
    curved = {
        "lines": [{"text": "{name}", "size": 22, "family": "serif", "italic": True}],
        "course": "curved",
        "beside": True,
    }
    layers: list[dict[str, Any]] = [
        {"id": "names", "name": "Names", "dataset": "names.csv", "symbology": bare, "lettering": {"lines": LINES, "halo": 0}},
        {"id": "lines", "name": "Lines", "dataset": "lines.geojson", "symbology": stroke, "lettering": curved},
        {
            "id": "shields", "name": "Shields", "dataset": "names.csv", "symbology": bare,
            "lettering": {"lines": [{"text": "A7", "size": 14, "weight": 700}], "frame": FRAME, "opacity": 0.8, "shadow": {}},
        },
    ]  # fmt: skip
    sheet = {"version": 4, "title": "Names", "layers": layers, "furniture": {"ground": "#ffffff"}}
    (folder / "names.sheet.json").write_text(json.dumps(sheet))
    assert main(["publish", str(folder / "names.sheet.json"), "--out", str(folder / "map"), "--max-zoom", "12"]) == 0
    return folder


@pytest.fixture(scope="module")
def address(folder: Path) -> Iterator[str]:
    site = http.server.ThreadingHTTPServer(("127.0.0.1", 0), partial(Quiet, directory=str(folder)))
    threading.Thread(target=site.serve_forever, daemon=True).start()
    yield f"http://127.0.0.1:{site.server_port}/map/"
    site.shutdown()


def test_both_painters_set_the_same_glyphs_of_every_script_at_the_same_places(
    chromium: Browser, folder: Path, address: str
) -> None:
    """Allowed: a tenth of the ink further apart than a third of black: glyphs stand at quarters of a px, and which one is nearest may
    differ by the sixteenth that places in tiles are rounded by. A name in another face or a tenth of a size further on would be a third of
    its ink. Every script is looked at by itself, so that none hides behind others."""
    lon, lat = -26.82, 52.05
    page = opened(chromium, f"{address}#{LEVEL}/{lat}/{lon}", {"width": 1280, "height": 800})
    page.evaluate("document.fonts.ready.then(() => true)")
    page.wait_for_timeout(500)
    shot = page.locator(".map").screenshot()
    browser = np.asarray(Image.open(io.BytesIO(shot)).convert("RGB")).astype(int)
    height, width, _ = browser.shape
    x, y = MERCATOR.place(lon, lat)
    composition = compose(read_sheet(folder / "names.sheet.json"), beside(folder))
    resolution = MERCATOR.grid.resolution(LEVEL)
    view = View.around(MERCATOR, x, y, resolution, width, height)
    placement = composition.placement(resolution)
    server = paint(composition, view, placement=placement)[..., :3].astype(int)
    apart, ink = np.abs(browser - server).max(axis=2), 255 - server.min(axis=2)
    seen = 0
    for label in placement.labels:
        left, top = (label.x - view.bounds[0]) / resolution, (view.bounds[3] - label.y) / resolution
        box = (
            np.array([left + label.box[0], top + label.box[1], left + label.box[2], top + label.box[3]])
            .round()
            .astype(int)
        )
        if box[0] < 60 or box[1] < 80 or box[2] > width - 150 or box[3] > height - 60:
            continue
        seen += 1
        part = np.s_[box[1] : box[3], box[0] : box[2]]
        assert (apart[part] > 85).sum() < (ink[part] > 85).sum() / 10 + 2, label.text
    assert seen >= len(NAMES)
    page.context.close()


def test_a_label_is_dragged_restyled_and_put_back(page: Page) -> None:
    open_sheet(page, "Carbon in the peat")
    page.get_by_test_id("key-carbon").click(position={"x": 200, "y": 6})
    stage(page, "Letter")
    page.get_by_role("tab", name="By hand").click()
    kept(page)
    before = document(page)
    expect(page.get_by_text("No label is changed by hand.")).to_be_visible()
    spot = page.evaluate(
        """async () => {
            const view = window.sheetMap.getView();
            view.setCenter([-3004700, 6801900]); view.setZoom(12);
            await new Promise((done) => setTimeout(done, 2500));
            const on = window.sheetMap.getLayers().getArray().find((layer) => layer.labelAt);
            const size = window.sheetMap.getSize();
            const near = on.labels.filter(({ layer }) => layer === 'carbon').map((label) => ({
                fid: label.feature, text: label.text, at: window.sheetMap.getPixelFromCoordinate([label.x, label.y]) }));
            return near.find(({ at }) => at[0] > 200 && at[0] < size[0] - 200 && at[1] > 120 && at[1] < size[1] - 80);
        }"""
    )
    box = page.get_by_test_id("map").bounding_box()
    assert box is not None and spot is not None
    x, y = box["x"] + spot["at"][0], box["y"] + spot["at"][1]
    page.mouse.move(x, y)
    page.mouse.down()
    page.mouse.move(x + 40, y + 30, steps=4)
    page.mouse.move(x + 90, y + 40, steps=4)
    page.mouse.up()
    listed = page.get_by_role("list", name="Labels changed by hand").get_by_role("listitem")
    expect(listed).to_have_count(1)
    expect(listed).to_contain_text("moved")
    page.get_by_label("Turn, number").fill("25")
    page.keyboard.press("Enter")
    page.get_by_label("leader").check()
    page.get_by_label("Size of this label, px").fill("14")
    page.keyboard.press("Enter")
    expect(listed).to_contain_text("moved, turned, resized, with a leader")
    kept(page)
    carbon = next(layer for layer in document(page)["layers"] if layer["id"] == "carbon")
    (hand,) = carbon["lettering"]["by_hand"]
    assert (hand["fid"], hand["turn"], hand["size"], hand["leader"]) == (spot["fid"], 25, 14, True)
    page.get_by_label("hidden").check()
    expect(listed).to_contain_text("hidden")
    expect(listed).to_contain_text(spot["text"])
    page.get_by_role("button", name="Put all back").click()
    expect(listed).to_have_count(0)
    undo_all(page, before)


def test_lines_are_added_and_a_brace_alone_is_told(page: Page) -> None:
    open_sheet(page, "Carbon in the peat")
    page.get_by_test_id("key-carbon").click(position={"x": 200, "y": 6})
    stage(page, "Letter")
    kept(page)
    before = document(page)
    page.get_by_role("button", name="Add a line").click()
    text = page.get_by_label("Text of line 2")
    text.fill("{peat_ha:,.0f ha")
    text.press("Enter")
    expect(text).to_have_attribute("aria-invalid", "true")
    text.fill("{peat_ha:,.0f} ha")
    text.press("Enter")
    expect(text).to_have_attribute("aria-invalid", "false")
    page.get_by_role("button", name="Italics of line 2").click()
    expect(page.get_by_role("button", name="Italics of line 2")).to_have_attribute("aria-pressed", "true")
    kept(page)
    carbon = next(layer for layer in document(page)["layers"] if layer["id"] == "carbon")
    assert [(line["text"], line["italic"]) for line in carbon["lettering"]["lines"]] == [
        ("{name}", False),
        ("{peat_ha:,.0f} ha", True),
    ]
    undo_all(page, before)
