"""Clusters: which points are one at a level, the same in all tiles, and what is pressed."""

import numpy as np
import pyarrow as pa
import pyproj
import pytest
import shapely
from greylatch.errors import CannotDraw
from greylatch.paint.clusters import cluster_at, cluster_radius, clustered, draw_clusters
from greylatch.paint.key import layer_key
from greylatch.paint.passes import Composition, GatheredPass, pass_of
from greylatch.paint.picture import paint
from greylatch.paint.sources import VectorSource
from greylatch.places.frame import MERCATOR
from greylatch.places.grid import Tile
from greylatch.places.view import View
from greylatch.sheet.document import Furniture
from greylatch.sheet.layers import Layer
from greylatch.sheet.symbology import Clusters
from greylatch.tables.dataset import Dataset
from scipy.spatial import cKDTree

LOOK = Clusters()


def source_of(xy: np.ndarray) -> VectorSource:
    data = Dataset(pa.table({"n": np.arange(len(xy))}), "points", shapely.points(xy), pyproj.CRS(3857))
    return VectorSource(data)


@pytest.fixture(scope="module")
def many() -> VectorSource:
    rng = np.random.default_rng(7)
    middles = rng.uniform(-1e6, 1e6, (40, 2))
    return source_of(middles[rng.integers(0, 40, 5_000)] + rng.normal(0, 3e4, (5_000, 2)))


@pytest.mark.parametrize("level", [2, 5, 8, 12])
def test_every_point_is_in_one_cluster_in_its_middle(many: VectorSource, level: int) -> None:
    """The middle is the mean of the points within its box; scipy's k-d tree says that no two middles are closer than half the reach."""
    resolution = MERCATOR.grid.resolution(level)
    there = clustered(many, LOOK, resolution)
    assert there.counts.sum() == 5_000
    assert many.points is not None
    mean = (there.places * there.counts[:, None]).sum(axis=0) / 5_000
    assert mean == pytest.approx(many.points.mean(axis=0), abs=1e-3)
    assert (there.boxes[:, :2] <= there.places + 1e-6).all() and (there.places <= there.boxes[:, 2:] + 1e-6).all()
    near = cKDTree(there.places).query_pairs(0.25 * LOOK.reach * resolution)
    assert len(near) < 0.02 * len(there.counts) + 1


def test_nearer_they_part(many: VectorSource) -> None:
    counts = [len(clustered(many, LOOK, MERCATOR.grid.resolution(z)).counts) for z in range(0, 16, 3)]
    assert counts == sorted(counts) and counts[0] < 10 and counts[-1] > 3_000
    apart = LOOK.model_copy(update={"apart": 1e9})
    assert len(clustered(many, apart, MERCATOR.grid.resolution(3)).counts) == 5_000
    # Between two levels they are as at the one that is farther away: pictures of it are shown.
    assert clustered(many, LOOK, MERCATOR.grid.resolution(5.4)) is clustered(many, LOOK, MERCATOR.grid.resolution(5))


def test_tiles_fit_together(many: VectorSource) -> None:
    layer = Layer(id="a", name="A", dataset="d", symbology=LOOK)
    composition = Composition([pass_of(layer, lambda name, frame: many)], [], Furniture())
    west, south, _, _ = MERCATOR.grid.tile_bounds(Tile(4, 7, 8))
    _, _, east, north = MERCATOR.grid.tile_bounds(Tile(4, 8, 7))
    whole = paint(composition, View(MERCATOR, (west, south, east, north), 512, 512), ground=False)
    for x, y in ((0, 0), (1, 0), (0, 1), (1, 1)):
        tile = paint(composition, View.of_tile(MERCATOR, Tile(4, 7 + x, 7 + y)), ground=False)
        part = whole[y * 256 : y * 256 + 256, x * 256 : x * 256 + 256]
        # Where a canvas ends Skia smooths the edge of a circle a little otherwise; the same pixels are drawn.
        assert ((tile[..., 3] > 128) != (part[..., 3] > 128)).mean() < 0.001
        assert np.abs(tile[..., 3].astype(int) - part[..., 3]).mean() < 0.1
    assert (whole[..., 3] > 0).mean() > 0.02


def test_the_largest_lies_on_top_and_opens_to_its_box(many: VectorSource) -> None:
    resolution = MERCATOR.grid.resolution(4)
    there = clustered(many, LOOK, resolution)
    largest = int(np.argmax(there.counts))
    found = cluster_at(many, LOOK, *there.places[largest].tolist(), resolution)
    assert found is not None
    assert found[1] == there.counts[largest] and found[2] == pytest.approx(tuple(there.boxes[largest].tolist()))
    assert cluster_at(many, LOOK, 9e6, 9e6, resolution) is None
    alone = source_of(np.array([[0.0, 0.0], [1e6, 0.0]]))
    assert cluster_at(alone, LOOK, 1e6, 0.0, 100.0) == (1, 1, (1e6, 0.0, 1e6, 0.0))


def test_symbols_grow_with_the_number_and_the_key_says_how(many: VectorSource) -> None:
    radii = [cluster_radius(LOOK, n, 5_000) for n in (1, 2, 10, 100, 5_000)]
    assert radii == sorted(radii) and (radii[0], radii[1], radii[-1]) == (5, 9, 26)
    pass_ = pass_of(Layer(id="a", name="A", dataset="d", symbology=LOOK), lambda name, frame: many)
    assert isinstance(pass_, GatheredPass)
    assert [entry.text for entry in layer_key(pass_).entries] == [
        "a point by itself",
        "10 points",
        "100 points",
        "1,000 points",
    ]
    assert draw_clusters(many, LOOK, View.around(MERCATOR, 9e6, 9e6, 100, 50, 50)) is None


def test_only_points_gather() -> None:
    areas = VectorSource(Dataset(pa.table({"n": [1]}), "areas", np.array([shapely.box(0, 0, 1, 1)]), pyproj.CRS(3857)))
    with pytest.raises(CannotDraw, match="Clusters need points, and this layer holds areas"):
        pass_of(Layer(id="a", name="A", dataset="d", symbology=LOOK), lambda name, frame: areas)
