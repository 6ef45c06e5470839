"""Points that are drawn from their places alone: the same answers as shapes give, and shapes made only when somebody asks."""

from typing import Never

import numpy as np
import pyarrow as pa
import pyproj
import pytest
import shapely
from greylatch.paint.sources import VectorSource
from greylatch.places.frame import MERCATOR, Frame
from greylatch.places.side_by_side import are_valid, side_by_side
from greylatch.tables.dataset import Dataset
from numpy.typing import NDArray

RNG = np.random.default_rng(11)
PLACES = RNG.uniform((-179, -80), (179, 80), (6_000, 2))


def never() -> Never:
    raise AssertionError("nobody needs these shapes")


def data(places: NDArray[np.float64], fids: NDArray[np.int64] | None = None, crs: int = 4326) -> Dataset:
    columns = pa.table({"n": np.arange(len(places))})
    return Dataset(columns, "points", shapely.points(places), pyproj.CRS(crs), fids)  # type: ignore[arg-type]


@pytest.fixture(scope="module")
def source() -> VectorSource:
    return VectorSource(data(PLACES))


def test_places_are_those_of_the_shapes(source: VectorSource) -> None:
    """PROJ is the referee, through pyproj."""
    x, y = pyproj.Transformer.from_crs(4326, 3857, always_xy=True).transform(*PLACES.T)
    assert source.points is not None
    assert np.abs(source.points - np.column_stack([x, y])).max() < 1e-6
    assert source.bounds == pytest.approx((x.min(), y.min(), x.max(), y.max()))
    assert (source.anchors == source.points).all()
    assert source.vertices == len(PLACES)


@pytest.mark.parametrize("seed", range(5))
def test_what_lies_within_a_box_is_what_a_tree_finds(source: VectorSource, seed: int) -> None:
    """shapely's STRtree (GEOS) is the referee."""
    rng = np.random.default_rng(seed)
    corners = np.sort(rng.uniform(-2e7, 2e7, (2, 2)), axis=0)
    box = (*corners[0].tolist(), *corners[1].tolist())
    assert source.within(box).tolist() == sorted(source.tree.query(shapely.box(*box)).tolist())


def test_to_draw_kept_places_takes_no_shape() -> None:
    kept = np.array([[0.0, 0.0], [1e5, 2e5], [3e5, 1e5]])
    rows = Dataset(pa.table({"a": [1, 2, 3]}), "points", never, pyproj.CRS(4326))
    source = VectorSource(rows, MERCATOR, points=kept)
    assert source.within((-1, -1, 150_000, 250_000)).tolist() == [0, 1]
    places, owner = source.positions(np.array([2, 0]))
    assert places.tolist() == [[3e5, 1e5], [0, 0]] and owner.tolist() == [2, 0]
    some = source.taking("a > 1")
    assert some.points is not None and some.points.tolist() == kept[1:].tolist()
    assert rows.with_columns(rows.columns).described().columns["a"].to_pylist() == [1, 2, 3]
    with pytest.raises(AssertionError, match="nobody needs"):
        _ = rows.shapes


def test_points_in_many_parts_are_shapes() -> None:
    many = Dataset(pa.table({"a": [1]}), "points", np.array([shapely.MultiPoint([(0, 0), (1, 1)])]), pyproj.CRS(4326))
    source = VectorSource(many)
    assert source.points is None
    assert len(source.positions(np.array([0]))[0]) == 2


@pytest.mark.parametrize("crs", ["EPSG:3857", "EPSG:8857"])
@pytest.mark.parametrize("kind", ["points", "areas"])
def test_a_later_state_is_as_if_made_anew(crs: str, kind: str) -> None:
    """Rows that went, came and moved: the same as projecting all of it."""

    def shaped(places: NDArray[np.float64]) -> NDArray[np.object_]:
        points = shapely.points(places)
        return points if kind == "points" else shapely.buffer(points, 0.1, quad_segs=2)

    def state(places: NDArray[np.float64], fids: list[int]) -> Dataset:
        return Dataset(pa.table({"n": fids}), kind, shaped(places), pyproj.CRS(4326), np.array(fids))  # type: ignore[arg-type]

    frame = Frame.named(crs)
    places = PLACES[:6] * 0.5
    before = VectorSource(state(places, [0, 1, 2, 3, 4, 5]), frame)
    _ = before.shapes if kind == "areas" else before.points
    later = np.vstack([places[:2], [[7.0, 8.0]], places[4:6], [[-3.0, 4.0]]])
    after = state(later, [0, 1, 3, 4, 5, 9])
    touched = np.array([2, 3, 9])
    there = np.isin(after.fids, touched)
    assert after.shapes is not None
    moved = before.moved(after, after.fids[there], after.shapes[there])
    anew = VectorSource(after, frame)
    assert shapely.equals_exact(moved.shapes, anew.shapes, tolerance=1e-6).all()
    assert moved.bounds == pytest.approx(anew.bounds)


def test_work_side_by_side_keeps_the_order_of_rows() -> None:
    rows = RNG.uniform(size=(20_001, 2))
    assert (side_by_side(lambda part: part * 2, rows) == rows * 2).all()
    assert side_by_side(lambda part: part, rows[:3]).tolist() == rows[:3].tolist()


def test_sound_shapes_are_those_that_geos_says() -> None:
    corners = RNG.uniform(0, 10, (12_000, 4, 2))
    corners = np.concatenate([corners, corners[:, :1]], axis=1)
    shapes = shapely.polygons(corners)
    assert (are_valid(shapes) == shapely.is_valid(shapes)).all()
    # A few with many vertices are shared out by these: one of them may be more than the share of a thread.
    detailed = shapely.segmentize(shapes[:9], np.r_[1e-3, np.full(8, 1e-2)])
    assert (are_valid(detailed) == shapely.is_valid(detailed)).all()
    assert 0.1 < are_valid(shapes).mean() < 0.9
