"""Colours by lightness, chroma and hue (OKLCh), as a ramp is thought of."""

from dataclasses import dataclass

import numpy as np
from coloraide import Color

from greylatch.errors import BadInput

__all__ = ["MOST_CHROMA", "STEPS", "Lch", "colour_at", "lch_of", "on_screen", "strips_through"]

MOST_CHROMA = 0.32
"""The most that any colour of a screen has (sRGB's magenta), rounded down."""
STEPS = 48
"""Of a strip of colours."""


@dataclass(frozen=True)
class Lch:
    """Lightness from 0 to 1, chroma from 0 up to `MOST_CHROMA`, hue in degrees: OKLCh (Ottosson 2020; CSS Color 4, section 9.2)."""

    lightness: float
    chroma: float
    hue: float


def lch_of(colour: str) -> Lch:
    """The coordinates of a colour. Greys have no hue: theirs is 0.

    >>> lch_of("#808080").chroma
    0.0
    """
    lightness, chroma, hue = Color(colour).convert("oklch").coords()
    grey = chroma < 1e-4
    return Lch(round(lightness, 4), 0.0 if grey else round(chroma, 4), 0.0 if grey or np.isnan(hue) else round(hue, 2))


def colour_at(place: Lch) -> str:
    """The colour of a screen at coordinates; where there is none, the one of that lightness and hue with as much chroma as there is.

    Parameters
    ----------
    place : Lch
        The coordinates.

    Returns
    -------
    str

    Raises
    ------
    BadInput
        For a lightness or chroma that no colour has.

    Examples
    --------
    >>> colour_at(Lch(0.5, 0.0, 120)), colour_at(Lch(0.6, 0.3, 145))
    ('#636363', '#009f00')
    """
    if not (0 <= place.lightness <= 1 and 0 <= place.chroma <= 1):
        raise BadInput("Lightness goes from 0 to 1, and chroma from 0 to about 0.3.")
    return on_screen(Color("oklch", [place.lightness, place.chroma, place.hue % 360]))


def on_screen(colour: Color) -> str:
    """#rrggbb of a colour; of one that no screen has, with as much chroma as there is at its lightness and hue.

    >>> on_screen(Color("oklch", [0.5, 0, 0]))
    '#636363'
    """
    return str(colour.convert("srgb").to_string(hex=True, fit={"method": "oklch-chroma"}))


def strips_through(place: Lch) -> dict[str, list[str]]:
    """For each coordinate the colours from one end to the other with the other two held, in `STEPS` steps.

    >>> strips_through(Lch(0.5, 0.1, 200))["lightness"][::48]
    ['#000000', '#ffffff']
    """
    ways = np.linspace(0, 1, STEPS + 1).tolist()
    return {
        "lightness": [colour_at(Lch(way, place.chroma, place.hue)) for way in ways],
        "chroma": [colour_at(Lch(place.lightness, way * MOST_CHROMA, place.hue)) for way in ways],
        "hue": [colour_at(Lch(place.lightness, place.chroma, way * 360)) for way in ways],
    }
