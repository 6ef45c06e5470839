"""Usable by everyone: axe-core (npm) on every screen, and the keyboard alone (WCAG 2.2)."""

import re
from collections.abc import Iterator
from typing import Any

import pytest
from playwright.sync_api import Browser, Page, expect

from tests.browser.conftest import ROOT, Application, begin_sheet, drawn, kept, open_sheet, publish, sign_in, stage

pytestmark = pytest.mark.browser
AXE = (ROOT / "web" / "node_modules" / "axe-core" / "axe.min.js").read_text("utf-8")
TAGS = ["wcag2a", "wcag2aa", "wcag21a", "wcag21aa", "wcag22aa", "best-practice"]
STAGES = ("Gather", "Classify", "Draw", "Letter", "Explain", "Proof", "Publish")


def check(page: Page, where: str) -> None:
    """Fail with what axe-core finds on the page as it stands."""
    page.wait_for_timeout(350)  # what fades in has its colours then
    if not page.evaluate("'axe' in window"):
        page.evaluate(AXE)
    for waited in (0, 1_500):
        page.wait_for_timeout(waited)  # on a busy machine things fade longer
        found: list[dict[str, Any]] = page.evaluate(
            "(tags) => axe.run(document, {runOnly: {type: 'tag', values: tags}}).then((told) => told.violations.map("
            "(one) => ({id: one.id, nodes: one.nodes.map((node) => node.html.slice(0, 160))})))",
            TAGS,
        )
        if not found:
            return
    assert found == [], where


@pytest.fixture
def screens(chromium: Browser, application: Application) -> Iterator[Page]:
    """A page whose policy lets the checker in."""
    context = chromium.new_context(
        viewport={"width": 1280, "height": 800}, base_url=application.address, bypass_csp=True
    )
    context.set_default_timeout(12_000)
    yield context.new_page()
    context.close()


@pytest.mark.parametrize("theme", ["light", "graphite"])
def test_every_screen_and_dialog(screens: Page, theme: str) -> None:
    page = screens
    page.add_init_script(f"localStorage.setItem('theme', '{theme}')")
    page.goto("/")
    page.get_by_label("Name").wait_for()
    check(page, "sign-in")
    sign_in(page)
    check(page, "sheets")
    page.get_by_role("button", name="Account of isla").click()
    check(page, "account menu")
    page.get_by_role("menuitem", name="Change my password").click()
    check(page, "change of password")
    page.get_by_role("button", name="Close").click()
    page.get_by_role("button", name="Share Carbon in the peat").click()
    check(page, "sharing")
    page.get_by_role("button", name="Done").click()
    page.get_by_role("link", name="People").click()
    page.get_by_role("button", name="Make a link to invite a").click()
    page.get_by_role("status").wait_for()
    check(page, "people")
    page.get_by_role("link", name="Sheets").click()
    open_sheet(page, "Carbon in the peat")
    page.get_by_test_id("key-carbon").click(position={"x": 200, "y": 6})
    for name in STAGES:
        stage(page, name)
        check(page, name)
    stage(page, "Gather")
    for part in ("Bring in a file", "Join", "Table"):
        page.get_by_role("tablist", name="Gather").get_by_role("tab", name=part).click()
        page.wait_for_timeout(500)
        check(page, part)
    page.get_by_role("gridcell").nth(3).dblclick()
    page.keyboard.type("no number")
    page.keyboard.press("Enter")
    expect(page.get_by_role("alert").filter(has_text="is not a number")).to_be_visible()
    check(page, "a cell with a mistake")
    page.keyboard.press("Escape")
    for name in ("Fields", "History"):
        page.get_by_role("button", name=name, exact=True).click()
        expect(page.get_by_role("dialog")).to_contain_text("Catchments with returns")
        check(page, name)
        page.get_by_role("button", name="Done").click()
    page.get_by_role("button", name="New delivery").click()
    check(page, "new delivery")
    page.get_by_role("button", name="Back to the table").click()
    page.locator("body").press("?")
    check(page, "list of keys")
    page.keyboard.press("Escape")
    page.get_by_role("button", name="Find").first.click()
    check(page, "finder")
    page.keyboard.press("Escape")
    expect(page.get_by_role("dialog")).to_have_count(0)
    page.get_by_role("button", name=re.compile("^Projection")).click()
    page.get_by_role("img", name="This map in the chosen projection").wait_for(timeout=40_000)
    check(page, "projections that suit")
    page.get_by_label("Search projections").fill("iceland")
    page.get_by_role("list", name="Projections found").wait_for()
    check(page, "projections found")
    page.get_by_role("button", name="Cancel").click()
    page.get_by_test_id("key-relief").click(position={"x": 200, "y": 6})
    stage(page, "Draw")
    check(page, "raster ink")
    begin_sheet(page, "Empty") if page.goto("/") else None
    check(page, "empty sheet")


