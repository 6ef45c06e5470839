"""Shapes carried from one plane to another, their edges followed where they bend."""

from collections.abc import Callable

import numpy as np
import shapely
from numpy.typing import NDArray

from greylatch.errors import BadInput
from greylatch.tables.dataset import Shapes

__all__ = ["Coordinates", "Move", "moved"]

Coordinates = NDArray[np.float64]
Move = Callable[[Coordinates], Coordinates]
POINT = 0
"""What shapely calls a single point."""


def moved(shapes: Shapes, move: Move, tolerance: float, splits: int) -> Shapes:
    """Shapes with every coordinate moved, and their edges halved until none misses its course by more than `tolerance`."""
    if (shapely.get_type_id(shapes) == POINT).all() and not shapely.is_empty(shapes).any():
        return shapely.points(_finite(move(shapely.get_coordinates(shapes)), np.arange(len(shapes))))
    if splits:
        bent = _bent(shapes, move, tolerance)
        shapes = shapes.copy()
        areas = shapely.get_dimensions(shapes[bent]) == 2
        for some in (bent[areas], bent[~areas]):
            if len(some):
                shapes[some] = _followed(shapes[some], move, tolerance, splits)
    out = shapely.transform(shapes, move)
    _finite(*shapely.get_coordinates(out, return_index=True))
    return out


def _finite(xy: Coordinates, owner: NDArray[np.int64]) -> Coordinates:
    """Coordinates, all of which are places. Raises BadInput that names the row of one that is none."""
    if not np.isfinite(xy).all():
        row = int(owner[np.argmax(~np.isfinite(xy).all(axis=1))])
        raise BadInput(f"Row {row + 1} has a coordinate without a place in the projection.", "Is it the right one?")
    return xy


def _bent(shapes: Shapes, move: Move, tolerance: float) -> NDArray[np.int64]:
    """Which of `shapes` have an edge that `move` bends by more than `tolerance`: mostly few, and the others are left alone."""
    parts, of_shape = shapely.get_parts(shapes, return_index=True)
    area = shapely.get_dimensions(parts) == 2
    rings, of_part = shapely.get_rings(parts[area], return_index=True)
    line = shapely.get_dimensions(parts) == 1
    edges = np.concatenate([rings, parts[line]])
    owner = np.concatenate([of_shape[area][of_part], of_shape[line]])
    xy, of_edge = shapely.get_coordinates(edges, return_index=True)
    if len(xy) == 0:
        return np.array([], dtype=np.int64)
    along = of_edge[1:] == of_edge[:-1]
    miss = _miss(xy, move)
    return np.unique(owner[of_edge[:-1][along & (miss > tolerance)]])


def _miss(xy: Coordinates, move: Move) -> NDArray[np.float64]:
    """How far the middle of each edge lies off the straight line between its moved ends."""
    ends, middles = move(xy), move((xy[:-1] + xy[1:]) / 2)
    with np.errstate(invalid="ignore"):
        return np.asarray(np.hypot(*(middles - (ends[:-1] + ends[1:]) / 2).T))


def _followed(shapes: Shapes, move: Move, tolerance: float, splits: int) -> Shapes:
    """The same shapes, all areas or all lines, with more points where `move` bends their edges."""
    parts, of_shape = shapely.get_parts(shapes, return_index=True)
    areas = shapely.get_dimensions(shapes[0]) == 2
    lines, of_part = shapely.get_rings(parts, return_index=True) if areas else (parts, np.arange(len(parts)))
    xy, of_line = shapely.get_coordinates(lines, return_index=True)
    xy, of_line = _halved(xy, of_line, move, tolerance, splits)
    if areas:
        parts = shapely.polygons(shapely.linearrings(xy, indices=of_line), indices=of_part)
        return _gathered(parts, of_shape, len(shapes), shapely.multipolygons)
    return _gathered(shapely.linestrings(xy, indices=of_line), of_shape, len(shapes), shapely.multilinestrings)


def _gathered(parts: Shapes, of_shape: NDArray[np.int64], count: int, together: Callable[..., Shapes]) -> Shapes:
    """Parts as shapes again: one by itself where it is the only one."""
    out = together(parts, indices=of_shape, out=np.empty(count, dtype=object))
    several = np.bincount(of_shape, minlength=count) != 1
    out[~several] = parts[~several[of_shape]]
    return np.asarray(out)


def _halved(
    xy: Coordinates, owner: NDArray[np.int64], move: Move, tolerance: float, splits: int
) -> tuple[Coordinates, NDArray[np.int64]]:
    """The places of lines, and to which line each belongs, with every edge halved that bends too much, and its halves again."""
    for _ in range(splits):
        bends = (_miss(xy, move) > tolerance) & (owner[1:] == owner[:-1])
        if not bends.any():
            break
        middles = (xy[:-1] + xy[1:]) / 2
        at = np.flatnonzero(bends) + 1
        xy, owner = np.insert(xy, at, middles[bends], axis=0), np.insert(owner, at, owner[:-1][bends])
    return xy, owner
