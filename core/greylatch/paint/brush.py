"""Marks on a Skia canvas: fills with textures, inner lines, strokes with dashes, shapes of points, wedges. The browser's painter
does the same in the same order."""

import math
from base64 import b64decode
from collections.abc import Sequence
from functools import lru_cache

import skia
from fontTools.pens.recordingPen import RecordingPen
from fontTools.svgLib.path import parse_path

from greylatch.paint.pens import fill, line_pen, line_pens, plain_pens
from greylatch.symbols.marks import Line, Mark, Texture

__all__ = ["core_of", "draw_area", "draw_line", "draw_point", "draw_wedges", "shape_outline"]

RAYS = 32


def draw_area(
    canvas: skia.Canvas, outline: skia.Path, mark: Mark, shade: str | None = None, opacity: float = 1.0,
    origin: tuple[float, float] = (0.0, 0.0),
) -> None:  # fmt: skip
    """An area: its fill, its texture, the line inside its edge, its strokes.

    Parameters
    ----------
    canvas : skia.Canvas
        What is drawn on.
    outline : skia.Path
        Px.
    mark : Mark
        What it looks like.
    shade : str | None
        #rrggbb in place of the mark's fill.
    opacity : float
        A factor for the fill's opacity.
    origin : tuple[float, float]
        Px of a place that stands still on the ground, from which textures count.
    """
    if mark.fill_opacity * opacity > 0:
        canvas.drawPath(outline, fill(shade or mark.fill, mark.fill_opacity * opacity))
    if mark.texture or mark.inner:
        canvas.save()
        canvas.clipPath(outline, skia.ClipOp.kIntersect, True)
        if mark.texture:
            # Of an area that is seen from near, most lies out of view.
            seen = outline.computeTightBounds()
            if seen.intersect(canvas.getLocalClipBounds()):
                _draw_texture(canvas, seen, mark.texture, origin, opacity)
        if mark.inner:
            # Half of a line along the edge lies inside it.
            canvas.drawPath(outline, line_pen(mark.inner, mark.inner.width))
        canvas.restore()
    for line in mark.strokes:
        canvas.drawPath(outline, line_pen(line))


def draw_line(
    canvas: skia.Canvas, outline: skia.Path, mark: Mark, shade: str | None = None, width: float | None = None, opacity: float = 1.0
) -> None:  # fmt: skip
    """A line: its strokes from the lowest to the top one, whose colour and width may be the feature's own.

    Parameters
    ----------
    canvas : skia.Canvas
        What is drawn on.
    outline : skia.Path
        Px.
    mark : Mark
        What it looks like.
    shade : str | None
        #rrggbb in place of the top stroke's.
    width : float | None
        Px in place of the top stroke's; those below stand out over it as far as before.
    opacity : float
        A factor for the strokes' opacity.
    """
    for pen in line_pens(mark, shade, width, opacity):
        canvas.drawPath(outline, pen)


def draw_point(
    canvas: skia.Canvas, x: float, y: float, radius: float, mark: Mark, shade: str | None = None, opacity: float = 1.0, turn: float = 0.0
) -> None:  # fmt: skip
    """A point's shape with its fill and strokes, and the sign over it.

    Parameters
    ----------
    canvas : skia.Canvas
        What is drawn on.
    x : float
        Px from the left.
    y : float
        Px from the top.
    radius : float
        Px.
    mark : Mark
        What it looks like.
    shade : str | None
        #rrggbb in place of the mark's fill.
    opacity : float
        A factor for the fill's opacity.
    turn : float
        Degrees, clockwise, over those of the mark.
    """
    _draw_shape(canvas, x, y, radius, mark, shade, opacity, turn)
    if mark.sign:
        canvas.save()
        canvas.translate(x, y)
        canvas.drawPath(shape_outline(mark.sign, radius, 0.0), fill(mark.sign_colour))
        canvas.restore()


