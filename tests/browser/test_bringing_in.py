"""Files that are looked at before they are kept, driven as a cartographer would."""

import re
import subprocess
from pathlib import Path

import pytest
from greylatch.rasters.cutting import cut_into
from libpysal import examples
from playwright.sync_api import Page, expect

from tests.browser.conftest import begin_sheet, drawn, kept

XLS = Path(__file__).parents[1] / "core" / "files" / "wells.xls"


@pytest.fixture
def arriving(page: Page) -> Page:
    begin_sheet(page, "What arrives")
    page.get_by_role("tab", name="Bring in a file").click()
    return page


def test_areas_without_a_projection_are_found_on_small_maps_and_drawn(
    arriving: Page, demo: Path, tmp_path: Path
) -> None:
    """Shapes written in a column that say nothing of their system: one press puts them where the other data lie."""
    file = tmp_path / "parishes.csv"
    areas = f"/vsizip/{demo / 'catchments.zip'}"
    subprocess.run(["ogr2ogr", "-f", "CSV", file, areas, "-lco", "GEOMETRY=AS_WKT"], check=True, capture_output=True)
    arriving.get_by_test_id("file").set_input_files(file)
    expect(arriving.get_by_role("alert")).to_contain_text("Choose their projection", timeout=20_000)
    arriving.get_by_role("button", name="Somewhere else?").click()
    arriving.get_by_role("button", name="UTM zone 26N It lies where").click()
    expect(arriving.get_by_role("img", name="Where Parishes would lie")).to_be_visible()
    arriving.get_by_label("Rows that are kept").click()
    arriving.keyboard.type("isles = 'Orrin'")
    expect(arriving.get_by_test_id("condition-answer")).to_have_text("54 of 214 rows")
    arriving.get_by_label("Keep isles").uncheck()
    arriving.get_by_label("Name of name").fill("parish")
    arriving.keyboard.press("Enter")
    arriving.get_by_label("Fewer vertices; shared borders stay shared").check()
    expect(arriving.get_by_text("of 10,592 vertices")).to_be_visible()
    arriving.get_by_role("button", name="Bring in and draw").click()
    expect(arriving.get_by_test_id("job")).to_have_attribute("data-state", "done", timeout=30_000)
    arriving.get_by_role("button", name="To the library").click()
    arriving.get_by_role("button", name="Table of Parishes").first.click()
    heads = arriving.get_by_role("columnheader")
    expect(heads.filter(has_text="parish")).to_be_visible()
    expect(heads.filter(has_text="isles")).to_have_count(0)


def test_parts_of_a_shapefile_come_in_together(arriving: Page) -> None:
    """As libpysal ships them: nobody has to zip them first."""
    main = Path(examples.get_path("columbus.shp"))
    arriving.get_by_test_id("file").set_input_files([main.with_suffix(ending) for ending in (".dbf", ".shp", ".shx")])
    expect(arriving.get_by_role("button", name="columbus.zip")).to_be_visible(timeout=20_000)
    expect(arriving.get_by_label("Keep CRIME")).to_be_checked()
    arriving.get_by_role("button", name="Bring in and draw").click()
    expect(arriving.get_by_test_id("job")).to_have_attribute("data-state", "done", timeout=30_000)
    arriving.get_by_role("button", name="To the library").click()
    kept(arriving)
    # Where nobody has said where the map opens, it opens on all that it shows.
    arriving.reload()
    drawn(arriving)
    arriving.wait_for_function("() => window.sheetMap.getView().getZoom() > 6")


