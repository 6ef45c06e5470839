"""Skia's paints, as all painters of ours mix them."""

from functools import lru_cache

import skia

from greylatch.lettering.shaping import runs_of
from greylatch.lettering.type import TextStyle, run_width, text_blob
from greylatch.symbols.marks import Line, Mark

__all__ = ["colour", "draw_text", "fill", "line_pen", "line_pens", "plain_pens", "stroke"]

CAPS = {"round": skia.Paint.kRound_Cap, "butt": skia.Paint.kButt_Cap, "square": skia.Paint.kSquare_Cap}


def colour(text: str, opacity: float = 1.0) -> int:
    """A colour of Skia from '#rrggbb' and a share.

    Parameters
    ----------
    text : str
        #rrggbb.
    opacity : float
        0 to 1.

    Returns
    -------
    int
    """
    return int(skia.Color(int(text[1:3], 16), int(text[3:5], 16), int(text[5:7], 16), round(opacity * 255)))


def stroke(text: str, width: float, opacity: float = 1.0) -> skia.Paint:
    """A pen of `width` px with round ends and corners.

    Parameters
    ----------
    text : str
        #rrggbb.
    width : float
        Px.
    opacity : float
        0 to 1.

    Returns
    -------
    skia.Paint
    """
    return skia.Paint(
        AntiAlias=True, Style=skia.Paint.kStroke_Style, StrokeWidth=width, StrokeJoin=skia.Paint.kRound_Join,
        StrokeCap=skia.Paint.kRound_Cap, Color=colour(text, opacity),
    )  # fmt: skip


@lru_cache(maxsize=4_096)
def fill(text: str, opacity: float = 1.0) -> skia.Paint:
    """A plain colour. Nobody changes the paint that they are given: the next one gets the same.

    Parameters
    ----------
    text : str
        #rrggbb.
    opacity : float
        0 to 1.

    Returns
    -------
    skia.Paint
    """
    return skia.Paint(AntiAlias=True, Color=colour(text, opacity))


@lru_cache(maxsize=4_096)
def line_pen(line: Line, wider: float = 0.0, shade: str | None = None, opacity: float = 1.0) -> skia.Paint:
    """The pen of a stroke.

    Parameters
    ----------
    line : Line
        The stroke.
    wider : float
        Px by which it is wider than that.
    shade : str | None
        #rrggbb in place of its colour.
    opacity : float
        A factor for its opacity.

    Returns
    -------
    skia.Paint
    """
    pen = skia.Paint(
        AntiAlias=True, Style=skia.Paint.kStroke_Style, StrokeWidth=max(0.0, line.width + wider), StrokeJoin=skia.Paint.kRound_Join,
        StrokeCap=CAPS[line.cap], Color=colour(shade or line.colour, line.opacity * opacity),
    )  # fmt: skip
    if line.dash:
        pen.setPathEffect(skia.DashPathEffect.Make(list(line.dash), 0.0))
    return pen


def line_pens(
    mark: Mark, shade: str | None = None, width: float | None = None, opacity: float = 1.0
) -> list[skia.Paint]:
    """What a line is drawn with, one stroke over the other.

    Parameters
    ----------
    mark : Mark
        What it looks like.
    shade : str | None
        #rrggbb in place of the top stroke's.
    width : float | None
        Px in place of the top stroke's; those below stand out over it as far as before.
    opacity : float
        A factor for the strokes' opacity.

    Returns
    -------
    list[skia.Paint]
    """
    wider = 0.0 if width is None or not mark.strokes else width - mark.strokes[-1].width
    return [
        line_pen(line, wider, shade if line is mark.strokes[-1] else None, opacity)
        for line in mark.strokes
        if line.opacity > 0 and line.width + wider > 0
    ]


def plain_pens(mark: Mark, shade: str | None = None, opacity: float = 1.0) -> list[skia.Paint]:
    """What an area without texture and inner line is drawn with, or a point without a shape of its own, one over the other.

    Parameters
    ----------
    mark : Mark
        What it looks like.
    shade : str | None
        #rrggbb in place of the mark's fill.
    opacity : float
        A factor for the fill's opacity.

    Returns
    -------
    list[skia.Paint]
    """
    filled = [fill(shade or mark.fill, mark.fill_opacity * opacity)] if mark.fill_opacity * opacity > 0 else []
    return [*filled, *(line_pen(line) for line in mark.strokes)]


def draw_text(
    canvas: skia.Canvas, text: str, x: float, y: float, size: float, ink: str, halo: float = 0.0, halo_colour: str = "#ffffff",
    halo_opacity: float = 1.0,
) -> None:  # fmt: skip
    """A line of text, its baseline beginning at (x, y), over its halo of `halo` px.

    Parameters
    ----------
    canvas : skia.Canvas
        What is drawn on.
    text : str
        The text.
    x : float
        Px from the left.
    y : float
        Px from the top.
    size : float
        Px of the type.
    ink : str
        #rrggbb of the letters.
    halo : float
        Px of the halo around the letters.
    halo_colour : str
        #rrggbb.
    halo_opacity : float
        0 to 1.
    """
    style, placed = TextStyle(size), []
    for run in runs_of(text, style.face):
        placed.append((text_blob(run, style), x))
        x += size * run_width(run, 0.0)
    pens = [stroke(halo_colour, 2 * halo, halo_opacity)] if halo > 0 else []
    for pen in (*pens, fill(ink)):
        for blob, left in placed:
            if blob is not None:
                canvas.drawTextBlob(blob, left, y, pen)
