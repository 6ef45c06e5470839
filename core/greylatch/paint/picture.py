"""The Skia painter: passes to pixels. Chromium's canvas is Skia too, so the browser's painter can be held to this one."""

import numpy as np
import skia
from numpy.typing import NDArray

from greylatch.lettering.place import Placement
from greylatch.lettering.type import font
from greylatch.paint.ground import lines_of, paint_degrees, paint_ground
from greylatch.paint.passes import Composition, Pass, RasterPass, VectorPass, letters_in
from greylatch.paint.pens import colour, draw_text, fill, stroke
from greylatch.places.grid import Bounds
from greylatch.places.view import View
from greylatch.rasters.ink import draw_raster
from greylatch.symbols.ink import UNDRAWN, Mark

BLEND_MODES = {
    "normal": skia.BlendMode.kSrcOver,
    "multiply": skia.BlendMode.kMultiply,
    "screen": skia.BlendMode.kScreen,
    "overlay": skia.BlendMode.kOverlay,
    "darken": skia.BlendMode.kDarken,
    "lighten": skia.BlendMode.kLighten,
    "color-dodge": skia.BlendMode.kColorDodge,
    "color-burn": skia.BlendMode.kColorBurn,
    "hard-light": skia.BlendMode.kHardLight,
    "soft-light": skia.BlendMode.kSoftLight,
    "difference": skia.BlendMode.kDifference,
    "exclusion": skia.BlendMode.kExclusion,
    "hue": skia.BlendMode.kHue,
    "saturation": skia.BlendMode.kSaturation,
    "color": skia.BlendMode.kColor,
    "luminosity": skia.BlendMode.kLuminosity,
}


def paint(
    composition: Composition, view: View, placement: Placement | None = None, ground: bool = True
) -> NDArray[np.uint8]:
    """The picture of `view` as (height, width, 4) uint8, straight alpha.

    Layers blend among themselves in isolation; the result then lies on the ground, as in a browser.
    """
    surface = skia.Surface(view.width, view.height)
    canvas = surface.getCanvas()
    canvas.clear(0)
    lines = lines_of(composition.furniture.graticule, view) if ground else []
    if ground:
        if composition.furniture.ground:
            canvas.clear(colour(composition.furniture.ground))
        paint_ground(canvas, composition.furniture, view, lines)
    canvas.saveLayer()
    for one in composition.passes:
        canvas.saveLayer(None, skia.Paint(Alphaf=one.layer.opacity, BlendMode=BLEND_MODES[one.layer.blend]))
        _paint_pass(canvas, one, view)
        canvas.restore()
    if composition.lettered:
        found = placement if placement is not None else composition.placement(view.resolution)
        _paint_letters(canvas, composition, found, view)
    canvas.restore()
    if lines and composition.furniture.graticule and composition.furniture.graticule.labelled:
        paint_degrees(canvas, view, lines)
    return np.asarray(surface.makeImageSnapshot().toarray(colorType=skia.ColorType.kRGBA_8888_ColorType))


def _paint_pass(canvas: skia.Canvas, one: Pass, view: View) -> None:
    if isinstance(one, RasterPass):
        rgba = draw_raster(one.source.path, one.layer.symbology, view)  # type: ignore[arg-type]
        if rgba is not None:
            canvas.drawImage(
                skia.Image.fromarray(np.ascontiguousarray(rgba), colorType=skia.ColorType.kRGBA_8888_ColorType), 0, 0
            )
        return
    canvas.save()
    canvas.scale(view.ratio, view.ratio)
    if one.source.dataset.kind == "points":
        _paint_points(canvas, one, view)
    else:
        _paint_shapes(canvas, one, view)
    canvas.restore()


def _paint_shapes(canvas: skia.Canvas, one: VectorPass, view: View) -> None:
    bounds, resolution = view.bounds, view.resolution
    pens = [_pens(mark, one.source.dataset.kind == "areas") for mark in one.ink.palette]
    pad = max((mark.stroke_width for mark in one.ink.palette), default=0) * resolution
    rows = one.source.within(_padded(bounds, pad))
    if not len(rows):
        return
    canvas.translate((one.source.bounds[0] - bounds[0]) / resolution, (bounds[3] - one.source.bounds[3]) / resolution)
    for row, position in zip(rows.tolist(), one.ink.index[rows].tolist(), strict=True):
        if position == UNDRAWN:
            continue
        outline = one.source.outline(row, resolution)
        for pen in pens[position]:
            canvas.drawPath(outline, pen)


def _paint_points(canvas: skia.Canvas, one: VectorPass, view: View) -> None:
    bounds, resolution = view.bounds, view.resolution
    pens = [_pens(mark, True) for mark in one.ink.palette]
    largest = max((mark.radius + mark.stroke_width for mark in one.ink.palette), default=0.0)
    rows = one.source.within(_padded(bounds, largest * resolution))
    if one.ink.order is not None and len(rows):
        rank = np.empty(len(one.ink.order), dtype=np.int64)
        rank[one.ink.order] = np.arange(len(one.ink.order))
        rows = rows[np.argsort(rank[rows])]
    xy, owner = one.source.positions(rows)
    xs = ((xy[:, 0] - bounds[0]) / resolution).tolist()
    ys = ((bounds[3] - xy[:, 1]) / resolution).tolist()
    for x, y, row in zip(xs, ys, owner.tolist(), strict=True):
        position = int(one.ink.index[row])
        if position == UNDRAWN:
            continue
        radius = float(one.ink.radius[row]) if one.ink.radius is not None else one.ink.palette[position].radius
        for pen in pens[position]:
            canvas.drawCircle(x, y, radius, pen)


def _paint_letters(canvas: skia.Canvas, composition: Composition, placement: Placement, view: View) -> None:
    bounds, resolution = view.bounds, view.resolution
    canvas.save()
    canvas.scale(view.ratio, view.ratio)
    for one in letters_in(placement, bounds, resolution, composition.reach):
        style = composition.lettered[one.layer][0].lettering
        assert style is not None
        face = font(style.size)
        x = (one.x - bounds[0]) / resolution + one.dx - face.measureText(one.text) / 2
        y = (bounds[3] - one.y) / resolution + one.dy
        draw_text(canvas, one.text, x, y, face, style.colour, style.halo, style.halo_colour)
    canvas.restore()


def _pens(mark: Mark, filled: bool) -> list[skia.Paint]:
    pens = []
    if filled and mark.fill_opacity > 0:
        pens.append(fill(mark.fill, mark.fill_opacity))
    if mark.stroke_width > 0 and mark.stroke_opacity > 0:
        pens.append(stroke(mark.stroke, mark.stroke_width, mark.stroke_opacity))
    return pens


def _padded(bounds: Bounds, pad: float) -> Bounds:
    return bounds[0] - pad, bounds[1] - pad, bounds[2] + pad, bounds[3] + pad
