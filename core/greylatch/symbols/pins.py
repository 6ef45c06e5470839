"""Pins: points with numbers or letters on them, in an order that was chosen."""

from dataclasses import replace
from functools import lru_cache
from string import ascii_uppercase

from fontTools.pens.boundsPen import BoundsPen
from fontTools.pens.svgPathPen import SVGPathPen
from fontTools.pens.transformPen import TransformPen
from fontTools.ttLib import TTFont

from greylatch.lettering.faces import PLAIN
from greylatch.sheet.symbology import Pins
from greylatch.symbols.marks import Mark, mark_of

__all__ = ["pin_mark", "pin_sign", "sign_path"]

TALL, WIDE = 0.92, 1.3
"""How high a figure and how wide a whole sign is at most, by the radius of what it stands on: both fit into a circle."""


def pin_sign(position: int, signs: str) -> str:
    """What a pin says.

    Parameters
    ----------
    position : int
        Its place, the first is 0.
    signs : str
        'numbers' or 'letters', which go on with AA after Z.

    Returns
    -------
    str

    Examples
    --------
    >>> [pin_sign(i, "letters") for i in (0, 25, 26, 701, 702)], pin_sign(0, "numbers")
    (['A', 'Z', 'AA', 'ZZ', 'AAA'], '1')
    """
    if signs == "numbers":
        return str(position + 1)
    text, left = "", position + 1
    while left:
        left, letter = divmod(left - 1, len(ascii_uppercase))
        text = ascii_uppercase[letter] + text
    return text


@lru_cache(maxsize=2_048)
def sign_path(text: str) -> str:
    """Figures and capital letters as outlines around (0, 0), to be filled on a shape of radius 1.

    Parameters
    ----------
    text : str
        What is to be said.

    Returns
    -------
    str
        SVG path data, y downwards.

    Examples
    --------
    >>> sign_path("1")[0], sign_path("")
    ('M', '')
    """
    face = _face()
    letters, names = face.getGlyphSet(), face.getBestCmap()
    glyphs = [letters[names[ord(letter)]] for letter in text if ord(letter) in names]
    width = sum(glyph.width for glyph in glyphs)
    if not width:
        return ""
    tall = BoundsPen(letters)
    letters[names[ord("1")]].draw(tall)
    high = tall.bounds[3]
    scale = min(TALL / high, WIDE / width)
    pen = SVGPathPen(letters, ntos=lambda value: f"{value:.4g}")
    x = -width / 2
    for glyph in glyphs:
        # Figures stand on a line below the middle, and y points downwards on a screen.
        glyph.draw(TransformPen(pen, (scale, 0, 0, -scale, scale * x, scale * high / 2)))
        x += glyph.width
    return str(pen.getCommands())


@lru_cache(maxsize=1)
def _face() -> TTFont:
    return TTFont(PLAIN.file)


def pin_mark(pins: Pins, position: int) -> Mark:
    """The mark of a pin.

    Parameters
    ----------
    pins : Pins
        What pins look like.
    position : int
        Its place, the first is 0.

    Returns
    -------
    Mark
    """
    sign = sign_path(pin_sign(position, pins.signs))
    return replace(mark_of(pins.symbol, "points"), sign=sign, sign_colour=pins.colour)
