"""Long work on arrays in several threads: GEOS, PROJ and what is compiled so let other threads go on while they work."""

import os
from collections.abc import Callable
from concurrent.futures import ThreadPoolExecutor

import numpy as np
import shapely
from numpy.typing import NDArray

from greylatch.tables.dataset import Shapes

__all__ = ["are_valid", "side_by_side"]

MANY = 5_000
"""Rows (of places, say, or shapes of one) from which on it is worth it."""
PARTS = 4
"""Of each thread, so that none waits long for another."""


def side_by_side(
    work: Callable[[NDArray[np.generic]], NDArray[np.generic]],
    rows: NDArray[np.generic],
    sizes: NDArray[np.int_] | None = None,
) -> NDArray[np.generic]:
    """What `work` makes of rows of which each is worked on by itself.

    Parameters
    ----------
    work : Callable[[NDArray], NDArray]
        Gives as many rows as it is given.
    rows : NDArray
        Shapes, or places (n, 2).
    sizes : NDArray[np.int_] | None
        How much there is to do for each, in rows of the simplest; None where all are as simple.

    Returns
    -------
    NDArray

    Examples
    --------
    >>> int(side_by_side(lambda part: part * 2, np.arange(20_000)).sum())
    399980000
    """
    threads = os.cpu_count() or 1
    whole = len(rows) if sizes is None else int(sizes.sum())
    if whole < MANY or threads == 1:
        return work(rows)
    shares = np.linspace(0, whole, PARTS * threads + 1)[1:-1]
    ends = shares.astype(np.intp) if sizes is None else np.searchsorted(np.cumsum(sizes), shares)
    with ThreadPoolExecutor(threads) as pool:
        return np.concatenate(list(pool.map(work, np.split(rows, ends))))


def are_valid(shapes: Shapes) -> NDArray[np.bool_]:
    """Which shapes are sound (OGC 06-103r4, 6.1.11): no ring crosses itself or another.

    >>> are_valid(shapely.from_wkt(["POLYGON((0 0,1 1,1 0,0 1,0 0))", "POINT(1 2)"])).tolist()
    [False, True]
    """
    return np.asarray(side_by_side(shapely.is_valid, shapes, shapely.get_num_coordinates(shapes)), dtype=np.bool_)
