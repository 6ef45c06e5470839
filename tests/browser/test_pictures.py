"""Pictures attached to rows: to the chosen one, dropped onto another, many by name; with their credit in the card."""

import base64
from pathlib import Path

import pytest
from playwright.sync_api import Page, expect

from tests.browser.conftest import begin_sheet, drawn, open_sheet, stage
from tests.core.test_attached import jpeg

pytestmark = pytest.mark.browser

DROP = """(target, [name, data]) => {
  const bytes = Uint8Array.from(atob(data), (c) => c.charCodeAt(0))
  const transfer = new DataTransfer()
  transfer.items.add(new File([bytes], name, { type: 'image/jpeg' }))
  const { left, top, width, height } = target.getBoundingClientRect()
  const at = { clientX: left + width / 2, clientY: top + height / 2, dataTransfer: transfer, bubbles: true, cancelable: true }
  target.dispatchEvent(new DragEvent('dragover', at))
  target.dispatchEvent(new DragEvent('drop', at))
}"""


def test_pictures_of_rows(page: Page, tmp_path: Path) -> None:
    open_sheet(page, "Carbon in the peat")
    page.get_by_test_id("key-carbon").click(position={"x": 200, "y": 6})
    stage(page, "Gather")
    page.get_by_role("tablist", name="Gather").get_by_role("tab", name="Table").click()
    page.get_by_role("button", name="Pictures", exact=True).click()
    beside = page.get_by_role("group", name="Pictures")
    expect(beside).to_contain_text("No row has a picture yet.")
    rows = page.get_by_role("grid").get_by_role("row")
    rows.filter(has_text="VK003").first.click()
    file = tmp_path / "anything.jpg"
    file.write_bytes(jpeg())
    with page.expect_file_chooser() as chooser:
        beside.get_by_role("button", name="To row 3").click()
    chooser.value.set_files(file)
    expect(beside.get_by_role("img", name="Picture of row 3")).to_be_visible()
    beside.get_by_label("Whose it is").fill("Isla Orr")
    beside.get_by_label("Whose it is").press("Enter")
    rows.filter(has_text="VK005").first.evaluate(DROP, ["other.jpg", base64.b64encode(jpeg((300, 300))).decode()])
    expect(beside.get_by_role("img", name="Picture of row 5")).to_be_visible()
    expect(page.get_by_role("button", name="Doubts").first).to_be_visible()
    named, wrong = tmp_path / "vk007.jpg", tmp_path / "nobody.jpg"
    named.write_bytes(jpeg((320, 200)))
    wrong.write_bytes(jpeg((310, 200)))
    beside.get_by_label("Field that the files are named by").select_option("code")
    with page.expect_file_chooser() as chooser:
        beside.get_by_role("button", name="Many, by name").click()
    chooser.value.set_files([named, wrong])
    expect(beside.get_by_role("alert")).to_have_text("nobody.jpg: No row's code is 'nobody'.")
    expect(beside.get_by_role("button", name="Row 7")).to_be_visible()
    beside.get_by_role("button", name="Row 3").click()
    stage(page, "Explain")
    expect(page.get_by_text("Picture: Isla Orr")).to_be_visible()
    # Others of these tests count the doubts of this dataset.
    stage(page, "Gather")
    page.get_by_role("button", name="Pictures", exact=True).click()
    for row in (3, 5, 7):
        rows.filter(has_text=f"VK00{row}").first.click()
        beside.get_by_role("button", name="Take it away").click()
        expect(beside).to_contain_text(f"Row {row} has no picture.")


def test_dropped_onto_a_feature_of_the_map(page: Page) -> None:
    begin_sheet(page, "Dropped")
    stage(page, "Gather")
    page.get_by_role("button", name="Draw Catchments", exact=True).click()
    drawn(page)
    stage(page, "Draw")
    view = page.locator("[data-testid=map] .ol-viewport")
    data = base64.b64encode(jpeg((280, 200))).decode()
    box = page.evaluate("""() => {
        const map = window.sheetMap
        const [w, h] = map.getSize()
        for (let x = 40; x < w; x += 30)
          for (let y = 40; y < h; y += 30) {
            const hit = map.forEachFeatureAtPixel([x, y], (shape, on) => (on && on.get('layerId') ? shape.getId() : null))
            if (hit !== undefined && hit !== null) return [x, y, hit]
          }
        return null
    }""")
    assert box is not None
    view.evaluate(
        """(target, [x, y, data]) => {
          const bytes = Uint8Array.from(atob(data), (c) => c.charCodeAt(0))
          const transfer = new DataTransfer()
          transfer.items.add(new File([bytes], 'a.jpg', { type: 'image/jpeg' }))
          const { left, top } = target.getBoundingClientRect()
          const at = { clientX: left + x, clientY: top + y, dataTransfer: transfer, bubbles: true, cancelable: true }
          target.dispatchEvent(new DragEvent('dragover', at))
          target.dispatchEvent(new DragEvent('drop', at))
        }""",
        [box[0], box[1], data],
    )
    stage(page, "Gather")
    page.get_by_role("tablist", name="Gather").get_by_role("tab", name="Table").click()
    page.get_by_role("button", name="Pictures", exact=True).click()
    expect(
        page.get_by_role("group", name="Pictures").get_by_role("img", name=f"Picture of row {box[2] + 1}")
    ).to_be_visible()
    page.get_by_role("group", name="Pictures").get_by_role("button", name="Take it away").click()
    expect(page.get_by_role("group", name="Pictures")).to_contain_text("has no picture.")
