"""Skia's paints, as all painters of ours mix them."""

from functools import lru_cache

import skia

__all__ = ["colour", "draw_text", "fill", "stroke"]


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


def draw_text(
    canvas: skia.Canvas, text: str, x: float, y: float, face: skia.Font, ink: str, halo: float, halo_colour: str, halo_opacity: float = 1.0
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
    face : skia.Font
        The typeface at its size, px.
    ink : str
        #rrggbb of the letters.
    halo : float
        Px of the halo around the letters.
    halo_colour : str
        #rrggbb.
    halo_opacity : float
        0 to 1.
    """
    if halo > 0:
        canvas.drawString(text, x, y, face, stroke(halo_colour, 2 * halo, halo_opacity))
    canvas.drawString(text, x, y, face, fill(ink))
