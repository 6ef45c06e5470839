"""TopoJSON, unravelled as its specification says. What GDAL's driver (Debian's gdal-bin) makes of open data is the outside reference."""

import json
import subprocess
from pathlib import Path
from typing import Any

import numpy as np
import orjson
import pytest
import shapely
from greylatch.errors import BadFile
from greylatch.formats.corrections import Corrections
from greylatch.formats.files import read_file
from greylatch.formats.kinds import file_kind
from greylatch.formats.preview import preview
from greylatch.formats.topology import Unravelled

OPEN_DATA = Path(__file__).parents[2] / "web" / "node_modules"


def topology(objects: dict[str, Any], arcs: list[Any], path: Path, **more: Any) -> Path:
    path.write_text(json.dumps({"type": "Topology", "objects": objects, "arcs": arcs, **more}))
    return path


def collection(*geometries: dict[str, Any]) -> dict[str, Any]:
    return {"type": "GeometryCollection", "geometries": list(geometries)}


def test_the_specification_s_own_example(tmp_path: Path) -> None:
    """TopoJSON 1.0.0, section 1.1: a topology and the GeoJSON that is the same (written down from memory)."""
    document = {
        "type": "Topology",
        "transform": {"scale": [0.0005000500050005, 0.00010001000100010001], "translate": [100.0, 0.0]},
        "arcs": [
            [[4000, 0], [1999, 9999], [2000, -9999], [2000, 9999]],
            [[0, 0], [0, 9999], [2000, 0], [0, -9999], [-2000, 0]],
        ],
    }
    point = {"type": "Point", "properties": {"prop0": "value0"}, "coordinates": [4000, 5000]}
    line = {"type": "LineString", "properties": {"prop0": "value0", "prop1": 0}, "arcs": [0]}
    area = {"type": "Polygon", "properties": {"prop0": "value0", "prop1": {"this": "that"}}, "arcs": [[1]]}
    unravelled = Unravelled(document)
    mine = shapely.from_geojson(
        [orjson.dumps(unravelled.shape(each), option=orjson.OPT_SERIALIZE_NUMPY) for each in (point, line, area)]
    )
    theirs = shapely.from_wkt(
        ["POINT (102 0.5)", "LINESTRING (102 0, 103 1, 104 0, 105 1)", "POLYGON ((100 0, 100 1, 101 1, 101 0, 100 0))"]
    )
    assert shapely.equals_exact(mine, theirs, 0.001).all()
    path = tmp_path / "example.topojson"
    path.write_text(json.dumps({**document, "objects": {"example": collection(point, line, area)}}))
    read = read_file(path).dataset
    assert read.columns.to_pydict() == {"prop0": ["value0"] * 3, "prop1": [None, "0", '{"this": "that"}']}
    assert [(layer.name, layer.kind, layer.rows) for layer in file_kind(path).layers(path)] == [
        ("example", "shapes", 3)
    ]


@pytest.mark.parametrize(
    ("name", "layer"),
    [
        ("world-atlas/countries-50m.json", "countries"), ("world-atlas/land-110m.json", "land"), ("us-atlas/counties-10m.json", "states"),
        ("us-atlas/counties-10m.json", "nation"),
    ],
)  # fmt: skip
def test_open_data_as_gdal_reads_them(name: str, layer: str, tmp_path: Path) -> None:
    """world-atlas and us-atlas (npm, Natural Earth and the Census Bureau)."""
    path, theirs = OPEN_DATA / name, tmp_path / "theirs.fgb"
    options = ["-f", "FlatGeobuf", "-lco", "SPATIAL_INDEX=NO", "-nlt", "PROMOTE_TO_MULTI"]
    subprocess.run(["ogr2ogr", "-q", *options, theirs, path, layer], check=True, capture_output=True)
    read, reference = read_file(path, layer=layer).dataset, read_file(theirs).dataset
    assert read.shapes is not None and reference.shapes is not None
    assert shapely.equals(read.shapes, reference.shapes).all()
    for field in set(read.columns.column_names) - {"row"}:  # which those get that have none
        assert [*map(str, read.columns[field].to_pylist())] == [*map(str, reference.columns[field].to_pylist())]


