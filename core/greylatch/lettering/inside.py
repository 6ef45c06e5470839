"""Places inside areas: the middle of the largest circle, and where a label's box lies wholly inside.

Compiled, and asked of all areas at once: a map of 100,000 names asks some millions of times.
"""

from collections.abc import Callable
from heapq import heappop, heappush
from typing import NamedTuple

import numba
import numpy as np
import shapely
from numpy.typing import NDArray

from greylatch.places.side_by_side import side_by_side
from greylatch.tables.dataset import Shapes

__all__ = ["Rings", "boxes_inside", "middles", "rings_of"]

GRID = 11
"""Places tried across an area, and as many down."""
LONGEST = 64
"""Squares that an area is first divided into along its longer side, at most."""


class Rings(NamedTuple):
    """Outlines and holes of areas: the places of all rings, (n, 2); where each ring's places begin, and where each area's
    rings do, both with the end of the last."""

    xy: NDArray[np.float64]
    places: NDArray[np.intp]
    rings: NDArray[np.intp]


def rings_of(shapes: Shapes) -> Rings:
    """The rings of areas; those that are missing or empty have none.

    >>> rings_of(np.array([None, shapely.box(0, 0, 1, 1)])).rings.tolist()
    [0, 0, 1]
    """
    parts, of_shape = shapely.get_parts(shapes, return_index=True)
    rings, of_part = shapely.get_rings(parts, return_index=True)
    xy, of_ring = shapely.get_coordinates(rings, return_index=True)
    return Rings(
        np.ascontiguousarray(xy),
        np.searchsorted(of_ring, np.arange(len(rings) + 1)),
        np.searchsorted(of_shape[of_part], np.arange(len(shapes) + 1)),
    )


def middles(shapes: Shapes, precision: float = 200) -> NDArray[np.float64]:
    """(n, 2) middles of the largest circles inside areas, right to the side of a square of their size divided by `precision`;
    NaN where there is no area.

    Squares are divided where a larger circle may still be found, the most promising first (the quadtree search for poles of
    inaccessibility that is common practice; after Garcia-Castellanos and Lombardo, Scottish Geographical Journal 123, 2007).

    Parameters
    ----------
    shapes : Shapes
        The shapes.
    precision : float
        Parts of an area's side to which the middle is right.

    Returns
    -------
    NDArray[np.float64]

    Examples
    --------
    >>> middles(np.array([shapely.box(0, 0, 2, 2)])).tolist()
    [[1.0, 1.0]]
    """
    xy, places, rings = rings_of(shapes)
    bounds = np.nan_to_num(shapely.bounds(shapes))
    # Of a sliver no square that is as small as it is thin is looked at: along its length there may be billions.
    longest = np.maximum(bounds[:, 2] - bounds[:, 0], bounds[:, 3] - bounds[:, 1])
    sizes, least = np.sqrt(np.nan_to_num(shapely.area(shapes))), longest / LONGEST
    tolerances = np.maximum(sizes, least) / precision
    out = _side_by_side(lambda rows: _middles(xy, places, rings, bounds, tolerances, rows), len(shapes))
    thin = np.flatnonzero((sizes < least) & (sizes > 0))
    beside = thin[~shapely.contains_xy(shapes[thin], *out[thin].T)]
    out[beside] = shapely.get_coordinates(shapely.point_on_surface(shapes[beside]))
    return out


def boxes_inside(
    rings: Rings, shapes: Shapes, sizes: NDArray[np.float64], anchors: NDArray[np.float64], boxes: NDArray[np.float64],
    start: NDArray[np.intp],
) -> NDArray[np.float64]:  # fmt: skip
    """For each box the place around which it lies wholly inside its area, (m, 2): the area's anchor, or else the
    nearest to it of a grid of `GRID` × `GRID` places; NaN where there is none.

    Parameters
    ----------
    rings : Rings
        What the areas are bounded by.
    shapes : Shapes
        The shapes.
    sizes : NDArray[np.float64]
        The areas' own.
    anchors : NDArray[np.float64]
        (n, 2) places around which labels are set.
    boxes : NDArray[np.float64]
        (m, 4) are left, top, right, bottom, measured from their place, y down, in the units of the shapes; those of
        area i are `start[i]` to `start[i + 1]`.
    start : NDArray[np.intp]
        Where the boxes of each label begin, with the end of the last.

    Returns
    -------
    NDArray[np.float64]
    """
    bounds, owner = np.nan_to_num(shapely.bounds(shapes)), np.repeat(np.arange(len(shapes)), np.diff(start))
    return _side_by_side(lambda rows: _boxes_inside(*rings, bounds, sizes, anchors, boxes, owner, rows), len(boxes))


def _side_by_side(work: Callable[[NDArray[np.generic]], NDArray[np.float64]], n: int) -> NDArray[np.float64]:
    """(n, 2) places that `work` gives for some of 0 to n − 1, of all of them."""
    return np.asarray(side_by_side(work, np.arange(n)), dtype=np.float64)


