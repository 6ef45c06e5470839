"""Shapes carried from one plane to another, their edges followed where they bend."""

from collections.abc import Callable
from dataclasses import dataclass

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
    course = _course(shapes, move) if splits else None
    if course is not None and course.straight(tolerance):
        # What was carried over to look for bends is the result: to carry takes longest.
        return np.asarray(shapely.set_coordinates(shapes.copy(), _finite(course.ends, course.owner)))
    if course is not None:
        bent = course.bent(tolerance)
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


@dataclass(frozen=True)
class _Course:
    """The places of edges, ring after ring, carried over: to which shape each belongs, and how far the edge to the next one misses
    its course, 0 between two rings. `whole` says that the shapes have no other places."""

    ends: Coordinates
    owner: NDArray[np.int64]
    miss: NDArray[np.float64]
    whole: bool

    def straight(self, tolerance: float) -> bool:
        return self.whole and not (self.miss > tolerance).any()

    def bent(self, tolerance: float) -> NDArray[np.int64]:
        """Which shapes have an edge that is bent: mostly few, and the others are left alone."""
        return np.unique(self.owner[:-1][self.miss > tolerance])


def _course(shapes: Shapes, move: Move) -> _Course | None:
    """None for shapes without edges."""
    parts, of_shape = shapely.get_parts(shapes, return_index=True)
    dimensions = shapely.get_dimensions(parts)
    area, line = dimensions == 2, dimensions == 1
    rings, of_part = shapely.get_rings(parts[area], return_index=True)
    edges = np.concatenate([rings, parts[line]])
    owner = np.concatenate([of_shape[area][of_part], of_shape[line]])
    xy, of_edge = shapely.get_coordinates(edges, return_index=True)
    if len(xy) == 0:
        return None
    ends = move(xy)
    miss = np.where(of_edge[1:] == of_edge[:-1], _miss(xy, ends, move), 0.0)
    return _Course(ends, owner[of_edge], miss, bool(area.all() or line.all()))


def _miss(xy: Coordinates, ends: Coordinates, move: Move) -> NDArray[np.float64]:
    """How far the middle of each edge lies off the straight line between its moved ends."""
    middles = move((xy[:-1] + xy[1:]) / 2)
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
        bends = (_miss(xy, move(xy), move) > tolerance) & (owner[1:] == owner[:-1])
        if not bends.any():
            break
        middles = (xy[:-1] + xy[1:]) / 2
        at = np.flatnonzero(bends) + 1
        xy, owner = np.insert(xy, at, middles[bends], axis=0), np.insert(owner, at, owner[:-1][bends])
    return xy, owner
