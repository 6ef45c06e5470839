"""Which symbols can be seen at all: on a dense map most lie under others, and painting them costs far more than asking."""

import numba
import numpy as np
from numpy.typing import NDArray

from greylatch.paint.brush import core_of
from greylatch.symbols.ink import Ink

__all__ = ["MANY", "opaque_looks", "seen"]

HIDDEN = 0.02 / 255
"""What a pixel would show of something, as a share, where nothing of it is seen any more. A fiftieth of what a channel can tell apart: painting
rounds after every mark, and what is left out moves the rounding too."""
MANY = 5_000
"""Symbols from which on it is worth asking."""
BLOCK = 8
"""Px along the side of a block of pixels that are counted together."""
CORNER = 0.7072
"""Px from the middle of a pixel to its corners."""
DOUBT = 0.03
"""By how much the share of a pixel that is painted at a soft edge may differ from what lies within a straight one."""
SURE = 0.15
"""Px beyond its corners from which on a pixel lies surely within an edge, or without."""


def seen(
    x: NDArray[np.float64], y: NDArray[np.float64], marks: NDArray[np.intp], radii: NDArray[np.float64],
    looks: NDArray[np.float64], ratio: float, width: int, height: int,
) -> NDArray[np.bool_]:  # fmt: skip
    """Of symbols in their drawing order, those that change any pixel of a picture of `width` × `height` px.

    A pixel shows of a symbol the share of it that the symbol covers, as far as every symbol above lets it through; where that is less than
    `HIDDEN` in all of them, it is not seen. What a circle covers of a pixel is what lies within its tangent, but for a `DOUBT`.

    Parameters
    ----------
    x : NDArray[np.float64]
        Px of the picture, `marks` palette positions.
    y : NDArray[np.float64]
        Px of the picture, `marks` palette positions.
    marks : NDArray[np.intp]
        Palette positions.
    radii : NDArray[np.float64]
        Px of the picture, `marks` palette positions.
    looks : NDArray[np.float64]
        Of each palette position what `opaque_looks` says.
    ratio : float
        Px of the picture to one of the screen.
    width : int
        Px.
    height : int
        Px.

    Returns
    -------
    NDArray[np.bool_]

    Examples
    --------
    >>> look = np.array([[1.0, 0.0, 0.0, 0.0, 1.0]])
    >>> at, first = np.array([8.0, 8.0]), np.array([0, 0])
    >>> seen(at, at, first, np.array([3.0, 6.0]), look, 1.0, 16, 16).tolist()
    [False, True]
    """
    fills, strokes, halves, beyond, cores = looks[:, 0], looks[:, 1], looks[:, 2] * ratio, looks[:, 3], looks[:, 4]
    out = np.zeros(len(x), dtype=np.bool_)
    through = np.ones((height, width))
    _look(x, y, marks, radii, fills, strokes, halves, beyond, cores, through, out)
    return out


def opaque_looks(ink: Ink) -> NDArray[np.float64]:
    """Of each mark: how opaque its fill and its stroke are where that is sure, half the stroke's px, by what share of its radius it may reach beyond a
    circle, and within what share of it it is surely filled. What differs from feature to feature is not sure, and hides nothing.

    Parameters
    ----------
    ink : Ink
        What each feature looks like.

    Returns
    -------
    NDArray[np.float64]
    """
    sure = ink.opacity is None
    rows = [
        (
            mark.fill_opacity if sure and not mark.icon else 0.0,
            min((line.opacity for line in mark.strokes), default=0.0) if not mark.path and not any(line.dash for line in mark.strokes) else 0.0,
            mark.half, mark.stretch - 1.0, core_of(mark.path) if ink.wedges is None else 0.0,
        )
        for mark in ink.palette
    ]  # fmt: skip
    return np.array(rows, dtype=np.float64).reshape(-1, 5)


