"""The contest for room: boxes on one sheet of paper, none of which may overlap another."""

from typing import NamedTuple

import numba
import numpy as np
from numpy.typing import NDArray

__all__ = ["NOBODY", "Entered", "Namesakes", "Taken", "beside", "room_for"]

CELL = 64.0
"""Px of the side of the cells through which taken boxes are found."""
FURTHER = 16.0
"""Times further in, four levels, up to which labels are kept from meeting. Places that lie closer together than a sixteenth of what is free
around them are seen as one for so long that both may be lettered."""
TOUCH = 1e-6
"""Px by which boxes that touch may overlap in the arithmetic of another level."""


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


def beside(boxes: NDArray[np.float64]) -> float:
    """How far the place of a label lies beside its box at most.

    Parameters
    ----------
    boxes : NDArray[np.float64]
        (m, 4) left, top, right, bottom around the place, px.

    Returns
    -------
    float

    Examples
    --------
    >>> beside(np.array([[4.0, -6.0, 30.0, 6.0]]))
    4.0
    """
    if not len(boxes):
        return 0.0
    (left, top), (right, bottom) = boxes[:, :2].max(axis=0), boxes[:, 2:].min(axis=0)
    return max(0.0, float(left), float(top), -float(right), -float(bottom))


class Entered(NamedTuple):
    """What labels took: for each its box, and which of all boxes taken that is; -1 where none was free."""

    ways: NDArray[np.int64]
    held: NDArray[np.int64]


class Namesakes:
    """Labels that are alike, by a number for each, stand at least `apart` px apart."""

    def __init__(self, alike: NDArray[np.intp], apart: float) -> None:
        self.alike, self.apart = alike.astype(np.int64), apart
        # Of labels that are alike the places of those before hang in a chain.
        self.last = np.full(int(alike.max(initial=-1)) + 1, -1, dtype=np.int64)
        self.before, self.stands = np.full(len(alike), -1, dtype=np.int64), np.empty((len(alike), 2))
        self.used = np.zeros(1, dtype=np.int64)


NOBODY = Namesakes(np.empty(0, dtype=np.intp), 0.0)
NONE_FIRST = np.empty(0, dtype=np.int64)


