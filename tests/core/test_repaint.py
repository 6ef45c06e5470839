"""A picture painted once more where features have changed is, to a pixel, the one of which all is painted (no outside source)."""

from typing import Any

import numpy as np
import pyarrow as pa
import pytest
import shapely
from greylatch.paint.passes import Composition, VectorPass, pass_of
from greylatch.paint.picture import paint
from greylatch.paint.repaint import looks_differ, repaint
from greylatch.paint.sources import VectorSource
from greylatch.places.crs import WEB_MERCATOR
from greylatch.places.frame import MERCATOR
from greylatch.places.view import View
from greylatch.sheet.document import Furniture
from greylatch.sheet.layers import Layer
from greylatch.tables.dataset import Dataset, Kind

SIDE = 60


@pytest.fixture(scope="module")
def sources() -> dict[Kind, VectorSource]:
    """Fields that overlap their neighbours, ditches across them, and wells; each with a value."""
    rng = np.random.default_rng(4)
    x, y = (each.ravel() * 10.0 for each in np.meshgrid(np.arange(SIDE), np.arange(SIDE)))
    fields = shapely.buffer(shapely.points(x, y), rng.uniform(3, 9, len(x)), quad_segs=3)
    ditches = shapely.linestrings(np.stack([np.column_stack([x, y]), np.column_stack([x + 14, y + 9])], axis=1))
    columns = pa.table({"v": rng.lognormal(size=len(x)), "w": rng.random(len(x))})
    kinds: dict[Kind, Any] = {"areas": fields, "lines": ditches, "points": shapely.points(x, y)}
    return {kind: VectorSource(Dataset(columns, kind, shapes, WEB_MERCATOR)) for kind, shapes in kinds.items()}


def drawn(source: VectorSource, at: float, **more: Any) -> VectorPass:
    """Classes with a break `at` a value of which few lie near."""
    classing = {"field": "v", "method": "manual", "breaks": [0.5, 1, at, 100]}
    encodings = {"colour": {"by": "classes", "classing": classing}, **more.pop("encodings", {})}
    layer = Layer(id="a", name="A", dataset="d", symbology={"kind": "symbols", "encodings": encodings, **more})
    pass_ = pass_of(layer, lambda *_: source)
    assert isinstance(pass_, VectorPass)
    return pass_


def whole(pass_: VectorPass, view: View) -> Any:
    return paint(Composition([pass_], [], Furniture()), view, ground=False)


LOOKS: dict[str, dict[str, Any]] = {
    "plain": {},
    "thick edges, half seen": {"symbol": {"strokes": [{"width": 3, "colour": "#223344", "opacity": 0.5}], "fill_opacity": 0.6}},
    "hatched": {"symbol": {"pattern": {"kind": "hatch"}}},
    "fading by a field": {"encodings": {"opacity": {"by": "value", "field": "w"}}},
}  # fmt: skip


@pytest.mark.parametrize("ratio", [1, 2])
@pytest.mark.parametrize("kind", ["areas", "lines"])
@pytest.mark.parametrize("look", LOOKS)
def test_what_changed_is_painted_as_if_all_were(
    sources: dict[Kind, VectorSource], look: str, kind: Kind, ratio: int
) -> None:
    # Cut by every edge of the picture, at a resolution at which features are no larger than a few px.
    view = View(MERCATOR, (97.0, 83.0, 97.0 + 128 * 3.1, 83.0 + 128 * 3.1), 128 * ratio, 128 * ratio, ratio)
    was, now = drawn(sources[kind], 3.0, **LOOKS[look]), drawn(sources[kind], 3.2, **LOOKS[look])
    before, after = whole(was, view), whole(now, view)
    assert (before != after).any()
    picture = repaint(before, was, now, view)
    assert picture is not None
    np.testing.assert_array_equal(picture, after)
    np.testing.assert_array_equal(before, whole(was, view))  # what was remembered is left as it was


def test_only_what_looks_otherwise_differs(sources: dict[Kind, VectorSource]) -> None:
    was, now = drawn(sources["areas"], 3.0), drawn(sources["areas"], 3.2)
    differ = looks_differ(was.ink, now.ink)
    values = sources["areas"].dataset.columns["v"].to_numpy()
    assert differ is not None
    np.testing.assert_array_equal(differ, (values > 3.0) & (values <= 3.2))
    same = looks_differ(now.ink, now.ink)
    assert same is not None and not same.any()


def test_where_it_is_no_quicker_all_is_to_be_painted(sources: dict[Kind, VectorSource]) -> None:
    view = View(MERCATOR, (0.0, 0.0, 600.0, 600.0), 128, 128)
    areas, points = sources["areas"], sources["points"]
    nothing = np.zeros((128, 128, 4), dtype=np.uint8)
    # Most change their class; other features; points, of which some hide others; a size where there was none.
    assert repaint(nothing, drawn(areas, 2.0), drawn(areas, 9.0), view) is None
    assert repaint(nothing, drawn(sources["lines"], 3.0), drawn(areas, 3.0), view) is None
    assert repaint(nothing, drawn(points, 3.0), drawn(points, 3.2), view) is None
    faded = drawn(areas, 3.2, encodings={"opacity": {"by": "value", "field": "w"}})
    assert repaint(nothing, drawn(areas, 3.0), faded, view) is None
