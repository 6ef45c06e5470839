"""What readers ask of a published map, on a host that knows nothing but files: filters, time, distance, search, tools; by hand and by keys."""

import http.server
import itertools
import json
import re
import threading
from collections.abc import Iterator
from functools import partial
from pathlib import Path
from typing import Any, Literal

import pyproj
import pytest
from greylatch.cli.main import main
from playwright.sync_api import Browser, Page, expect

from tests.browser.test_any_static_host import Quiet, opened
from tests.browser.test_for_everybody import AXE, TAGS

pytestmark = pytest.mark.browser
GEOD = pyproj.Geod(ellps="WGS84")
ROWS = [
    # name, kind, depth, from, until, lon, lat
    ("Ard", "bog", 10, "2024-01-05", "2024-03-20", -27.0, 52.0),
    ("Baile", "bog", 20, "2024-02-10", "2024-02-12", -26.98, 52.0),
    ("Corrie", "fen", 30, "2024-02-28", "", -26.9, 52.0),
    ("Dun", "", 40, "2024-06-01", "2024-06-02", -26.8, 52.1),
]
CONTROLS = dict.fromkeys(("full_screen", "locate", "measure", "layers", "ground", "download", "share"), True)
READER = {
    "filters": [
        {"kind": "range", "layer": "a", "field": "depth", "title": "Depth"},
        {"kind": "choices", "layer": "a", "field": "kind", "title": "Kind"},
    ],
    "search": [{"layer": "a", "field": "name"}], "key_switches": True, "near": {"distance": 3, "largest": 100}, "controls": CONTROLS,
    "time": {"layer": "a", "field": "since", "until": "until", "by": "month", "seconds": 2, "loop": False}, "text": "Made of **rows**.", "look": "either",
}  # fmt: skip


@pytest.fixture(scope="module", params=["EPSG:3857", "EPSG:3035"])
def address(request: pytest.FixtureRequest, tmp_path_factory: pytest.TempPathFactory) -> Iterator[str]:
    """Where a map of four points stands."""
    folder = tmp_path_factory.mktemp("asked")
    lines = ["name,kind,depth,since,until,lon,lat", *(",".join(map(str, row)) for row in ROWS)]
    (folder / "rows.csv").write_text("\n".join(lines) + "\n")
    symbology = {
        "kind": "symbols", "symbol": {"radius": 6},
        "encodings": {"colour": {"by": "category", "field": "kind"}},
    }  # fmt: skip
    layer = {
        "id": "a", "name": "Mires", "dataset": "rows.csv", "symbology": symbology, "card": "### {{ name }}\n\n{{ depth }} cm",
        "lettering": {"field": "name"},
    }  # fmt: skip
    sheet = {"title": "Mires", "layers": [layer], "reader": READER, "projection": {"crs": request.param}}
    (folder / "a.sheet.json").write_text(json.dumps(sheet))
    assert main(["publish", str(folder / "a.sheet.json"), "--out", str(folder / "map"), "--max-zoom", "10"]) == 0
    site = http.server.ThreadingHTTPServer(("127.0.0.1", 0), partial(Quiet, directory=str(folder)))
    threading.Thread(target=site.serve_forever, daemon=True).start()
    yield f"http://127.0.0.1:{site.server_port}/map/"
    site.shutdown()


@pytest.fixture
def page(chromium: Browser, address: str) -> Iterator[Page]:
    page = opened(chromium, address, {"width": 1280, "height": 800})
    yield page
    page.context.close()


def names(page: Page) -> list[str]:
    """What the table of features in view says is shown."""
    tool = page.get_by_role("button", name="Features in view, as a table")
    if tool.get_attribute("aria-pressed") != "true":
        tool.click()
    page.wait_for_timeout(250)
    return page.locator(".panel table th[scope=row]").all_inner_texts()


def test_filters_follow_one_another_and_stand_in_the_address(page: Page, chromium: Browser) -> None:
    assert names(page) == ["Ard", "Baile", "Corrie", "Dun"]
    kinds = page.get_by_role("group", name="Kind")
    expect(kinds.locator("li")).to_have_text(["bog2", "fen1", "not known1"])
    lower = page.get_by_label("Depth, from").last
    lower.fill("20")
    lower.press("Enter")
    expect(page.locator(".strip .taken")).to_have_text("3 of 4 shown")
    expect(kinds.locator("li")).to_have_text(["bog1", "fen1", "not known1"])
    expect(page.locator(".key li").first).to_contain_text("1")
    kinds.get_by_text("bog").click()
    assert names(page) == ["Corrie", "Dun"], "both ends of a range are in it"
    page.locator(".key").get_by_role("checkbox", name=re.compile("fen")).uncheck()
    assert names(page) == ["Dun"]
    page.wait_for_timeout(400)
    assert "a.depth=20..40" in page.url and "of.a.kind=fen" in page.url and "off.a=" in page.url
    other = opened(chromium, page.url, {"width": 1280, "height": 800})
    expect(other.locator(".strip .taken")).to_have_text("1 of 4 shown")
    assert names(other) == ["Dun"]
    other.context.close()
    page.get_by_role("button", name="Show all").click()
    assert names(page) == ["Ard", "Baile", "Corrie", "Dun"]


