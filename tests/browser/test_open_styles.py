"""A published style in the hands of a general-purpose library that knows nothing of us: MapLibre GL JS, from npm."""

import io
import json
import shutil
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import numpy as np
import pytest
from greylatch.cli.draw import beside
from greylatch.paint.passes import compose
from greylatch.paint.picture import paint
from greylatch.places.frame import MERCATOR
from greylatch.places.view import View
from greylatch.sheet.reading import read_sheet
from PIL import Image
from playwright.sync_api import Browser, Page

from tests.browser.conftest import FLAGS, ROOT, Elsewhere, choose, open_sheet, publish, stage

pytestmark = pytest.mark.browser
LIBRARY = ROOT / "web" / "node_modules" / "maplibre-gl" / "dist"
SIDE = 640
LEVEL = 10
"""Ours; MapLibre counts levels of 512 px tiles, so it calls the same scale 9."""
PAGE = """<!doctype html><script src="maplibre-gl.js"></script>
<style>body {{ margin: 0 }} #map {{ width: {side}px; height: {side}px }}</style><div id="map"></div><script>
  window.troubles = []
  window.map = new maplibregl.Map({{
    container: 'map', style: {style}, center: {centre}, zoom: {zoom}, fadeDuration: 0, attributionControl: false,
    canvasContextAttributes: {{ preserveDrawingBuffer: true }},
  }})
  map.on('error', (event) => troubles.push(String(event.error)))
  map.on('idle', () => document.body.setAttribute('data-idle', 'true'))
</script>"""


@pytest.fixture
def reader(chromium: Browser) -> Iterator[Page]:
    """A browser that draws WebGL without a graphics card."""
    flags = [flag for flag in FLAGS if flag != "--disable-gpu"]
    software = ["--use-angle=swiftshader", "--enable-unsafe-swiftshader", "--ignore-gpu-blocklist"]
    browser = chromium.browser_type.launch(executable_path="/usr/bin/chromium", args=[*flags, *software])
    yield browser.new_page(viewport={"width": SIDE, "height": SIDE})
    browser.close()


def test_a_library_that_knows_nothing_of_us_draws_the_style(
    page: Page, reader: Page, elsewhere: Elsewhere, demo: Path
) -> None:
    """The whole map of the edition, blends and relief among it, held against the server's own picture.

    Allowed: on average 4 of 255 levels. Outlines come from tiles in whole units, letters from fields 24 px high, and what the
    style can't say from tiles that are sharpened anew.
    """
    open_sheet(page, "Carbon in the peat")
    publish(page, last_level=10)
    address = page.get_by_test_id("embed-code").inner_text().split('src="')[1].split('"')[0].split("?")[0]
    number = page.request.get(f"{address}edition.json").json()["number"]
    shutil.copy(LIBRARY / "maplibre-gl.js", elsewhere.folder)
    centre = [-26.99, 52.03]
    style = f"{address}{number}/style.json"
    told = {"side": SIDE, "style": json.dumps(style), "centre": json.dumps(centre), "zoom": LEVEL - 1}
    reader.goto(elsewhere.put("map.html", PAGE.format(**told)))
    reader.locator("body[data-idle=true]").wait_for(timeout=60_000)
    assert reader.evaluate("troubles") == []
    found = reader.evaluate(
        "map.queryRenderedFeatures().map((one) => ({layer: one.layer.id, properties: one.properties}))"
    )
    drawn = {one["layer"] for one in found}
    assert {"shapes-carbon-fill", "shapes-carbon-line", "shapes-wells-circle", "labels-isles"} <= drawn
    assert {one["properties"]["class_text"] for one in found if one["layer"] == "shapes-carbon-fill"} > {"no data"}
    theirs = np.asarray(Image.open(io.BytesIO(reader.locator("#map").screenshot())).convert("RGB")).astype(int)
    x, y = reader.evaluate(
        "(() => { const m = maplibregl.MercatorCoordinate.fromLngLat(map.getCenter()); return [m.x, m.y] })()"
    )
    ours = picture(demo, (x, y))
    assert np.abs(theirs - ours).max(axis=2).mean() < 4


