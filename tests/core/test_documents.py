"""Sheets read from files, published styles, tables as they come."""

import json
from dataclasses import replace
from pathlib import Path

import numpy as np
import pyarrow as pa
import pytest
import shapely
from greylatch.classes.distribution import distribution
from greylatch.errors import BadInput
from greylatch.formats.files import read_file
from greylatch.lettering.anchors import anchors_of
from greylatch.lettering.asked import ToLetter
from greylatch.lettering.place import place
from greylatch.lettering.type import TextStyle
from greylatch.paint.key import layer_key
from greylatch.paint.passes import compose, pass_of
from greylatch.paint.sources import RasterSource, VectorSource
from greylatch.places.crs import LONLAT, WEB_MERCATOR
from greylatch.places.join import match
from greylatch.sheet.document import Sheet
from greylatch.sheet.grounds import with_ground
from greylatch.sheet.layers import Layer
from greylatch.sheet.lettering import LabelLine, Lettering
from greylatch.sheet.parts import Classing, RampChoice, Stroke
from greylatch.sheet.reading import parse_sheet, read_sheet
from greylatch.symbols.ink import ink
from greylatch.tables.dataset import Dataset, field_type, kind_of, numbers, text_of
from greylatch.tables.delimited import guess_delimiter, guess_encoding
from greylatch.tiles.archive import ArchiveInfo
from greylatch.tiles.style import BELOW, LABELS, VectorLayer, at_home, style_document
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from tests.looks import alike, coloured, proportional, sized

INFO = ArchiveInfo("t", "png", 3, 16, (-1, -1, 1, 1))
DATA = Dataset(pa.table({"v": [1.0, 5, 9]}), "points", shapely.points([[0, 0], [1, 1], [2, 2]]), LONLAT)


def layer(**more: object) -> Layer:
    return Layer.model_validate({"id": "a", "name": "A", "dataset": "d", "symbology": {"kind": "symbols"}, **more})


def test_a_sheet_survives_writing_and_reading(demo: Path, tmp_path: Path) -> None:
    sheet = read_sheet(demo / "carbon.sheet.json")
    (tmp_path / "again.json").write_text(sheet.model_dump_json())
    assert read_sheet(tmp_path / "again.json") == sheet


@pytest.mark.parametrize(
    ("text", "words"),
    [
        ("{", "line 1, column 2"),
        (
            '{"title": "t", "layers": [{"id": "a", "name": "n", "dataset": "d", "symbology": {"kind": "magic"}}]}',
            "layers › 0 › symbology",
        ),
        ('{"title": "t", "view": {"lon": 999}}', "view › lon"),
        ("[]", "the whole document"),
    ],
)
def test_mistakes_in_a_sheet_are_placed(tmp_path: Path, text: str, words: str) -> None:
    (tmp_path / "s.json").write_text(text)
    with pytest.raises(BadInput, match=words):
        read_sheet(tmp_path / "s.json")


def test_a_sheet_that_is_not_there(tmp_path: Path) -> None:
    with pytest.raises(BadInput, match="cannot be read"):
        read_sheet(tmp_path / "gone.json")
    (tmp_path / "b.json").write_bytes(b"\xff\xfe{")
    with pytest.raises(BadInput, match="not UTF-8"):
        read_sheet(tmp_path / "b.json")


def test_hidden_layers_are_not_drawn_and_order_is_from_the_top() -> None:
    source = VectorSource(Dataset(pa.table({"n": [1]}), "points", shapely.points([[0, 0]]), LONLAT))
    sheet = parse_sheet({"title": "t", "layers": [layer(id=i, visible=i != "b").model_dump() for i in "abc"]})
    assert [one.layer.id for one in compose(sheet, lambda *_: source).passes] == ["c", "a"]


def test_symbology_must_suit_the_data(demo: Path) -> None:
    raster = RasterSource(demo / "relief.tif")
    points = VectorSource(Dataset(pa.table({"n": [1]}), "points", shapely.points([[0, 0]]), LONLAT))
    with pytest.raises(BadInput, match="this dataset is a raster"):
        pass_of(layer(), lambda *_: raster)
    with pytest.raises(BadInput, match="draws rasters, and this dataset holds points"):
        pass_of(layer(symbology={"kind": "hillshade"}), lambda *_: points)
    with pytest.raises(BadInput, match="Layer 'A': There is no field 'x'"):
        compose(Sheet(title="t", layers=[layer(lettering={"lines": [{"text": "{x}"}]})]), lambda *_: points)
    with pytest.raises(BadInput, match="no shapes to draw"):
        VectorSource(Dataset(pa.table({"n": [1]}), "table"))