def test_sliders_go_by_keys(page: Page) -> None:
    upper = page.get_by_label("Depth, to").first
    upper.focus()
    for _ in range(11):
        page.keyboard.press("ArrowLeft")
    expect(upper).to_have_attribute("aria-valuetext", "29")
    assert names(page) == ["Ard", "Baile"]
    lower = page.get_by_label("Depth, from").first
    lower.fill("40")
    expect(lower).to_have_value("29"), "the ends do not pass one another"
    expect(page.locator(".strip .taken")).to_have_text("Nothing is so. Choose less.")


def test_time_goes_by_months_and_what_lasts_stays(page: Page) -> None:
    when = page.get_by_label("When")
    assert when.get_attribute("max") == "5", "January to June"
    forward = page.get_by_role("button", name="One step forward")
    forward.click()
    expect(page.locator(".when")).to_have_text("February 2024")
    assert names(page) == ["Ard", "Baile", "Corrie"]
    forward.click()
    assert names(page) == ["Ard", "Corrie"]
    page.wait_for_timeout(400)
    assert "time=2024-03-01" in page.url
    when.fill("5")
    expect(page.locator(".when")).to_have_text("June 2024")
    assert names(page) == ["Corrie", "Dun"], "what has no end lasts"
    page.get_by_role("button", name="Play", exact=True).click()
    expect(page.locator(".when")).to_have_text("January 2024")
    expect(page.locator(".when")).to_have_text("June 2024", timeout=8_000)
    expect(page.get_by_role("button", name="Play", exact=True)).to_be_visible()
    page.get_by_role("button", name="The whole time").click()
    assert len(names(page)) == 4


def test_what_is_found_is_seen_apart_from_its_neighbours(page: Page) -> None:
    """Found with districts of a city on a map of a continent: the one that was looked for stayed a point among points."""
    for _ in range(3):
        page.get_by_role("button", name="–").or_(page.get_by_role("button", name="−")).first.click()
        page.wait_for_timeout(350)
    page.wait_for_timeout(500)

    def level() -> float:
        return float(re.split("[/@]", page.url.split("#")[1])[0])

    before = level()
    page.get_by_role("combobox").fill("ard")
    page.keyboard.press("Enter")
    expect(page.locator(".card")).to_contain_text("10 cm")
    page.wait_for_timeout(900)
    closer = level()
    assert closer > before
    page.get_by_role("combobox").fill("corr")
    page.keyboard.press("Enter")
    page.wait_for_timeout(900)
    assert level() >= closer, "never further away"


def test_what_is_near_is_measured_on_the_ground(page: Page) -> None:
    page.get_by_role("combobox").fill("ard")
    page.keyboard.press("Enter")
    expect(page.locator(".card")).to_contain_text("10 cm")
    ring = page.evaluate("document.querySelectorAll('.sheet-highlight').length")
    assert ring > 0
    page.get_by_role("button", name="What is near a place").click()
    here = page.evaluate("new URL(location.href).hash")
    assert here
    # Where Ard stands on screen: the table leads there, and it comes to the middle only where it is not seen.
    box = page.locator(".map").bounding_box()
    assert box
    page.mouse.click(box["x"] + box["width"] / 2, box["y"] + box["height"] / 2)
    expect(page.locator(".panel .taken")).to_contain_text("within 3 km")
    page.wait_for_timeout(500)
    lon, lat, metres = map(float, re.search(r"near=([^&]+)", page.url).group(1).replace("%2C", ",").split(","))  # type: ignore[union-attr]
    assert metres == 3_000
    typed = page.locator(".panel input[type=number]")
    typed.fill("60")
    typed.press("Enter")
    expect(page.locator(".panel .near li")).to_have_count(4)
    for line in page.locator(".panel .near li").all():
        name, said = line.get_by_role("button").inner_text(), line.locator(".many").inner_text()
        row = next(row for row in ROWS if row[0] == name)
        _, _, true = GEOD.inv(lon, lat, row[5], row[6])
        assert abs(true / 1000 - float(said.removesuffix(" km"))) < 0.06, (name, said)
    page.get_by_role("combobox").fill("corr")
    page.keyboard.press("Enter")
    # What is found is asked from.
    page.wait_for_function(
        """() => {
            const [lon, lat] = (/near=([^&]+)/.exec(decodeURIComponent(location.hash))?.[1] ?? '').split(',').map(Number);
            return Math.abs(lon + 26.9) < 1e-3 && Math.abs(lat - 52) < 1e-3;
        }"""
    )
    # Where nothing is as near as that, the nearest is told and nothing goes off the map.
    page.mouse.click(box["x"] + box["width"] * 0.55, box["y"] + box["height"] * 0.97)
    typed.fill("0.01")
    page.wait_for_timeout(600)
    expect(typed).to_have_value("0.01"), "what is typed while a place is still on its way stays"
    typed.press("Enter")
    expect(page.locator(".panel .taken")).to_have_text("0 within 0.01 km")
    expect(page.locator(".panel .near li")).to_have_count(1)
    assert len(names(page)) == 4
    page.locator(".panel").get_by_role("button", name="Close").click()
    expect(page.locator(".panel")).to_be_hidden()
    assert len(names(page)) == 4, "what was near is let go"
    assert "near" not in page.url


