"""What lies below all layers: the globe as the projection shows it, meridians and parallels; and their degrees over everything."""

import numpy as np
import shapely
import skia

from greylatch.lettering.type import font
from greylatch.places.graticule import GraticuleLine, edge_labels, graticule, graticule_step
from greylatch.places.view import View
from greylatch.sheet.document import Furniture, Graticule

LABEL = 11.0
"""Px of the letters of degrees."""
GAP = 4.0
"""Px between the edge of the picture and what is written there."""
HALO = 2.0
INK = "#4f5b5f"


def lines_of(wanted: Graticule | None, view: View) -> list[GraticuleLine]:
    """The meridians and parallels of a picture; none where none are asked for."""
    if wanted is None:
        return []
    return graticule(view.frame, wanted.step or graticule_step(view.frame, view.resolution), view.bounds)


def paint_ground(canvas: skia.Canvas, furniture: Furniture, view: View, lines: list[GraticuleLine]) -> None:
    """The outline as sea, and the lines on it."""
    canvas.save()
    canvas.scale(view.ratio, view.ratio)
    if furniture.sea:
        canvas.drawPath(_path(view.frame.outline, view), skia.Paint(AntiAlias=True, Color=_colour(furniture.sea)))
    if furniture.graticule and furniture.graticule.width > 0:
        pen = skia.Paint(
            AntiAlias=True, Style=skia.Paint.kStroke_Style, StrokeWidth=furniture.graticule.width,
            Color=_colour(furniture.graticule.colour),
        )  # fmt: skip
        for one in lines:
            canvas.drawPath(_path(one.shape, view), pen)
    canvas.restore()


def paint_degrees(canvas: skia.Canvas, view: View, lines: list[GraticuleLine]) -> None:
    """The degrees of the lines, at the left and lower edge of the picture; below, only those that find room beside the one before."""
    face = font(LABEL)
    width, height = view.width / view.ratio, view.height / view.ratio
    canvas.save()
    canvas.scale(view.ratio, view.ratio)
    free = 0.0
    for edge, text, x, y in sorted(edge_labels(lines, view.bounds), key=lambda one: one[2]):
        px, py = (x - view.bounds[0]) / view.resolution, (view.bounds[3] - y) / view.resolution
        long = face.measureText(text)
        left, base = (GAP, py - GAP) if edge == "left" else (px + GAP, height - GAP)
        if left + long > width or base < LABEL or (edge == "lower" and left < free):
            continue
        free = left + long + GAP if edge == "lower" else free
        halo = skia.Paint(
            AntiAlias=True, Style=skia.Paint.kStroke_Style, StrokeWidth=2 * HALO, StrokeJoin=skia.Paint.kRound_Join
        )
        halo.setColor(skia.Color(255, 255, 255, 217))
        canvas.drawString(text, left, base, face, halo)
        canvas.drawString(text, left, base, face, skia.Paint(AntiAlias=True, Color=_colour(INK)))
    canvas.restore()


def _path(shape: shapely.Geometry, view: View) -> skia.Path:
    path = skia.Path()
    parts = shapely.get_parts(shape)
    areal = shapely.get_dimensions(shape) == 2
    for ring in shapely.get_rings(parts) if areal else parts:
        xy = shapely.get_coordinates(ring)
        px = np.column_stack([xy[:, 0] - view.bounds[0], view.bounds[3] - xy[:, 1]]) / view.resolution
        path.addPoly([skia.Point(*one) for one in px.tolist()], areal)
    path.setFillType(skia.PathFillType.kEvenOdd)
    return path


def _colour(text: str) -> int:
    return int(skia.Color(int(text[1:3], 16), int(text[3:5], 16), int(text[5:7], 16)))
