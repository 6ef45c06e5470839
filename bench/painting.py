"""Painting beside bare calls of Skia in the same run, twelve small maps to choose from, and dots strewn."""

import numpy as np
import pyarrow as pa
import shapely
import skia
from greylatch.encodings.by_classes import ColourByClasses
from greylatch.encodings.channels import Encodings
from greylatch.paint.passes import Composition, compose
from greylatch.paint.picture import paint
from greylatch.paint.sources import VectorSource
from greylatch.paint.trials import trials
from greylatch.places.crs import LONLAT
from greylatch.places.frame import MERCATOR
from greylatch.places.view import View
from greylatch.readings.dots import Dots
from greylatch.sheet.document import Sheet
from greylatch.sheet.parts import Classing
from greylatch.sheet.symbology import Symbols
from greylatch.tables.dataset import Dataset

from bench.table import median_seconds, print_table, timed

CORNERS, SIDE = 30, 2048


def main() -> None:
    many = composed(areas(20_000))
    west, south, east, north = many.bounds or (0, 0, 1, 1)
    resolution = max(east - west, north - south) / SIDE
    view = View.around(MERCATOR, (west + east) / 2, (south + north) / 2, resolution, SIDE, SIDE)
    ours = median_seconds(lambda: paint(many, view, ground=False, thin=False))
    thinned = median_seconds(lambda: paint(many, view, ground=False))
    source = many.passes[0].source
    assert isinstance(source, VectorSource)
    bare = median_seconds(lambda: bare_skia(source, view))
    print_table(
        "20,000 areas of 30 vertices at 2048 × 2048",
        [
            ("the reference: the same fills and strokes by Skia alone, paths at hand", f"{bare:.3f} s"),
            ("painted, every stroke", f"{ours:.3f} s, {ours / bare:.2f} of it (1.5 asked)"),
            ("painted as it is by default", f"{thinned:.3f} s, {thinned / bare:.2f} of it"),
        ],
    )
    some = composed(areas(10_000)).passes[0]
    first, shown = timed(lambda: trials(some, 180, 120))  # type: ignore[arg-type]
    again = median_seconds(lambda: trials(some, 180, 120))  # type: ignore[arg-type]
    print_table(
        f"{len(shown)} small maps of 10,000 areas (2 s asked)",
        [("first", f"{first:.2f} s"), ("again", f"{again:.2f} s")],
    )
    data = areas(10_000)
    ground = VectorSource(data.described())
    _ = ground.shapes
    strewn, made = timed(lambda: ground.read(Dots(field="v", each=0.04)))
    placed, _ = timed(lambda: made.points)
    print_table(
        f"{len(made.dataset):,} dots over 10,000 areas (1 s asked)",
        [("strewn", f"{strewn:.2f} s"), ("and placed on the map", f"{strewn + placed:.2f} s")],
    )


def areas(n: int) -> Dataset:
    """Round fields side by side."""
    rng = np.random.default_rng(5)
    side = int(np.ceil(np.sqrt(n)))
    row, column = np.divmod(np.arange(n), side)
    turn = np.linspace(0, 2 * np.pi, CORNERS, endpoint=False)
    radius = 0.5 + 0.08 * rng.standard_normal((n, CORNERS))
    x = (column[:, None] + 0.5 + radius * np.cos(turn)) / side * 20 - 10
    y = (row[:, None] + 0.5 + radius * np.sin(turn)) / side * 13 + 45
    xy = np.stack([x, y], -1)
    shapes = shapely.polygons(np.concatenate([xy, xy[:, :1]], axis=1))
    return Dataset(pa.table({"v": rng.lognormal(size=n)}), "areas", shapes, LONLAT)


def composed(data: Dataset) -> Composition:
    """One layer in five classes."""
    by = Encodings(colour=ColourByClasses(classing=Classing(field="v", method="quantile", classes=5)))
    layer = {
        "id": "a",
        "name": "Fields",
        "dataset": "fields",
        "symbology": Symbols(encodings=by).model_dump(mode="json"),
    }
    sheet = Sheet.model_validate({"title": "Fields", "layers": [layer]})
    source = VectorSource(data)
    return compose(sheet, lambda *_: source)


def bare_skia(source: VectorSource, view: View) -> None:
    """Each area filled and stroked, with nothing around it."""
    surface = skia.Surface(SIDE, SIDE)
    canvas = surface.getCanvas()
    rows = np.arange(len(source.dataset))
    paths = source.outlines(rows, view.resolution)
    fill = skia.Paint(Color=0xFF7C4F74, AntiAlias=True)
    stroke = skia.Paint(Color=0xFFFFFFFF, AntiAlias=True, Style=skia.Paint.kStroke_Style, StrokeWidth=0.5)
    canvas.translate(
        (source.bounds[0] - view.bounds[0]) / view.resolution, (view.bounds[3] - source.bounds[3]) / view.resolution
    )
    for path in paths:
        canvas.drawPath(path, fill)
        canvas.drawPath(path, stroke)
    surface.makeImageSnapshot().toarray()


if __name__ == "__main__":
    main()