def test_tools_measure_list_layers_and_hand_out_files(page: Page) -> None:
    page.get_by_role("button", name="Measure", exact=True).click()
    box = page.locator(".map").bounding_box()
    assert box
    for x, y in ((0.5, 0.5), (0.7, 0.5), (0.7, 0.8)):
        page.mouse.click(box["x"] + x * box["width"], box["y"] + y * box["height"])
        page.wait_for_timeout(350)
    expect(page.locator(".panel .taken")).to_have_text(re.compile(r"^Length [\d.,]+ k?m · Area [\d.,]+ (ha|km²)$"))
    page.get_by_role("button", name="Begin anew").click()
    expect(page.locator(".panel .taken")).to_contain_text("Press places")
    page.get_by_role("button", name="Layers").click()
    page.locator(".panel").get_by_text("Mires").click()
    page.wait_for_timeout(400)
    assert "hidden=a" in page.url
    page.get_by_role("button", name="Take the data along").click()
    assert page.locator(".panel a").count() > 0
    expect(page.locator(".text")).to_have_text("Made of rows.")


@pytest.mark.parametrize("scheme", ["light", "dark"])
@pytest.mark.parametrize("size", [(1280, 800), (390, 844), (1920, 1080)])
def test_the_page_is_for_everybody_at_any_size(
    chromium: Browser, address: str, size: tuple[int, int], scheme: Literal["light", "dark"]
) -> None:
    """axe-core (npm) finds nothing, with panels open and shut, light and dark; nothing lies over anything; motion is off where less is
    asked for."""
    width, height = size
    context = chromium.new_context(
        viewport={"width": width, "height": height}, bypass_csp=True, reduced_motion="reduce", color_scheme=scheme
    )
    page = context.new_page()
    page.goto(address)
    page.locator("#reader[data-idle=true]").wait_for(timeout=30_000)
    expect(page.get_by_role("button", name="Play", exact=True)).to_have_count(0)
    letters = page.evaluate(
        "getComputedStyle(document.body).color.match(/\\d+/g).slice(0, 3).reduce((a, b) => a + +b, 0)"
    )
    assert (letters > 400) == (scheme == "dark")
    page.evaluate(AXE)
    run = (
        "(tags) => axe.run(document, {runOnly: {type: 'tag', values: tags}}).then((told) => told.violations.map("
        "(one) => ({id: one.id, nodes: one.nodes.map((node) => node.html.slice(0, 160))})))"
    )
    for name in (None, "What is near a place", "Features in view, as a table", "Layers", "Take the data along"):
        if name:
            page.get_by_role("button", name=name).click()
            page.wait_for_timeout(300)
        found: list[dict[str, Any]] = page.evaluate(run, TAGS)
        assert found == [], (size, name)
    boxes = [page.locator(part).bounding_box() for part in (".title", ".sheet", ".strip", ".credits")]
    for upper, lower in itertools.pairwise(boxes):
        if upper and lower:
            assert upper["y"] + upper["height"] <= lower["y"] + 0.5
    sheet = page.locator(".sheet").bounding_box()
    assert sheet and sheet["height"] > 0.3 * height
    assert page.evaluate("document.documentElement.scrollWidth") <= width
    for tool in page.locator(".tools > button").all():
        box = tool.bounding_box()
        assert box and box["x"] >= 0 and box["x"] + box["width"] <= width
    context.close()


def test_the_page_around_a_frame_hears_what_readers_do(chromium: Browser, address: str, tmp_path: Path) -> None:
    host = tmp_path / "host.html"
    host.write_text(
        f'<script>window.heard = []; addEventListener("message", (e) => heard.push(e.data))</script><iframe src="{address}" '
        'width="900" height="700"></iframe>'
    )
    context = chromium.new_context(viewport={"width": 1000, "height": 800})
    page = context.new_page()
    page.goto(host.as_uri())
    frame = page.frame_locator("iframe")
    frame.locator("#reader[data-idle=true]").wait_for(timeout=30_000)
    frame.get_by_role("combobox").fill("corrie")
    frame.get_by_role("combobox").press("Enter")
    frame.get_by_role("group", name="Kind").get_by_text("bog").click()
    page.wait_for_function("heard.some((each) => each.kind === 'filtered' && each.shown === 2)")
    heard = page.evaluate("heard")
    assert all(each["source"] == "map" for each in heard)
    assert heard[0]["kind"] == "ready" and heard[0]["title"] == "Mires"
    # Its address without what is seen there, and what is chosen with it.
    assert heard[0]["edition"] == address.rpartition("/")[0] + "/"
    assert all("of.a.kind=" in each["address"] for each in heard if each["kind"] == "filtered")
    assert {"source": "map", "kind": "chosen", "features": [{"layer": "a", "fid": 2}]} in heard
    context.close()
