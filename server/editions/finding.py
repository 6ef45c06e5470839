"""Which features a reader points at."""

from collections.abc import Iterator

import shapely
from greylatch.paint.passes import VectorPass, pass_of
from greylatch.places.crs import LONLAT, to_mercator
from greylatch.sheet.document import Layer
from greylatch.sheet.document import Sheet as Document
from greylatch.symbols.ink import UNDRAWN
from greylatch.tiles.matrix import resolution_of
from library.models import Revision
from sheets.sources import finder

SLACK = 3.0
"""Px by which a reader may miss a symbol or a line."""


def features_at(
    document: Document, revisions: dict[str, Revision], lon: float, lat: float, zoom: float
) -> Iterator[tuple[Layer, int]]:
    """Layer and row of what is drawn at a place, the topmost first; of points and lines the nearest one of each layer."""
    place = to_mercator(shapely.points([[max(-180, min(180, lon)), max(-85, min(85, lat))]]), LONLAT)[0]
    resolution = resolution_of(max(0, min(24, zoom)))
    find = finder(revisions)
    for layer in document.layers:
        if not layer.visible or layer.dataset not in revisions or revisions[layer.dataset].raster is not None:
            continue
        one = pass_of(layer, find)
        assert isinstance(one, VectorPass)
        areal = one.source.dataset.kind == "areas"
        reach = 0.0 if areal else (max((m.radius for m in one.ink.palette), default=0) + SLACK) * resolution
        rows = (
            one.source.tree.query(place, predicate="dwithin", distance=reach)
            if reach
            else one.source.tree.query(place, predicate="intersects")
        )
        rows = [int(row) for row in rows if one.ink.index[row] != UNDRAWN]
        if rows:
            yield (
                layer,
                min(rows, key=lambda row: shapely.distance(one.source.shapes[row], place)) if not areal else max(rows),
            )
