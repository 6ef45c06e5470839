"""A sheet in another projection: chosen by its picture, drawn alike by both painters, published and read there."""

import io
import re
from pathlib import Path

import numpy as np
import pytest
from greylatch.cli.draw import beside
from greylatch.paint.passes import compose
from greylatch.paint.picture import paint
from greylatch.places.frame import Frame
from greylatch.places.view import View
from greylatch.sheet.document import Graticule, Projection
from greylatch.sheet.reading import read_sheet
from PIL import Image
from playwright.sync_api import Browser, Page, expect

from tests.browser.conftest import drawn, kept, open_sheet, publish, stage

pytestmark = pytest.mark.browser
POLAR = "EPSG:3995"
LEVEL = 11


def choose_projection(page: Page, text: str, name: str) -> None:
    page.get_by_role("button", name=re.compile("^Projection")).click()
    page.get_by_label("Search projections").fill(text)
    page.get_by_role("list", name="Projections found").get_by_role("button", name=name).first.click()
    expect(page.get_by_role("img", name="This map in the chosen projection")).to_be_visible(timeout=30_000)
    page.get_by_role("button", name="Use this projection").click()
    expect(page.get_by_role("button", name=re.compile("^Projection"))).to_contain_text(name.split(" / ")[-1])
    page.wait_for_timeout(1500)
    drawn(page)


def look_at(page: Page, frame: Frame, lon: float, lat: float) -> tuple[float, float]:
    x, y = frame.place(lon, lat)
    page.evaluate(
        f"""() => {{
            const view = window.sheetMap.getView();
            view.setCenter([{x}, {y}]); view.setResolution({frame.grid.resolution(LEVEL)});
            document.querySelector('.ol-overlaycontainer-stopevent').style.visibility = 'hidden';
        }}"""
    )
    page.wait_for_timeout(900)
    drawn(page)
    return x, y


def shot(page: Page) -> np.ndarray:
    return np.asarray(Image.open(io.BytesIO(page.get_by_test_id("map").screenshot())).convert("RGB")).astype(int)


def test_a_map_in_another_projection_from_choice_to_readers(page: Page, chromium: Browser, demo: Path) -> None:
    """Polar stereographic turns the isles by 27 degrees, so nothing that still thinks in Web Mercator would fit. The same is
    asked of the two painters as for the web's own projection."""
    open_sheet(page, "Carbon in the peat")
    choose_projection(page, "arctic polar stereographic", "WGS 84 / Arctic Polar Stereographic")
    frame = Frame.named(POLAR)
    x, y = look_at(page, frame, -26.99, 52.05)
    browser = shot(page)
    height, width, _ = browser.shape
    sheet = read_sheet(demo / "carbon.sheet.json").model_copy(update={"projection": Projection(crs=POLAR)})
    view = View.around(frame, x, y, frame.grid.resolution(LEVEL), width, height)
    server = paint(compose(sheet, beside(demo)), view)[..., :3].astype(int)
    apart = np.abs(browser - server).max(axis=2)
    assert (server != server[0, 0]).any(axis=2).mean() > 0.2, "there is a map to compare"
    assert apart.mean() < 1.3, apart.mean()
    assert (apart > 48).mean() < 0.01, (apart > 48).mean()

    for part in ("Sea", "Graticule"):
        page.get_by_label(part, exact=True).check()
    page.wait_for_timeout(1500)
    drawn(page)
    furniture = sheet.furniture.model_copy(update={"sea": "#d3e0e6", "graticule": Graticule(colour="#9aa8ac")})
    on_ground = paint(compose(sheet.model_copy(update={"furniture": furniture}), beside(demo)), view)[..., :3].astype(
        int
    )
    ground = (on_ground != server).any(axis=2)
    ground[:, width - 140 :] = False  # where the scale bar stands
    apart = np.abs(shot(page) - on_ground).max(axis=2)
    assert ground.mean() > 0.3
    assert apart[ground].mean() < 1, apart[ground].mean()

    page.get_by_test_id("map").click(position={"x": width // 2, "y": height // 2})
    kept(page)
    publish(page, last_level=9)
    address = page.get_by_test_id("embed-code").inner_text().split('"')[1]
    page.get_by_role("button", name="Use what the map shows now").click()
    expect(page.get_by_test_id("embed-code")).to_contain_text("@")
    reader = chromium.new_page(viewport={"width": 900, "height": 700})
    troubles: list[str] = []
    reader.on("pageerror", lambda error: troubles.append(str(error)))
    reader.goto(address)
    reader.locator("#reader[data-idle=true]").wait_for()
    reader.locator(".map").focus()
    reader.keyboard.press("n")
    expect(reader.locator(".card")).to_contain_text(re.compile("isles|Well"))
    picture = np.asarray(Image.open(io.BytesIO(reader.locator(".map").screenshot())).convert("RGB")).astype(int)
    assert (picture != picture[0, 0]).any(axis=2).mean() > 0.1
    assert (np.abs(picture - (0xD3, 0xE0, 0xE6)).max(axis=2) < 3).mean() > 0.2, "the sea lies below the tiles"
    assert troubles == []
    reader.close()

    page.get_by_role("button", name=re.compile("^Projection")).click()
    page.get_by_role("list", name="Projections that suit this map").get_by_role("button", name="Web Mercator").click()
    page.get_by_role("button", name="Use this projection").click()
    drawn(page)
    page.get_by_test_id("map").focus()
    page.keyboard.down("c")
    expect(page.get_by_role("status", name="Shown edition")).to_contain_text("another projection")
    page.keyboard.up("c")
    for part in ("Sea", "Graticule"):
        page.get_by_label(part, exact=True).uncheck()
    kept(page)


def test_a_projection_is_undone_like_any_change(page: Page) -> None:
    open_sheet(page, "Carbon in the peat")
    choose_projection(page, "EPSG:32626", "UTM zone 26N")
    stage(page, "Draw")
    page.get_by_role("button", name=re.compile("Undo")).click()
    expect(page.get_by_role("button", name=re.compile("^Projection"))).to_contain_text("Pseudo-Mercator")
    drawn(page)
    kept(page)


def test_what_is_no_projection_is_told(page: Page) -> None:
    open_sheet(page, "Carbon in the peat")
    page.get_by_role("button", name=re.compile("^Projection")).click()
    page.get_by_label("Search projections").fill("+proj=laea +nadgrids=/etc/passwd")
    page.get_by_role("list", name="Projections found").get_by_role("button").first.click()
    expect(page.get_by_role("alert")).to_contain_text("names a file")
    page.get_by_role("button", name="Cancel").click()