@numba.njit(cache=True, nogil=True)
def _middles(xy, places, rings, bounds, tolerances, rows):  # type: ignore[no-untyped-def]
    out = np.full((len(rows), 2), np.nan)
    for n, i in enumerate(rows):
        first, last = rings[i], rings[i + 1]
        if first == last:
            continue
        west, south, east, north = bounds[i]
        wide, high = east - west, north - south
        best_x, best_y = west + wide / 2, south + high / 2
        best = _depth(xy, places, first, last, best_x, best_y)
        side = max(min(wide, high), max(wide, high) / LONGEST)
        if tolerances[i] > 0 and side > 0:
            queue = [(0.0, 0.0, best_x, best_y, 0.0)]
            queue.pop()
            for column in range(int(np.ceil(wide / side))):
                for row in range(int(np.ceil(high / side))):
                    x, y, half = west + (column + 0.5) * side, south + (row + 0.5) * side, side / 2
                    depth = _depth(xy, places, first, last, x, y)
                    heappush(queue, (-(depth + half * np.sqrt(2.0)), depth, x, y, half))
            while len(queue):
                most, depth, x, y, half = heappop(queue)
                if depth > best:
                    best, best_x, best_y = depth, x, y
                if -most - best <= tolerances[i]:
                    break
                half /= 2
                for dx, dy in ((-half, -half), (half, -half), (-half, half), (half, half)):
                    depth = _depth(xy, places, first, last, x + dx, y + dy)
                    heappush(queue, (-(depth + half * np.sqrt(2.0)), depth, x + dx, y + dy, half))
        out[n, 0], out[n, 1] = best_x, best_y
    return out


@numba.njit(cache=True, nogil=True)
def _depth(xy, places, first, last, x, y):  # type: ignore[no-untyped-def]
    """How far a place lies inside an area; negative outside."""
    nearest, inside = np.inf, False
    for ring in range(first, last):
        for k in range(places[ring], places[ring + 1] - 1):
            x0, y0 = xy[k, 0] - x, xy[k, 1] - y
            x1, y1 = xy[k + 1, 0] - x, xy[k + 1, 1] - y
            dx, dy = x1 - x0, y1 - y0
            length = dx * dx + dy * dy
            along = min(1.0, max(0.0, -(x0 * dx + y0 * dy) / length)) if length > 0 else 0.0
            px, py = x0 + along * dx, y0 + along * dy
            nearest = min(nearest, px * px + py * py)
            if (y0 > 0) != (y1 > 0) and x0 - y0 * dx / dy > 0:
                inside = not inside
    return np.sqrt(nearest) if inside else -np.sqrt(nearest)


@numba.njit(cache=True, nogil=True)
def _boxes_inside(xy, places, rings, bounds, sizes, anchors, boxes, owner, rows):  # type: ignore[no-untyped-def]
    out = np.full((len(rows), 2), np.nan)
    xs, ys, away = np.empty(GRID * GRID), np.empty(GRID * GRID), np.empty(GRID * GRID)
    for k, box in enumerate(rows):
        i = owner[box]
        west, south, east, north = bounds[i]
        x, y = anchors[i]
        first, last = rings[i], rings[i + 1]
        left, top, right, bottom = boxes[box]
        wide, high = right - left, bottom - top
        if np.isnan(x) or wide > east - west or high > north - south or wide * high > sizes[i]:
            continue
        if _holds(xy, places, first, last, x + left, y - bottom, x + right, y - top):
            out[k, 0], out[k, 1] = x, y
            continue
        for row in range(GRID):
            for column in range(GRID):
                n = row * GRID + column
                xs[n] = west - left + column * (east - west - wide) / (GRID - 1)
                ys[n] = south + bottom + row * (north - south - high) / (GRID - 1)
                away[n] = (xs[n] - x) ** 2 + (ys[n] - y) ** 2
        for n in np.argsort(away, kind="mergesort"):
            if _holds(xy, places, first, last, xs[n] + left, ys[n] - bottom, xs[n] + right, ys[n] - top):
                out[k, 0], out[k, 1] = xs[n], ys[n]
                break
    return out


@numba.njit(cache=True, nogil=True)
def _holds(xy, places, first, last, west, south, east, north):  # type: ignore[no-untyped-def]
    """Whether a box lies wholly inside an area: no edge passes through it, and its middle is inside."""
    inside = False
    x, y = (west + east) / 2, (south + north) / 2
    for ring in range(first, last):
        for k in range(places[ring], places[ring + 1] - 1):
            x0, y0, x1, y1 = xy[k, 0], xy[k, 1], xy[k + 1, 0], xy[k + 1, 1]
            if min(x0, x1) < east and max(x0, x1) > west and min(y0, y1) < north and max(y0, y1) > south:
                dx, dy = x1 - x0, y1 - y0
                a, b = dx * (south - y0) - dy * (west - x0), dx * (south - y0) - dy * (east - x0)
                c, d = dx * (north - y0) - dy * (west - x0), dx * (north - y0) - dy * (east - x0)
                if min(a, b, c, d) < 0 < max(a, b, c, d):
                    return False
            if (y0 > y) != (y1 > y) and x0 + (y - y0) * (x1 - x0) / (y1 - y0) > x:
                inside = not inside
    return inside