def _draw_shape(
    canvas: skia.Canvas, x: float, y: float, radius: float, mark: Mark, shade: str | None, opacity: float, turn: float
) -> None:  # fmt: skip
    if mark.icon:
        _draw_icon(canvas, x, y, radius, mark, opacity, turn)
        return
    if not mark.path and not mark.texture:
        for pen in plain_pens(mark, shade, opacity):
            canvas.drawCircle(x, y, radius, pen)
        return
    filled = fill(shade or mark.fill, mark.fill_opacity * opacity) if mark.fill_opacity * opacity > 0 else None
    outline = shape_outline(mark.path, radius, mark.turn + turn)
    canvas.save()
    canvas.translate(x, y)
    if filled:
        canvas.drawPath(outline, filled)
    if mark.texture:
        canvas.save()
        canvas.clipPath(outline, skia.ClipOp.kIntersect, True)
        _draw_texture(canvas, outline.computeTightBounds(), mark.texture, (0.0, 0.0), opacity)
        canvas.restore()
    for line in mark.strokes:
        canvas.drawPath(outline, line_pen(line))
    canvas.restore()


def _draw_icon(canvas: skia.Canvas, x: float, y: float, radius: float, mark: Mark, opacity: float, turn: float) -> None:
    picture = _icon(mark.icon)
    scale = 2 * radius / max(picture.width(), picture.height())
    wide, high = picture.width() * scale, picture.height() * scale
    canvas.save()
    canvas.translate(x, y)
    canvas.rotate(mark.turn + turn)
    paint = skia.Paint(Alphaf=mark.fill_opacity * opacity, AntiAlias=True)
    box = skia.Rect.MakeXYWH(-wide / 2, -high / 2, wide, high)
    canvas.drawImageRect(picture, box, skia.SamplingOptions(skia.FilterMode.kLinear, skia.MipmapMode.kLinear), paint)
    canvas.restore()


@lru_cache(maxsize=256)
def _icon(png: str) -> skia.Image:
    return skia.Image.MakeFromEncoded(skia.Data.MakeWithCopy(b64decode(png))).withDefaultMipmaps()


def draw_wedges(
    canvas: skia.Canvas, x: float, y: float, radius: float, shares: Sequence[float], colours: Sequence[str], hollow: float, mark: Mark
) -> None:  # fmt: skip
    """A pie, or a ring around a hole of `hollow` times its radius: wedges clockwise from the top, each with the mark's strokes.

    Parameters
    ----------
    canvas : skia.Canvas
        What is drawn on.
    x : float
        Px from the left.
    y : float
        Px from the top.
    radius : float
        Px.
    shares : Sequence[float]
        Of the whole.
    colours : Sequence[str]
        #rrggbb of each share.
    hollow : float
        0 to 1.
    mark : Mark
        Opacity of the fill and strokes.
    """
    start = -90.0
    outer, inner = skia.Rect.MakeLTRB(x - radius, y - radius, x + radius, y + radius), hollow * radius
    for share, shade in zip(shares, colours, strict=True):
        if share <= 0:
            continue
        sweep = 360.0 * share
        wedge = skia.Path()
        # A whole turn has no beginning that a wedge could be cut from.
        if share >= 0.9999:
            wedge.addCircle(x, y, radius)
            if inner > 0:
                wedge.addCircle(x, y, inner, skia.PathDirection.kCCW)
        else:
            hole = skia.Rect.MakeLTRB(x - inner, y - inner, x + inner, y + inner)
            if inner > 0:
                wedge.arcTo(outer, start, sweep, True)
                wedge.arcTo(hole, start + sweep, -sweep, False)
            else:
                wedge.moveTo(x, y)
                wedge.arcTo(outer, start, sweep, False)
            wedge.close()
        canvas.drawPath(wedge, fill(shade, mark.fill_opacity))
        for line in mark.strokes:
            canvas.drawPath(wedge, line_pen(line))
        start += sweep


@lru_cache(maxsize=4_096)
def shape_outline(path: str, radius: float, turn: float) -> skia.Path:
    """The outline of a point's shape around (0, 0).

    Parameters
    ----------
    path : str
        SVG path data at a radius of 1; '' is a circle.
    radius : float
        Px.
    turn : float
        Degrees, clockwise.

    Returns
    -------
    skia.Path
    """
    moved = skia.Path()
    matrix = skia.Matrix()
    matrix.setScale(radius, radius)
    matrix.postRotate(turn)
    _shape(path).transform(matrix, moved)
    return moved