def test_the_key_of_a_raster_ramp_has_its_ends(demo: Path) -> None:
    one = pass_of(
        layer(symbology={"kind": "raster-ramp", "low": 0, "high": 5}), lambda *_: RasterSource(demo / "peat_depth.tif")
    )
    key = layer_key(one)
    assert (key.sections[0].ends, len(key.sections[0].ramp), key.entries) == ((0, 5), 24, [])
    shade = pass_of(layer(symbology={"kind": "hillshade"}), lambda *_: RasterSource(demo / "relief.tif"))
    assert layer_key(shade).sections == []


def test_styles_of_points_lines_and_areas() -> None:
    """Style specification version 8: layer types, sources and expressions."""
    graduated = sized(classing=Classing(field="v", method="equal-interval", classes=2), smallest=2, largest=8)
    made = ink(DATA, graduated)
    points = VectorLayer(layer(id="p", symbology=graduated.model_dump(), opacity=0.5), "points", made.palette, False)
    lines = VectorLayer(layer(id="l", lettering={"lines": [{"text": "{v}"}]}), "lines", made.palette[:1], False)
    areas = VectorLayer(layer(id="a", blend="multiply"), "areas", made.palette[:1], False)
    deepest = replace(INFO, format="pbf", max_zoom=14)
    sources = {one.source: deepest for one in (areas, lines, points)} | {LABELS: deepest}
    style = style_document("T", [areas, lines, points], INFO, sources, "#ffffff")
    assert [one["type"] for one in style["layers"]] == ["background", "fill", "line", "line", "circle", "symbol"]
    assert {one["source"] for one in style["layers"][1:]} <= set(style["sources"])
    circle = style["layers"][-2]["paint"]
    assert circle["circle-radius"] == ["match", ["get", "ink"], 0, 2.0, 1, 8.0, 2.0]
    assert circle["circle-opacity"] == pytest.approx(0.5)
    assert style["layers"][1]["metadata"] == {"blend": "multiply"}
    assert style["sources"]["shapes-p"]["maxzoom"] == 14
    assert "label" in lines.fields and "label" not in points.fields
    assert style["layers"][-1]["filter"] == ["==", ["get", "layer"], "l"]
    assert style_document("T", [lines], INFO, {lines.source: deepest}, None)["layers"][-1]["type"] == "line"


def test_what_a_style_cannot_say_stands_below_as_raster_tiles() -> None:
    areas = VectorLayer(layer(id="a", blend="multiply"), "areas", ink(DATA, alike()).palette, False)
    deepest = replace(INFO, format="pbf", max_zoom=14)
    sources = {BELOW: replace(INFO, tile_size=512), areas.source: deepest}
    style = style_document("T", [areas], replace(INFO, view=(-27.0, 52.0, 9)), sources, None, ["a"])
    assert [one["type"] for one in style["layers"]] == ["raster", "fill", "line"]
    assert style["sources"][BELOW]["tiles"] == ["below/{z}/{x}/{y}@2x.png"]
    assert style["sources"][BELOW]["tileSize"] == 256
    assert style["layers"][1]["paint"]["fill-opacity"] == 0, "ready to be asked, and drawn below"
    assert (style["center"], style["zoom"]) == ([-27.0, 52.0], 8)


def test_styles_at_home_name_whole_addresses() -> None:
    lines = VectorLayer(layer(id="l"), "lines", ink(DATA, alike()).palette, False)
    style = style_document("T", [lines], INFO, {lines.source: replace(INFO, format="pbf")}, None)
    at = at_home(style, "https://maps.example/e/x/1/", "https://maps.example/glyphs/{fontstack}/{range}.pbf")
    assert at["sources"][lines.source]["tiles"] == ["https://maps.example/e/x/1/shapes-l/{z}/{x}/{y}.pbf"]
    assert at["glyphs"].endswith("/{range}.pbf")
    assert style["sources"][lines.source]["tiles"] == ["shapes-l/{z}/{x}/{y}.pbf"], "the style itself stays as it was"
    assert "glyphs" not in style


def test_lines_are_lettered_at_their_middle() -> None:
    lines = shapely.linestrings([[[0, 0], [100, 0]], [[0, 50], [10, 50]]])
    assert anchors_of("lines", lines).tolist() == [[50, 0], [5, 50]]
    placed = place([ToLetter("lines", lines, [["a", "b"]], [TextStyle(12)], 1, True)], 0.5)
    assert {one.text for one in placed.labels} == {"a", "b"}


def test_the_first_layer_wins_the_contest() -> None:
    first, second = (
        ToLetter("lines", shapely.linestrings([[[-9, 0], [9, 0]]]), [[t]], [TextStyle(12)], 1, True)
        for t in ("one", "two")
    )
    placed = place([first, second], 1.0)
    assert [one.text for one in placed.labels] == ["one"]
    assert placed.left_out[1] == [0]


