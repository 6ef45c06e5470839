"""Geometry tiles: shapes with nothing but their row, cut once for each revision and frame and kept for good."""

from django.core.cache import caches
from greylatch.errors import BadInput
from greylatch.paint.sources import VectorSource
from greylatch.places.frame import Frame
from greylatch.places.grid import Tile
from greylatch.tiles.shape_tiles import shape_tile

from library.models import Revision
from library.store import source_of

CUT = 1
"""Of which make the tiles are: counted on when they are cut in another way, so that none of the old ones is served."""


def geometry_tile(revision: Revision, frame: Frame, tile: Tile) -> bytes:
    """The Mapbox Vector Tile 2.1; empty bytes where there is nothing. Raises BadInput for a tile or shapes that are not there."""
    if not frame.grid.has(tile):
        raise BadInput(f"There is no tile {tile.z}/{tile.x}/{tile.y}.")
    kept = caches["tiles"]
    key = f"shapes/{CUT}/{revision.pk}/{frame.digest}/{tile.z}/{tile.x}/{tile.y}"
    data = kept.get(key)
    if data is None:
        source = source_of(revision, frame)
        if not isinstance(source, VectorSource):
            raise BadInput("A raster has no shapes.")
        data = shape_tile(source, tile)
        kept.set(key, data)
    return bytes(data)
