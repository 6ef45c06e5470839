"""GeoJSON read at once, and seen by its beginning."""

import json
from pathlib import Path
from typing import Any

import numpy as np
import pytest
import shapely
from greylatch.formats.coordinates import shapes_at_once
from greylatch.formats.geojson import read_geojson
from greylatch.formats.geojson_head import HEAD_FEATURES, LARGE, geojson_head

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
    ],
)
def test_shapes_at_once_are_those_of_geos(shapes: list[shapely.Geometry]) -> None:
    """Referee: GEOS's own reader of GeoJSON, through shapely."""
    texts = shapely.to_geojson(np.array(shapes, dtype=object))
    ours = shapes_at_once([json.loads(text) for text in texts])
    assert ours is not None and shapely.equals_exact(ours, shapely.force_2d(shapely.from_geojson(texts)), 0).all()


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
    assert shapes_at_once([{"type": "Point", "coordinates": [1, 2]}, odd]) is None


def large(path: Path, before: str = "", after: str = "", n: int = 30_000) -> Path:
    feature = '{"type": "Feature", "properties": {"n": %d, "words": "%s"}, "geometry": {"type": "Point", "coordinates": [%d, 1]}}'
    features = ",\n".join(feature % (i, "peat " * 20, i % 90) for i in range(n))
    path.write_text('{"type": "FeatureCollection", ' + before + '"features": [\n' + features + "\n]" + after + "}")
    return path


def test_a_large_file_is_seen_by_its_beginning(tmp_path: Path) -> None:
    file = large(tmp_path / "a.geojson", '"crs": {"type": "name", "properties": {"name": "EPSG:3857"}}, ')
    assert file.stat().st_size > LARGE
    seen = read_geojson(file, head=True)
    assert len(seen.dataset) == HEAD_FEATURES and "first 1,000 features" in seen.notes[0]
    assert seen.dataset.crs is not None and seen.dataset.crs.to_epsg() == 3857
    assert len(read_geojson(file).dataset) == 30_000


def test_a_beginning_that_does_not_tell_is_not_taken_for_the_whole(tmp_path: Path) -> None:
    late = large(tmp_path / "late.geojson", after=', "crs": {"type": "name", "properties": {"name": "EPSG:3857"}}')
    nested = large(tmp_path / "nested.geojson", before='"about": {"features": [1, 2]}, ')
    small = large(tmp_path / "small.geojson", n=10)
    assert [geojson_head(file) for file in (late, nested, small)] == [None, None, None]
    assert len(read_geojson(late, head=True).dataset) == 30_000