@numba.njit(cache=True)
def _look(x, y, marks, radii, fills, strokes, halves, beyond, cores, through, out):  # type: ignore[no-untyped-def]
    height, width = through.shape
    # How many pixels of each block something below still shows through: most symbols lie where none does.
    through_in = np.zeros((height // BLOCK + 1, width // BLOCK + 1), np.int64)
    for row in range(height):
        for column in range(width):
            through_in[row // BLOCK, column // BLOCK] += 1
    left_over = height * width
    for i in range(len(x) - 1, -1, -1):
        if left_over == 0:
            break
        mark, radius = marks[i], radii[i]
        half = halves[mark]
        far = radius * (1.0 + beyond[mark]) + half + 0.75
        left, right = max(0, int(np.floor(x[i] - far))), min(width - 1, int(np.ceil(x[i] + far)))
        top, bottom = max(0, int(np.floor(y[i] - far))), min(height - 1, int(np.ceil(y[i] + far)))
        if left > right or top > bottom or _closed(through_in, left, right, top, bottom):
            continue
        reach, core = radius * (1.0 + beyond[mark]) + half, radius * cores[mark]
        out[i] = _shows(through, x[i], y[i], reach, left, right, top, bottom)
        if not out[i]:
            continue
        filled = min(core, radius - half) - CORNER - SURE  # within it there is no edge
        for row in range(top, bottom + 1):
            for column in range(left, right + 1):
                before = through[row, column]
                if before < HIDDEN:
                    continue
                across, down = column + 0.5 - x[i], row + 0.5 - y[i]
                away = across * across + down * down
                if away >= (reach + CORNER + SURE) ** 2:
                    continue
                if filled > 0 and away <= filled * filled:
                    after = before * (1 - fills[mark])
                else:
                    after = before * (1 - fills[mark] * _least(core, across, down))
                    if half > 0:
                        inked = _least(radius + half, across, down) - _most(radius - half, across, down)
                        after *= 1 - strokes[mark] * max(0.0, inked)
                through[row, column] = after
                if after < HIDDEN:
                    through_in[row // BLOCK, column // BLOCK] -= 1
                    left_over -= 1


@numba.njit(cache=True)
def _shows(through, x, y, reach, left, right, top, bottom):  # type: ignore[no-untyped-def]
    """Whether anything of a symbol shows in any pixel of a box."""
    for row in range(top, bottom + 1):
        for column in range(left, right + 1):
            below = through[row, column]
            if below < HIDDEN:
                continue
            across, down = column + 0.5 - x, row + 0.5 - y
            if across * across + down * down >= (reach + CORNER + SURE) ** 2:
                continue
            if below * _most(reach, across, down) >= HIDDEN:
                return True
    return False


@numba.njit(cache=True)
def _closed(through_in, left, right, top, bottom):  # type: ignore[no-untyped-def]
    """Whether nothing shows through any block that a box touches."""
    for row in range(top // BLOCK, bottom // BLOCK + 1):
        for column in range(left // BLOCK, right // BLOCK + 1):
            if through_in[row, column] > 0:
                return False
    return True


@numba.njit(cache=True)
def _least(radius, across, down):  # type: ignore[no-untyped-def]
    """The share of a pixel that a circle surely covers, whose middle lies so far from the pixel's."""
    if radius <= 0:
        return 0.0
    away = np.hypot(across, down)
    corner = _corner(across, down, away)
    if radius - away >= corner + SURE:
        return 1.0
    # A circle lies within its tangent: over a pixel by about so much.
    bend = 1 / (12 * radius) if radius > 0.5 else 0.25
    return max(0.0, _within(radius - away - bend, across, down, away, corner) - DOUBT)


@numba.njit(cache=True)
def _most(radius, across, down):  # type: ignore[no-untyped-def]
    """The share of it that the circle may cover."""
    away = np.hypot(across, down)
    corner = _corner(across, down, away)
    if radius <= 0 or radius - away <= -corner - SURE:
        return 0.0
    return min(1.0, _within(radius - away, across, down, away, corner) + DOUBT)


@numba.njit(cache=True)
def _corner(across, down, away):  # type: ignore[no-untyped-def]
    """How far the corners of a pixel reach from its middle, across an edge in that direction."""
    return (abs(across) + abs(down)) / (2 * away) if away > 0 else 0.5


@numba.njit(cache=True)
def _within(inside, across, down, away, corner):  # type: ignore[no-untyped-def]
    """The share of a pixel that lies within a straight edge `inside` px beyond its middle: between the lines through its corners the cut is a
    trapezium or what is left of a triangle."""
    if inside >= corner:
        return 1.0
    if inside <= -corner:
        return 0.0
    long, short = (max(abs(across), abs(down)) / away, min(abs(across), abs(down)) / away) if away > 0 else (1.0, 0.0)
    if abs(inside) <= (long - short) / 2:
        return 0.5 + inside / long
    cut = (corner - abs(inside)) ** 2 / (2 * long * short)
    return 1 - cut if inside > 0 else cut