class Taken:
    """Boxes already taken, in px. `room` is how many cells they may take. Labels that last keep their boxes around their places at every
    level further in: between two of those there is room only if they meet at none of the next few of these. `beside` is how far, in px, the place
    of such a label may lie beside its box."""

    def __init__(self, room: int, beside: float = 0.0) -> None:
        self.beside = beside
        self._boxes, self._places = np.empty((max(1, room), 4)), np.empty((max(1, room), 2))
        self._lasting = np.zeros(max(1, room), dtype=np.bool_)
        # Boxes of cells with the same remainder hang in one chain: each is compared as it is, so a stranger does no harm.
        self._heads = np.full(1 << max(4, int(room).bit_length()), -1, dtype=np.int64)
        self._chain = np.empty((max(1, room), 2), dtype=np.int64)
        self._used = np.zeros(2, dtype=np.int64)

    def enter(
        self, order: NDArray[np.intp], start: NDArray[np.intp], boxes: NDArray[np.float64], places: NDArray[np.float64],
        namesakes: Namesakes = NOBODY, always: bool = False, lasting: bool = False,
        first: NDArray[np.int64] = NONE_FIRST, rows: NDArray[np.intp] | None = None,
    ) -> Entered:  # fmt: skip
        """Let each label of `order` take the first of its boxes that overlaps none taken before. The boxes of label i are `start[i]` to
        `start[i + 1]`; they stand around `places`, which are NaN where there is no such place. `always` takes the first box whatever stands
        there. By label, `first` is the box that it tries before all others, or -1, and of those with the same of `rows` one at most
        takes any.

        >>> boxes, places = np.array([[0.0, 0.0, 9.0, 9.0]] * 2), np.zeros((2, 2))
        >>> Taken(8).enter(np.array([0, 1]), np.array([0, 1, 2]), boxes, places).ways.tolist()
        [0, -1]
        """
        once = np.empty(0, dtype=np.int64) if rows is None else rows.astype(np.int64)
        ways, held = _enter(
            order, start, boxes, places, self._boxes, self._places, self._lasting, self._heads, self._chain, self._used,
            namesakes.alike, namesakes.apart, namesakes.last, namesakes.before, namesakes.stands, namesakes.used,
            always, lasting, self.beside if lasting else 0.0, first, once,
        )  # fmt: skip
        return Entered(ways, held)

    def improve(
        self, order: NDArray[np.intp], entered: Entered, start: NDArray[np.intp], boxes: NDArray[np.float64],
        places: NDArray[np.float64], sides: int,
    ) -> NDArray[np.int64]:  # fmt: skip
        """Let labels that last, which have entered, take a box nearer to the front of theirs on the same of their `sides`, where that is free;
        the boxes of all."""
        return np.asarray(
            _improve(
                order, entered.ways, entered.held, start, boxes, places, sides, self._boxes, self._places, self._lasting,
                self._heads, self._chain, self._used, self.beside,
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
def _enter(  # type: ignore[no-untyped-def]
    order, start, boxes, places, taken, stood, lasts, heads, chain, used, alike, apart, last, before, stands, many,
    always, lasting, beside, first, once,
):  # fmt: skip
    out, held = np.full(len(order), -1, dtype=np.int64), np.full(len(order), -1, dtype=np.int64)
    done = np.zeros(once.max() + 1 if len(once) else 0, dtype=np.bool_)
    for n in range(len(order)):
        label = order[n]
        if len(once) and done[once[label]]:
            continue
        known = first[label] if len(first) else -1
        # The box that is to be tried first stands before the others.
        for k in range(start[label] - (known >= 0), start[label + 1]):
            if k < start[label]:
                k = known
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
            box = (x + boxes[k, 0], y + boxes[k, 1], x + boxes[k, 2], y + boxes[k, 3])
            # Where a label stood further out it stays until another one is truly in its way.
            far = FURTHER if k != known else 1 + TOUCH
            if not always and not _free(x, y, box, -1, taken, stood, lasts, heads, chain, lasting, beside, far):
                continue
            held[n] = _take(x, y, box, taken, stood, lasts, heads, chain, used, lasting)
            if len(alike):
                before[many[0]], last[alike[label]] = last[alike[label]], many[0]
                stands[many[0], 0], stands[many[0], 1] = x, y
                many[0] += 1
            if len(once):
                done[once[label]] = True
            out[n] = k
            break
    return out, held


@numba.njit(cache=True)
def _improve(  # type: ignore[no-untyped-def]
    order, ways, held, start, boxes, places, sides, taken, stood, lasts, heads, chain, used, beside
):  # fmt: skip
    out = ways.copy()
    for n in range(len(order)):
        if ways[n] < 0:
            continue
        for k in range(start[order[n]] + (ways[n] - start[order[n]]) % sides, ways[n], sides):
            x, y = places[k]
            if np.isnan(x) or np.isnan(y):
                continue
            box = (x + boxes[k, 0], y + boxes[k, 1], x + boxes[k, 2], y + boxes[k, 3])
            if _free(x, y, box, held[n], taken, stood, lasts, heads, chain, True, beside, FURTHER):
                # The box of before is left, where nothing can meet it.
                taken[held[n], 0], taken[held[n], 2] = np.inf, -np.inf
                lasts[held[n]] = False
                held[n] = _take(x, y, box, taken, stood, lasts, heads, chain, used, True)
                out[n] = k
                break
    return out


@numba.njit(cache=True)
def _free(x, y, box, own, taken, stood, lasts, heads, chain, lasting, beside, far):  # type: ignore[no-untyped-def]
    """Whether a box overlaps none that is taken but its own, nor would up to `far` times further in."""
    west, north, east, south = box
    # First what is in the way here: where it is crowded that is the answer.
    for column in range(int(np.floor(west / CELL)), int(np.floor(east / CELL)) + 1):
        for row in range(int(np.floor(north / CELL)), int(np.floor(south / CELL)) + 1):
            at = heads[_head(column, row, len(heads))]
            while at >= 0:
                i = chain[at, 0]
                at = chain[at, 1]
                if (
                    west < taken[i, 2] - TOUCH and taken[i, 0] < east - TOUCH
                    and north < taken[i, 3] - TOUCH and taken[i, 1] < south - TOUCH and i != own
                ):  # fmt: skip
                    return False
    if not lasting:
        return True
    for column in range(int(np.floor((west - beside) / CELL)), int(np.floor((east + beside) / CELL)) + 1):
        for row in range(int(np.floor((north - beside) / CELL)), int(np.floor((south + beside) / CELL)) + 1):
            at = heads[_head(column, row, len(heads))]
            while at >= 0:
                i = chain[at, 0]
                at = chain[at, 1]
                if not lasts[i] or i == own:
                    continue
                px, py = stood[i]
                left, top, right, bottom = taken[i]
                # Whose place lies on the side on which its box lies goes further away to that side.
                if (left >= east - TOUCH and px >= x) or (west >= right - TOUCH and x >= px):
                    continue
                if (top >= south - TOUCH and py >= y) or (north >= bottom - TOUCH and y >= py):
                    continue
                x0, x1 = _while(x - px, left - px - (east - x), right - px - (west - x))
                y0, y1 = _while(y - py, top - py - (south - y), bottom - py - (north - y))
                if max(x0, y0) < min(x1, y1, far):
                    return False
    return True


@numba.njit(cache=True)
def _while(apart, least, most):  # type: ignore[no-untyped-def]
    """From which to which scale, 1 at this level, `apart` times it lies between `least` and `most`."""
    least, most = least + TOUCH, most - TOUCH
    if apart == 0:
        return (1.0, np.inf) if least < 0 < most else (1.0, 0.0)
    one, other = least / apart, most / apart
    return max(1.0, min(one, other)), max(one, other)


@numba.njit(cache=True)
def _take(x, y, box, taken, stood, lasts, heads, chain, used, lasting):  # type: ignore[no-untyped-def]
    west, north, east, south = box
    i = used[0]
    taken[i, 0], taken[i, 1], taken[i, 2], taken[i, 3] = west, north, east, south
    stood[i, 0], stood[i, 1], lasts[i] = x, y, lasting
    for column in range(int(np.floor(west / CELL)), int(np.floor(east / CELL)) + 1):
        for row in range(int(np.floor(north / CELL)), int(np.floor(south / CELL)) + 1):
            head = _head(column, row, len(heads))
            chain[used[1], 0], chain[used[1], 1] = i, heads[head]
            heads[head] = used[1]
            used[1] += 1
    used[0] += 1
    return i


@numba.njit(cache=True)
def _head(column, row, heads):  # type: ignore[no-untyped-def]
    return (column * 73856093 ^ row * 19349663) & (heads - 1)
