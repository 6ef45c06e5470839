"""What lies below all layers: the globe as the projection shows it, meridians and parallels; and their degrees over everything."""

from collections.abc import Sequence

import skia

from greylatch.lettering.label import Box
from greylatch.lettering.type import text_width
from greylatch.paint.outlines import outline_of
from greylatch.paint.pens import draw_text, fill, stroke
from greylatch.places.graticule import Edge, GraticuleLine, edge_labels, graticule, graticule_step
from greylatch.places.view import View
from greylatch.sheet.document import Furniture, Graticule

__all__ = ["lines_of", "paint_degrees", "paint_ground"]

LABEL = 11.0
"""Px of the letters of degrees."""
GAP = 4.0
"""Px between the edge of the picture and what is written there."""
HALO, HALO_OPACITY = 2.0, 0.85
INK = "#4f5b5f"


def lines_of(wanted: Graticule | None, view: View) -> list[GraticuleLine]:
    """The meridians and parallels of a picture; none where none are asked for.

    Parameters
    ----------
    wanted : Graticule | None
        How the lines look; None for none.
    view : View
        What is shown, and how large.

    Returns
    -------
    list[GraticuleLine]
    """
    if wanted is None:
        return []
    return graticule(view.frame, wanted.step or graticule_step(view.frame, view.resolution), view.bounds)


def paint_ground(canvas: skia.Canvas, furniture: Furniture, view: View, lines: list[GraticuleLine]) -> None:
    """The outline as sea, and the lines on it.

    Parameters
    ----------
    canvas : skia.Canvas
        What is drawn on.
    furniture : Furniture
        What stands around the map.
    view : View
        What is shown, and how large.
    lines : list[GraticuleLine]
        Meridians and parallels.
    """
    canvas.save()
    canvas.scale(view.ratio, view.ratio)
    if furniture.sea:
        canvas.drawPath(outline_of(view.frame.outline, view.bounds, view.resolution), fill(furniture.sea))
    if furniture.graticule and furniture.graticule.width > 0:
        pen = stroke(furniture.graticule.colour, furniture.graticule.width)
        for line in lines:
            canvas.drawPath(outline_of(line.shape, view.bounds, view.resolution), pen)
    canvas.restore()


def paint_degrees(canvas: skia.Canvas, view: View, lines: list[GraticuleLine], covered: Sequence[Box] = ()) -> None:
    """The degrees of the lines, at the left and lower edge of the picture or where the globe ends in it; only those that find room beside
    those before.

    Parameters
    ----------
    canvas : skia.Canvas
        What is drawn on.
    view : View
        What is shown, and how large.
    lines : list[GraticuleLine]
        Meridians and parallels.
    covered : Sequence[Box]
        Where labels stand, px of the view; degrees leave them free.
    """
    width, height = view.width / view.ratio, view.height / view.ratio
    canvas.save()
    canvas.scale(view.ratio, view.ratio)
    taken = list(covered)
    for edge, text, x, y in sorted(edge_labels(lines, view.bounds), key=lambda label: label[2]):
        px, py = (x - view.bounds[0]) / view.resolution, (view.bounds[3] - y) / view.resolution
        long = text_width(text, LABEL)
        left, base = _at(edge, px, py, long, height)
        box = (left - GAP, base - LABEL, left + long, base)
        if (
            left < GAP
            or left + long > width
            or base < LABEL
            or base > height - GAP
            or any(_meet(box, o) for o in taken)
        ):
            continue
        taken.append(box)
        draw_text(canvas, text, left, base, LABEL, INK, HALO, "#ffffff", HALO_OPACITY)
    canvas.restore()


def _at(edge: Edge, x: float, y: float, long: float, height: float) -> tuple[float, float]:
    """Where the words begin, and their baseline."""
    if edge == "left":
        return GAP, y - GAP
    if edge == "lower":
        return x + GAP, height - GAP
    if edge == "under":
        return x - long / 2, y + GAP + LABEL * 0.8
    return (x - GAP - long, y + LABEL / 3) if x - GAP - long >= GAP else (x + GAP, y - GAP)


def _meet(box: Box, other: Box) -> bool:
    return box[0] < other[2] and other[0] < box[2] and box[1] < other[3] and other[1] < box[3]
