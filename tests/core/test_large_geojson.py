"""GeoJSON read at once, and seen by its beginning."""

import json
from pathlib import Path
from typing import Any

import numpy as np
import pytest
import shapely
from greylatch.errors import BadFile
from greylatch.formats import geojson
from greylatch.formats.coordinates import shapes_at_once
from greylatch.formats.geojson import read
from greylatch.formats.geojson_columns import geojson_columns
from greylatch.formats.geojson_head import HEAD_FEATURES, LARGE, geojson_head
from greylatch.formats.kinds import Choice

HOLED = shapely.box(0, 0, 9, 9).difference(shapely.box(2, 2, 3, 3))


@pytest.mark.parametrize(
    "shapes",
    [
        [shapely.Point(1, 2), shapely.Point(-3, 4.5)],
        [shapely.LineString([(0, 0), (1, 1), (2, 0)]), shapely.LineString([(5, 5), (6, 6)])],
        [HOLED, shapely.box(20, 0, 21, 1)],
        [HOLED, shapely.MultiPolygon([shapely.box(20, 0, 21, 1), HOLED]), shapely.box(0, 0, 1, 1)],
        [shapely.MultiPolygon([HOLED]), shapely.MultiPolygon([shapely.box(0, 0, 1, 1), shapely.box(5, 5, 6, 6)])],
        [shapely.Polygon([(0, 0, 5), (1, 0, 5), (1, 1, 5)])],
        [None, HOLED, None, shapely.MultiPolygon([HOLED])],
    ],
)
def test_shapes_at_once_are_those_of_geos(shapes: list[shapely.Geometry]) -> None:
    """Referee: GEOS's own reader of GeoJSON, through shapely."""
    texts = shapely.to_geojson(np.array(shapes, dtype=object))
    ours = shapes_at_once([text and json.loads(text) for text in texts])
    theirs = shapely.force_2d(shapely.from_geojson(texts))
    assert ours is not None and shapely.to_wkb(ours).tolist() == shapely.to_wkb(theirs).tolist()


@pytest.mark.parametrize(
    "odd",
    [
        None,
        {"type": "Point", "coordinates": []},
        {"type": "Point", "coordinates": [1, "2"]},
        {"type": "Point", "coordinates": [1]},
        {"type": "Polygon", "coordinates": [[[0, 0], [1, 0], [1, 1]]]},
        {"type": "Polygon", "coordinates": []},
        {"type": "Polygon", "coordinates": [[]]},
        {"type": "LineString", "coordinates": [[0, 0]]},
        {"type": "MultiPolygon", "coordinates": [[]]},
        {"type": "GeometryCollection", "geometries": []},
        {"type": "Point"},
        "Point",
    ],
)
def test_what_is_odd_is_left_to_be_looked_at(odd: Any) -> None:
    assert shapes_at_once([odd]) is None
    if odd is not None:
        assert shapes_at_once([{"type": "Point", "coordinates": [1, 2]}, odd]) is None


def large(path: Path, before: str = "", after: str = "", n: int = 30_000) -> Path:
    feature = '{"type": "Feature", "properties": {"n": %d, "words": "%s"}, "geometry": {"type": "Point", "coordinates": [%d, 1]}}'
    features = ",\n".join(feature % (i, "peat " * 20, i % 90) for i in range(n))
    path.write_text('{"type": "FeatureCollection", ' + before + '"features": [\n' + features + "\n]" + after + "}")
    return path


def test_a_large_file_is_seen_by_its_beginning(tmp_path: Path) -> None:
    file = large(tmp_path / "a.geojson", '"crs": {"type": "name", "properties": {"name": "EPSG:3857"}}, ')
    assert file.stat().st_size > LARGE
    seen = read(file, Choice(head=True))
    assert len(seen.dataset) == HEAD_FEATURES and "first 1,000 features" in seen.notes[0]
    assert seen.dataset.crs is not None and seen.dataset.crs.to_epsg() == 3857
    assert len(read(file, Choice()).dataset) == 30_000


def test_a_beginning_that_does_not_tell_is_not_taken_for_the_whole(tmp_path: Path) -> None:
    late = large(tmp_path / "late.geojson", after=', "crs": {"type": "name", "properties": {"name": "EPSG:3857"}}')
    nested = large(tmp_path / "nested.geojson", before='"about": {"features": [1, 2]}, ')
    small = large(tmp_path / "small.geojson", n=10)
    assert [geojson_head(file) for file in (late, nested, small)] == [None, None, None]
    assert len(read(late, Choice(head=True)).dataset) == 30_000


PADDING = "peat " * 1_000


def collection(path: Path, features: list[Any], **beside: Any) -> Path:
    """A file that is large by what is said in its first features."""
    padded = [
        {**feature, "properties": {**(feature.get("properties") or {}), "padding": PADDING}}
        for feature in features * 900
    ]
    path.write_text(json.dumps({"type": "FeatureCollection", **beside, "features": padded}, ensure_ascii=False))
    assert path.stat().st_size > LARGE
    return path