@pytest.mark.parametrize(("width", "height"), [(1280, 800), (1024, 768), (640, 400)])
def test_nothing_lies_over_anything(screens: Page, width: int, height: int) -> None:
    """1024 × 768, and 1280 × 800 at 200 %: every button of the page can be reached where it stands, and nothing runs out of it."""
    page = screens
    sign_in(page)
    open_sheet(page, "Carbon in the peat")
    page.set_viewport_size({"width": width, "height": height})
    for name in STAGES:
        tab = page.get_by_role("tab", name=name)
        tab.scroll_into_view_if_needed()
        tab.click()
        page.wait_for_timeout(300)
        assert page.evaluate("document.documentElement.scrollWidth") <= width, name
        hidden = page.evaluate(
            """() => [...document.querySelectorAll('button, [role=tab], a[href], select')].filter((one) => {
                 if (one.closest('[aria-hidden=true], [inert]') || one.disabled) return false
                 one.scrollIntoView({block: 'center', inline: 'center'})
                 const box = one.getBoundingClientRect()
                 if (box.width === 0 || getComputedStyle(one).visibility === 'hidden') return false
                 const at = document.elementFromPoint(box.left + box.width / 2, box.top + box.height / 2)
                 return at !== null && !one.contains(at) && !at.contains(one)
               }).map((one) => one.getAttribute('aria-label') || one.textContent)"""
        )
        assert hidden == [], (name, width)


def focused(page: Page) -> str:
    return str(
        page.evaluate(
            "document.activeElement.getAttribute('aria-label') || document.activeElement.textContent || document.activeElement.tagName"
        )
    )


def test_the_course_the_bench_and_the_histogram_by_keyboard(screens: Page) -> None:
    page = screens
    sign_in(page)
    open_sheet(page, "Carbon in the peat")
    page.keyboard.press("Tab")
    assert focused(page) == "To the map"
    page.keyboard.press("Tab")
    page.keyboard.press("Tab")
    page.keyboard.press("Enter")
    assert "Bench" in focused(page)
    page.get_by_role("tab", selected=True).first.focus()
    for key, name in (
        ("Home", "Gather"),
        ("ArrowRight", "Classify"),
        ("ArrowLeft", "Gather"),
        ("ArrowLeft", "Publish"),
        ("End", "Publish"),
        ("ArrowRight", "Gather"),
    ):
        page.keyboard.press(key)
        expect(page.get_by_role("tablist", name="Course").get_by_role("tab", selected=True)).to_contain_text(name)
        assert name in focused(page)
    page.get_by_test_id("key-carbon").click(position={"x": 200, "y": 6})
    stage(page, "Classify")
    handle = page.get_by_test_id("break-1")
    handle.focus()
    assert "Upper limit of class 2 of 6" in (handle.get_attribute("aria-label") or "")
    was = float(handle.get_attribute("aria-valuenow") or 0)
    for key, more in (("ArrowRight", True), ("PageUp", True), ("PageDown", False), ("End", True), ("Home", False)):
        page.keyboard.press(key)
        # The key and the histogram are those of the ink, which is on its way.
        page.wait_for_function(
            "was => Number(document.querySelector('[data-testid=break-1]')?.getAttribute('aria-valuenow') ?? was) !== was",
            arg=was,
        )
        now = float(page.get_by_test_id("break-1").get_attribute("aria-valuenow") or 0)
        assert (now > was) == more, (key, was, now)
        was = now
    for _ in range(8):
        page.get_by_role("button", name="Undo").click()
        if "natural breaks" in page.get_by_test_id("state-line").inner_text():
            break
    expect(page.get_by_test_id("state-line")).to_contain_text("natural breaks")
    kept(page)


def test_focus_stays_where_the_work_is(screens: Page, tmp_path: Any) -> None:
    """After creating, importing and closing, focus is on what comes next and never falls to the body."""
    page = screens
    sign_in(page)
    page.get_by_role("button", name="Begin a sheet").click()
    page.get_by_label("Title of the sheet").wait_for()
    page.wait_for_timeout(400)
    assert page.evaluate("document.activeElement !== document.body")
    (tmp_path / "a.csv").write_text("lon,lat\n-27,52\n-26.9,52.1\n")
    page.get_by_role("tab", name="Bring in a file").click()
    page.get_by_test_id("file").set_input_files(tmp_path / "a.csv")
    page.get_by_role("button", name="Bring in and draw").click()
    expect(page.get_by_role("button", name="To the library")).to_be_focused(timeout=30_000)
    expect(page.get_by_label("Layer A", exact=True)).to_be_visible()
    drawn(page)
    page.get_by_role("button", name="Find").first.click()
    page.keyboard.press("Escape")
    page.wait_for_timeout(400)
    assert page.evaluate("document.activeElement !== document.body")