def picture(demo: Path, centre: tuple[float, float]) -> Any:
    """The server's picture of the demo sheet, around a place given as shares of the world's square."""
    composition = compose(read_sheet(demo / "carbon.sheet.json"), beside(demo))
    world = 256 * MERCATOR.grid.resolution(0)
    x, y = (centre[0] - 0.5) * world, (0.5 - centre[1]) * world
    half = SIDE / 2 * MERCATOR.grid.resolution(LEVEL)
    return paint(composition, View(MERCATOR, (x - half, y - half, x + half, y + half), SIDE, SIDE))[..., :3].astype(int)


TILES = """<!doctype html><script src="{library}"></script>
<style>body {{ margin: 0 }} #map {{ width: {side}px; height: {side}px }}</style><div id="map"></div><script>{script}</script>"""
MAPLIBRE = """
  window.map = new maplibregl.Map({{ container: 'map', center: {centre}, zoom: {zoom} - 1, fadeDuration: 0, attributionControl: false,
    canvasContextAttributes: {{ preserveDrawingBuffer: true }},
    style: {{ version: 8, sources: {{ map: {{ type: 'raster', url: {tilejson} }} }}, layers: [{{ id: 'map', type: 'raster', source: 'map', paint: {{ 'raster-fade-duration': 0 }} }}] }} }})
  map.on('idle', () => document.body.setAttribute('data-idle', 'true'))"""
OPENLAYERS = """
  window.map = new ol.Map({{ target: 'map', controls: [], view: new ol.View({{ center: ol.proj.fromLonLat({centre}), zoom: {zoom} }}),
    layers: [new ol.layer.Tile({{ source: new ol.source.TileJSON({{ url: {tilejson}, transition: 0, crossOrigin: 'anonymous' }}) }})] }})
  map.on('loadend', () => document.body.setAttribute('data-idle', 'true'))"""


def test_tiles_of_double_density_are_shown_alike_by_two_libraries(
    page: Page, reader: Page, elsewhere: Elsewhere
) -> None:
    """TileJSON of 512 px tiles in MapLibre GL JS, which heeds `tileSize`, and in OpenLayers (npm), which does not: the same ground
    at the same size. Allowed: 6 of 255 levels on average, since they sharpen pictures differently."""
    open_sheet(page, "Carbon in the peat")
    stage(page, "Publish")
    choose(page, "Tiles", "512 px", exact=False)
    address = page.get_by_test_id("embed-code").inner_text().split('src="')[1].split('"')[0].split("?")[0]
    before = page.request.get(f"{address}edition.json").json()["number"]
    publish(page, last_level=10)
    for _ in range(240):
        number = page.request.get(f"{address}edition.json").json()["number"]
        if number > before:
            break
        page.wait_for_timeout(500)
    tilejson = f"{address}{number}/map.json"
    told = page.request.get(tilejson).json()
    assert told["tiles"][0].endswith("/map/{z}/{x}/{y}@2x.png")
    pictures = []
    for library, script in (
        (LIBRARY / "maplibre-gl.js", MAPLIBRE),
        (ROOT / "web/node_modules/ol/dist/ol.js", OPENLAYERS),
    ):
        shutil.copy(library, elsewhere.folder)
        filled = script.format(centre="[-26.99, 52.03]", zoom=LEVEL, tilejson=json.dumps(tilejson))
        reader.goto(elsewhere.put(f"{library.stem}.html", TILES.format(library=library.name, side=SIDE, script=filled)))
        reader.locator("body[data-idle=true]").wait_for(timeout=60_000)
        reader.wait_for_timeout(400)
        pictures.append(
            np.asarray(Image.open(io.BytesIO(reader.locator("#map").screenshot())).convert("RGB")).astype(int)
        )
    assert (pictures[0].std(axis=(0, 1)) > 20).all(), "there is a map"
    assert np.abs(pictures[0] - pictures[1]).mean() < 6
