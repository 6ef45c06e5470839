"""Who gets room: layers by priority, features by a field, a shorter text in place of one that is too long, the same name once, own scales."""

from typing import Any

import numpy as np
import pyarrow as pa
import pytest
import shapely
from greylatch.errors import CannotDraw
from greylatch.lettering.contest import Namesakes, Taken
from greylatch.lettering.telling import placed_labels
from greylatch.paint.passes import Composition, compose
from greylatch.paint.sources import VectorSource
from greylatch.places.crs import LONLAT
from greylatch.places.frame import MERCATOR
from greylatch.sheet.document import Sheet
from greylatch.tables.dataset import Dataset

LEVEL = 10


def lettered(columns: dict[str, list[Any]], shapes: Any, kind: str, *styles: dict[str, Any]) -> Composition:
    source = VectorSource(Dataset(pa.table(columns), kind, np.array(shapes, dtype=object), LONLAT), MERCATOR)  # type: ignore[arg-type]
    layers = [
        {"id": f"l{i}", "name": "L", "dataset": "d", "symbology": {"kind": "symbols"}, "lettering": {"field": "name", **style}}
        for i, style in enumerate(styles)
    ]  # fmt: skip
    return compose(Sheet.model_validate({"title": "t", "layers": layers}), lambda *_: source)


def said(composition: Composition, level: float = LEVEL) -> list[tuple[int, str]]:
    placed = composition.labels(MERCATOR.grid.resolution(level))
    return [(each.label.layer, each.label.text.replace("\n", " ")) for each in placed]


CROWD = [shapely.Point(-27 + 1e-5 * i, 52) for i in range(30)]


def test_features_with_more_of_a_field_are_lettered_first() -> None:
    columns = {"name": [f"Place {i}" for i in range(30)], "people": [*range(29), None]}
    plain = {text for _, text in said(lettered(columns, CROWD, "points", {}))}
    ranked = {text for _, text in said(lettered(columns, CROWD, "points", {"first_by": "people"}))}
    assert "Place 0" in plain and len(ranked) == len(plain) < 30
    assert ranked == {f"Place {i}" for i in range(29 - len(ranked), 29)}, (
        "the fullest, and not what nothing is known of"
    )
    with pytest.raises(CannotDraw, match="no such"):
        lettered(columns, CROWD, "points", {"first_by": "no such"})


def test_layers_of_a_higher_priority_are_lettered_first() -> None:
    columns = {"name": [f"Place {i}" for i in range(30)]}
    assert {layer for layer, _ in said(lettered(columns, CROWD, "points", {}, {}))} == {0}
    assert {layer for layer, _ in said(lettered(columns, CROWD, "points", {}, {"priority": 1}))} == {1}
    assert {layer for layer, _ in said(lettered(columns, CROWD, "points", {"priority": -1}, {}))} == {1}


def test_a_shorter_text_is_set_where_the_long_one_does_not_fit() -> None:
    boxes = [
        shapely.box(-27, 52, -26.93, 52.03),
        shapely.box(-26.5, 52, -26.0, 52.3),
        shapely.box(-25, 52, -24.999, 52.001),
    ]
    columns = {"name": ["Commonwealth of Skara"] * 3, "code": ["SK", "SK", "SK"]}
    composition = lettered(columns, boxes, "areas", {"shorter": "code"})
    assert sorted(said(composition)) == [(0, "Commonwealth of Skara"), (0, "SK")]
    assert composition.placement(MERCATOR.grid.resolution(LEVEL)).left_out == {0: [2]}
    assert len(said(lettered(columns, boxes, "areas", {}))) == 1
    columns = {"name": ["\ue123", "Ard", ""], "code": ["CN", "", "X"]}
    assert sorted(said(lettered(columns, [boxes[1]] * 3, "areas", {"shorter": "code", "once_within": 1}))) == [
        (0, "CN")
    ]