def test_several_files_wait_in_one_list(arriving: Page, demo: Path) -> None:
    arriving.get_by_test_id("file").set_input_files([XLS, demo / "ditches.geojson", demo / "relief.tif"])
    files = arriving.get_by_role("button", name="wells.xls")
    expect(files).to_be_visible(timeout=20_000)
    expect(arriving.get_by_role("button", name="relief.tif")).to_be_visible(timeout=20_000)
    expect(arriving.get_by_role("combobox", name="Read sheet")).to_contain_text("Wells")
    expect(arriving.get_by_role("table", name="Preview")).to_contain_text("007")
    arriving.get_by_label("Row with the names of the columns, 0 for none").fill("5")
    arriving.keyboard.press("Enter")
    expect(arriving.get_by_label("Keep 007")).to_be_visible()
    arriving.get_by_role("button", name="ditches.geojson").click()
    expect(arriving.get_by_role("img", name="Where Ditches would lie")).to_be_visible()
    arriving.get_by_role("button", name="Bring in lines").click()
    expect(arriving.get_by_role("button", name="Next file")).to_be_focused(timeout=30_000)
    arriving.get_by_role("button", name="Next file").click()
    expect(arriving.get_by_role("button", name="ditches.geojson")).to_have_count(0)
    expect(files).to_be_visible()


def test_text_is_pasted(arriving: Page) -> None:
    arriving.get_by_role("button", name="Paste GeoJSON or a table").click()
    box = arriving.get_by_label("GeoJSON or a table as text")
    box.fill('{"type":"Feature","properties":{"name":"Ard"},"geometry":{"type":"Point","coordinates":[-27,52]}')
    arriving.get_by_role("button", name="Look at it").click()
    expect(arriving.get_by_role("alert")).to_contain_text("breaks off or is misspelt at line 1")
    box.fill('{"type":"Feature","properties":{"name":"Ard"},"geometry":{"type":"Point","coordinates":[-27,52]}}')
    arriving.get_by_role("button", name="Look at it").click()
    expect(arriving.get_by_role("table", name="Preview")).to_contain_text("Ard")
    expect(arriving.get_by_role("button", name="Bring in and draw")).to_be_enabled()


def test_a_dataset_is_known_before_it_is_used_or_removed(arriving: Page) -> None:
    arriving.get_by_role("tab", name="Library").click()
    arriving.get_by_label("Search the library").fill("peat")
    expect(arriving.get_by_test_id("dataset").first.get_by_role("textbox").first).to_have_value(re.compile("[Pp]eat"))
    arriving.get_by_label("Search the library").fill("")
    arriving.get_by_label("Kind of dataset").select_option("table")
    arriving.get_by_role("button", name="About Returns per catchment").click()
    dialog = arriving.get_by_role("dialog")
    expect(dialog).to_contain_text("joined into “Catchments with returns”")
    expect(dialog).to_contain_text("drained_percent")
    asked: list[str] = []
    arriving.once("dialog", lambda question: (asked.append(question.message), question.dismiss()))
    dialog.get_by_role("button", name="Remove from the library").click()
    assert "It is joined into" in asked[0]
    dialog.get_by_role("button", name="Done").click()
    expect(arriving.get_by_role("button", name="About Returns per catchment")).to_be_visible()


def test_parts_of_a_raster_come_in_as_one(arriving: Page, demo: Path, tmp_path: Path) -> None:
    cut_into(demo / "relief.tif", tmp_path / "parts", columns=2, rows=1)
    arriving.get_by_test_id("file").set_input_files(sorted((tmp_path / "parts").glob("*.tif")))
    arriving.get_by_role("button", name="The 2 rasters as one").click()
    expect(arriving.get_by_role("button", name="and 1 more")).to_be_visible()
    arriving.get_by_role("button", name="Bring in and draw").click()
    expect(arriving.get_by_test_id("job")).to_have_attribute("data-state", "done", timeout=30_000)
    arriving.get_by_role("button", name="To the library").click()
    expect(arriving.get_by_test_id("dataset").first).to_contain_text("raster")


def test_encodings_are_compared_on_the_rows_that_differ(arriving: Page, tmp_path: Path) -> None:
    file = tmp_path / "old.csv"
    file.write_bytes("name,v\nH\xf6he,1\nArd,2\n".encode("mac_roman"))
    arriving.get_by_test_id("file").set_input_files(file)
    arriving.get_by_role("button", name="Compare encodings").click()
    arriving.get_by_role("button", name="mac_roman").click()
    expect(arriving.get_by_role("table", name="Preview")).to_contain_text("Höhe")
    expect(arriving.get_by_role("combobox", name="Encoding")).to_contain_text("mac_roman")
