"""From which level on shapes are few enough in every tile to be sent as shapes; before it they are sent as pictures."""

import numpy as np
import shapely
from numpy.typing import NDArray

from greylatch.paint.sources import VectorSource
from greylatch.places.grid import DEEPEST
from greylatch.tiles.mvt import EXTENT

LIMIT = 500_000
"""Bytes of a tile of shapes beyond which it is too heavy to be sent and drawn."""
FEATURE = 12
"""Bytes that a feature takes in a tile beside its vertices."""
OPEN_FEATURE = 50
"""The same with the properties that open styles read: class, value and label."""
VERTEX = 3
"""Bytes of a vertex, about: two steps of one or two bytes each."""


def shapes_from(source: VectorSource, feature: int = FEATURE) -> int:
    """The first level from which on no tile of the source's shapes (512 px) is larger than about `LIMIT`, where each takes `feature`
    bytes beside its vertices.

    Vertices are counted that are places of their own on a tile's whole units, in the tile that they lie in.
    """
    name = f"shapes from, at {feature}"
    if name not in source.derived:
        source.derived[name] = _counted(source, feature)
    return source.derived[name]


def _counted(source: VectorSource, feature: int) -> int:
    shapes = source.shapes
    most = feature * len(shapes) + VERTEX * int(shapely.get_num_coordinates(shapes).sum())
    if most <= LIMIT:
        return 0
    xy, owner = shapely.get_coordinates(shapes, return_index=True)
    grid = source.frame.grid
    for z in range(DEEPEST):
        # Features alone, which no level merges, already fill so many tiles on the average.
        if feature * len(shapes) > LIMIT * grid.count_tiles(source.bounds, z):
            continue
        if _largest(xy, owner, grid.side / 2**z, grid.left, grid.top, feature) <= LIMIT:
            return z
    return DEEPEST


def _largest(
    xy: NDArray[np.float64], owner: NDArray[np.intp], span: float, left: float, top: float, feature: int
) -> int:
    """Bytes of the largest tile of a level, about, whose tiles have sides of `span`."""
    unit = span / EXTENT
    x, y = ((xy[:, 0] - left) / unit).astype(np.int64), ((top - xy[:, 1]) / unit).astype(np.int64)
    first = np.append(True, owner[1:] != owner[:-1])
    own = first.copy()
    own[1:] |= (x[1:] != x[:-1]) | (y[1:] != y[:-1])
    tile = (y[own] // EXTENT) * (1 << 32) + x[own] // EXTENT
    cost = np.where(first[own], feature + VERTEX, VERTEX)
    _, which = np.unique(tile, return_inverse=True)
    return int(np.bincount(which, weights=cost).max())
