"""A level further in keeps what was placed: names neither go out nor jump from side to side as one comes closer (no outside source)."""

from pathlib import Path
from typing import Any

import numpy as np
import pyarrow as pa
import pyogrio
import pytest
import shapely
from greylatch.paint.passes import Composition, compose
from greylatch.paint.sources import VectorSource
from greylatch.places.crs import LONLAT, WEB_MERCATOR
from greylatch.places.frame import MERCATOR
from greylatch.sheet.document import Sheet
from greylatch.tables.dataset import Dataset, Kind

ATLASES = Path(__file__).parents[2] / "web" / "node_modules"
WIDE = 100_000.0
RESOLUTIONS = [WIDE / 256 / 2**z for z in range(7)]


def composed(shapes: dict[Kind, Any], **lettering: dict[str, Any]) -> Composition:
    """A layer of each kind, each feature with a name of its own."""
    sources, layers = {}, []
    for kind, own in shapes.items():
        names = pa.table({"name": [f"{'Upper ' * (i % 3)}Skara {i}" for i in range(len(own))]})
        sources[kind] = VectorSource(Dataset(names, kind, np.asarray(own, dtype=object), WEB_MERCATOR))
        style = {"lines": [{"text": "{name}"}], **lettering.get(kind, {})}
        layers.append({"id": kind, "name": kind, "dataset": kind, "symbology": {"kind": "symbols"}, "lettering": style})
    return compose(Sheet.model_validate({"title": "t", "layers": layers}), lambda name, *_: sources[name])


@pytest.fixture(scope="module")
def crowded() -> dict[Kind, Any]:
    rng = np.random.default_rng(12)
    places = rng.uniform(0, WIDE, (1_500, 2))
    # Some lie all but upon one another.
    places[::50] = places[1::50] + rng.normal(0, 30, (30, 2))
    middles = rng.uniform(0, WIDE, (150, 2))
    courses = np.cumsum(rng.normal(0, 900, (40, 30, 2)), axis=1) + rng.uniform(0, WIDE, (40, 1, 2))
    return {
        "points": shapely.points(places),
        "lines": shapely.linestrings(courses),
        "areas": shapely.buffer(shapely.points(middles), rng.uniform(800, 6_000, 150)),
    }


STYLES: dict[str, dict[str, dict[str, Any]]] = {
    "plain": {},
    "smaller where there is no room": {"points": {"smallest": 8}, "areas": {"smallest": 8}},
    "curved, once, by priority": {
        "lines": {"course": "curved", "priority": 1},
        "areas": {"course": "curved"},
        "points": {"once_within": 200},
    },
}


@pytest.mark.parametrize("style", STYLES)
def test_a_level_further_in_keeps_what_was_placed(crowded: dict[Kind, Any], style: str) -> None:
    composition = composed(crowded, **STYLES[style])
    before: dict[int, set[int]] = {}
    lost = there = 0
    for resolution in RESOLUTIONS:
        placement = composition.placement(resolution)
        boxes = placement.boxes + np.tile(placement.places * (1 / resolution, -1 / resolution), 2)
        rectangles = shapely.box(*np.add(boxes, [1e-3, 1e-3, -1e-3, -1e-3]).T)
        pairs = shapely.STRtree(rectangles).query(rectangles, predicate="intersects")
        assert (pairs[0] == pairs[1]).all(), "no two labels overlap"
        for number in range(3):
            group = placement.group(number)
            assert group is not None
            lettered = set(group.rows.tolist())
            there += len(before.get(number, ()))
            gone = before.get(number, set()) - lettered
            # Names along lines stand elsewhere at each level, and may come upon others there.
            assert not gone or "curved" in style or number == 1, (resolution, number, gone)
            lost += len(gone)
            before[number] = lettered
    assert there > 1_000 and lost <= 0.005 * there


def test_labels_of_points_stay_on_their_side_and_those_of_areas_where_they_stood(crowded: dict[Kind, Any]) -> None:
    composition = composed({"points": crowded["points"], "areas": crowded["areas"]})
    sides: dict[int, tuple[int, int]] = {}
    stood: dict[int, tuple[float, float]] = {}
    moved = 0
    for resolution in RESOLUTIONS:
        for label in composition.placement(resolution).labels:
            if composition.lettered[label.layer][0].id == "points":
                moved += sides.get(label.feature, label.side) != label.side
                sides[label.feature] = label.side
            elif "\n" not in label.text:
                assert stood.get(label.feature, (label.x, label.y)) == (label.x, label.y)
                stood[label.feature] = label.x, label.y
    assert len(sides) > 1_000 and len(stood) > 60
    assert moved <= 5, "but where another point comes out of hiding"


def test_what_had_to_be_small_is_set_larger_where_there_is_room() -> None:
    shapes = {"areas": [shapely.box(0, 0, 30_000, 30_000), shapely.box(60_000, 0, WIDE, 20_000)]}
    composition = composed(shapes, areas={"smallest": 7, "lines": [{"text": "Skarness", "size": 30}]})  # type: ignore[arg-type]
    heights = []
    for resolution in RESOLUTIONS:
        labels = {label.feature: label for label in composition.placement(resolution).labels}
        if 0 in labels:
            heights.append(labels[0].box[3] - labels[0].box[1])
    assert len(heights) >= 4 and heights[-1] > heights[0]


