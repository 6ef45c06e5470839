"""Symbols that are many and alike: Skia draws each look once for a grid of places within a pixel, and they are pressed onto the picture where they
stand, as the browser's painter does it (`web/src/painter/stamps.ts`)."""

import math
from collections.abc import Sequence

import numba
import numpy as np
import skia
from numpy.typing import NDArray

from greylatch.paint.brush import draw_point
from greylatch.symbols.ink import Ink
from greylatch.symbols.marks import Mark

__all__ = ["Look", "looks_of", "pressed"]

Look = tuple[Mark, float]
"""A mark, and its radius in px of the screen."""
PHASES = 16
"""Places within a px, each way, for which a look is drawn: a symbol stands no more than a thirty-second of a px from its own. Skia itself takes
the edges of what it fills to a sixteenth and less."""
MANY = 5_000
"""Symbols from which on they are pressed."""
EACH = 500
"""Symbols of each look, on average, from which on it is worth drawing its stamps."""
WIDEST = 64
"""Px of the picture along the side of a stamp at most: of larger symbols there are fewer in a picture, and stamps take up more."""


def looks_of(
    ink: Ink, marks: NDArray[np.uint16], radii: NDArray[np.float64], ratio: float
) -> tuple[NDArray[np.intp], list[Look]] | None:
    """The few looks that many symbols share, and which of them each has.

    Parameters
    ----------
    ink : Ink
        How all features are drawn.
    marks : NDArray[np.uint16]
        Place in its palette of each symbol.
    radii : NDArray[np.float64]
        Px of the screen of each symbol.
    ratio : float
        Px of the picture to one of the screen.

    Returns
    -------
    tuple[NDArray[np.intp], list[Look]] | None
        None where they are few, differ too much or are large: they are drawn one by one then.
    """
    varied = ink.ramp is not None or ink.opacity is not None or ink.angle is not None or ink.wedges is not None
    most = len(marks) // EACH
    if varied or len(marks) < MANY:
        return None
    exact = radii.astype(np.float32)
    keys = (marks.astype(np.uint64) << np.uint64(32)) | exact.view(np.uint32)
    # Where sizes go by a value, some of them are as many as would be too many.
    if len(np.unique(keys[:MANY])) > most:
        return None
    different, first, look = np.unique(keys, return_index=True, return_inverse=True)
    looks = [(ink.palette[marks[at]], float(radii[at])) for at in first]
    if len(different) > most or any(_side(mark, radius, ratio) > WIDEST for mark, radius in looks):
        return None
    return look.astype(np.intp), looks


def pressed(
    x: NDArray[np.float64], y: NDArray[np.float64], look: NDArray[np.intp], looks: Sequence[Look], ratio: float, width: int, height: int
) -> NDArray[np.uint8]:  # fmt: skip
    """A picture of symbols in their drawing order, each over those before it.

    Parameters
    ----------
    x : NDArray[np.float64]
        Px of the picture from the left to their middles.
    y : NDArray[np.float64]
        Px of the picture from the top.
    look : NDArray[np.intp]
        Which look each has.
    looks : Sequence[Look]
        What they may look like.
    ratio : float
        Px of the picture to one of the screen.
    width : int
        Px.
    height : int
        Px.

    Returns
    -------
    NDArray[np.uint8]
        (height, width, 4), colours times alpha.

    Examples
    --------
    >>> dot, at = Mark("#ff0000", 1.0), np.array([4.0])
    >>> rgba = pressed(at, at, np.array([0]), [(dot, 3.0)], 1.0, 8, 8)
    >>> rgba[4, 4].tolist(), rgba[0, 0].tolist()
    ([255, 0, 0, 255], [0, 0, 0, 0])
    """
    stamps = [_stamps(mark, radius, ratio) for mark, radius in looks]
    sides = np.array([stamp.shape[2] for stamp in stamps])
    begins = np.cumsum([0, *(stamp.size for stamp in stamps[:-1])])
    spans = np.concatenate([_spans(stamp) for stamp in stamps])
    out = np.zeros((height, width, 4), dtype=np.uint8)
    _press(x, y, look, sides, begins, np.concatenate([stamp.ravel() for stamp in stamps]), spans, out)
    return out


def _side(mark: Mark, radius: float, ratio: float) -> int:
    """Px of the picture along the side of a stamp: so many on both sides of the pixel in which its middle lies."""
    return 2 * math.ceil((radius * mark.stretch + mark.half) * ratio + 1) + 1


def _stamps(mark: Mark, radius: float, ratio: float) -> NDArray[np.uint8]:
    """(PHASES, PHASES, side, side, 4): by how far below and right of the corner of its pixel the middle is."""
    side = _side(mark, radius, ratio)
    surface = skia.Surface(side * PHASES, side * PHASES)
    canvas = surface.getCanvas()
    canvas.clear(0)
    canvas.scale(ratio, ratio)
    middles = [(n * side + side // 2 + (n + 0.5) / PHASES) / ratio for n in range(PHASES)]
    for down in middles:
        for right in middles:
            draw_point(canvas, right, down, radius, mark)
    pixels = surface.makeImageSnapshot().toarray(
        colorType=skia.ColorType.kRGBA_8888_ColorType, alphaType=skia.AlphaType.kPremul_AlphaType
    )
    return np.ascontiguousarray(np.asarray(pixels).reshape(PHASES, side, PHASES, side, 4).swapaxes(1, 2))


def _spans(stamps: NDArray[np.uint8]) -> NDArray[np.int64]:
    """(PHASES * PHASES * side, 2): from where to where anything is in each row of each stamp."""
    there = stamps[..., 3].reshape(-1, stamps.shape[2]) > 0
    last = there.shape[1] - there[:, ::-1].argmax(1)
    return np.stack([there.argmax(1), np.where(there.any(1), last, 0)], axis=1)


@numba.njit(cache=True)
def _press(x, y, look, sides, begins, stamps, spans, out):  # type: ignore[no-untyped-def]
    height, width, _ = out.shape
    pixels = out.reshape(-1)
    of_looks = np.zeros(len(sides), np.int64)
    for k in range(1, len(sides)):
        of_looks[k] = of_looks[k - 1] + PHASES * PHASES * sides[k - 1]
    for n in range(len(x)):
        side = sides[look[n]]
        column, row = np.floor(x[n]), np.floor(y[n])
        phase = int((y[n] - row) * PHASES) * PHASES + int((x[n] - column) * PHASES)
        left, top = int(column) - side // 2, int(row) - side // 2
        first, last = max(0, -top), min(side, height - top)
        for down in range(first, last):
            line = phase * side + down
            begin, end = spans[of_looks[look[n]] + line]
            begin, end = max(begin, -left), min(end, width - left)
            if begin >= end:
                continue
            source = begins[look[n]] + line * side * 4
            target = ((top + down) * width + left) * 4
            over = stamps[source + 4 * begin : source + 4 * end]
            under = pixels[target + 4 * begin : target + 4 * end]
            for at in range(0, len(over), 4):
                through = np.uint32(255) - over[at + 3]
                if through == 0:
                    for channel in range(4):
                        under[at + channel] = over[at + channel]
                else:
                    # As much of what is below as is let through, to the nearest of 255.
                    for channel in range(4):
                        below = under[at + channel] * through + np.uint32(128)
                        under[at + channel] = over[at + channel] + ((below + (below >> np.uint32(8))) >> np.uint32(8))
