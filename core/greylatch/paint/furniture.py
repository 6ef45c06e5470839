"""What stands on a picture of a map besides its layers: scale bar, north arrow, credits."""

from collections.abc import Callable

import numpy as np
import skia
from numpy.typing import NDArray

from greylatch.errors import OffMap
from greylatch.lettering.type import text_width
from greylatch.paint.brush import shape_outline
from greylatch.paint.credit_line import NARROWEST, credited
from greylatch.paint.pens import draw_text, fill, stroke
from greylatch.paint.pixels import drawn_over
from greylatch.places.scale_bar import ScaleBar, scale_bar
from greylatch.places.view import View
from greylatch.sheet.document import Sheet
from greylatch.symbols.credits import credit_line
from greylatch.symbols.north_arrow import NORTH_ARROW

__all__ = ["furnished"]


EDGE, GAP = 8.0, 6.0
"""Px between furniture and the edge of the picture, and between one and the next."""
TEXT, PLATE = 11.0, 20.0
"""Px of the words over the bar, and of the height of what lies below both."""
TICK = 6.0
MOST = 0.4
"""Share of the picture's width above which a bar is left out."""
INK, PAPER, PAPER_OPACITY = "#2b2d2f", "#ffffff", 0.75


def furnished(rgba: NDArray[np.uint8], sheet: Sheet, view: View) -> NDArray[np.uint8]:
    """A picture with what the sheet wants to stand on it: credits in the lower right corner, above them the scale bar, which is true in the
    middle of the picture, and above that the arrow, which points to the north from there. One too narrow for reading stays without.

    Parameters
    ----------
    rgba : NDArray[np.uint8]
        (height, width, 4), straight alpha.
    sheet : Sheet
        The sheet.
    view : View
        What the picture shows.

    Returns
    -------
    NDArray[np.uint8]

    Examples
    --------
    >>> from greylatch.places.frame import MERCATOR
    >>> from greylatch.sheet.document import Furniture
    >>> plain = np.zeros((100, 300, 4), np.uint8)
    >>> sheet = Sheet(title="A", furniture=Furniture(scale_bar=True))
    >>> drawn = furnished(plain, sheet, View.around(MERCATOR, 0, 0, 1000, 300, 100))
    >>> [int(edge.min()) > middle for edge, middle in zip(np.nonzero(drawn.any(axis=2)), (50, 150), strict=True)]
    [True, True]
    """
    height, width = rgba.shape[:2]
    if width < NARROWEST * view.ratio:
        return rgba
    written, high = credited(rgba, credit_line(sheet))
    foot = high + EDGE * view.ratio
    (west, south, east, north), frame = view.bounds, view.frame
    x, y = (west + east) / 2, (south + north) / 2
    try:
        bar = scale_bar(frame.metres(x, y) * view.resolution) if sheet.furniture.scale_bar else None
        turn = frame.north(x, y) if sheet.furniture.north_arrow else None
    except OffMap:
        return written
    if bar and bar.px <= MOST * width / view.ratio and foot + PLATE * view.ratio <= height:
        wide = bar.px + 8
        written = _placed(written, view, foot, wide, PLATE, lambda canvas: _draw_bar(canvas, bar, wide))
        foot += (PLATE + GAP) * view.ratio
    across = 2 * NORTH_ARROW.reach
    if turn is not None and foot + across * view.ratio <= height:
        written = _placed(written, view, foot, across, across, lambda canvas: _draw_arrow(canvas, turn))
    return written


def _placed(
    rgba: NDArray[np.uint8], view: View, foot: float, wide: float, high: float, draw: Callable[[skia.Canvas], None]
) -> NDArray[np.uint8]:
    """A picture with something on it at its right edge, `foot` px of the picture above its lower one."""
    height, width = rgba.shape[:2]
    left, top = round(width - (EDGE + wide) * view.ratio), round(height - foot - high * view.ratio)

    def scaled(canvas: skia.Canvas) -> None:
        canvas.scale(view.ratio, view.ratio)
        draw(canvas)

    return drawn_over(rgba, (left, top, round(wide * view.ratio), round(high * view.ratio)), scaled)


def _draw_bar(canvas: skia.Canvas, bar: ScaleBar, wide: float) -> None:
    canvas.drawRect(skia.Rect.MakeWH(wide, PLATE), fill(PAPER, PAPER_OPACITY))
    draw_text(canvas, bar.text, (wide - text_width(bar.text, TEXT)) / 2, PLATE - 7, TEXT, INK)
    left, right, base = (wide - bar.px) / 2, (wide + bar.px) / 2, PLATE - 3.5
    bracket = skia.Path()
    bracket.moveTo(left, base - TICK)
    for x, y in ((left, base), (right, base), (right, base - TICK)):
        bracket.lineTo(x, y)
    canvas.drawPath(bracket, stroke(INK, 1.0))


def _draw_arrow(canvas: skia.Canvas, turn: float) -> None:
    canvas.translate(NORTH_ARROW.reach, NORTH_ARROW.reach)
    light, dark, letter = (
        shape_outline(path, 1.0, turn) for path in (NORTH_ARROW.light, NORTH_ARROW.dark, NORTH_ARROW.letter)
    )
    for path in (light, dark, letter):
        canvas.drawPath(path, stroke(PAPER, 4.0, PAPER_OPACITY))
    canvas.drawPath(light, fill(PAPER))
    canvas.drawPath(dark, fill(INK))
    for path in (light, dark):
        canvas.drawPath(path, stroke(INK, 1.0))
    canvas.drawPath(letter, stroke(INK, 1.5))