def test_the_same_name_stands_once_within_a_distance() -> None:
    apart = [shapely.Point(-27 + 0.1 * i, 52) for i in range(10)]
    columns = {"name": ["Ness"] * 9 + ["Ard"]}
    assert len(said(lettered(columns, apart, "points", {}))) == 10
    step = 0.1 / 360 * 256 * 2**LEVEL
    for within in (0.9 * step, 1.1 * step, 2.1 * step):
        once = lettered(columns, apart, "points", {"once_within": within})
        placed = once.placement(MERCATOR.grid.resolution(LEVEL)).labels
        places = sorted(label.x for label in placed if label.text == "Ness")
        # Every one, about every second, about every third: those that stand further out already are kept.
        assert len(places) in [(9,), (4, 5), (3,)][int(within / step)]
        assert np.diff(places).min() / MERCATOR.grid.resolution(LEVEL) >= within
        assert (0, "Ard") in said(once)


def test_labels_have_scales_of_their_own() -> None:
    columns = {"name": ["Ness"]}
    composition = lettered(columns, CROWD[:1], "points", {"scales": {"farthest": 500_000}})
    seen = [bool(said(composition, level)) for level in range(8, 13)]
    scales = [MERCATOR.scale(MERCATOR.grid.resolution(level)) for level in range(8, 13)]
    assert seen == [scale <= 500_000 for scale in scales] and set(seen) == {True, False}
    assert composition.placement(MERCATOR.grid.resolution(8)).left_out == {}, "what is not asked for is not missed"


@pytest.mark.parametrize("kind", ["points", "areas"])
def test_a_second_field_stands_below_the_first(kind: str) -> None:
    shapes = [shapely.Point(-27, 52) if kind == "points" else shapely.box(-27, 52, -26, 53)] * 1
    columns = {"name": ["Upper Skara"], "ha": [12.5]}
    composition = lettered(columns, shapes, kind, {"below": "ha", "capitals": True})
    resolution = MERCATOR.grid.resolution(LEVEL)
    [label] = composition.labels(resolution)
    first, second = label.label.pieces
    assert (first.run.text, second.run.text) == ("UPPER SKARA", "12.5")
    assert second.dy - first.dy == pytest.approx(1.12 * 12)
    assert label.label.text == "UPPER SKARA\n12.5"
    assert label.anchor == ("left" if kind == "points" else "center"), (
        "beside the point, its middle as high as the point's"
    )
    for nothing in (pa.array([None], pa.float64()), pa.array([None])):
        columns = {"name": ["Upper Skara"], "ha": nothing}
        assert said(lettered(columns, shapes, kind, {"below": "ha"})) == [(0, "Upper Skara")]
    crowd = {"name": [f"Skara {i}" for i in range(30)], "ha": list(range(30))}
    many = lettered(
        crowd,
        [shapely.Point(-27 + 0.02 * (i % 6), 52 + 0.012 * (i // 6)) for i in range(30)],
        "points",
        {"below": "ha"},
    )
    boxes = np.array([label.box for label in placed_labels(many.placement(resolution), resolution, (0, 0))])
    assert len(boxes) >= 8
    for i, one in enumerate(boxes):
        for other in boxes[i + 1 :]:
            assert one[0] >= other[2] or other[0] >= one[2] or one[1] >= other[3] or other[1] >= one[3]


def test_what_is_alike_stands_apart_by_the_contest_itself() -> None:
    """Against a look at every pair, over random places."""
    rng = np.random.default_rng(5)
    places, alike = rng.uniform(0, 500, (400, 2)), rng.integers(0, 6, 400)
    boxes, start = np.tile([-3.0, -3.0, 3.0, 3.0], (400, 1)), np.arange(401)
    chosen = Taken(4 * 400).enter(np.arange(400), start, boxes, places, Namesakes(alike, 60.0)).ways
    taken: list[int] = []
    for i in range(400):
        free = all(np.abs(places[i] - places[j]).max() >= 6 for j in taken)
        alone = all(alike[j] != alike[i] or np.hypot(*(places[i] - places[j])) >= 60 for j in taken)
        if free and alone:
            taken.append(i)
    assert np.flatnonzero(chosen >= 0).tolist() == taken
