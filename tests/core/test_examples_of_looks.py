"""Every example in docs/examples is drawn, and shows something on most of the islands."""

import gzip
import json
from pathlib import Path
from xml.etree import ElementTree

import numpy as np
import pytest
from greylatch.cli.draw import beside
from greylatch.cli.main import main
from greylatch.edition.earlier import carried_forward
from greylatch.edition.plan import plan_edition
from greylatch.edition.publish import publish
from greylatch.paint.key import layer_key
from greylatch.paint.key_picture import key_pixels, key_svg
from greylatch.paint.passes import compose
from greylatch.paint.picture import paint
from greylatch.places.view import View
from greylatch.sheet.reading import parse_sheet, read_sheet
from greylatch.symbols.swatch import swatch_svg

EXAMPLES = sorted((Path(__file__).parents[2] / "docs" / "examples").glob("*.sheet.json"))


@pytest.mark.parametrize("example", EXAMPLES, ids=lambda path: path.name.split(".")[0])
def test_it_is_drawn_with_its_key(example: Path, demo: Path) -> None:
    sheet = read_sheet(example)
    assert parse_sheet(json.loads(sheet.model_dump_json())) == sheet
    composition = compose(sheet, beside(demo, "EPSG:32626" if "slips.csv" in example.read_text() else None))
    view = View.fitted(composition.frame, composition.bounds, 360, 300)  # type: ignore[arg-type]
    picture = paint(composition, view, ground=False)
    assert 0.01 < (picture[..., 3] > 0).mean() < 0.9
    assert len(np.unique(picture[picture[..., 3] > 250][:, :3], axis=0)) > 1
    keys = [layer_key(pass_) for pass_ in composition.passes]
    assert any(entry.mark for key in keys for entry in key.entries) or any(
        section.ramp for key in keys for section in key.sections
    )
    assert key_pixels(keys).shape[0] > 40
    ElementTree.fromstring(key_svg(keys))
    for key in keys:
        for entry in key.entries:
            if entry.mark:
                ElementTree.fromstring(swatch_svg(entry.mark, key.kind, "a"))


@pytest.mark.parametrize(
    "name", ["slips.sheet", "two-way.sheet", "heat.sheet", "groups.sheet", "contours.sheet", "rounds.sheet"]
)
def test_it_is_published(name: str, demo: Path, tmp_path: Path) -> None:
    """Found by hand: layers of the same rows share shapes, and what a reading makes of them are other rows."""
    path = next(folder / f"{name}.json" for folder in (demo, EXAMPLES[0].parent) if (folder / f"{name}.json").exists())
    sheet = read_sheet(path)
    find = beside(demo, "EPSG:32626" if "slips.csv" in path.read_text() else None)
    publish(plan_edition(sheet, find, max_zoom=8), tmp_path / "edition", 1)
    page = json.loads((tmp_path / "edition" / "edition.json").read_text())
    assert [layer["id"] for layer in page["layers"]] == [layer.id for layer in reversed(sheet.layers)]
    assert {layer["group"] for layer in page["layers"]} - {None} == {group["id"] for group in page["groups"]}
    assert carried_forward(page).model_dump(mode="json") == page
    for part in page["key"]:
        for section in part["sections"]:
            assert section["entries"] or section["ramp"]


def test_the_list_of_symbols(capsys: pytest.CaptureFixture[str]) -> None:
    assert main(["symbols"]) == 0
    listed = json.loads(capsys.readouterr().out)
    kinds = {
        kind: [one["name"] for one in listed if one["kind"] == kind]
        for kind in ("shape", "pattern", "ramp", "blend", "effect")
    }
    assert len(kinds["shape"]) >= 24 and len(kinds["blend"]) == 16
    assert kinds["pattern"] == ["hatch", "cross", "dots"] and kinds["effect"] == ["shadow", "glow", "blur"]


def test_a_published_page_knows_scales_and_what_opens(demo: Path, tmp_path: Path) -> None:
    """The page is told in units of its frame to a px: 1:2,000,000 is 560 m of Web Mercator at 0.28 mm (OGC 17-083r4)."""
    folder = EXAMPLES[0].parent
    for name in ("scales", "clusters"):
        plan = plan_edition(read_sheet(folder / f"{name}.sheet.json"), beside(demo), max_zoom=8)
        publish(plan, tmp_path / name, 1)
    scaled, gathered = (json.loads((tmp_path / name / "edition.json").read_text()) for name in ("scales", "clusters"))
    wells = next(layer for layer in scaled["layers"] if layer["id"] == "wells")
    assert (wells["closest"], wells["farthest"]) == (None, pytest.approx(560))
    header = gzip.decompress((tmp_path / "scales" / wells["ink"]).read_bytes())
    palette = json.loads(header[4 : 4 + int.from_bytes(header[:4], "little")])["palette"]
    assert [mark["farthest"] for mark in palette] == [1_000_000, None]
    opens = {layer["id"]: (layer["opens"], layer["shapes"] is None) for layer in gathered["layers"]}
    assert opens == {"land": (False, False), "wells": (True, True)}
    # What the style of other readers cannot say comes to them as a picture.
    below = json.loads((tmp_path / "scales" / "style.json").read_text())["layers"]
    assert any(layer["type"] == "raster" for layer in below)
