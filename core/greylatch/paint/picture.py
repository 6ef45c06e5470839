"""The Skia painter: passes to pixels. Chromium's canvas is Skia too, so the browser's painter can be held to this one."""

import math
from collections.abc import Iterator, Sequence
from contextlib import contextmanager

import numpy as np
import skia
from numpy.typing import NDArray

from greylatch.lettering.label import Box
from greylatch.lettering.place import Placement
from greylatch.paint.brush import draw_point, draw_wedges
from greylatch.paint.effects import effect_filter
from greylatch.paint.gathered import GATHERINGS
from greylatch.paint.ground import lines_of, paint_degrees, paint_ground
from greylatch.paint.labels import paint_labels
from greylatch.paint.occlusion import MANY, opaque_looks, seen
from greylatch.paint.passes import (
    Composition,
    GatheredPass,
    Pass,
    VectorPass,
    effects_reach,
    symbol_radii,
)
from greylatch.paint.pens import colour, plain_pens
from greylatch.paint.pixels import image_of, image_of_products
from greylatch.paint.shapes import columns_of, drawn_in, paint_shapes
from greylatch.paint.stamps import looks_of, pressed
from greylatch.places.view import View
from greylatch.rasters.ink import draw_raster
from greylatch.sheet.layers import Group, Layer
from greylatch.symbols.ink import Ink
from greylatch.symbols.marks import Mark

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
    composition: Composition,
    view: View,
    placement: Placement | None = None,
    ground: bool = True,
    thin: bool = True,
    cut: bool = False,
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
        The labels, where they are not to be those that the map has at that level.
    ground : bool
        Whether ground, sea and lines are painted below.
    thin : bool
        Unless `thin` is false, symbols that others hide are not painted; it shows by no more than 2 of 255.
    cut : bool
        Whether labels that reach over the edge are painted as far as they lie within: what is beyond it lies in the next tile.

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
    if ground:
        canvas.saveLayer()
    for node in composition.tree_at(view.resolution):
        if isinstance(node, tuple):
            group, members = node
            with _composed(canvas, group, view):
                for pass_ in members:
                    _paint_pass(canvas, pass_, view, thin, effects_reach(group.effects))
        else:
            _paint_pass(canvas, node, view, thin, 0.0)
    covered: list[Box] = []
    if composition.lettered:
        placements = [placement] if placement is not None else composition.placement_over(view.resolution, view.bounds)
        covered = paint_labels(canvas, composition, placements, view, cut)
    if ground:
        canvas.restore()
    if lines and composition.furniture.graticule and composition.furniture.graticule.labelled:
        paint_degrees(canvas, view, lines, covered)
    return np.asarray(surface.makeImageSnapshot().toarray(colorType=skia.ColorType.kRGBA_8888_ColorType))


def _paint_pass(canvas: skia.Canvas, pass_: Pass, view: View, thin: bool, beyond: float) -> None:
    """A layer, where there is anything of it. `beyond` is how far, in px, effects of its group bring into view what lies outside of it."""
    beyond += effects_reach(pass_.layer.effects)
    if not isinstance(pass_, VectorPass):
        if isinstance(pass_, GatheredPass):
            rgba = GATHERINGS[type(pass_.look)].draw(pass_.source, pass_.look, view)
        else:
            rgba = draw_raster(pass_.source.path, pass_.ink, view)
        if rgba is not None:
            with _composed(canvas, pass_.layer, view):
                canvas.drawImage(image_of(rgba), 0, 0)
        return
    rows = drawn_in(pass_, view, beyond)
    if not len(rows):
        return
    with _composed(canvas, pass_.layer, view):
        canvas.save()
        canvas.scale(view.ratio, view.ratio)
        if pass_.source.dataset.kind == "points":
            _paint_points(canvas, pass_, view, rows, thin, beyond)
        else:
            paint_shapes(canvas, pass_, view, rows)
        canvas.restore()


def _paint_points(
    canvas: skia.Canvas, vector: VectorPass, view: View, rows: NDArray[np.intp], thin: bool, beyond: float
) -> None:
    bounds, resolution, ink, ratio = view.bounds, view.resolution, vector.ink, view.ratio
    xy, owner = vector.source.positions(rows)
    x, y = (xy[:, 0] - bounds[0]) / resolution, (bounds[3] - xy[:, 1]) / resolution
    radii = symbol_radii(vector)[owner].astype(np.float64)
    alike = looks_of(ink, ink.mark[owner], radii, ratio)
    if alike:
        around = math.ceil(beyond * ratio)
        rgba = pressed(
            x * ratio + around, y * ratio + around, *alike, ratio, view.width + 2 * around, view.height + 2 * around
        )
        canvas.save()
        canvas.resetMatrix()
        canvas.drawImage(image_of_products(rgba), -around, -around)
        canvas.restore()
        return
    if thin and beyond == 0 and len(x) > MANY:
        looks = opaque_looks(ink)
        kept = seen(
            x * ratio, y * ratio, ink.mark[owner].astype(np.intp), radii * ratio, looks, ratio, view.width, view.height
        )
        x, y, owner, radii = x[kept], y[kept], owner[kept], radii[kept]
    if _plain_circles(ink):
        _paint_circles(canvas, x, y, radii, ink.mark[owner], ink.palette)
        return
    wedges = ink.wedges
    for px, py, radius, row, mark, shade, _, opacity, turn in zip(
        x.tolist(), y.tolist(), radii.tolist(), owner.tolist(), *columns_of(ink, owner), strict=True
    ):
        if wedges is not None and wedges.shares[row].any():
            draw_wedges(
                canvas, px, py, radius, wedges.shares[row].tolist(), wedges.colours, wedges.hollow, ink.palette[mark]
            )
        else:
            draw_point(canvas, px, py, radius, ink.palette[mark], shade, opacity, turn)


def _plain_circles(ink: Ink) -> bool:
    """Whether marks are circles that differ in nothing but their size and place in the palette."""
    varied = ink.ramp is not None or ink.opacity is not None or ink.wedges is not None
    return not varied and not any(mark.path or mark.texture or mark.icon or mark.sign for mark in ink.palette)


def _paint_circles(
    canvas: skia.Canvas, x: NDArray[np.float64], y: NDArray[np.float64], radii: NDArray[np.float64],
    marks: NDArray[np.uint16], palette: Sequence[Mark],
) -> None:  # fmt: skip
    """The same as `draw_point` for each; on dense maps to look up what to draw with takes as long as drawing."""
    pens = [plain_pens(mark) for mark in palette]
    draw = canvas.drawCircle
    for px, py, radius, mark in zip(x.tolist(), y.tolist(), radii.tolist(), marks.tolist(), strict=True):
        for pen in pens[mark]:
            draw(px, py, radius, pen)


@contextmanager
def _composed(canvas: skia.Canvas, part: Layer | Group, view: View) -> Iterator[None]:
    """What is painted within is a picture by itself first: then its effects are made of it, and it is blended as one."""
    canvas.saveLayer(None, skia.Paint(Alphaf=part.opacity, BlendMode=BLEND_MODES[part.blend]))
    filtered = effect_filter(part.effects, view.ratio)
    if filtered is not None:
        canvas.saveLayer(None, skia.Paint(ImageFilter=filtered))
    yield
    if filtered is not None:
        canvas.restore()
    canvas.restore()