@lru_cache(maxsize=512)
def core_of(path: str) -> float:
    """The radius around (0, 0) within which a shape of radius 1 is surely filled; 0 where its middle is not.

    >>> core_of(""), 0.3 < core_of("M-1 -1L1 -1L1 1L-1 1Z") <= 1
    (1.0, True)
    """
    if not path:
        return 1.0
    outline, rays = _shape(path), [2 * math.pi * i / RAYS for i in range(RAYS)]
    reached = 0.0
    for step in range(1, RAYS + 1):
        radius = step / RAYS
        if not all(outline.contains(radius * math.cos(ray), radius * math.sin(ray)) for ray in rays):
            break
        reached = radius
    return reached


@lru_cache(maxsize=512)
def _shape(path: str) -> skia.Path:
    outline = skia.Path()
    if path:
        pen = RecordingPen()
        parse_path(path, pen)
        steps = {
            "moveTo": outline.moveTo, "lineTo": outline.lineTo, "qCurveTo": outline.quadTo, "curveTo": outline.cubicTo,
        }  # fmt: skip
        for step, points in pen.value:
            if step in steps:
                steps[step](*(value for point in points for value in point))
            elif step == "closePath":
                outline.close()
    else:
        outline.addCircle(0, 0, 1)
    return outline


def _draw_texture(
    canvas: skia.Canvas, box: skia.Rect, texture: Texture, origin: tuple[float, float], opacity: float
) -> None:
    """Lines or dots over a box, at places that depend on the origin alone, so that none is cut or shifted at the edge of a tile."""
    ink = Line(texture.colour, texture.width, texture.opacity, cap="butt")
    if texture.kind == "dots":
        _draw_dots(canvas, box, texture, origin, opacity)
        return
    for turn in (texture.turn, texture.turn + 90) if texture.kind == "cross" else (texture.turn,):
        path = skia.Path()
        for x0, y0, x1, y1 in hatch_lines(box, texture.spacing, turn, origin):
            path.moveTo(x0, y0)
            path.lineTo(x1, y1)
        canvas.drawPath(path, line_pen(ink, 0.0, None, opacity))


def hatch_lines(
    box: skia.Rect, spacing: float, turn: float, origin: tuple[float, float]
) -> list[tuple[float, float, float, float]]:
    """Parallel lines over a box: `spacing` px apart, `turn` degrees clockwise from level, one of them through the origin."""
    c, s = math.cos(math.radians(turn)), math.sin(math.radians(turn))
    corners = [(x - origin[0], y - origin[1]) for x in (box.left(), box.right()) for y in (box.top(), box.bottom())]
    along = [x * c + y * s for x, y in corners]
    across = [y * c - x * s for x, y in corners]
    lines = []
    for k in range(math.floor(min(across) / spacing), math.ceil(max(across) / spacing) + 1):
        d = k * spacing
        ends = [(origin[0] + t * c - d * s, origin[1] + t * s + d * c) for t in (min(along), max(along))]
        lines.append((*ends[0], *ends[1]))
    return lines


def _draw_dots(
    canvas: skia.Canvas, box: skia.Rect, texture: Texture, origin: tuple[float, float], opacity: float
) -> None:
    c, s = math.cos(math.radians(texture.turn)), math.sin(math.radians(texture.turn))
    corners = [(x - origin[0], y - origin[1]) for x in (box.left(), box.right()) for y in (box.top(), box.bottom())]
    along = [x * c + y * s for x, y in corners]
    across = [y * c - x * s for x, y in corners]
    step, half = texture.spacing, texture.width / 2
    path = skia.Path()
    for i in range(math.floor(min(along) / step), math.ceil(max(along) / step) + 1):
        for j in range(math.floor(min(across) / step), math.ceil(max(across) / step) + 1):
            x, y = origin[0] + i * step * c - j * step * s, origin[1] + i * step * s + j * step * c
            if box.left() - half <= x <= box.right() + half and box.top() - half <= y <= box.bottom() + half:
                path.addCircle(x, y, half)
    canvas.drawPath(path, fill(texture.colour, texture.opacity * opacity))
