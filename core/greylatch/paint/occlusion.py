"""Which symbols can be seen at all: on a dense map most lie under others, and painting them costs far more than asking."""

import numba
import numpy as np
from numpy.typing import NDArray

from greylatch.symbols.ink import Mark

__all__ = ["MANY", "seen"]

HIDDEN = 0.1 / 255
"""What shines through of all that lies below a pixel, as a share, where nothing of it is seen any more. A tenth
of what a channel can tell apart: painting rounds after every mark, and what is left out moves the rounding too."""
MANY = 5_000
"""Symbols from which on it is worth asking."""
SOFT = 0.25
"""Px by which a symbol is taken as smaller than it is, since its soft edge is known only to about so much."""


def seen(
    x: NDArray[np.float64], y: NDArray[np.float64], marks: NDArray[np.intp], radii: NDArray[np.float64], palette: tuple[Mark, ...],
    width: int, height: int,
) -> NDArray[np.bool_]:  # fmt: skip
    """Of symbols in their drawing order, those that change any pixel of a picture of `width` × `height` px.

    A pixel shows of what lies below it what every symbol above lets through; where that is less than `HIDDEN`,
    nothing below is seen.

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
    palette : tuple[Mark, ...]
        The looks that positions stand for.
    width : int
        Px.
    height : int
        Px.

    Returns
    -------
    NDArray[np.bool_]

    Examples
    --------
    >>> mark = Mark("#000000", 1.0, "#000000", 0.0, 1.0, 3.0)
    >>> at, first = np.array([8.0, 8.0]), np.array([0, 0])
    >>> seen(at, at, first, np.array([3.0, 6.0]), (mark,), 16, 16).tolist()
    [False, True]
    """
    fills = np.array([mark.fill_opacity for mark in palette])
    strokes = np.array([mark.stroke_opacity if mark.stroke_width > 0 else 0.0 for mark in palette])
    halves = np.array([mark.stroke_width / 2 for mark in palette])
    out = np.zeros(len(x), dtype=np.bool_)
    through = np.ones((height, width))
    _look(x, y, marks, radii, fills, strokes, halves, through, out)
    return out


@numba.njit(cache=True)
def _look(x, y, marks, radii, fills, strokes, halves, through, out):  # type: ignore[no-untyped-def]
    height, width = through.shape
    for i in range(len(x) - 1, -1, -1):
        mark, radius = marks[i], radii[i]
        half = halves[mark] if strokes[mark] > 0 else 0.0
        far = radius + half + 0.75
        left, right = max(0, int(np.floor(x[i] - far))), min(width - 1, int(np.ceil(x[i] + far)))
        top, bottom = max(0, int(np.floor(y[i] - far))), min(height - 1, int(np.ceil(y[i] + far)))
        for row in range(top, bottom + 1):
            for column in range(left, right + 1):
                across, down = column + 0.5 - x[i], row + 0.5 - y[i]
                if through[row, column] >= HIDDEN and across * across + down * down <= far * far:
                    out[i] = True
                    break
            if out[i]:
                break
        if not out[i]:
            continue
        for row in range(top, bottom + 1):
            for column in range(left, right + 1):
                away = np.hypot(column + 0.5 - x[i], row + 0.5 - y[i])
                filled = _share(radius - away)
                inked = _share(radius + half - away) - _share(radius - half - away) if half > 0 else 0.0
                through[row, column] *= (1 - fills[mark] * filled) * (1 - strokes[mark] * max(0.0, inked - SOFT))


@numba.njit(cache=True)
def _share(inside):  # type: ignore[no-untyped-def]
    """The share of a pixel that lies within an edge `inside` px further out, no more than it is."""
    return min(1.0, max(0.0, inside + 0.5 - SOFT))
