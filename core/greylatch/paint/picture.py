"""The Skia painter: passes to pixels. Chromium's canvas is Skia too, so the browser's painter can be held to this one."""

from dataclasses import replace

import numpy as np
import skia
from numpy.typing import NDArray

from greylatch.lettering.place import Placement
from greylatch.lettering.type import font
from greylatch.paint.ground import lines_of, paint_degrees, paint_ground
from greylatch.paint.occlusion import MANY, seen
from greylatch.paint.passes import Composition, Pass, RasterPass, VectorPass, letters_in, symbol_radii
from greylatch.paint.pens import colour, draw_text, fill, stroke
from greylatch.places.bounds import Bounds
from greylatch.places.view import View
from greylatch.rasters.ink import draw_raster
from greylatch.symbols.ink import UNDRAWN, Mark

__all__ = ["BLEND_MODES", "paint"]

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
    composition: Composition, view: View, placement: Placement | None = None, ground: bool = True, thin: bool = True
) -> NDArray[np.uint8]:
    """The picture of `view` as (height, width, 4) uint8, straight alpha.

    Layers blend among themselves in isolation; the result then lies on the ground, as in a browser.

    Parameters
    ----------
    composition : Composition
        The passes and labels of the map.
    view : View
        What is shown, and how large.
    placement : Placement | None
        The labels as they were placed; None places them.
    ground : bool
        Whether ground, sea and lines are painted below.
    thin : bool
        Unless `thin` is false, symbols that others hide are not painted; it shows by no more than 2 of 255.

    Returns
    -------
    NDArray[np.uint8]
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
    for pass_ in composition.passes:
        canvas.saveLayer(None, skia.Paint(Alphaf=pass_.layer.opacity, BlendMode=BLEND_MODES[pass_.layer.blend]))
        _paint_pass(canvas, pass_, view, thin)
        canvas.restore()
    if composition.lettered:
        labels = placement if placement is not None else composition.placement(view.resolution)
        _paint_letters(canvas, composition, labels, view)
    canvas.restore()
    if lines and composition.furniture.graticule and composition.furniture.graticule.labelled:
        paint_degrees(canvas, view, lines)
    return np.asarray(surface.makeImageSnapshot().toarray(colorType=skia.ColorType.kRGBA_8888_ColorType))


def _paint_pass(canvas: skia.Canvas, pass_: Pass, view: View, thin: bool) -> None:
    if isinstance(pass_, RasterPass):
        rgba = draw_raster(pass_.source.path, pass_.layer.symbology, view)  # type: ignore[arg-type]
        if rgba is not None:
            canvas.drawImage(
                skia.Image.fromarray(np.ascontiguousarray(rgba), colorType=skia.ColorType.kRGBA_8888_ColorType), 0, 0
            )
        return
    canvas.save()
    canvas.scale(view.ratio, view.ratio)
    if pass_.source.dataset.kind == "points":
        _paint_points(canvas, pass_, view, thin)
    else:
        _paint_shapes(canvas, pass_, view)
    canvas.restore()


def _paint_shapes(canvas: skia.Canvas, vector: VectorPass, view: View) -> None:
    bounds, resolution = view.bounds, view.resolution
    pens = [_pens(mark, vector.source.dataset.kind == "areas") for mark in vector.ink.palette]
    pad = max((mark.stroke_width for mark in vector.ink.palette), default=0) * resolution
    rows = vector.source.within(_padded(bounds, pad))
    if not len(rows):
        return
    canvas.translate(
        (vector.source.bounds[0] - bounds[0]) / resolution, (bounds[3] - vector.source.bounds[3]) / resolution
    )
    rows = rows[vector.ink.index[rows] != UNDRAWN]
    outlines = vector.source.outlines(rows, resolution)
    for outline, position in zip(outlines, vector.ink.index[rows].tolist(), strict=True):
        for pen in pens[position]:
            canvas.drawPath(outline, pen)


def _paint_points(canvas: skia.Canvas, vector: VectorPass, view: View, thin: bool) -> None:
    bounds, resolution = view.bounds, view.resolution
    pens = [_pens(mark, True) for mark in vector.ink.palette]
    largest = max((mark.radius + mark.stroke_width for mark in vector.ink.palette), default=0.0)
    rows = vector.source.within(_padded(bounds, largest * resolution))
    if vector.ink.order is not None and len(rows):
        rank = np.empty(len(vector.ink.order), dtype=np.int64)
        rank[vector.ink.order] = np.arange(len(vector.ink.order))
        rows = rows[np.argsort(rank[rows])]
    xy, owner = vector.source.positions(rows)
    x, y = (xy[:, 0] - bounds[0]) / resolution, (bounds[3] - xy[:, 1]) / resolution
    positions = vector.ink.index[owner].astype(np.intp)
    drawn = positions != UNDRAWN
    x, y, owner, positions = x[drawn], y[drawn], owner[drawn], positions[drawn]
    radii = symbol_radii(vector)[owner].astype(np.float64)
    if thin and len(x) > MANY:
        ratio = view.ratio
        marks = tuple(replace(mark, stroke_width=mark.stroke_width * ratio) for mark in vector.ink.palette)
        kept = seen(x * ratio, y * ratio, positions, radii * ratio, marks, view.width, view.height)
        x, y, positions, radii = x[kept], y[kept], positions[kept], radii[kept]
    for px, py, position, radius in zip(x.tolist(), y.tolist(), positions.tolist(), radii.tolist(), strict=True):
        for pen in pens[position]:
            canvas.drawCircle(px, py, radius, pen)


def _paint_letters(canvas: skia.Canvas, composition: Composition, placement: Placement, view: View) -> None:
    bounds, resolution = view.bounds, view.resolution
    canvas.save()
    canvas.scale(view.ratio, view.ratio)
    for letter in letters_in(placement, bounds, resolution, composition.reach):
        style = composition.lettered[letter.layer][0].lettering
        assert style is not None
        face = font(style.size)
        x = (letter.x - bounds[0]) / resolution + letter.dx - face.measureText(letter.text) / 2
        y = (bounds[3] - letter.y) / resolution + letter.dy
        draw_text(canvas, letter.text, x, y, face, style.colour, style.halo, style.halo_colour)
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
