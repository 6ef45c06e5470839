"""Lines with fewer places that look the same."""

import math

import numba
import numpy as np
from numpy.typing import NDArray

__all__ = ["thinned"]


def thinned(
    xy: NDArray[np.float64], of_line: NDArray[np.intp], closed: bool, tolerance: float
) -> NDArray[np.bool_]:  # fmt: skip
    """Which places of lines are left so that none that goes lies further than `tolerance` off what stays (Douglas and Peucker 1973).

    The ends of a line stay, and of a ring at least a triangle, however small: it still tints its pixel. What comes of it need not
    be simple, as a painter does not ask that; for geometry there is `shapely.simplify`.

    Parameters
    ----------
    xy : NDArray[np.float64]
        (n, 2) places, line after line.
    of_line : NDArray[np.intp]
        To which line each belongs, rising.
    closed : bool
        Whether the lines are rings, whose last place is their first.
    tolerance : float
        In the unit of the places.

    Returns
    -------
    NDArray[np.bool_]

    Examples
    --------
    >>> thinned(np.array([[0, 0], [5, 0.1], [9, 0]]), np.zeros(3, dtype=np.intp), False, 0.5).tolist()
    [True, False, True]
    """
    starts = np.flatnonzero(np.append(True, of_line[1:] != of_line[:-1])[: len(of_line)])
    places = np.ascontiguousarray(xy, dtype=np.float64)
    return np.asarray(_thinned(places, np.append(starts, len(places)).astype(np.int64), closed, tolerance))


@numba.njit(cache=True)
def _thinned(xy, starts, closed, tolerance):  # type: ignore[no-untyped-def]
    kept = np.zeros(len(xy), dtype=np.bool_)
    longest = 0
    for line in range(len(starts) - 1):
        longest = max(longest, starts[line + 1] - starts[line])
    waiting = np.empty((longest + 2, 2), dtype=np.int64)
    for line in range(len(starts) - 1):
        first, last = starts[line], starts[line + 1] - 1
        kept[first] = kept[last] = True
        waiting[0, 0], waiting[0, 1] = first, last
        n = 1
        if closed and last - first > 2:
            # A ring has no ends: it is cut where it is furthest from its first place.
            far, _ = _furthest(xy, first, last)
            across = max(first + 1, min(far, last - 1))
            kept[across] = True
            one, off_one = _furthest(xy, first, across)
            other, off_other = _furthest(xy, across, last)
            kept[one if off_one >= off_other else other] = True
            waiting[0, 1] = across
            waiting[1, 0], waiting[1, 1] = across, last
            n = 2
        while n:
            n -= 1
            begin, end = waiting[n]
            if end - begin < 2:
                continue
            far, off = _furthest(xy, begin, end)
            if off > tolerance:
                kept[far] = True
                waiting[n, 0], waiting[n, 1] = begin, far
                waiting[n + 1, 0], waiting[n + 1, 1] = far, end
                n += 2
    return kept


@numba.njit(cache=True)
def _furthest(xy, begin, end):  # type: ignore[no-untyped-def]
    """The place between two that lies furthest off the straight line from one to the other, and how far."""
    ax, ay = xy[begin]
    dx, dy = xy[end, 0] - ax, xy[end, 1] - ay
    square = dx * dx + dy * dy
    far, most = begin, -1.0
    for i in range(begin + 1, end):
        x, y = xy[i, 0] - ax, xy[i, 1] - ay
        along = 0.0 if square == 0 else min(1.0, max(0.0, (x * dx + y * dy) / square))
        off = (x - along * dx) ** 2 + (y - along * dy) ** 2
        if off > most:
            far, most = i, off
    return far, math.sqrt(max(most, 0.0))
