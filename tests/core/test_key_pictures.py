"""The key by itself: what it says as JSON, how it looks as PNG, and an SVG that other programs read (ElementTree is the referee)."""

from __future__ import annotations

import io
import json
import xml.etree.ElementTree as ET
from dataclasses import replace
from pathlib import Path
from typing import Any

import numpy as np
import pytest
from greylatch.cli.draw import beside
from greylatch.cli.main import main
from greylatch.edition.description import PublicEntry, PublicKey, PublicSection
from greylatch.edition.key_html import key_html
from greylatch.paint.key import LayerKey, sheet_key
from greylatch.paint.key_picture import key_pixels, key_svg
from greylatch.paint.passes import compose
from greylatch.sheet.document import Sheet
from greylatch.sheet.layers import Group
from greylatch.sheet.reading import read_sheet
from greylatch.symbols.marks import Mark
from greylatch.symbols.nested import are_nestable, nested_circles
from PIL import Image

SVG = "{http://www.w3.org/2000/svg}"


def key_of(demo: Path, out: Path, sheet: Path | None = None) -> bytes:
    assert main(["key", str(sheet or demo / "carbon.sheet.json"), "--out", str(out)]) == 0
    return out.read_bytes()


def test_json_says_what_readers_see(demo: Path, tmp_path: Path) -> None:
    layers = json.loads(key_of(demo, tmp_path / "key.json"))
    assert [layer["layer"] for layer in layers] == ["wells", "carbon"]
    carbon = layers[1]
    assert list(carbon["entries"][0]) == ["id", "text", "count", "colour"]
    assert carbon["entries"][-1]["text"] == "no data"
    assert sum(entry["count"] for entry in carbon["entries"]) == 214
    assert len({entry["id"] for entry in carbon["entries"]}) == len(carbon["entries"])


def test_png_shows_every_colour_of_the_key(demo: Path, tmp_path: Path) -> None:
    layers = json.loads(key_of(demo, tmp_path / "key.json"))
    picture = np.asarray(Image.open(io.BytesIO(key_of(demo, tmp_path / "key.png"))).convert("RGB"))
    there = {tuple(pixel) for pixel in picture.reshape(-1, 3).tolist()}
    for entry in layers[1]["entries"]:
        assert tuple(bytes.fromhex(entry["colour"][1:])) in there, entry
    assert tuple(picture[0, 0]) == (255, 255, 255)


def test_svg_keeps_texts_as_texts(demo: Path, tmp_path: Path) -> None:
    layers = json.loads(key_of(demo, tmp_path / "key.json"))
    root = ET.fromstring(key_of(demo, tmp_path / "key.svg"))
    texts = ["".join(text.itertext()).strip() for text in root.iter(f"{SVG}text")]
    for layer in layers:
        assert layer["title"] in texts
        assert {entry["text"] for entry in layer["entries"]} <= set(texts)
    width, height = float(root.get("width", 0)), float(root.get("height", 0))
    with Image.open(io.BytesIO(key_of(demo, tmp_path / "key.png"))) as picture:
        assert picture.size == (2 * width, 2 * height)


def test_samples_of_any_size_and_ramps_have_room(demo: Path, tmp_path: Path) -> None:
    layers = [
        {"id": "w", "name": "Water", "dataset": str(demo / "dip_wells.csv"), "symbology": {"kind": "proportional", "field": "water_table_cm"}},
        {"id": "r", "name": "Height", "dataset": str(demo / "relief.tif"), "symbology": {"kind": "raster-ramp"}},
    ]  # fmt: skip
    sheet = tmp_path / "a.sheet.json"
    sheet.write_text(json.dumps({"version": 2, "title": "A", "layers": layers}))
    told = json.loads(key_of(demo, tmp_path / "key.json", sheet))
    assert told[1]["ramp"]["low"] < told[1]["ramp"]["high"]
    root = ET.fromstring(key_of(demo, tmp_path / "key.svg", sheet))
    width = float(root.get("width", 0))
    circles = [(float(each.get("cx", 0)), float(each.get("rx", 0))) for each in root.iter(f"{SVG}ellipse")]
    assert len(circles) >= 3 and all(x - r > 0 and x + r < width for x, r in circles)
    # A number ends where its text does: x lists the place of every letter.
    assert all(float(text.get("x", "0").rstrip(", ").split(",")[-1]) < width for text in root.iter(f"{SVG}text"))


@pytest.mark.parametrize("name", ["key.pdf", "key"])
def test_other_formats_are_refused(demo: Path, tmp_path: Path, name: str, capsys: pytest.CaptureFixture[str]) -> None:
    assert main(["key", str(demo / "carbon.sheet.json"), "--out", str(tmp_path / name)]) == 2
    assert "A key is written as .svg, .png or .json" in capsys.readouterr().err


