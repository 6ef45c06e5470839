"""Paths of shapes, against Skia's own calls and GEOS's simplification (both registries' packages are the referees)."""

import numpy as np
import pytest
import shapely
import skia
from greylatch.paint.outlines import outline_of, outlines_of
from greylatch.paint.thinning import thinned

BOUNDS = (-50.0, -50.0, 50.0, 50.0)


def path_by_calls(shape: shapely.Geometry, resolution: float) -> skia.Path:
    """The same path, place by place."""
    path = skia.Path()
    path.setFillType(skia.PathFillType.kEvenOdd)
    for part in shapely.get_parts(shape):
        for line in shapely.get_rings(part) if part.geom_type == "Polygon" else [part]:
            x, y = shapely.get_coordinates(line).T
            places = list(zip((x - BOUNDS[0]) / resolution, (BOUNDS[3] - y) / resolution, strict=True))
            closed = part.geom_type == "Polygon"
            path.moveTo(*places[0])
            for place in places[1 : -1 if closed else None]:
                path.lineTo(*place)
            if closed:
                path.close()
    return path


@pytest.mark.parametrize(
    "text",
    [
        "POLYGON ((0 0, 40 0, 40 30, 0 0))",
        "POLYGON ((0 0, 40 0, 40 40, 0 40, 0 0), (10 10, 20 10, 20 20, 10 10))",
        "MULTIPOLYGON (((0 0, 9 0, 9 9, 0 0)), ((20 20, 30 20, 30 30, 20 20)))",
        "LINESTRING (0 0, 10 20, 30 5)",
        "MULTILINESTRING ((0 0, 10 20), (5 5, 6 -20, 9 9))",
    ],
)
def test_paths_read_from_memory_are_those_that_calls_make(text: str) -> None:
    shape = shapely.from_wkt(text)
    assert outline_of(shape, BOUNDS, 2) == path_by_calls(shape, 2)


def test_each_shape_has_its_own_path_and_empty_ones_an_empty_one() -> None:
    shapes = shapely.from_wkt(
        ["POLYGON ((0 0, 4 0, 4 4, 0 0))", "POLYGON EMPTY", "MULTIPOLYGON (((0 0, 9 0, 9 9, 0 0)))"]
    )
    paths = outlines_of(shapes, BOUNDS, 1)
    assert [path.countVerbs() for path in paths] == [4, 0, 4]
    assert paths[2] == path_by_calls(shapes[2], 1)
    assert outlines_of(np.array([], dtype=object), BOUNDS, 1) == []
    assert outlines_of(shapely.from_wkt(["LINESTRING EMPTY"]), BOUNDS, 1)[0].isEmpty()


def test_what_is_smaller_than_can_be_seen_keeps_a_triangle() -> None:
    islet = shapely.Point(3, 3).buffer(0.001)
    path = outline_of(islet, BOUNDS, 1)
    assert path.countPoints() == 3
    bounds = path.getBounds()
    assert bounds.left() == pytest.approx(53, abs=0.01) and bounds.top() == pytest.approx(47, abs=0.01)


@pytest.mark.parametrize("closed", [True, False])
def test_thinned_lines_stay_as_close_as_asked_and_keep_about_as_few_places_as_geos(closed: bool) -> None:
    rng = np.random.default_rng(3)
    around = np.linspace(0, 2 * np.pi, 400)
    radius = 30 + rng.standard_normal((20, 400)) * 0.6 + 5 * np.sin(7 * around)
    if closed:
        radius[:, -1] = radius[:, 0]
    xy = np.stack([radius * np.cos(around), radius * np.sin(around)], -1)
    lines = shapely.linestrings(xy)
    kept = thinned(xy.reshape(-1, 2), np.repeat(np.arange(20), 400), closed, 0.5).reshape(20, 400)
    thin = np.array([shapely.LineString(places[which]) for places, which in zip(xy, kept, strict=True)])
    assert (shapely.hausdorff_distance(lines, thin, densify=0.05) <= 0.5 + 1e-9).all()
    assert kept[:, [0, -1]].all()
    geos = shapely.get_num_coordinates(shapely.simplify(lines, 0.5, preserve_topology=False)).sum()
    assert kept.sum() == pytest.approx(geos, rel=0.03)


def test_lines_without_a_length_or_places_are_no_trouble() -> None:
    assert thinned(np.empty((0, 2)), np.empty(0, dtype=np.intp), True, 1).tolist() == []
    assert thinned(np.zeros((2, 2)), np.zeros(2, dtype=np.intp), False, 1).tolist() == [True, True]
    assert thinned(np.zeros((5, 2)), np.zeros(5, dtype=np.intp), True, 1).sum() >= 3
