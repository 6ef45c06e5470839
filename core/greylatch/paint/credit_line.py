"""Whom a map owes its data to, in the corner of a picture of it."""

import numpy as np
import skia
from numpy.typing import NDArray

from greylatch.lettering.type import text_width
from greylatch.paint.pens import draw_text, fill
from greylatch.paint.pixels import drawn_over

__all__ = ["NARROWEST", "credited"]

LARGEST, SMALLEST = 10.0, 7.0
"""Px of its letters: they are smaller where it would cover too much of the picture."""
LEADING, ROOM = 1.3, 4.0
MOST = 0.25
"""Share of the picture's height that it covers with its largest letters."""
NARROWEST = 160
"""Px of pictures in which they could be read."""
INK, PLATE, PLATE_OPACITY = "#2b2b28", "#ffffff", 0.8


def credited(rgba: NDArray[np.uint8], credits: str) -> tuple[NDArray[np.uint8], int]:
    """A picture with its credits in the lower right corner, and how many px of its height they take; all of the rest stays as it is. One
    too narrow for reading stays without.

    Parameters
    ----------
    rgba : NDArray[np.uint8]
        (height, width, 4), straight alpha.
    credits : str
        What is to be read there; '' leaves the picture as it is.

    Returns
    -------
    tuple[NDArray[np.uint8], int]

    Examples
    --------
    >>> import numpy as np
    >>> plain = np.zeros((100, 300, 4), np.uint8)
    >>> written, high = credited(plain, "Survey of the isles")
    >>> changed = np.nonzero((written != plain).any(axis=2))
    >>> int(changed[0].min()) > 75, int(changed[1].min()) > 190
    (True, True)
    """
    text = " ".join(credits.split())
    height, width = rgba.shape[:2]
    if not text or width < NARROWEST:
        return rgba, 0
    size, lines = _set_within(text, width - 2 * ROOM, MOST * height)
    wide = min(width, int(np.ceil(max(text_width(line, size) for line in lines) + 2 * ROOM)))
    high = min(height, int(np.ceil(len(lines) * LEADING * size + ROOM)))

    def write(canvas: skia.Canvas) -> None:
        canvas.drawRect(skia.Rect.MakeWH(wide, high), fill(PLATE, PLATE_OPACITY))
        for i, line in enumerate(lines):
            draw_text(canvas, line, ROOM, ROOM / 2 + (i + 1) * LEADING * size - 0.3 * size, size, INK)

    return drawn_over(rgba, (width - wide, height - high, wide, high), write), high


def _set_within(text: str, width: float, height: float) -> tuple[float, list[str]]:
    """The largest letters in which the text stands within a box, and its lines; the smallest where it does not."""
    size = LARGEST
    while True:
        lines = _wrapped(text, size, width)
        if size <= SMALLEST or len(lines) * LEADING * size <= height:
            return size, lines
        size -= 1


def _wrapped(text: str, size: float, width: float) -> list[str]:
    """Lines that are no longer than `width` px, broken between words, and within words that are longer."""
    lines = [""]
    for word in text.split(" "):
        longer = f"{lines[-1]} {word}".strip()
        if text_width(longer, size) <= width:
            lines[-1] = longer
            continue
        if lines[-1]:
            lines.append("")
        for letter in word:
            if lines[-1] and text_width(lines[-1] + letter, size) > width:
                lines.append("")
            lines[-1] += letter
    return lines
