"""The ground: meridians and parallels where PROJ has them, their degrees at the edge, the globe as sea."""

import numpy as np
import pyproj
import pytest
import shapely
from greylatch.paint.passes import compose
from greylatch.paint.picture import paint
from greylatch.places.crs import LONLAT
from greylatch.places.distortion import areal_scale, circles
from greylatch.places.frame import MERCATOR, Frame
from greylatch.places.graticule import edge_labels, graticule, graticule_step
from greylatch.places.view import View
from greylatch.sheet.document import Sheet

FRAMES = ["EPSG:3857", "EPSG:8857", "EPSG:3031", "+proj=ortho +lat_0=40 +lon_0=-170", "EPSG:2154", "EPSG:32660"]


@pytest.mark.parametrize("crs", FRAMES)
def test_lines_run_where_proj_says(crs: str) -> None:
    """Every place of a line, by PROJ's inverse, has the line's own degrees."""
    frame = Frame.named(crs)
    back = pyproj.Transformer.from_crs(frame.crs, LONLAT, always_xy=True)
    lines = graticule(frame, 15.0)
    assert len(lines) > 8
    for one in lines:
        xy = shapely.get_coordinates(shapely.segmentize(one.shape, one.shape.length / 40))
        lon, lat = back.transform(xy[:, 0], xy[:, 1])
        if one.kind == "parallel":
            assert np.abs(lat - one.degrees).max() < 0.01, one.name
        else:
            inner = np.abs(lat) < 89
            off = (lon[inner] - one.degrees + 180) % 360 - 180
            assert np.abs(off * np.cos(np.radians(lat[inner]))).max(initial=0) < 0.01, one.name


def test_steps_follow_the_scale() -> None:
    frame = MERCATOR
    steps = [graticule_step(frame, frame.grid.resolution(z)) for z in range(0, 15)]
    assert steps == sorted(steps, reverse=True)
    assert (steps[0], steps[-1]) == (30.0, 0.01)
    # The same ground on a px, the same lines, whatever the unit: New York's feet.
    feet = Frame.named("EPSG:2263")
    assert graticule_step(feet, feet.grid.resolution(8)) == graticule_step(frame, frame.grid.resolution(8))


def test_over_the_180th_meridian() -> None:
    """A small picture across it has lines on both sides, that meridian once, and none from elsewhere."""
    frame = Frame.named("EPSG:3832")
    x, y = frame.place(180, -17)
    view = View.around(frame, x, y, 1_000, 800, 500)
    lines = graticule(frame, 2.0, view.bounds)
    meridians = [one.name for one in lines if one.kind == "meridian"]
    assert meridians == ["178° E", "180°", "178° W"] or set(meridians) == {"178° E", "180°", "178° W"}
    assert {one.name for one in lines if one.kind == "parallel"} == {"16° S", "18° S"}
    assert ("lower", "180°") in {(edge, words) for edge, words, *_ in edge_labels(lines, view.bounds)}


def test_round_a_pole_all_meridians_meet() -> None:
    frame = Frame.named("EPSG:3031")
    lines = graticule(frame, 30.0, (-3e6, -3e6, 3e6, 3e6))
    assert len([one for one in lines if one.kind == "meridian"]) == 12
    assert graticule(frame, 0.01, (-3e6, -3e6, 3e6, 3e6)) == []  # thousands would only be grey
    assert graticule(Frame.named("EPSG:8857"), 10.0, (4e7, 4e7, 5e7, 5e7)) == []


def test_what_is_painted() -> None:
    """Sea within the outline, ground beyond it, lines on the sea; tiles have none of it."""
    furniture = {
        "ground": "#ffffff",
        "sea": "#0000ff",
        "graticule": {"colour": "#ff0000", "width": 1, "labelled": False},
    }
    sheet = Sheet.model_validate({"title": "T", "furniture": furniture, "projection": {"crs": "EPSG:8857"}})
    composition = compose(sheet, lambda *_: pytest.fail("there is no layer"))
    frame = composition.frame
    view = View.fitted(frame, frame.outline.bounds, 400, 240)
    picture = paint(composition, view).astype(int)
    px, py = np.meshgrid(
        view.bounds[0] + (np.arange(400) + 0.5) * view.cell, view.bounds[3] - (np.arange(240) + 0.5) * view.cell
    )
    inside = shapely.contains_xy(shapely.buffer(frame.outline, -2 * view.cell), px, py)
    outside = ~shapely.contains_xy(shapely.buffer(frame.outline, 2 * view.cell), px, py)
    assert (picture[outside][:, :3] == 255).all()
    assert (picture[inside][:, 2] - picture[inside][:, 0] > 200).mean() > 0.8
    red = (picture[..., 0] > 60) & (picture[..., 1] < 60) & inside
    near = shapely.union_all([one.shape for one in graticule(frame, graticule_step(frame, view.resolution))]).buffer(
        1.5 * view.cell
    )
    assert red.sum() > 500
    assert shapely.contains_xy(near, px[red], py[red]).all()
    assert not paint(composition, view, ground=False).any()


def test_degrees_stand_at_the_edge_and_not_on_each_other() -> None:
    furniture = {"ground": "#ffffff", "graticule": {"width": 0}}
    sheet = Sheet.model_validate({"title": "T", "furniture": furniture})
    composition = compose(sheet, lambda *_: pytest.fail("there is no layer"))
    picture = paint(composition, View.around(MERCATOR, 0, 0, MERCATOR.grid.resolution(3), 600, 400)).astype(int)
    dark = picture[..., :3].max(axis=2) < 160
    assert dark[:-20, 60:].sum() == 0, "nothing is written in the middle"
    assert dark[-20:, :].any() and dark[:, :40].any()


def test_circles_are_true_and_scales_are_projs() -> None:
    """Areas of the circles by pyproj.Geod; what equal-area maps do to them; Snyder's h·k of Mercator, sec² of the latitude."""
    geod = pyproj.Geod(ellps="WGS84")
    middles, rings = circles()
    for ring in rings[::7]:
        assert abs(geod.geometry_area_perimeter(ring)[0]) == pytest.approx(np.pi * 400_000**2, rel=0.005)
    assert np.nanmax(np.abs(areal_scale(Frame.named("EPSG:8857"), middles) - 1)) < 1e-6
    places = np.array([[0.0, 0.0], [10.0, 45.0], [-100.0, -60.0]])
    assert areal_scale(MERCATOR, places) == pytest.approx([1, 2, 4], rel=0.01)


def test_a_whole_globe_is_labelled_where_it_ends() -> None:
    """Parallels to the left of their end, meridians below theirs; at a pole, where all of them end, none."""
    equal_earth = Frame.named("EPSG:8857")
    west, south, east, north = equal_earth.outline.bounds
    around = (west * 1.1, south * 1.1, east * 1.1, north * 1.1)
    labels = edge_labels(graticule(equal_earth, 30.0, around), around)
    assert {edge for edge, *_ in labels} == {"beside", "under"}
    assert {words for edge, words, *_ in labels if edge == "beside"} == {"60° N", "30° N", "0°", "30° S", "60° S"}
    assert len([words for edge, words, *_ in labels if edge == "under"]) == 12
    pole = Frame.named("EPSG:3995")
    near = (-3e6, -3e6, 3e6, 3e6)
    polar = edge_labels(graticule(pole, 30.0, near), near)
    assert [words for edge, words, *_ in polar if edge == "under"] == []
    assert {words for edge, words, *_ in polar if edge == "beside"} <= {"60° N"}
