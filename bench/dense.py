"""Maps of more than can be seen: 50,000 lettered areas and 1,000,000 points, first tiles and whole editions."""

import tempfile
from pathlib import Path
from typing import Any

import numpy as np
import pyarrow as pa
import pyproj
import shapely
import skia
from greylatch.edition.plan import plan_edition
from greylatch.edition.publish import publish
from greylatch.paint.brush import draw_point
from greylatch.paint.passes import Composition, VectorPass, compose
from greylatch.paint.picture import paint
from greylatch.paint.sources import VectorSource
from greylatch.places.frame import MERCATOR, Frame
from greylatch.places.view import View
from greylatch.sheet.document import Sheet
from greylatch.tables.dataset import Dataset
from greylatch.tiles.density import shapes_from
from greylatch.tiles.image import png
from greylatch.tiles.shape_tiles import shape_tile
from greylatch.tiles.view import whole_view

from bench.table import print_table, timed

SIDE, CORNERS, POINTS = 224, 28, 1_000_000


def main() -> None:
    for words, data, level, lettering, asked in (
        ("50,176 areas with 28 vertices", areas(), 4, {"field": "name", "size": 11}, "25 s"),
        ("1,000,000 points", points(), 3, None, "60 s"),
    ):
        sheet = sheet_of(lettering)
        seconds, source = timed(lambda data=data: ready(data))
        composition = compose(sheet, lambda *_, source=source: source)  # type: ignore[misc]
        bare = Composition(composition.passes, [], composition.furniture)
        x, y = (source.bounds[0] + source.bounds[2]) / 2, (source.bounds[1] + source.bounds[3]) / 2
        view = View.of_tile(MERCATOR, MERCATOR.grid.tile_at(x, y, level), 512)
        # The first picture of a process compiles, or finds compiled, what looks for hidden symbols.
        paint(bare, View.of_tile(MERCATOR, MERCATOR.grid.tile_at(x, y, 12), 64), ground=False)
        cold, picture = timed(lambda bare=bare, view=view: paint(bare, view, ground=False))
        again, _ = timed(lambda bare=bare, view=view: paint(bare, view, ground=False))
        whole, _ = timed(lambda bare=bare, view=view: every_mark(bare, view))
        first = shapes_from(source)
        middle = MERCATOR.grid.tile_at(x, y, first)
        shapes, tile = timed(lambda source=source, middle=middle: shape_tile(source, middle))
        small, _ = timed(lambda bare=bare: small_picture(bare))
        edition, plan = timed(lambda sheet=sheet, source=source: published(sheet, source))
        print_table(
            words,
            [
                ("the reference: every mark painted", f"{whole:.2f} s"),
                ("shapes projected and indexed", f"{seconds:.2f} s, {seconds / whole:.2f} of it"),
                (f"first picture at level {level}", f"{cold:.2f} s, {cold / whole:.2f} of it; {len(png(picture)) / 1e3:.0f} kB"),
                ("the same again", f"{again:.2f} s, {again / whole:.2f} of it"),
                (f"first tile of shapes, level {first}", f"{shapes:.2f} s, {len(tile) / 1e3:.0f} kB"),
                ("its small picture in the list of sheets (1 s asked)", f"{small:.2f} s, {small / whole:.2f} of it"),
                (f"published, levels 4 to 9 ({asked} asked)", f"{edition:.0f} s for {plan} tiles, {edition / whole:.0f} of it"),
            ],
        )  # fmt: skip


def every_mark(composition: Composition, view: View) -> None:
    """Each symbol by calls of Skia of its own; areas by the painter, with every stroke."""
    (pass_,) = composition.passes
    assert isinstance(pass_, VectorPass)
    if pass_.source.dataset.kind != "points":
        paint(composition, view, ground=False, thin=False)
        return
    canvas = skia.Surface(view.width, view.height).getCanvas()
    xy, owner = pass_.source.positions(np.arange(len(pass_.source.dataset)))
    x, y = (xy[:, 0] - view.bounds[0]) / view.resolution, (view.bounds[3] - xy[:, 1]) / view.resolution
    marks = [pass_.ink.palette[at] for at in pass_.ink.mark[owner].tolist()]
    for px, py, mark in zip(x.tolist(), y.tolist(), marks, strict=True):
        draw_point(canvas, px, py, mark.radius, mark)


def areas() -> Dataset:
    """Round fields side by side, each with a name."""
    rng = np.random.default_rng(1)
    column, row = np.meshgrid(np.arange(SIDE), np.arange(SIDE))
    around = np.linspace(0, 2 * np.pi, CORNERS, endpoint=False)
    radius = 0.5 + 0.08 * rng.standard_normal((SIDE * SIDE, CORNERS))
    x = (column.reshape(-1, 1) + 0.5 + radius * np.cos(around)) / SIDE * 20 - 10
    y = (row.reshape(-1, 1) + 0.5 + radius * np.sin(around)) / SIDE * 20 + 40
    xy = np.stack([x, y], -1)
    shapes = shapely.polygons(shapely.linearrings(np.concatenate([xy, xy[:, :1]], 1)))
    return dataset(shapes, "areas", rng)


def points() -> Dataset:
    """Spread evenly."""
    rng = np.random.default_rng(2)
    return dataset(shapely.points(rng.uniform((-10, 40), (0, 48), (POINTS, 2))), "points", rng)


def dataset(shapes: Any, kind: Any, rng: np.random.Generator) -> Dataset:
    names = [f"Field {i}" for i in range(len(shapes))]
    return Dataset(
        pa.table({"v": rng.lognormal(size=len(shapes)), "name": names}), kind, shapes, pyproj.CRS.from_epsg(4326)
    )


def sheet_of(lettering: Any) -> Sheet:
    symbology = {
        "kind": "symbols",
        "encodings": {"colour": {"by": "classes", "classing": {"field": "v", "classes": 5}}},
    }
    layer = {"id": "a", "name": "A", "dataset": "a", "symbology": symbology, "lettering": lettering}
    return Sheet.model_validate({"title": "Dense", "layers": [layer]})


def ready(data: Dataset) -> VectorSource:
    source = VectorSource(data)
    _ = source.shapes, source.tree
    return source


def small_picture(composition: Composition) -> bytes:
    """The whole map without labels, as sheets are listed."""
    return png(paint(composition, whole_view(composition, 288, 180)))


def published(sheet: Sheet, source: VectorSource) -> int:
    def find(name: str, frame: Frame) -> VectorSource:
        return source

    with tempfile.TemporaryDirectory() as folder:
        page = publish(plan_edition(sheet, find, min_zoom=4, max_zoom=9), Path(folder) / "edition", 2)
    return int(page["tiles"])


if __name__ == "__main__":
    main()