def test_entries_stand_in_the_order_and_columns_of_their_maker(demo: Path) -> None:
    """Ladders turned round, entries put first by hand, groups named once, columns filled one after the other."""
    sheet = read_sheet(demo / "carbon.sheet.json")
    group = Group(id="g", name="Peat and water", heading=True)
    layers = [
        each.model_copy(update={"group": "g"}) if each.id in ("wells", "carbon") else each for each in sheet.layers
    ]
    grouped = sheet.model_copy(update={"groups": [group], "layers": layers})

    def keys(**words: Any) -> list[LayerKey]:
        with_words = [
            each.model_copy(update={"key": each.key.model_copy(update=words)}) if each.id == "carbon" else each
            for each in grouped.layers
        ]
        return sheet_key(compose(grouped.model_copy(update={"layers": with_words}), beside(demo)))

    def of(all_keys: list[LayerKey]) -> LayerKey:
        return next(key for key in all_keys if key.layer == "carbon")

    usual = [entry.id for entry in of(keys()).entries]
    assert [key.group for key in keys() if key.layer in ("wells", "carbon")] == ["Peat and water", ""]
    assert [entry.id for entry in of(keys(low_first=True)).entries] == [*usual[:-1][::-1], usual[-1]]
    put_first = [usual[2], usual[-1]]
    assert [entry.id for entry in of(keys(order=put_first)).entries] == [*put_first, usual[0], usual[1], *usual[3:-1]]
    one, two = key_pixels([of(keys())]), key_pixels([of(keys(columns=2))])
    assert two.shape[0] < one.shape[0] and two.shape[1] > one.shape[1]
    assert key_svg([of(keys(columns=2))]).count(b"<text") == key_svg([of(keys())]).count(b"<text")


@pytest.fixture
def nested(demo: Path) -> list[LayerKey]:
    """The key of an example with its circles in one another."""
    sheet = read_sheet(Path(__file__).parents[2] / "docs" / "examples" / "centres.sheet.json")
    return sheet_key(compose(sheet, beside(demo)))


def test_circles_in_one_another_stand_on_one_line_the_largest_first(nested: list[LayerKey]) -> None:
    """By hand from the published SVG: each circle's lowest point is the same, and each has its words in a row of its own."""
    section = nested[0].sections[0]
    assert section.nested
    radii = [entry.mark.radius for entry in section.entries if entry.mark]
    assert radii == sorted(radii, reverse=True) and len(set(radii)) == 3
    public = PublicSection(
        heading="", entries=[PublicEntry(id=e.id, text=e.text, mark=e.mark) for e in section.entries if e.mark],
        ramp=[], ends=[], square=None, nested=True,
    )  # fmt: skip
    key = PublicKey(layer="a", title="Carbon", unit="t", kind="points", sections=[public], columns=1, group="")
    root = ET.fromstring(key_html([key]).replace(" open>", ">"))
    filled = [circle for circle in root.iter("circle") if circle.get("fill") != "none"]
    assert [float(circle.get("r", 0)) for circle in filled] == pytest.approx(radii, rel=1e-4)
    lowest = [float(circle.get("cy", 0)) + float(circle.get("r", 0)) for circle in filled]
    assert lowest == pytest.approx([lowest[0]] * 3, rel=1e-4)
    assert ["".join(item.itertext()) for item in root.iter("li")] == [
        entry.text for entry in section.entries if entry.mark
    ]


def test_nested_circles_keep_their_words_in_both_pictures(nested: list[LayerKey]) -> None:
    root = ET.fromstring(key_svg(nested))
    texts = ["".join(text.itertext()).strip() for text in root.iter(f"{SVG}text")]
    assert {entry.text for entry in nested[0].sections[0].entries if entry.mark} <= set(texts)
    assert key_pixels(nested).shape[1] > 100


def test_only_circles_of_several_sizes_are_nested() -> None:
    circles = [Mark("#336699", 1.0, radius=radius) for radius in (3.0, 9.0)]
    assert are_nestable(circles) and not are_nestable(circles[:1])
    assert not are_nestable([*circles, replace(circles[0], path="M0 0h1v1z", radius=5.0)])
    tall = nested_circles(circles[::-1], 40.0)
    # Words that take more room than the circles: these stand in their middle.
    assert tall.height == 80 and tall.centres[0][1] == 40


def test_units_are_said_of_rasters_and_of_surfaces(demo: Path) -> None:
    """What the maker wrote there stood in the editor, and was dropped from every key that readers saw."""

    def unit(dataset: str, symbology: dict[str, object], key: dict[str, object]) -> str:
        layer = {"id": "l", "name": "L", "dataset": dataset, "symbology": symbology, "key": key}
        sheet = Sheet.model_validate({"version": 4, "title": "A", "layers": [layer]})
        return sheet_key(compose(sheet, beside(demo)))[0].unit

    assert unit("relief.tif", {"kind": "slope"}, {}) == "degrees"
    assert unit("relief.tif", {"kind": "slope"}, {"unit": "steep"}) == "steep"
    assert unit("relief.tif", {"kind": "raster-ramp"}, {}) == ""
    assert unit("relief.tif", {"kind": "raster-ramp"}, {"unit": "m above the sea"}) == "m above the sea"
    assert unit("dip_wells.csv", {"kind": "heat"}, {"unit": "wells about"}) == "wells about"