def test_large_areas_are_named_wherever_one_looks() -> None:
    rng = np.random.default_rng(2)
    coast = shapely.Point(40_000, 50_000).buffer(35_000).difference(shapely.Point(60_000, 60_000).buffer(9_000))
    shapes: dict[Kind, Any] = {
        "areas": [coast, shapely.box(80_000, 0, WIDE, 9_000)],
        "points": shapely.points(rng.uniform(0, WIDE, (400, 2))),
    }
    composition = composed(shapes, areas={"throughout": True})
    resolution = 10.0
    whole = {"points": 0, "areas": 0}
    (placement, further) = composition.placement_over(resolution, (0.0, 0.0, WIDE, WIDE))
    for label in placement.labels:
        whole[composition.lettered[label.layer][0].id] += 1
    assert whole["areas"] == 2 and len(further.labels) > 50
    # Inside their area, and beside all other labels.
    boxes = [
        shapely.box(*(np.tile([label.x, label.y], 2) + np.array(label.box) * (1, -1, 1, -1) * resolution))
        for label in (*placement.labels, *further.labels)
    ]
    assert all(shapely.union_all(shapes["areas"]).contains(box) for box in boxes[len(placement.labels) :])
    pairs = shapely.STRtree(boxes).query(boxes, predicate="overlaps")
    assert pairs.shape[1] == 0
    # A part of the level has the same ones as the whole; a view that lies in the area shows its name.
    everywhere = {(round(label.x, 6), round(label.y, 6)) for label in further.labels}
    for x, y in rng.uniform(15_000, 65_000, (40, 2)).tolist():
        view = x - 5_000, y - 4_000, x + 5_000, y + 4_000
        seen = {
            (round(label.x, 6), round(label.y, 6)) for label in composition.placement_over(resolution, view)[1].labels
        }
        assert seen <= everywhere
        assert {place for place in everywhere if view[0] < place[0] < view[2] and view[1] < place[1] < view[3]} <= seen
        named = seen | {
            (label.x, label.y) for label in placement.labels if composition.lettered[label.layer][0].id == "areas"
        }
        if coast.contains(shapely.box(*view)):
            assert any(view[0] < px < view[2] and view[1] < py < view[3] for px, py in named)
    # Nothing is said again of what is seen whole, nor without having been asked for.
    assert not composition.placement_over(WIDE / 400, (0.0, 0.0, WIDE, WIDE))[1].labels
    assert len(composed(shapes).placement_over(resolution, (0.0, 0.0, WIDE, WIDE))) == 1


def of_atlas(file: str, layer: str, **lettering: Any) -> Composition:
    """Open data of npm: names and outlines of world-atlas and us-atlas (Natural Earth and US Census, by M. Bostock)."""
    frame = pyogrio.read_dataframe(ATLASES / file, layer=layer)
    names = pa.table({"name": pa.array([name or "" for name in frame["name"]], pa.string())})
    source = VectorSource(Dataset(names, "areas", np.asarray(frame.geometry.values, dtype=object), LONLAT))
    style = {"lines": [{"text": "{name}", "size": 11}], **lettering}
    layers = [{"id": "a", "name": "A", "dataset": "a", "symbology": {"kind": "symbols"}, "lettering": style}]
    return compose(Sheet.model_validate({"title": "t", "layers": layers}), lambda *_: source)


def test_countries_keep_their_names_and_are_named_throughout() -> None:
    composition = of_atlas("world-atlas/countries-50m.json", "countries", throughout=True, smallest=7)
    assert composition.bounds is not None
    before: set[int] = set()
    further = 0
    for level in range(1, 7):
        resolution = MERCATOR.grid.resolution(level)
        placement, again = composition.placement_over(resolution, composition.bounds)
        lettered = {label.feature for label in placement.labels}
        assert before <= lettered and {label.feature for label in again.labels} <= lettered | set(placement.left_out[0])
        at = np.concatenate([placement.places, again.places]) * (1 / resolution, -1 / resolution)
        boxes = np.add(np.concatenate([placement.boxes, again.boxes]) + np.tile(at, 2), [1e-3, 1e-3, -1e-3, -1e-3])
        rectangles = shapely.box(*boxes.T)
        assert shapely.STRtree(rectangles).query(rectangles, predicate="intersects").shape[1] == len(rectangles)
        before, further = lettered, further + len(again.labels)
    assert len(before) > 150 and further > 500


def test_no_name_stands_upon_the_leader_of_another_county() -> None:
    composition = of_atlas("us-atlas/counties-10m.json", "counties", outside=True)
    resolution = MERCATOR.grid.resolution(6)
    labels = composition.placement(resolution).labels
    places = [(label.x / resolution, -label.y / resolution) for label in labels]
    texts = shapely.box(*np.array([np.add(label.box, at * 2) for label, at in zip(labels, places, strict=True)]).T)
    leaders = [
        (i, shapely.LineString([np.add(at, label.leader[:2]), np.add(at, label.leader[2:])]))
        for i, (label, at) in enumerate(zip(labels, places, strict=True))
        if label.leader
    ]
    of_leader, text = shapely.STRtree(texts).query([line for _, line in leaders], predicate="intersects")
    assert len(leaders) > 500
    assert [(i, j) for i, j in zip(of_leader.tolist(), text.tolist(), strict=True) if leaders[i][0] != j] == []