def test_a_long_name_is_set_in_two_lines_where_that_fits() -> None:
    tall = np.array([shapely.box(-40, -40, 40, 40)], dtype=object)
    placed = place([ToLetter("areas", tall, [["Upper Skarawater"]], [TextStyle(12)], 1, True)], 1.0)
    assert [one.text for one in placed.labels] == ["Upper\nSkarawater"]
    first, second = placed.labels[0].pieces
    assert first.dy < second.dy


def test_mixed_json_becomes_text_and_nested_stays_json(tmp_path: Path) -> None:
    features = [
        {"type": "Feature", "properties": {"a": 1, "b": "x", "c": [1, 2], "d": True}, "geometry": {"type": "Point", "coordinates": [0, 0]}},
        {"type": "Feature", "properties": {"a": 2.5, "b": 7, "c": None}, "geometry": None},
    ]  # fmt: skip
    (tmp_path / "a.geojson").write_text(json.dumps({"type": "FeatureCollection", "features": features}))
    found = read_file(tmp_path / "a.geojson")
    assert found.dataset.columns.to_pydict() == {
        "a": [1.0, 2.5],
        "b": ["x", "7"],
        "c": ["[1, 2]", None],
        "d": [True, None],
    }
    assert found.notes == ["1 row without a shape: row 2."]


def test_kinds_of_shapes() -> None:
    assert kind_of(shapely.box([0, 1], [0, 0], [1, 2], [1, 1])) == "areas"
    assert kind_of(shapely.linestrings([[[0, 0], [1, 1]]])) == "lines"
    with pytest.raises(BadInput, match="no shape"):
        kind_of(np.array([shapely.GeometryCollection()], dtype=object))


def test_values_as_people_read_them() -> None:
    assert [text_of(v) for v in (1.5, 1e6, float("nan"), None, True, "x", 0.1 + 0.2)] == [
        "1.5",
        "1000000",
        "",
        "",
        "True",
        "x",
        "0.3",
    ]
    assert field_type(pa.date32()) == "date"
    assert np.isnan(numbers(pa.table({"a": pa.array([None], pa.float64())}), "a")).all()


def test_distribution_of_nothing() -> None:
    empty = distribution(np.array([np.nan, np.inf]))
    assert (empty.n, empty.missing, empty.minimum, empty.counts) == (0, 2, None, [])


# The first text takes seconds on a busy machine: that says nothing of what is tested.
@settings(suppress_health_check=[HealthCheck.too_slow], deadline=None)
@given(
    st.lists(st.lists(st.text("abcxyz123 .", min_size=1, max_size=6), min_size=3, max_size=3), min_size=3, max_size=8),
    st.sampled_from(",;\t|"),
)
def test_delimiters_are_found_in_any_regular_text(rows: list[list[str]], delimiter: str) -> None:
    assert guess_delimiter("\n".join(delimiter.join(row) for row in rows)) == delimiter


@given(
    st.text(st.characters(codec="utf-8", exclude_categories=("Cs",), exclude_characters="\0"), min_size=1, max_size=300)
)
def test_utf_8_is_always_taken_for_utf_8(text: str) -> None:
    assert guess_encoding(text.encode()) in ("utf-8", "utf-8-sig", "utf-16")


@given(st.lists(st.text("abc", max_size=2), max_size=12), st.lists(st.text("abc", max_size=2), max_size=12))
def test_a_match_accounts_for_every_row_and_every_area(areas: list[str], table: list[str]) -> None:
    found = match(areas, table)
    twins = sum(areas.count(key) for key in found.duplicate_keys)
    assert found.matched + len(found.areas_without_row) + twins == len(areas)
    assert all(areas[a] == table[r] for a, r in found.pairs.items())
    assert all(key not in areas for key in found.rows_without_area)


def test_lettering_skips_what_is_not_drawn() -> None:
    data = Dataset(
        pa.table({"v": [1.0, None, 3.0], "n": ["a", "b", "c"]}),
        "points",
        shapely.points([[0, 0], [90, 0], [180, 0]]),
        WEB_MERCATOR,
    )
    symbology = coloured(classing=Classing(field="v", classes=2), no_data=None)
    sheet = Sheet(
        title="t",
        layers=[
            layer(symbology=symbology.model_dump(), lettering=Lettering(lines=[LabelLine(text="{n}")]).model_dump())
        ],
    )
    composition = compose(sheet, lambda *_: VectorSource(data))
    assert {one.text for one in composition.placement(1.0).labels} == {"a", "c"}


