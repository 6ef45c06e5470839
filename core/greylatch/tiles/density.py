"""From which level on shapes are few enough in every tile to be sent as shapes; before it they are sent as pictures."""

import numba
import numpy as np
from numpy.typing import NDArray

from greylatch.paint.sources import VectorSource
from greylatch.places.grid import DEEPEST
from greylatch.tiles.mvt import EXTENT

__all__ = ["LIMIT", "OPEN_FEATURE", "shapes_from"]

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
    bytes (`FEATURE` or `OPEN_FEATURE`) beside its vertices.

    Vertices are counted that are places of their own on a tile's whole units, in the tile that they lie in.

    Parameters
    ----------
    source : VectorSource
        The data in the frame.
    feature : int
        Bytes of a feature beside its vertices.

    Returns
    -------
    int
    """
    if not source.first_levels:
        source.first_levels.update(_counted(source))
    return source.first_levels[feature]


def _counted(source: VectorSource) -> dict[int, int]:
    grid, count, vertices = source.frame.grid, len(source.dataset), source.vertices
    first = dict.fromkeys((FEATURE, OPEN_FEATURE), 0)
    open_ones = [feature for feature in first if feature * count + VERTEX * vertices > LIMIT]
    if not open_ones:
        return first
    xy, owner = source.positions(np.arange(count))
    begins = np.append(True, owner[1:] != owner[:-1])
    x, y = (xy[:, 0] - grid.left) / grid.side, (grid.top - xy[:, 1]) / grid.side
    for z in range(DEEPEST):
        crowd, plain = _crowd(x * 2**z, y * 2**z, begins)
        for feature in open_ones:
            if _bytes_in(crowd, feature) > LIMIT:
                first[feature] = z + 1
        # Closer, a tile holds no more than one of these does, with nothing merged.
        open_ones = [feature for feature in open_ones if _bytes_in(plain, feature) > LIMIT]
        if not open_ones:
            break
    return first


Counts = tuple[NDArray[np.number], NDArray[np.number]]
"""Features that begin in each tile, and vertices in it."""


def _bytes_in(counts: Counts, feature: int) -> float:
    """Of the largest tile, about."""
    features, vertices = counts
    return float((feature * features + VERTEX * vertices).max())


def _crowd(x: NDArray[np.float64], y: NDArray[np.float64], begins: NDArray[np.bool_]) -> tuple[Counts, Counts]:
    """What the tiles of a level hold where vertices that fall on the same unit are one, and where they are not; places are in tiles."""
    i, j = (x * EXTENT).astype(np.int64), (y * EXTENT).astype(np.int64)
    column, row = i // EXTENT, j // EXTENT
    columns = int(column.max() - column.min()) + 1
    tile = (row - row.min()) * columns + column - column.min()
    if int(tile.max()) > FEW * len(tile):
        _, tile = np.unique(tile, return_inverse=True)
    features, own, all_of_them = _tally(i, j, tile, begins, int(tile.max()) + 1)
    return (features, own), (features, all_of_them)


@numba.njit(cache=True, nogil=True)
def _tally(
    i: NDArray[np.int64], j: NDArray[np.int64], tile: NDArray[np.int64], begins: NDArray[np.bool_], n: int
) -> tuple[NDArray[np.int64], NDArray[np.int64], NDArray[np.int64]]:
    """Of each tile: features that begin in it, vertices that are places of their own, and all vertices."""
    features, own, every = np.zeros(n, np.int64), np.zeros(n, np.int64), np.zeros(n, np.int64)
    for k in range(len(tile)):
        every[tile[k]] += 1
        if begins[k]:
            features[tile[k]] += 1
        if begins[k] or i[k] != i[k - 1] or j[k] != j[k - 1]:
            own[tile[k]] += 1
    return features, own, every
