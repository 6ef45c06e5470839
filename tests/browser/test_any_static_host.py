"""An edition made by the command line, on a host that knows nothing but files: Python's own, which serves no ranges."""

import http.server
import io
import json
import threading
from collections.abc import Iterator
from functools import partial
from pathlib import Path

import numpy as np
import pytest
from greylatch.cli.draw import beside
from greylatch.cli.main import main
from greylatch.paint.passes import compose
from greylatch.paint.picture import paint
from greylatch.places.frame import Frame
from greylatch.places.view import View
from greylatch.sheet.document import Projection
from greylatch.sheet.reader import Reader
from greylatch.sheet.reading import read_sheet
from PIL import Image
from playwright.sync_api import Browser, Page, ViewportSize, expect

from tests.open_data import open_data

pytestmark = pytest.mark.browser
LEVEL = 10.4
SIZE: ViewportSize = {"width": 1000, "height": 700}


class Quiet(http.server.SimpleHTTPRequestHandler):
    def log_message(self, *_: object) -> None:
        """Say nothing."""


@pytest.fixture(scope="module", params=["EPSG:3857", "EPSG:3035"])
def frame(request: pytest.FixtureRequest) -> Frame:
    return Frame.named(request.param)


@pytest.fixture(scope="module")
def address(frame: Frame, demo: Path, tmp_path_factory: pytest.TempPathFactory) -> Iterator[str]:
    """Where the edition of the demo's sheet stands."""
    folder = tmp_path_factory.mktemp("host")
    sheet = read_sheet(demo / "carbon.sheet.json").model_copy(
        update={"projection": Projection(crs=str(frame.crs.to_string())), "reader": Reader()}
    )
    (demo / "hosted.sheet.json").write_text(sheet.model_dump_json())
    assert main(["publish", str(demo / "hosted.sheet.json"), "--out", str(folder / "map"), "--max-zoom", "11"]) == 0
    (demo / "hosted.sheet.json").unlink()
    site = http.server.ThreadingHTTPServer(("127.0.0.1", 0), partial(Quiet, directory=str(folder)))
    threading.Thread(target=site.serve_forever, daemon=True).start()
    yield f"http://127.0.0.1:{site.server_port}/map/"
    site.shutdown()


@pytest.fixture
def countries(tmp_path: Path) -> Iterator[str]:
    """Where the countries of world-atlas (npm) stand, published in Web Mercator: their world goes round."""
    data, name = open_data("countries", tmp_path)
    (tmp_path / name).write_bytes(data)
    layer = {"id": "a", "name": "Countries", "dataset": name, "symbology": {"kind": "symbols"}, "card": "{{ name }}"}
    (tmp_path / "a.sheet.json").write_text(json.dumps({"title": "Countries", "layers": [layer]}))
    assert main(["publish", str(tmp_path / "a.sheet.json"), "--out", str(tmp_path / "map"), "--max-zoom", "2"]) == 0
    site = http.server.ThreadingHTTPServer(("127.0.0.1", 0), partial(Quiet, directory=str(tmp_path)))
    threading.Thread(target=site.serve_forever, daemon=True).start()
    yield f"http://127.0.0.1:{site.server_port}/map/"
    site.shutdown()


def test_a_country_has_one_card_although_the_world_goes_round(chromium: Browser, countries: str) -> None:
    page = opened(chromium, f"{countries}#2/56/100")
    box = page.locator(".map").bounding_box()
    assert box
    page.mouse.click(box["x"] + box["width"] / 2, box["y"] + box["height"] / 2)
    expect(page.locator(".card .body")).to_have_count(1)
    expect(page.locator(".card .body")).to_have_text("Russia")
    page.context.close()


def opened(chromium: Browser, address: str, size: ViewportSize = SIZE, ratio: float = 1, script: bool = True) -> Page:
    context = chromium.new_context(viewport=size, device_scale_factor=ratio, java_script_enabled=script)
    page = context.new_page()
    page.on("pageerror", lambda error: pytest.fail(str(error)))
    page.goto(address)
    if script:
        page.locator("#reader[data-idle=true]").wait_for(timeout=30_000)
        page.wait_for_timeout(900)
    return page