def test_arcs_are_followed_in_both_directions_and_holes_stay(tmp_path: Path) -> None:
    """Two areas on both sides of one border, one with a hole; without a transform places are as they stand."""
    arcs = [
        [[4, 0], [4, 4]], [[4, 4], [0, 4], [0, 0], [4, 0]], [[4, 0], [8, 0], [8, 4], [4, 4]], [[1, 1], [1, 2], [2, 2], [1, 1]],
    ]  # fmt: skip
    path = topology(
        {"fields": collection({"type": "Polygon", "arcs": [[0, 1], [3]]}, {"type": "MultiPolygon", "arcs": [[[2, -1]]]})},
        arcs, tmp_path / "fields.topojson",
    )  # fmt: skip
    read = read_file(path).dataset
    assert read.shapes is not None
    assert shapely.area(read.shapes).tolist() == [15.5, 16] and shapely.is_valid(read.shapes).all()
    assert shapely.length(shapely.intersection(*read.shapes)) == 4


def test_what_has_shrunk_to_nothing_is_left_out_and_told(tmp_path: Path) -> None:
    """As simplified topologies have it: rings of three places, lines of one, and rows without a shape."""
    path = topology(
        {
            "isles": collection(
                {"type": "MultiPolygon", "arcs": [[[0]], [[1]]], "id": "a"}, {"type": "Polygon", "arcs": [[1]], "id": "b"},
                {"type": None, "id": "c"},
            ),
            "one": {"type": "LineString", "arcs": [2], "properties": {"name": "Aller"}},
        },
        [[[0, 0], [0, 1], [1, 1], [0, 0]], [[3, 3], [3, 3], [3, 3]], [[0, 0], [1, 1]]],
        tmp_path / "isles.topojson",
    )  # fmt: skip
    read = read_file(path)
    assert read.dataset.shapes is not None
    assert shapely.is_empty(read.dataset.shapes).tolist() == [False, True, True]
    assert read.dataset.columns["id"].to_pylist() == ["a", "b", "c"]
    assert "2 shapes had rings of fewer than 4 places or lines of one, now left out: rows 1, 2." in " ".join(read.notes)
    line = read_file(path, layer="one").dataset
    assert line.kind == "lines" and line.columns["name"].to_pylist() == ["Aller"]


@pytest.mark.parametrize(
    "text",
    [
        '{"type": "Topology", "arcs": [[[1, 2], [3, 4]]], "objects": {"a": %s}}',
        '{"objects": {"a": %s},\n "arcs":\n [ [ [1.0, 2e0],\n\t[3, 4, 5] ] ],\n "type": "Topology"}\n',
        '\ufeff{"type": "Topology", "objects": {"a": %s}, "arcs": [[[1, 2], [3, 4]]], "bbox": [1, 2, NaN, 4]}',
        '{"type": "Topology", "objects": {"a": %s}, "arcs": [[[1, 2], [7, 7]]], "arcs": [[[1, 2], [3, 4]]]}',
    ],
)
def test_a_topology_is_read_however_it_is_written(text: str, tmp_path: Path) -> None:
    """Its arcs before and after what they are for, over several lines, with heights, beside what is no JSON, and said twice (of which
    all readers of JSON here take the last); texts that look like arcs are texts."""
    row = {"type": "LineString", "arcs": [0], "properties": {"note": '"arcs": [[[5, 5], [6, 6]]]'}}
    path = tmp_path / "a.topojson"
    path.write_text(text % json.dumps(collection(row)))
    read = read_file(path).dataset
    assert [shape.wkt for shape in read.shapes] == ["LINESTRING (1 2, 3 4)"]
    assert read.columns["note"].to_pylist() == ['"arcs": [[[5, 5], [6, 6]]]']


