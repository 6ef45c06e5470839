"""The contest for room: boxes on one sheet of paper, none of which may overlap another."""

import numba
import numpy as np
from numpy.typing import NDArray

__all__ = ["Taken", "room_for"]

CELL = 64.0
"""Px of the side of the cells through which taken boxes are found."""


def room_for(boxes: NDArray[np.float64], start: NDArray[np.intp]) -> int:
    """How many cells the boxes of one contest may take at most, where of `start[i]` to `start[i + 1]` one at most is taken.

    Parameters
    ----------
    boxes : NDArray[np.float64]
        (m, 4) left, top, right, bottom around the place, px.
    start : NDArray[np.intp]
        Where the boxes of each label begin, with the end of the last.

    Returns
    -------
    int
    """
    return int(_room_for(boxes, start))


class Taken:
    """Boxes already taken, in px. `room` is how many cells they may take."""

    def __init__(self, room: int) -> None:
        self._boxes = np.empty((max(1, room), 4))
        # Boxes of cells with the same remainder hang in one chain: each is compared as it is, so a stranger does no harm.
        self._heads = np.full(1 << max(4, int(room).bit_length()), -1, dtype=np.int64)
        self._chain = np.empty((max(1, room), 2), dtype=np.int64)
        self._used = np.zeros(2, dtype=np.int64)

    def enter(
        self, order: NDArray[np.intp], start: NDArray[np.intp], boxes: NDArray[np.float64], places: NDArray[np.float64],
        alike: NDArray[np.intp] | None = None, apart: float = 0.0, always: bool = False,
    ) -> NDArray[np.int64]:  # fmt: skip
        """Let each label of `order` take the first of its boxes that overlaps none taken before; returns for each its box, -1 where
        none was free. The boxes of label i are `start[i]` to `start[i + 1]`; they stand around `places`, which are NaN where there
        is no such place. Labels that are `alike`, by a number for each, stand at least so many px `apart`. `always` takes the first box
        whatever stands there.

        >>> boxes, places = np.array([[0.0, 0.0, 9.0, 9.0]] * 2), np.zeros((2, 2))
        >>> Taken(8).enter(np.array([0, 1]), np.array([0, 1, 2]), boxes, places).tolist()
        [0, -1]
        """
        return np.asarray(
            _enter(
                order, start, boxes, places, self._boxes, self._heads, self._chain, self._used,
                np.empty(0, np.int64) if alike is None else alike.astype(np.int64), apart, always,
            ), dtype=np.int64,
        )  # fmt: skip


@numba.njit(cache=True)
def _room_for(boxes, start):  # type: ignore[no-untyped-def]
    room = 0
    for i in range(len(start) - 1):
        most = 0
        for k in range(start[i], start[i + 1]):
            wide, high = boxes[k, 2] - boxes[k, 0], boxes[k, 3] - boxes[k, 1]
            most = max(most, (int(wide // CELL) + 2) * (int(high // CELL) + 2))
        room += most
    return room


@numba.njit(cache=True)
def _enter(order, start, boxes, places, taken, heads, chain, used, alike, apart, always):  # type: ignore[no-untyped-def]
    out = np.full(len(order), -1, dtype=np.int64)
    # Of labels that are alike the places of those before hang in a chain.
    last = np.full(alike.max() + 1 if len(alike) else 0, -1, dtype=np.int64)
    before, stands = np.full(len(order), -1, dtype=np.int64), np.empty((len(order), 2))
    for n in range(len(order)):
        label = order[n]
        for k in range(start[label], start[label + 1]):
            x, y = places[k]
            if np.isnan(x) or np.isnan(y):
                continue
            if len(alike):
                near, at = False, last[alike[label]]
                while at >= 0 and not near:
                    near = (stands[at, 0] - x) ** 2 + (stands[at, 1] - y) ** 2 < apart * apart
                    at = before[at]
                if near:
                    continue
            west, north, east, south = x + boxes[k, 0], y + boxes[k, 1], x + boxes[k, 2], y + boxes[k, 3]
            left, right = int(np.floor(west / CELL)), int(np.floor(east / CELL))
            top, bottom = int(np.floor(north / CELL)), int(np.floor(south / CELL))
            free = True
            for column in range(left, right + 1):
                for row in range(top, bottom + 1):
                    at = heads[_head(column, row, len(heads))]
                    while at >= 0 and free and not always:
                        other = taken[chain[at, 0]]
                        free = not (west < other[2] and other[0] < east and north < other[3] and other[1] < south)
                        at = chain[at, 1]
            if not free:
                continue
            box = taken[used[0]]
            box[0], box[1], box[2], box[3] = west, north, east, south
            for column in range(left, right + 1):
                for row in range(top, bottom + 1):
                    head = _head(column, row, len(heads))
                    chain[used[1], 0], chain[used[1], 1] = used[0], heads[head]
                    heads[head] = used[1]
                    used[1] += 1
            used[0] += 1
            if len(alike):
                before[n], last[alike[label]] = last[alike[label]], n
                stands[n, 0], stands[n, 1] = x, y
            out[n] = k
            break
    return out


@numba.njit(cache=True)
def _head(column, row, heads):  # type: ignore[no-untyped-def]
    return (column * 73856093 ^ row * 19349663) & (heads - 1)
