"""Maps of more than can be seen: what is left out does not show, and no tile is too heavy."""

from pathlib import Path

import numpy as np
import pyarrow as pa
import pyproj
import pytest
import shapely
import skia
from greylatch.cli.draw import beside
from greylatch.encodings.by_value import AngleByValue
from greylatch.encodings.channels import Encodings
from greylatch.paint.occlusion import MANY, _least, _most, seen
from greylatch.paint.passes import Composition, VectorPass, compose
from greylatch.paint.picture import paint
from greylatch.paint.sources import VectorSource
from greylatch.places.frame import MERCATOR
from greylatch.places.view import View
from greylatch.sheet.document import Furniture
from greylatch.sheet.layers import Layer
from greylatch.sheet.parts import Stroke
from greylatch.sheet.reading import read_sheet
from greylatch.sheet.symbology import Symbols
from greylatch.symbols.ink import ink
from greylatch.tables.dataset import Dataset
from greylatch.tiles.density import LIMIT, shapes_from
from greylatch.tiles.shape_tiles import shape_tile

from tests.looks import alike, proportional

MILLION = 1_000_000


@pytest.fixture(scope="module")
def million() -> VectorSource:
    """Made points: thick in the middle and thin at the edge, as settlements are."""
    rng = np.random.default_rng(20)
    places = shapely.points(rng.normal(0, 6, MILLION), np.clip(rng.normal(50, 4, MILLION), -80, 80))
    return VectorSource(Dataset(pa.table({"v": rng.lognormal(size=MILLION)}), "points", places, pyproj.CRS(4326)))


def layer_of(source: VectorSource, look: Symbols) -> Composition:
    layer = Layer(id="a", name="A", dataset="a", symbology=look)
    return Composition(
        [VectorPass(layer, source, ink(source.dataset, layer.symbology))],  # type: ignore[arg-type]
        [],
        Furniture(),
        MERCATOR,
    )


def turned(look: Symbols) -> Symbols:
    return look.model_copy(update={"encodings": Encodings(angle=AngleByValue(field="v"))})


@pytest.mark.parametrize(
    "look",
    [
        alike(Stroke(colour="#ffffff", width=0.8), fill="#3f6f8f", radius=3.5),
        alike(Stroke(width=0), fill="#101010", radius=0.7),
        alike(Stroke(width=0.5, opacity=0.5), fill="#a03020", fill_opacity=0.4, radius=4),
        alike(Stroke(width=0.8), fill="#4a8030", radius=4, shape="star"),
        turned(alike(Stroke(colour="#ffffff", width=0.8), fill="#3f6f8f", radius=3.5)),
        turned(alike(Stroke(width=0), fill="#101010", radius=0.7)),
        turned(alike(Stroke(width=0.5, opacity=0.5), fill="#a03020", fill_opacity=0.4, radius=4)),
        turned(alike(Stroke(width=0.8), fill="#4a8030", radius=4, shape="star")),
        proportional("v", largest=14, fill="#205080"),
    ],
)  # fmt: skip
@pytest.mark.parametrize("level", [3, 6.3])
def test_a_million_points_look_the_same_thinned(million: VectorSource, look: Symbols, level: float) -> None:
    """At most 2 of 255 in any pixel, in opaque and in translucent marks, large and tiny. Symbols that are alike are pressed, every one of them, so
    that none is left out; those that are turned by a value, or as large as it says, are drawn one by one."""
    composition = layer_of(million, look)
    x, y = MERCATOR.place(0, 50)
    view = View.around(MERCATOR, x, y, MERCATOR.grid.resolution(level), 400, 300)
    thin, whole = (paint(composition, view, ground=False, thin=each).astype(int) for each in (True, False))
    assert (whole[..., 3] > 0).mean() > 0.2, "there is a map to compare"
    assert np.abs(thin - whole).max() <= 2


def test_areas_and_points_of_the_demo_look_the_same_thinned(demo: Path) -> None:
    composition = compose(read_sheet(demo / "carbon.sheet.json"), beside(demo))
    for size in (60, 300, 1200):
        view = View.fitted(MERCATOR, composition.bounds, size, size)  # type: ignore[arg-type]
        thin, whole = (paint(composition, view, thin=one).astype(int) for one in (True, False))
        assert np.abs(thin - whole).max() <= 2


