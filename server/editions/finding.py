"""Which features a reader points at."""

import math
from collections.abc import Iterator
from typing import Any

import numpy as np
import shapely
from greylatch.paint.hits import hit
from greylatch.paint.passes import VectorPass, pass_of
from greylatch.places.crs import LONLAT, WEB_MERCATOR, reproject, to_mercator
from greylatch.sheet.document import Layer
from greylatch.sheet.document import Sheet as Document
from greylatch.symbols.ink import UNDRAWN
from greylatch.tiles.matrix import resolution_of
from library.models import Revision
from sheets.sources import finder

BANDS = 12
"""Into how many lines what is in view is parted, for reading it in order."""


def features_within(
    document: Document, revisions: dict[str, Revision], box: tuple[float, float, float, float], most: int = 500
) -> list[dict[str, Any]]:
    """Layer, row, longitude and latitude of the features with a card that are anchored in a box of degrees, read as a page is:
    from the top to the bottom, rows of like height from left to right. At most `most`, the first ones."""
    west, south, east, north = box
    low, high = to_mercator(shapely.points([[west, south], [east, north]]), LONLAT)
    find, found = finder(revisions), []
    for layer in document.layers:
        known = layer.dataset in revisions and revisions[layer.dataset].raster is None
        if not layer.visible or not layer.card or not known:
            continue
        one = pass_of(layer, find)
        assert isinstance(one, VectorPass)
        x, y = one.source.anchors.T
        with np.errstate(invalid="ignore"):
            inside = (x >= low.x) & (x <= high.x) & (y >= low.y) & (y <= high.y) & (one.ink.index != UNDRAWN)
        found += [(float(x[row]), float(y[row]), layer.id, int(row)) for row in np.flatnonzero(inside)]
    band = max((high.y - low.y) / BANDS, 1e-9)
    found.sort(key=lambda f: (-math.floor((f[1] - low.y) / band), f[0]))
    places = shapely.get_coordinates(
        reproject(shapely.points([f[:2] for f in found[:most]] or np.empty((0, 2))), WEB_MERCATOR, LONLAT)
    )
    return [
        {"layer": layer, "row": row, "lon": lon, "lat": lat}
        for (_, _, layer, row), (lon, lat) in zip(found, places.tolist(), strict=False)
    ]


def features_at(
    document: Document, revisions: dict[str, Revision], lon: float, lat: float, zoom: float
) -> Iterator[tuple[Layer, int]]:
    """Layer and row of what is seen at a place, the topmost layer first, one feature of each."""
    place = to_mercator(shapely.points([[max(-180, min(180, lon)), max(-85, min(85, lat))]]), LONLAT)[0]
    find = finder(revisions)
    for layer in document.layers:
        if not layer.visible or layer.dataset not in revisions or revisions[layer.dataset].raster is not None:
            continue
        one = pass_of(layer, find)
        assert isinstance(one, VectorPass)
        row = hit(one, place.x, place.y, resolution_of(max(0, min(24, zoom))))
        if row is not None:
            yield layer, row