@pytest.mark.parametrize(
    ("name", "broken"),
    [("world-atlas/countries-10m.json", 49), ("world-atlas/countries-50m.json", 0), ("us-atlas/counties-10m.json", 22)],
)
def test_what_is_only_described_is_told_the_same_of(name: str, broken: int) -> None:
    """Coasts and counties whose rings cross themselves; those over the 180th meridian only look so."""
    kept, described = read_file(OPEN_DATA / name), read_file(OPEN_DATA / name, mended=False)
    assert kept.dataset.shapes is not None and described.dataset.shapes is not None
    assert described.notes == kept.notes
    assert (f"{broken} areas had rings that cross themselves" in " ".join(kept.notes)) == (broken > 0)
    assert kept.dataset.columns.equals(described.dataset.columns) and kept.dataset.kind == described.dataset.kind
    assert shapely.is_valid(kept.dataset.shapes).all() and not shapely.is_valid(described.dataset.shapes).all()


@pytest.mark.parametrize(
    ("objects", "arcs", "more", "words"),
    [
        ({"a": collection({"type": "LineString", "arcs": [7]})}, [[[0, 0], [1, 1]]], {}, "Shape 1 of 'a' is not TopoJSON: list index"),
        ({"a": collection({"type": "Curve", "arcs": [0]})}, [[[0, 0], [1, 1]]], {}, "there is no type Curve"),
        ({"a": collection({"type": "Polygon"})}, [], {}, "Shape 1 of 'a'"),
        ({"a": 5}, [], {}, "The object 'a' of the topology"),
        ({"a": collection({"type": "Point", "coordinates": ["x", "y"]})}, [], {}, "The shape of feature 1"),
        ({"a": collection({"type": "LineString", "arcs": [0]})}, [[["x", 0], [1, 1]]], {"transform": {"scale": [1, 1], "translate": [0, 0]}}, "The arcs"),
        ({"a": collection({"type": "LineString", "arcs": [0]})}, 7, {}, "The arcs"),
        ({"a": collection({"type": "LineString", "arcs": [0]})}, [[[0], [1]]], {}, "The arcs .* places are two numbers"),
        ({"a": collection({"type": "LineString", "arcs": [0]})}, [[0, 1]], {}, "The arcs"),
        ({"a": collection({"type": "LineString", "arcs": [0]})}, [[[0, 0], None]], {}, "The arcs"),
        ({"a": collection({"type": "LineString", "arcs": [0]})}, [[[0, 0], [1, None]]], {}, "The arcs"),
        ({"a": collection({"type": "LineString", "arcs": [0]})}, None, {}, "The arcs"),
        ({"a": collection({"type": "LineString", "arcs": [0]})}, [[[0, 0], [1, 1]]], {"transform": {"scale": [1]}}, "The arcs"),
        ({}, [], {}, "no layer has a row"),
        ([], [], {}, "holds no objects"),
    ],
)  # fmt: skip
def test_mistakes_are_named(objects: Any, arcs: Any, more: dict[str, Any], words: str, tmp_path: Path) -> None:
    path = topology(objects, arcs, tmp_path / "a.topojson", **more)
    with pytest.raises(BadFile, match=words):
        read_file(path)


def test_what_goes_beyond_the_edge_by_rounding_lies_in_degrees(tmp_path: Path) -> None:
    """Found on a stranger's Russia, Fiji and Antarctica: 9,999 steps of a grid end at 180.00000000000003."""
    path = topology(
        {"isles": {"type": "LineString", "arcs": [0]}}, [[[0, 0], [9999, 9999]]], tmp_path / "isles.topojson",
        transform={"scale": [360.0000001 / 9999, 100 / 9999], "translate": [-180, -10]},
    )  # fmt: skip
    read = read_file(path).dataset
    assert read.crs is not None and read.crs.to_epsg() == 4326


def test_large_ones_are_seen_by_their_first_rows(tmp_path: Path) -> None:
    rows = [{"type": "LineString", "arcs": [i], "properties": {"n": i}} for i in range(1_300)]
    arcs = np.random.default_rng(1).uniform(-20, 20, (1_300, 2, 2)).tolist()
    path = topology({"ditches": collection(*rows)}, arcs, tmp_path / "ditches.topojson")
    seen = preview(path, path.name, Corrections())
    assert "Seen by its first 1,000 rows of 1,300." in seen.notes and seen.layers[0].rows == 1_300
