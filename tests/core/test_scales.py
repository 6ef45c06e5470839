"""What is seen at which scales: layers, groups and rules, in pictures, labels, hits and what a page is told.

Scales are the OGC's: 17-083r4 has 559,082,264.0287178 for level 0 of WebMercatorQuad.
"""

import numpy as np
import pyarrow as pa
import pyproj
import pytest
import shapely
from greylatch.paint.hits import hit
from greylatch.paint.passes import Composition, VectorPass, compose
from greylatch.paint.picture import paint
from greylatch.paint.sources import Source, VectorSource
from greylatch.places.frame import MERCATOR, Frame
from greylatch.places.grid import Tile
from greylatch.places.view import View
from greylatch.sheet.document import Sheet
from greylatch.sheet.layers import Group, Layer
from greylatch.sheet.lettering import LabelLine, Lettering
from greylatch.sheet.parts import Scales, Symbol
from greylatch.sheet.symbology import Rule, Symbols
from greylatch.tables.dataset import Dataset


def find(name: str, frame: Frame) -> Source:
    points = shapely.points([[0.0, 0.0], [5_000.0, 0.0]])
    data = Dataset(pa.table({"a": [1, 2], "n": ["one", "two"]}), "points", points, pyproj.CRS(3857))
    return VectorSource(data, frame)


def composed(layer: Layer, *groups: Group) -> Composition:
    return compose(Sheet(title="S", layers=[layer], groups=list(groups)), find)


def marks(composition: Composition, scale: float) -> int:
    """How many of the two points are seen."""
    resolution = MERCATOR.resolution_at(scale)
    view = View.around(MERCATOR, 2_500, 0, resolution, 400, 100)
    alpha = paint(composition, view, ground=False)[..., 3]
    places = [round(200 + dx / resolution) for dx in (-2_500, 2_500)]
    return sum(bool(alpha[40:60, max(0, x - 10) : x + 10].any()) for x in places if 0 <= x < 400)


def layer(**more: object) -> Layer:
    look = Symbols(symbol=Symbol(radius=6))
    return Layer(id="a", name="A", dataset="d", **{"symbology": look, **more})  # type: ignore[arg-type]


def test_scales_are_those_of_the_ogc() -> None:
    assert MERCATOR.scale(MERCATOR.grid.resolution(0)) == pytest.approx(559_082_264.0287178)
    assert View.of_tile(MERCATOR, Tile(3, 0, 0)).scale == pytest.approx(559_082_264.0287178 / 8)


@pytest.mark.parametrize(("scale", "seen"), [(99_000, 0), (100_000, 2), (200_000, 2), (201_000, 0)])
def test_a_layer_is_seen_at_its_scales(scale: float, seen: int) -> None:
    assert marks(composed(layer(scales=Scales(closest=100_000, farthest=200_000))), scale) == seen


def test_the_scales_of_a_group_count_too() -> None:
    group = Group(id="g", name="G", scales=Scales(farthest=150_000))
    composition = composed(layer(group="g", scales=Scales(closest=100_000, farthest=200_000)), group)
    assert [marks(composition, scale) for scale in (120_000, 180_000)] == [2, 0]
    assert composition.range_of(composition.passes[0].layer) == pytest.approx((28, 42))


def test_rows_of_a_rule_are_seen_at_its_scales() -> None:
    rule = Rule(id="r", name="R", where="a = 2", symbol=Symbol(radius=6), scales=Scales(farthest=120_000))
    composition = composed(
        layer(
            symbology=Symbols(symbol=Symbol(radius=6), rules=[rule]), lettering=Lettering(lines=[LabelLine(text="{n}")])
        )
    )
    assert [marks(composition, scale) for scale in (110_000, 130_000)] == [2, 1]
    near, far = (MERCATOR.resolution_at(scale) for scale in (110_000, 130_000))
    assert [len(composition.placement(resolution).labels) for resolution in (near, far)] == [2, 1]
    (pass_,) = composition.passes
    assert isinstance(pass_, VectorPass)
    assert [hit(pass_, 5_000, 0, resolution) for resolution in (near, far)] == [1, None]


def test_labels_of_what_is_not_seen_are_not_placed() -> None:
    composition = composed(layer(lettering=Lettering(lines=[LabelLine(text="{n}")]), scales=Scales(closest=100_000)))
    placed = [len(composition.placement(MERCATOR.resolution_at(scale)).labels) for scale in (90_000, 110_000)]
    assert placed == [0, 2]


def test_scales_mean_the_same_in_any_projection() -> None:
    """At the equator, where Equal Earth is not true but Mercator is, a px of 0.28 mm is 28 m of the projection at 1:100,000."""
    for crs in ("EPSG:3857", "EPSG:8857", "EPSG:4326"):
        frame = Frame.named(crs)
        assert frame.resolution_at(100_000) / frame.unit == pytest.approx(28)
        assert frame.scale(frame.resolution_at(123)) == pytest.approx(123)
    assert not np.isnan(Frame.named("EPSG:4326").scale(1.0))