def test_the_theme_follows_the_system_until_one_is_chosen(screens: Page) -> None:
    page = screens
    ground = "getComputedStyle(document.body).backgroundColor"
    page.emulate_media(color_scheme="light")
    sign_in(page)
    light = page.evaluate(ground)
    page.emulate_media(color_scheme="dark")
    page.wait_for_timeout(300)
    dark = page.evaluate(ground)
    assert light != dark
    page.get_by_role("button", name="Account of isla").click()
    page.get_by_role("menuitem", name="Light theme").click()
    page.reload()
    page.get_by_role("heading", name="Sheets").wait_for()
    assert page.evaluate(ground) == light


def test_less_motion_where_that_is_asked(screens: Page) -> None:
    page = screens
    page.emulate_media(reduced_motion="reduce")
    sign_in(page)
    longest = page.evaluate(
        "Math.max(...[...document.querySelectorAll('*')].map((one) => parseFloat(getComputedStyle(one).transitionDuration)))"
    )
    assert longest < 0.01


def test_the_readers_page_in_any_size_and_by_keyboard(screens: Page) -> None:
    page = screens
    sign_in(page)
    open_sheet(page, "Carbon in the peat")
    publish(page, last_level=9)
    address = page.get_by_test_id("embed-code").inner_text().split('src="')[1].split('"')[0].split("?")[0]
    for width, height in ((300, 200), (320, 568), (480, 320), (640, 420), (1280, 800), (1920, 1080)):
        page.set_viewport_size({"width": width, "height": height})
        page.goto(address)
        page.locator("#reader[data-idle=true]").wait_for(timeout=30_000)
        check(page, f"{width} × {height}")
        boxes = [
            box
            for box in (page.locator(one).bounding_box() for one in (".title", ".sheet", ".beside", ".credits"))
            if box
        ]
        assert len(boxes) == 4
        for i, a in enumerate(boxes):
            assert (
                a["x"] >= 0
                and a["y"] >= 0
                and a["x"] + a["width"] <= width + 0.5
                and a["y"] + a["height"] <= height + 0.5
            )
            for b in boxes[i + 1 :]:
                apart = (
                    a["x"] + a["width"] <= b["x"] + 0.5
                    or b["x"] + b["width"] <= a["x"] + 0.5
                    or a["y"] + a["height"] <= b["y"] + 0.5
                    or b["y"] + b["height"] <= a["y"] + 0.5
                )
                assert apart, (width, a, b)
        assert boxes[1]["height"] >= 60, "the map comes first"
        colours = page.evaluate(
            """() => { const all = [...document.querySelectorAll('.ol-layers canvas')]; const [canvas] = all;
                 const pen = document.createElement('canvas').getContext('2d', {willReadFrequently: true});
                 pen.canvas.width = canvas.width; pen.canvas.height = canvas.height;
                 for (const one of all) pen.drawImage(one, 0, 0);
                 const data = pen.getImageData(0, 0, canvas.width, canvas.height).data;
                 const filled = (x, y) => data[4 * (y * canvas.width + x) + 3] > 0; let edge = 0, any = 0;
                 for (let x = 0; x < canvas.width; x++) edge += filled(x, 0) + filled(x, canvas.height - 1);
                 for (let i = 3; i < data.length; i += 4) any += data[i] > 0;
                 return {edge, any} }"""
        )
        assert colours["any"] > 300, "the map is drawn"
        assert colours["edge"] == 0, "and whole: nothing of it runs over the edge at first"
    page.set_viewport_size({"width": 900, "height": 600})
    page.goto(address)
    page.locator("#reader[data-idle=true]").wait_for(timeout=30_000)
    page.locator(".map").focus()
    page.keyboard.press("n")
    card = page.locator(".card")
    expect(card).to_be_visible()
    expect(page.locator(".sheet > .spoken[role=status]")).to_contain_text(re.compile(r"^1 of \d+: "))
    first = card.inner_text()
    page.keyboard.press("n")
    expect(page.locator(".sheet > .spoken[role=status]")).to_contain_text(re.compile(r"^2 of \d+: "))
    page.keyboard.press("p")
    expect(card).to_have_text(first, use_inner_text=True)
    check(page, "card")
    page.keyboard.press("Enter")
    expect(page.get_by_role("button", name="Close the card")).to_be_focused()
    page.keyboard.press("Escape")
    expect(card).to_be_hidden()
    expect(page.locator(".map")).to_be_focused()
    before = page.evaluate("document.querySelector('.ol-scale-line-inner').textContent")
    page.keyboard.press("+")
    page.wait_for_timeout(700)
    assert page.evaluate("document.querySelector('.ol-scale-line-inner').textContent") != before
    table = page.get_by_role("button", name="Features in view, as a table")
    table.press("Enter")
    expect(page.locator(".panel")).to_be_visible()
    table.press("Escape")
    expect(page.locator(".panel")).to_be_hidden()
    page.emulate_media(media="print")
    for pressed in (".tools", ".ol-zoom"):
        expect(page.locator(pressed)).to_be_hidden()
    for shown in (".map", ".key ul >> nth=0", ".credits"):
        expect(page.locator(shown)).to_be_visible()