def test_most_of_a_crowd_is_hidden() -> None:
    rng = np.random.default_rng(4)
    n = 20 * MANY
    x, y = rng.uniform(0, 200, n), rng.uniform(0, 200, n)
    marks, radii = np.zeros(n, dtype=np.intp), np.full(n, 4.0)
    opaque = np.array([[1.0, 0.0, 0.0, 0.0, 1.0]])
    kept = seen(x, y, marks, radii, opaque, 1.0, 200, 200)
    assert 0.005 < kept.mean() < 0.2
    assert kept[-1], "the last is drawn over all others"
    glass = np.array([[0.02, 0.0, 0.0, 0.0, 1.0]])
    assert seen(x, y, marks, radii, glass, 1.0, 200, 200).mean() > 2 * kept.mean(), "through glass more is seen"
    assert not seen(x - 900, y, marks, radii, opaque, 1.0, 200, 200).any(), "beside the picture nothing is"


def test_no_tile_that_is_sent_is_too_heavy(million: VectorSource) -> None:
    rng = np.random.default_rng(5)
    corners = rng.uniform((-8, 42), (8, 58), (50_000, 2))
    areas = VectorSource(
        Dataset(
            pa.table({"v": np.arange(50_000)}), "areas", shapely.buffer(shapely.points(corners), 0.04, quad_segs=7), pyproj.CRS(4326)
        )
    )  # fmt: skip
    for source in (million, areas):
        first = shapes_from(source)
        assert first > 3
        here = [source.frame.grid.tile_at(*source.shapes[row].centroid.coords[0], first) for row in range(300)]
        sizes = [len(shape_tile(source, tile)) for tile in set(here)]
        assert LIMIT / 8 < max(sizes) < 1.1 * LIMIT
    few = VectorSource(Dataset(pa.table({"v": [1]}), "points", shapely.points([[0, 0]]), pyproj.CRS(4326)))
    assert shapes_from(few) == 0


def test_the_share_of_a_pixel_that_a_circle_covers() -> None:
    """Against the area that GEOS (shapely, PyPI) finds of a fine polygon of the circle in the pixel."""
    rng = np.random.default_rng(8)
    radii, x, y = rng.uniform(0.2, 12, 2_000), rng.uniform(-14, 14, 2_000), rng.uniform(-14, 14, 2_000)
    circles = shapely.buffer(shapely.points(np.zeros((2_000, 2))), radii, quad_segs=64)
    areas = shapely.area(shapely.intersection(circles, shapely.box(x - 0.5, y - 0.5, x + 0.5, y + 0.5)))
    least = np.array([_least(*each) for each in zip(radii, x, y, strict=True)])
    most = np.array([_most(*each) for each in zip(radii, x, y, strict=True)])
    assert (least <= areas + 1e-9).all() and (areas <= most + 1e-3).all()
    assert (most - least)[radii > 2].max() < 0.25 and (most - least).mean() < 0.02


@pytest.mark.parametrize("seed", range(4))
def test_what_is_left_out_shows_nowhere_and_most_of_what_is_kept_does(seed: int) -> None:
    """Painted by bare Skia with and without each."""
    rng = np.random.default_rng(seed)
    n, side = 500, 48
    x, y, radii = rng.uniform(-6, side + 6, n), rng.uniform(-6, side + 6, n), rng.uniform(1, 9, n)
    marks = rng.integers(0, 2, n)
    looks = np.array([[1.0, 1.0, 0.4, 0.0, 1.0], [0.6, 0.0, 0.0, 0.0, 1.0]])
    pens = [
        [skia.Paint(AntiAlias=True, Color=0xFF3F6F8F), skia.Paint(AntiAlias=True, Color=0xFFFFFFFF, Style=skia.Paint.kStroke_Style, StrokeWidth=0.8)],
        [skia.Paint(AntiAlias=True, Color=0x99B8583C)],
    ]  # fmt: skip

    def painted(rows: np.ndarray) -> np.ndarray:
        surface = skia.Surface(side, side)
        for row in rows.tolist():
            for pen in pens[marks[row]]:
                surface.getCanvas().drawCircle(float(x[row]), float(y[row]), float(radii[row]), pen)
        return np.asarray(surface.makeImageSnapshot().toarray()).astype(int)

    kept = np.flatnonzero(seen(x, y, marks.astype(np.intp), radii, looks, 1.0, side, side))
    thinned = painted(kept)
    assert np.abs(thinned - painted(np.arange(n))).max() <= 2
    showing = [bool((painted(np.delete(kept, i)) != thinned).any()) for i in range(len(kept))]
    assert len(kept) < 0.7 * n and np.mean(showing) > 0.75
