"""What the first requests of a process would wait for, loaded before it takes any."""

import gc
import tempfile
from pathlib import Path
from typing import Any

import numpy as np
import pyarrow as pa
import rasterio
import shapely
from django.urls import get_resolver
from greylatch.classes.natural import natural_breaks
from greylatch.paint.occlusion import seen
from greylatch.paint.passes import compose
from greylatch.paint.picture import paint
from greylatch.paint.sources import RasterSource, Source, VectorSource
from greylatch.paint.stamps import pressed
from greylatch.paint.thinning import thinned
from greylatch.places.crs import LONLAT
from greylatch.places.frame import Frame
from greylatch.places.view import View
from greylatch.sheet.document import Sheet
from greylatch.symbols.marks import Mark
from greylatch.tables.dataset import Dataset
from greylatch.tiles.density import shapes_from
from greylatch.tiles.map_pyramid import map_bounds
from greylatch.tiles.shape_tiles import shape_tile
from rasterio.transform import from_bounds

NEW_OBJECTS = 50_000
"""After how many new objects cycles are looked for among them."""
NAMED: dict[str, Any] = {"lines": [{"text": "{name}", "size": 10}]}
SMALL_MAP: list[dict[str, Any]] = [
    {"id": "places", "name": "Places", "dataset": "points", "symbology": {"kind": "symbols"}, "lettering": NAMED},
    {"id": "areas", "name": "Areas", "dataset": "areas", "symbology": {"kind": "symbols"}, "blend": "multiply", "lettering": NAMED},
    {"id": "hill", "name": "Hill", "dataset": "hill", "symbology": {"kind": "hillshade"}},
]  # fmt: skip
"""Layers of a sheet that asks for what most first sheets do."""


def collect_seldom() -> None:
    """Have this process look for cycles of objects that nobody holds less often, and never among what is there by now. Reading and
    drawing make shapes by the million, which are in no cycle: to look through them took half of the time."""
    gc.collect()
    gc.freeze()
    gc.set_threshold(NEW_OBJECTS, 20, 20)


def warm() -> None:
    """Load the addresses with all behind them, the compiled functions that drawing and lettering take, and the ramps in as many
    colours as a map begins with: together some two seconds, in which a process answers nothing else either. On a machine that never
    drew a map they are compiled now, in some ten seconds, rather than while somebody waits for the first one."""
    _ = get_resolver().url_patterns
    from sheets.colours import ramps_in  # only now, when Django is ready

    ramps_in(5)
    natural_breaks(np.array([1.0, 2.0, 3.0]), 2)
    thinned(np.zeros((2, 2)), np.zeros(2, dtype=np.intp), False, 1.0)
    place, first = np.array([1.0]), np.array([0])
    seen(place, place, first, place, np.array([[1.0, 1.0, 0.0, 0.0, 1.0]]), 1.0, 2, 2)
    pressed(place, place, first, [(Mark("#000000", 1.0), 1.0)], 1.0, 2, 2)
    _draw_small_map()
    collect_seldom()


def _draw_small_map() -> None:
    """Two named places and areas over a hill, drawn, lettered and cut into tiles."""
    with tempfile.TemporaryDirectory() as name:
        hill = Path(name) / "hill.tif"
        rows = np.hypot(*np.mgrid[-16:16, -16:16]).astype(np.float32)
        shape = {"width": 32, "height": 32, "count": 1, "dtype": "float32", "crs": "EPSG:4326"}
        with rasterio.open(hill, "w", "GTiff", transform=from_bounds(0, 0, 1, 1, 32, 32), **shape) as raster:
            raster.write(rows, 1)

        def find(dataset: str, frame: Frame) -> Source:
            if dataset == "hill":
                return RasterSource(hill, frame)
            names, middles = pa.table({"name": ["Ard", "Brae"]}), shapely.points([[0.3, 0.3], [0.7, 0.7]])
            if dataset == "points":
                return VectorSource(Dataset(names, "points", middles, LONLAT), frame)
            return VectorSource(Dataset(names, "areas", shapely.buffer(middles, 0.2), LONLAT), frame)

        composition = compose(Sheet.model_validate({"title": "Small", "layers": SMALL_MAP}), find)
        bounds = map_bounds(composition)
        paint(composition, View.fitted(composition.frame, bounds, 512, 512))
        for kind in ("points", "areas"):
            source = find(kind, composition.frame)
            assert isinstance(source, VectorSource)
            shape_tile(source, next(composition.frame.grid.tiles_over(bounds, shapes_from(source))))