def test_grounds_leave_what_else_is_chosen() -> None:
    sheet = Sheet.model_validate(
        {
            "title": "Peat",
            "layers": [{"id": "shade", "name": "Shade", "dataset": "relief.tif", "symbology": {"kind": "hillshade", "azimuth": 90}, "visible": False},
                       {"id": "carbon", "name": "Carbon", "dataset": "catchments", "symbology": {"kind": "symbols"}}],
            "furniture": {"graticule": {"step": 5, "width": 2}, "credits": "Survey"},
        }
    )  # fmt: skip
    dark = with_ground(sheet, "dark")
    assert (dark.furniture.credits, dark.furniture.sea) == ("Survey", None)
    assert dark.furniture.graticule and (dark.furniture.graticule.step, dark.furniture.graticule.width) == (5, 2)
    assert dark.furniture.ground == "#23282d" and dark.layers == sheet.layers
    relief = with_ground(dark, "relief", "depth.tif")
    assert [one.id for one in relief.layers] == ["shade", "carbon", "ground-relief"]
    assert not relief.layers[-1].key.shown
    assert [one.id for one in with_ground(relief, "plain").layers] == ["shade", "carbon"]
    again = with_ground(relief, "relief", "relief.tif")
    assert [(one.id, one.visible) for one in again.layers] == [("carbon", True), ("shade", True)], (
        "the shade that is there"
    )
    with pytest.raises(BadInput, match="raster of heights"):
        with_ground(sheet, "relief")
    picture = with_ground(relief, "picture", "tiles.tif")
    assert [(one.id, one.dataset) for one in picture.layers][-1] == ("ground-picture", "tiles.tif")
    assert picture.layers[-1].symbology.kind == "picture" and not picture.layers[-1].key.shown
    assert [one.id for one in with_ground(picture, "dark").layers] == ["shade", "carbon"]
    with pytest.raises(BadInput, match="raster of colours"):
        with_ground(sheet, "picture")


SECOND = {
    "alike": {"kind": "single", "fill": "#123456", "stroke": {"colour": "#abcdef", "width": 2}},
    "classed": {"kind": "classed", "classing": {"field": "v"}, "ramp": {"name": "peat"}, "fill_opacity": 0.5},
    "graduated": {"kind": "graduated", "classing": {"field": "v"}, "largest": 9, "no_data": None},
    "both": {"kind": "graduated", "classing": {"field": "v", "classes": 2}, "ramp": {"name": "bathos"}},
    "proportional": {"kind": "proportional", "field": "v", "scaling": "flannery"},
    "relief": {"kind": "hillshade"},
}


def test_documents_of_the_second_version_are_carried_forward() -> None:
    """What they left out stood for values of that version: 0.85 of a graduated symbol's fill, a white edge of 0.8 px."""
    layers = [{"id": name, "name": name, "dataset": "d", "symbology": look} for name, look in SECOND.items()]
    sheet = parse_sheet({"version": 2, "title": "T", "layers": layers})
    looks = {one.id: one.symbology for one in sheet.layers}
    assert looks["alike"] == alike(fill="#123456", stroke=Stroke(colour="#abcdef", width=2))
    assert looks["classed"] == coloured({"field": "v"}, ramp=RampChoice(name="peat"), fill_opacity=0.5, stroke=Stroke())
    white = Stroke(colour="#ffffff", width=0.8)
    own = {"stroke": white, "fill": "#3f6f8f", "fill_opacity": 0.85}
    assert looks["graduated"] == sized({"field": "v"}, largest=9, no_data=None, **own)  # type: ignore[arg-type]
    assert looks["both"] == sized({"field": "v", "classes": 2}, ramp=RampChoice(name="bathos"), **own)  # type: ignore[arg-type]
    assert looks["proportional"] == proportional("v", scaling="flannery")
    assert looks["relief"].kind == "hillshade"
    assert parse_sheet(sheet.model_dump(mode="json")) == sheet


def test_what_no_version_has_is_refused_by_its_name() -> None:
    with pytest.raises(BadInput, match="sparkle"):
        parse_sheet(
            {"version": 2, "title": "T", "layers": [{"id": "a", "name": "A", "dataset": "d", "symbology": {"kind": "single", "sparkle": 1}}]}
        )  # fmt: skip


def test_layers_of_a_group_stand_together_and_groups_are_there() -> None:
    def sheet(**more: object) -> Sheet:
        layers = [layer(id=id, group=group).model_dump() for id, group in [("a", "g"), ("b", None), ("c", "g")]]
        return parse_sheet({"version": 3, "title": "T", "layers": layers, **more})

    with pytest.raises(BadInput, match="layer 'a' is in group 'g', which is not there"):
        sheet()
    grouped = sheet(groups=[{"id": "g", "name": "Waters", "visible": False}])
    assert [one.id for one in grouped.layers] == ["a", "c", "b"]
    assert [grouped.shown(one) for one in grouped.layers] == [False, False, True]
    with pytest.raises(BadInput, match="Two layers or groups have the id 'a'"):
        parse_sheet(
            {"version": 3, "title": "T", "layers": [layer().model_dump()], "groups": [{"id": "a", "name": "A"}]}
        )
