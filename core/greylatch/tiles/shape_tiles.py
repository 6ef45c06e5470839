"""Vector tiles of shapes: those that lie in a tile, cut to a little more than its ground."""

import math

import numpy as np
import shapely
from numpy.typing import NDArray

from greylatch.paint.sources import VectorSource
from greylatch.places.bounds import Bounds
from greylatch.places.grid import Tile
from greylatch.sheet.parts import WIDEST_STROKE
from greylatch.tiles.mvt import EXTENT, Properties, encode_points, encode_shapes

__all__ = ["LAYER", "reach_of_tile", "shape_tile"]

SMALLEST = 512 / math.sqrt(2)
"""Px that a tile of shapes is wide where it is shown smallest: halfway, by factors, to the level before."""
BUFFER = math.ceil(WIDEST_STROKE / 2 / SMALLEST * EXTENT)
"""Units by which lines and areas reach over a tile's edge, so that their outlines do, however wide."""
LAYER = "shapes"
"""Name of the one layer in these tiles."""


def shape_tile(
    source: VectorSource, tile: Tile, drawn: NDArray[np.bool_] | None = None, properties: Properties | None = None
) -> bytes:  # fmt: skip
    """The Mapbox Vector Tile 2.1 of a source's shapes, each with its fid as id; empty bytes where there is nothing.

    A point is in one tile only, or it would be drawn twice.

    Parameters
    ----------
    source : VectorSource
        The data in the frame.
    tile : Tile
        Level, column and row.
    drawn : NDArray[np.bool_] | None
        Says by row which of them, `properties` by row what they carry.
    properties : Properties | None
        What each feature says, by name.

    Returns
    -------
    bytes
    """
    bounds = source.frame.grid.tile_bounds(tile)
    kind = source.dataset.kind
    box = bounds if kind == "points" else reach_of_tile(bounds)
    rows = source.within(box)
    if drawn is not None:
        rows = rows[drawn[rows]]
    those = {name: property_.at(rows) for name, property_ in (properties or {}).items()}
    if kind == "points":
        xy, owner = source.positions(rows)
        owner = np.searchsorted(rows, owner)
        inside = _inside(source, tile, xy)
        return encode_points(LAYER, xy[inside], owner[inside], bounds, source.dataset.fids[rows].tolist(), those)
    shapes = source.shapes[rows]
    with np.errstate(invalid="ignore"):
        over = ~(shapely.bounds(shapes) * (1, 1, -1, -1) >= np.array(box) * (1, 1, -1, -1)).all(axis=1)
    shapes[over] = shapely.clip_by_rect(shapes[over], *box)
    return encode_shapes(LAYER, kind, shapes, bounds, source.dataset.fids[rows].tolist(), those)


def reach_of_tile(bounds: Bounds) -> Bounds:
    """The ground of a tile of lines or areas with what it shows of its neighbours'."""
    pad = (bounds[2] - bounds[0]) * BUFFER / EXTENT
    return bounds[0] - pad, bounds[1] - pad, bounds[2] + pad, bounds[3] + pad


def _inside(source: VectorSource, tile: Tile, xy: NDArray[np.float64]) -> NDArray[np.bool_]:
    """Which places are this tile's: those on its left and upper edge; on the other two only where no tile follows."""
    grid = source.frame.grid
    west, south, east, north = grid.tile_bounds(tile)
    x, y = xy.T
    last_column = tile.x == grid.columns * 2**tile.z - 1
    last_row = tile.y == grid.rows * 2**tile.z - 1
    across = (x >= west) & ((x <= east) if last_column else (x < east))
    return np.asarray(across & (y <= north) & ((y >= south) if last_row else (y > south)))