def feature(shape: Any, **properties: Any) -> dict[str, Any]:
    geometry = json.loads(shapely.to_geojson(shape)) if isinstance(shape, shapely.Geometry) else shape
    return {"type": "Feature", "properties": properties, "geometry": geometry}


ALIKE = {
    "points": [feature(shapely.Point(1, 2), n=1), feature(shapely.Point(-3, 4.5), n=None)],
    "with heights": [feature({"type": "Point", "coordinates": [1, 2, 300]}, n=1.5)],
    "lines": [feature(shapely.LineString([(0, 0), (1, 1), (2, 0)]), a="é", b=True), feature(shapely.LineString([(5, 5), (6, 6)]), a="x")],
    "areas": [feature(HOLED, v=1), feature(shapely.box(20, 0, 21, 1), v=2.5), feature(shapely.box(1, 1, 2, 2), w="only here")],
    "many parts": [feature(shapely.MultiPolygon([HOLED, shapely.box(20, 0, 21, 1)]), v=-(2**62))],
    "many lines": [feature(shapely.MultiLineString([[(0, 0), (1, 1)], [(2, 2), (3, 3), (4, 3)]]), v=None)],
    "large whole numbers": [feature(HOLED, v=2**70), feature(HOLED, v=3)],
    "with an id": [{**feature(shapely.Point(1, 2), n=1), "id": 7}, {**feature(shapely.Point(1, 2), n=1), "id": 8}],
    "with an id that is a field": [{**feature(shapely.Point(1, 2), id="a"), "id": 7}],
    "members of others": [{**feature(shapely.Point(1, 2), n=1), "bbox": [1, 2, 1, 2], "seen": {"by": "Isla"}}],
}  # fmt: skip
ODD = {
    "two types": [feature(HOLED), feature(shapely.MultiPolygon([HOLED]))],
    "no shape": [feature(HOLED), feature(None)],
    "dates": [feature(HOLED, day="2026-03-01")],
    "a list": [feature(HOLED, tags=["a"])],
    "numbers and text": [feature(HOLED, v=1), feature(HOLED, v="1")],
    "an open ring": [feature({"type": "Polygon", "coordinates": [[[0, 0], [1, 0], [1, 1], [0, 1]]]})],
    "no places": [feature({"type": "Polygon", "coordinates": []})],
    "a place of one number": [feature({"type": "Point", "coordinates": [1]})],
    "heights here and there": [feature({"type": "Point", "coordinates": [1, 2]}), feature({"type": "Point", "coordinates": [1, 2, 3]})],
    "a collection": [feature({"type": "GeometryCollection", "geometries": []})],
    "the character NUL": [feature(HOLED, a="a\0b")],
    "numbers beyond all": [feature({"type": "Point", "coordinates": [1, 2]}, v=10**400)],
    "members within the shape": [feature({"type": "Point", "coordinates": [1, 2], "crs": "x"})],
}  # fmt: skip


@pytest.mark.parametrize("name", ALIKE)
def test_a_large_file_read_into_columns_is_what_is_read_feature_by_feature(
    name: str, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    file = collection(tmp_path / "a.geojson", ALIKE[name])
    assert geojson_columns(file) is not None
    at_once = read(file, Choice())
    monkeypatch.setattr(geojson, "geojson_columns", lambda _: None)
    one_by_one = read(file, Choice())
    assert at_once.dataset.columns.equals(one_by_one.dataset.columns)
    assert shapely.equals_exact(at_once.dataset.shapes, one_by_one.dataset.shapes, 0).all()
    assert (at_once.crs_reason, at_once.notes) == (one_by_one.crs_reason, one_by_one.notes)


@pytest.mark.parametrize("name", ODD)
def test_what_is_odd_in_a_large_file_is_looked_at_feature_by_feature(name: str, tmp_path: Path) -> None:
    assert geojson_columns(collection(tmp_path / "a.geojson", ODD[name])) is None


def test_what_a_large_file_says_of_its_projection_counts_and_a_broken_end_is_told(tmp_path: Path) -> None:
    said = {"type": "name", "properties": {"name": "urn:ogc:def:crs:EPSG::32626"}}
    file = collection(tmp_path / "a.geojson", [feature(shapely.Point(500_000, 5_700_000), n=1)], crs=said)
    assert geojson_columns(file) is not None
    assert read(file, Choice()).dataset.crs.to_epsg() == 32626
    file.write_bytes(file.read_bytes()[:-40])
    assert geojson_columns(file) is None
    with pytest.raises(BadFile, match="breaks off"):
        read(file, Choice())
    wrong = collection(tmp_path / "b.geojson", [feature(shapely.Point(1, 2), a="é")])
    wrong.write_bytes(wrong.read_bytes().replace("é".encode(), b"\xe9 "))
    assert geojson_columns(wrong) is None
    small = tmp_path / "c.geojson"
    small.write_text(json.dumps({"type": "FeatureCollection", "features": ALIKE["points"]}))
    assert geojson_columns(small) is None
