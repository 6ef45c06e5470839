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
FEW = 8
"""Tiles to a vertex up to which each is counted in a place of its own, without sorting."""
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
    first = 0
    for z in range(DEEPEST):
        span = grid.side / 2**z
        x, y = (xy[:, 0] - grid.left) / span, (grid.top - xy[:, 1]) / span
        if _largest(x, y, owner, feature, merged=True) > LIMIT:
            first = z + 1
        # Closer, a tile holds no more than one of these does, with nothing merged.
        if _largest(x, y, owner, feature, merged=False) <= LIMIT:
            break
    return first


def _largest(
    x: NDArray[np.float64], y: NDArray[np.float64], owner: NDArray[np.intp], feature: int, merged: bool
) -> int:
    """Bytes of the largest tile of a level, about; places are in tiles. `merged`: vertices that fall on the same unit are one."""
    first = np.append(True, owner[1:] != owner[:-1])
    own = np.ones(len(x), dtype=np.bool_)
    if merged:
        i, j = (x * EXTENT).astype(np.int64), (y * EXTENT).astype(np.int64)
        own[1:] = first[1:] | (i[1:] != i[:-1]) | (j[1:] != j[:-1])
    column, row = x[own].astype(np.int64), y[own].astype(np.int64)
    columns = int(column.max() - column.min()) + 1
    tile = (row - row.min()) * columns + column - column.min()
    if int(tile.max()) > FEW * len(tile):
        _, tile = np.unique(tile, return_inverse=True)
    cost = np.where(first[own], feature + VERTEX, VERTEX)
    return int(np.bincount(tile, weights=cost).max())