def test_the_key_stands_where_the_maker_puts_it(chromium: Browser, countries: str, tmp_path: Path) -> None:
    """On either side of the map or below it, never over it; on narrow screens always folded below."""
    written = json.loads((tmp_path / "a.sheet.json").read_text())
    for where, wide in (("left", True), ("below", True), ("right", True), ("left", False), ("below", False)):
        reader = {"key_at": where, "text": "About the countries."}
        (tmp_path / "a.sheet.json").write_text(json.dumps({**written, "reader": reader}))
        out = tmp_path / f"{where}-{wide}"
        assert main(["publish", str(tmp_path / "a.sheet.json"), "--out", str(out), "--max-zoom", "1"]) == 0
        size: ViewportSize = SIZE if wide else {"width": 390, "height": 844}
        page = opened(chromium, countries.replace("/map/", f"/{out.name}/"), size)
        key, sheet, text = (page.locator(name).bounding_box() for name in (".beside", "main.sheet", "aside.text"))
        page.context.close()
        assert key and sheet and text
        right, bottom = sheet["x"] + sheet["width"], sheet["y"] + sheet["height"]
        if not wide or where == "below":
            assert key["y"] >= bottom - 1, where
        elif where == "left":
            assert key["x"] + key["width"] <= sheet["x"] + 1 and text["x"] >= right - 1
        else:
            assert key["x"] >= right - 1 and text["x"] + text["width"] <= sheet["x"] + 1
        assert sheet["height"] > 0.4 * size["height"], "the map stays the largest"


@pytest.mark.parametrize("ratio", [1, 2])
def test_the_page_shows_what_the_painter_paints(
    chromium: Browser, address: str, frame: Frame, demo: Path, ratio: int
) -> None:
    """Between two levels, on plain and fine screens: as crisp as the painter's own picture of that view.

    Allowed: on average 2.1 of 255 levels, 1.5 % of the pixels further apart than 48. The relief is stretched from the next level's
    tiles, which is seen at its steepest slopes; labels are those of the level before, so their contest is that one's too.
    """
    x, y = frame.place(-26.99, 52.03)
    page = opened(chromium, f"{address}#{LEVEL}@{x},{y}", ratio=ratio)
    box = page.locator(".map").bounding_box()
    assert box
    browser = np.asarray(Image.open(io.BytesIO(page.locator(".map").screenshot())).convert("RGB")).astype(int)
    page.context.close()
    composition = compose(read_sheet(demo / "carbon.sheet.json"), beside(demo), frame)
    resolution = frame.grid.resolution(LEVEL)
    seen = View.around(frame, x, y, resolution, round(box["width"]), round(box["height"]))
    view = View(frame, seen.bounds, seen.width * ratio, seen.height * ratio, ratio)
    placement = composition.placement(frame.grid.resolution(int(LEVEL)))
    server = paint(composition, view, placement)[..., :3].astype(int)
    assert browser.shape == server.shape
    apart = np.abs(browser - server).max(axis=2)
    apart[: 70 * ratio, : 50 * ratio] = 0  # the buttons
    apart[-40 * ratio :, -140 * ratio :] = 0  # the scale bar
    assert (server != server[0, 0]).any(axis=2).mean() > 0.1, "there is a map to compare"
    assert apart.mean() < 2.1, apart.mean()
    assert (apart > 48).mean() < 0.015, (apart > 48).mean()


def test_cards_come_with_the_edition(chromium: Browser, address: str) -> None:
    page = opened(chromium, address)
    page.locator(".map").focus()
    page.keyboard.press("n")
    expect(page.locator(".card")).to_be_visible()
    expect(page.locator(".sheet > .spoken[role=status]")).to_contain_text("1 of ")
    first = page.locator(".card").inner_text()
    page.keyboard.press("n")
    expect(page.locator(".card")).not_to_have_text(first, use_inner_text=True)
    page.keyboard.press("p")
    expect(page.locator(".card")).to_have_text(first, use_inner_text=True)
    page.context.close()


def test_without_script_there_is_a_picture_with_key_and_credits(chromium: Browser, address: str) -> None:
    page = opened(chromium, address, script=False)
    picture = page.locator("img.picture")
    expect(picture).to_be_visible()
    expect(page.locator(".key")).to_contain_text("Carbon, t per ha of peat")
    expect(page.locator(".credits")).to_contain_text("Vaskerry Peatland Survey")
    shown = np.asarray(Image.open(io.BytesIO(picture.screenshot())).convert("RGB"))
    assert len(np.unique(shown.reshape(-1, 3), axis=0)) > 1_000, "a map and not a sign for a missing picture"
    page.context.close()


def test_the_whole_map_opens_on_the_smallest_screen(chromium: Browser, address: str) -> None:
    page = opened(chromium, address, {"width": 320, "height": 480})
    box = page.locator(".map").bounding_box()
    assert box and box["width"] == 320 and box["height"] > 200
    shot = np.asarray(Image.open(io.BytesIO(page.locator(".map").screenshot())).convert("RGB")).astype(int)
    ground = np.abs(shot - shot[-8, 8]).max(axis=2) < 6
    assert ground[-6:].mean() > 0.97 and ground[:, -2:].mean() > 0.97, "nothing of the map runs over the edge"
    assert (~ground).mean() > 0.05
    page.context.close()
